/** What a message says as labelled lines: "Name: Ana Reis". */
export interface Enquiry {
  /** Labels with their texts, in order; the last may run over several lines. */
  fields: { label: string; text: string }[];
  /** Text before the first label and after the last field, for keeping. */
  rest: string;
}
