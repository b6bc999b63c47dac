import { number, object, string } from 'yup';
import type { RecordKind } from '@gray-loom/core/model';
import type { ThreadKind } from './threads';

export type RunState = 'queued' | 'running' | 'done' | 'failed' | 'stopped' | 'paused';

export interface RunSummary {
  id: number;
  kind: string;
  state: RunState;
  title: string;
  thread: { kind: ThreadKind; name: string };
  actor: string | null;
  contactId: number | null;
  contactName: string | null;
  progress: { done: number; total: number };
  counts: Record<string, number>;
  error: string | null;
  undoOf: number | null;
  undoneBy: number | null;
  undoable: boolean;
  /** It can wait at its marker and go on from there. */
  pausable: boolean;
  intakeId: number | null;
  /** The connection that a sync belongs to. */
  connectionId: number | null;
  createdAt: string;
  finishedAt: string | null;
}

export interface RunPage {
  runs: RunSummary[];
  next: number | null;
}

export interface TapeState {
  running: RunSummary[];
  latest: RunSummary | null;
}

export const runPageSchema = object({
  before: number().integer().positive(),
  kind: string().max(20).default(''),
  limit: number().integer().min(1).max(200).default(60),
});

export interface RunContact {
  contactId: number;
  kind: RecordKind;
  name: string;
  created: boolean;
  fields: string[];
}
