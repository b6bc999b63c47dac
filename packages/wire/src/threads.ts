export type ThreadKind = 'file' | 'hand' | 'addressBook' | 'dialer' | 'mailer' | 'form' | 'inbox' | 'rule';

/** The run behind a value: its thread, who did it and when. */
export interface RunThread {
  runId: number;
  kind: ThreadKind;
  name: string;
  /** Which look its thread has, where connections of one kind are told apart by it. */
  look?: number;
  title: string;
  actor: string | null;
  at: string;
}
