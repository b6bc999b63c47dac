import { type InferType } from 'yup';

import { part, text, recordOf, whole, listOf, yesNo } from './parts';

/** A count of one week by kind of thread. */
export const weekCountAnswer = part({
  /** Its Monday, ISO 8601. */
  start: text(),
  byThread: recordOf(whole()),
});
export type WeekCount = InferType<typeof weekCountAnswer>;

/** Days within which somebody changed, from the freshest on. */
export const FRESH_DAYS = [30, 90, 365, 730] as const;
/** Whoever changed within so many days is fresh. */
export const FRESH_WITHIN = 365;

export const worklistAnswer = part({
  contacts: whole(),
  certain: whole(),
  likely: whole(),
  possible: whole(),
  /** Of these, groups that somebody proposes to merge who may not. */
  proposed: whole(),
  held: part({
    total: whole(),
    files: listOf(
      part({
        runId: whole(),
        intakeId: whole(),
        name: text(),
        count: whole(),
      }),
    ),
  }),
  unfinished: listOf(
    part({
      intakeId: whole(),
      name: text(),
      rowCount: whole(),
      createdAt: text(),
    }),
  ),
  syncs: part({
    /** Values that both sides changed, and questions who somebody is. */
    conflicts: whole(),
    braked: listOf(
      part({
        connectionId: whole(),
        name: text(),
        reason: text(),
      }),
    ),
    /** Contacts that a tool did not take; the first of them, and what it said. */
    notTaken: listOf(
      part({
        connectionId: whole(),
        name: text(),
        count: whole(),
        contactId: whole(),
        why: text(),
        /** Records over there that cannot be read, rather than ours that are not taken. */
        isUnreadable: yesNo(),
      }),
    ),
    /** Stops that a tool does not hold yet; the first of them, since when, and why. */
    lateStops: listOf(
      part({
        connectionId: whole(),
        name: text(),
        count: whole(),
        contactId: whole(),
        since: text(),
        why: text(),
      }),
    ),
    troubled: listOf(
      part({
        connectionId: whole(),
        name: text(),
        trouble: text(),
      }),
    ),
  }),
  /** What was handed to whoever asks, and was not noted yet; the latest first. */
  handed: listOf(
    part({
      id: whole(),
      by: text(),
      count: whole(),
      /** The contact, where it is one. */
      contact: part({ id: whole(), name: text() }).nullable(),
      /** The beginning of the note in which they are named; null where contacts were handed over. */
      note: text().nullable(),
      runId: whole(),
      at: text(),
    }),
  ),
  failed: listOf(
    part({
      runId: whole(),
      title: text(),
    }),
  ),
  /** New contacts per week and kind of thread, oldest week first. */
  weeks: listOf(weekCountAnswer),
  /** Live people by how complete they are, in fifths. */
  completeness: part({ mean: whole(), bands: listOf(whole()) }),
  /** Live people by when they last changed: within each of `FRESH_DAYS`, and longer ago. */
  freshness: listOf(whole()),
  /** The state of the whole book at the end of days, the oldest first; none within a remit. Shares in percent. */
  trend: listOf(part({ day: text(), complete: whole(), fresh: whole(), people: whole() })),
});
export type Worklist = InferType<typeof worklistAnswer>;
