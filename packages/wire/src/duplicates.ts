import { array, lazy, number, object, type InferType } from 'yup';
import type { Value } from '@gray-loom/core/model';
import type { RunThread } from './threads';

export type GroupState = 'open' | 'later' | 'merged' | 'apart' | 'gone';
export type GroupBand = 'certain' | 'likely' | 'possible';

export interface GroupSummary {
  id: number;
  name: string;
  size: number;
  band: GroupBand;
  probability01: number;
  state: GroupState;
}

export interface GroupList {
  groups: GroupSummary[];
  counts: Record<GroupBand, number>;
  later: number;
  decided: number;
  /** When the last full scan ended; null before the first. */
  scannedAt: string | null;
  scanning: number | null;
}

export interface BoardMember {
  id: number;
  version: number;
  name: string;
  thread: RunThread | null;
  touchedAt: string;
}

export interface BoardRow {
  field: string;
  name: string;
  kind: 'agree' | 'one' | 'differ' | 'several';
  cells: { memberId: number; values: Value[] }[];
  /** Member whose value is proposed, for fields with one value. */
  chosen: number | null;
  result: Value[];
}

export interface MatchBoard {
  group: GroupSummary;
  members: BoardMember[];
  keepId: number;
  rows: BoardRow[];
  reasons: { a: number; b: number; bits: number; reasons: { field: string; text: string; bits: number }[] }[];
  threads: Record<number, RunThread>;
  /** Set when the group no longer stands as it was found. */
  stale: string | null;
}

const versions = lazy((value: Record<string, unknown> | undefined) =>
  object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, number().integer().required()]))),
);

export const mergeSchema = object({
  memberIds: array(number().integer().positive().required()).min(2).max(12).required(),
  keepId: number().integer().positive().nullable().default(null),
  choices: versions,
  versions,
});
export type MergeRequest = Omit<InferType<typeof mergeSchema>, 'choices' | 'versions'> & {
  choices: Record<string, number>;
  versions: Record<string, number>;
};

export const apartSchema = object({
  memberIds: array(number().integer().positive().required()).min(2).max(12).required(),
});
export const takeOutSchema = object({ memberId: number().integer().positive().required() });
