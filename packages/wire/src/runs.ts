import { array, number, object, string, type InferType } from 'yup';
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

/** A value that was edited on a merged record since the merge, and whose it may be once it is taken back. */
export interface EditSince {
  contactId: number;
  field: string;
  slot: number;
  /** Name of the field. */
  name: string;
  now: string;
  before: string;
  members: { id: number; name: string }[];
}

/** What undoing would and would not bring back. */
export interface UndoPreview {
  contacts: number;
  removes: number;
  restores: number;
  leaves: number;
  /** A few of those that must be left, with why. */
  examples: { contactId: number; name: string }[];
  /** Of a merge: what was edited since. Unless somebody decides, it stays with the record it was edited on. */
  edits: EditSince[];
}

export const undoSchema = object({
  edits: array(
    object({
      contactId: number().integer().positive().required(),
      field: string().max(100).required(),
      slot: number().integer().min(0).required(),
      /** Whose the value is; nobody's means that it is taken back as well. */
      owners: array(number().integer().positive().required()).max(100).required(),
    }),
  )
    .max(500)
    .default([]),
});
export type UndoRequest = InferType<typeof undoSchema>;
export type EditChoice = UndoRequest['edits'][number];
