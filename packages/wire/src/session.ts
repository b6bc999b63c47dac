import { listOf, oneOf, part, text, trimmed, whole, yesNo } from './parts';
import { remitAnswer } from './people';
import { object, string, type InferType } from 'yup';

export const signInSchema = object({
  email: trimmed().email('This is not an e-mail address.').required('Enter your e-mail address.'),
  password: string().required('Enter your password.'),
  /** Of the second factor, or a recovery code; where the account has one. */
  code: trimmed().max(40).default(''),
});
export type SignIn = InferType<typeof signInSchema>;

export const sessionInfoAnswer = part({
  accountId: whole(),
  name: text(),
  email: text(),
  role: oneOf('administrator', 'editor', 'viewer'),
  picture: text().nullable(),
  secondFactor: yesNo(),
  /** The part of the book that the account sees; null is everybody. */
  remit: remitAnswer.nullable(),
});
export type SessionInfo = InferType<typeof sessionInfoAnswer>;

export const healthAnswer = part({
  status: oneOf<'ok' | 'degraded'>('ok', 'degraded'),
  /** What does not answer. */
  down: listOf(oneOf<'database' | 'worker' | 'stand-ins'>('database', 'worker', 'stand-ins')),
  contacts: whole(),
  version: text(),
});
export type Health = InferType<typeof healthAnswer>;
