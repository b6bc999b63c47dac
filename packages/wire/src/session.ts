import { object, string, type InferType } from 'yup';

export const signInSchema = object({
  email: string().trim().email('This is not an e-mail address.').required('Enter your e-mail address.'),
  password: string().required('Enter your password.'),
});
export type SignIn = InferType<typeof signInSchema>;

export interface SessionInfo {
  accountId: number;
  name: string;
  email: string;
  role: 'administrator' | 'editor' | 'viewer';
}

export interface Health {
  status: 'ok';
  contacts: number;
  version: string;
}
