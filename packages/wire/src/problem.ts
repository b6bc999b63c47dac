import { mixed, type InferType } from 'yup';
import { listOf, part, text, whole } from './parts';

/** Problem details (RFC 9457) as every refusal is answered; `code` is for programs, `detail` for people. */
export const problemAnswer = part({
  type: text(),
  title: text(),
  status: whole(),
  detail: text(),
  code: text(),
  facts: mixed<Record<string, unknown>>().meta({ json: 'object' }),
  errors: listOf(part({ field: text(), text: text() })).optional(),
});
export type ProblemDetails = InferType<typeof problemAnswer>;
