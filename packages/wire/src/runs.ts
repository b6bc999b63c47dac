import { anyId, id, place } from './ids';
import { part, whole, text, oneOf, recordOf, yesNo, listOf } from './parts';
import { array, number, object, string, type InferType } from 'yup';
import type { RecordKind } from '@gray-loom/core/model';
import type { ThreadKind } from './threads';

export type RunState = 'queued' | 'running' | 'done' | 'failed' | 'stopped' | 'paused';

export const runSummaryAnswer = part({
  id: whole(),
  kind: text(),
  state: oneOf<RunState>('queued', 'running', 'done', 'failed', 'stopped', 'paused'),
  title: text(),
  thread: part({
    kind: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
    name: text(),
  }),
  actor: text().nullable(),
  contactId: whole().nullable(),
  contactName: text().nullable(),
  progress: part({
    done: whole(),
    total: whole(),
  }),
  counts: recordOf(whole()),
  error: text().nullable(),
  undoOf: whole().nullable(),
  undoneBy: whole().nullable(),
  undoable: yesNo(),
  /** It can wait at its marker and go on from there. */
  pausable: yesNo(),
  stoppable: yesNo(),
  /** The brake holds it until somebody decides. */
  braked: yesNo(),
  /** What it did, in a sentence. */
  words: text(),
  /** What is said before its title while it works; empty where the title says it. */
  doing: text(),
  /** What it waits for while it is queued, in words; empty where it waits for nothing. */
  waits: text(),
  /** Contacts that it touched outside the remit of whoever asks; counted where one run is looked at. */
  elsewhere: whole(),
  intakeId: whole().nullable(),
  /** The connection that a sync belongs to. */
  connectionId: whole().nullable(),
  createdAt: text(),
  finishedAt: text().nullable(),
});
export type RunSummary = InferType<typeof runSummaryAnswer>;

export const runPageAnswer = part({
  runs: listOf(runSummaryAnswer),
  next: whole().nullable(),
});
export type RunPage = InferType<typeof runPageAnswer>;

export const tapeStateAnswer = part({
  running: listOf(runSummaryAnswer),
  latest: runSummaryAnswer.nullable(),
  /** Whether a worker is there to do what waits. */
  hasWorker: yesNo(),
});
export type TapeState = InferType<typeof tapeStateAnswer>;

export const runPageSchema = object({
  before: anyId(),
  kind: string().max(20).default(''),
  limit: number().integer().min(1).max(200).default(60),
});

export const runContactAnswer = part({
  contactId: whole(),
  kind: oneOf<RecordKind>('person', 'organization', 'opportunity'),
  name: text(),
  created: yesNo(),
  fields: listOf(text()),
});
export type RunContact = InferType<typeof runContactAnswer>;

/** A value that was edited on a merged record since the merge, and whose it may be once it is taken back. */
export const editSinceAnswer = part({
  contactId: whole(),
  field: text(),
  slot: whole(),
  /** Name of the field. */
  name: text(),
  now: text(),
  before: text(),
  members: listOf(
    part({
      id: whole(),
      name: text(),
    }),
  ),
});
export type EditSince = InferType<typeof editSinceAnswer>;

/** What a run left as it was, and why. */
export const leftAnswer = part({
  of: oneOf<'contact' | 'group'>('contact', 'group'),
  id: whole(),
  name: text(),
  why: text(),
});
export type LeftAsIs = InferType<typeof leftAnswer>;

/** What undoing would and would not bring back. */
/** After which contact a look before an undo goes on. */
export const undoLookSchema = object({ after: place().default(0) });
export const undoPreviewAnswer = part({
  contacts: whole(),
  /** How many of them this answer is about, and after which one the next begins; null behind the last. */
  looked: whole(),
  next: whole().nullable(),
  removes: whole(),
  restores: whole(),
  leaves: whole(),
  /** Entries in the streams of contacts that the run wrote or changed. */
  activities: whole(),
  /** A few of those that must be left, with why. */
  examples: listOf(
    part({
      contactId: whole(),
      name: text(),
    }),
  ),
  /** Of a merge: what was edited since. Unless somebody decides, it stays with the record it was edited on. */
  edits: listOf(editSinceAnswer),
});
export type UndoPreview = InferType<typeof undoPreviewAnswer>;

export const undoSchema = object({
  edits: array(
    object({
      contactId: id(),
      field: string().max(100).required(),
      slot: place().required(),
      /** Whose the value is; nobody's means that it is taken back as well. */
      owners: array(id()).max(100).required(),
    }),
  )
    .max(500)
    .default([]),
});
export type UndoRequest = InferType<typeof undoSchema>;
export type EditChoice = UndoRequest['edits'][number];

export const runKindAnswer = part({ kind: text(), name: text() });
/** The run that does what was asked. */
export const runAnswer = part({ runId: whole() });
export const stoppingAnswer = part({ stopping: yesNo() });
export const pausingAnswer = part({ pausing: yesNo() });
export const goesOnAnswer = part({ goesOn: yesNo() });
export const undoAnswer = part({ undoRunId: whole(), finished: yesNo() });
export const runContactsSchema = object({
  after: place().default(0),
  limit: number().integer().min(1).max(500).default(100),
});
