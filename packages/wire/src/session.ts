import { part, whole, text, oneOf, trimmed } from './parts';
import { object, string, type InferType } from 'yup';

export const signInSchema = object({
  email: trimmed().email('This is not an e-mail address.').required('Enter your e-mail address.'),
  password: string().required('Enter your password.'),
});
export type SignIn = InferType<typeof signInSchema>;

export const sessionInfoAnswer = part({
  accountId: whole(),
  name: text(),
  email: text(),
  role: oneOf('administrator', 'editor', 'viewer'),
});
export type SessionInfo = InferType<typeof sessionInfoAnswer>;

export const healthAnswer = part({
  status: oneOf('ok'),
  contacts: whole(),
  version: text(),
});
export type Health = InferType<typeof healthAnswer>;
