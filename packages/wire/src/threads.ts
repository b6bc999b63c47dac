export type ThreadKind = 'file' | 'hand' | 'addressBook' | 'dialer' | 'mailer' | 'form' | 'inbox' | 'rule';

/** The run behind a value: its thread, who did it and when. */
export interface RunThread {
  runId: number;
  kind: ThreadKind;
  name: string;
  title: string;
  actor: string | null;
  at: string;
}
