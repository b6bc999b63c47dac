import { type InferType } from 'yup';

import { part, whole, oneOf, text } from './parts';
export type ThreadKind = 'file' | 'hand' | 'addressBook' | 'dialer' | 'mailer' | 'form' | 'inbox' | 'rule';

/** The run behind a value: its thread, who did it and when. */
export const runThreadAnswer = part({
  runId: whole(),
  kind: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
  name: text(),
  /** Which look its thread has, where connections of one kind are told apart by it. */
  look: whole().optional(),
  title: text(),
  actor: text().nullable(),
  at: text(),
});
export type RunThread = InferType<typeof runThreadAnswer>;
