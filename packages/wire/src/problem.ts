/** Problem details (RFC 9457) as every refusal is answered; `code` is for programs, `detail` for people. */
export interface ProblemDetails {
  type: string;
  title: string;
  status: number;
  detail: string;
  code: string;
  facts?: Record<string, unknown>;
  errors?: { field: string; text: string }[];
}
