import { RESULT_KINDS, type ResultKind } from '@gray-loom/core/syncing';
import { lazy, mixed, number, object, string, type InferType } from 'yup';
import { anyId } from './ids';
import { listOf, oneOf, part, text, trimmed, whole, yesNo } from './parts';

/** Days that the charts of results look back. */
export const RESULT_DAYS = 30;

/** A result of which it is not settled yet whose it is. */
const openResultAnswer = part({
  id: text(),
  kind: oneOf<ResultKind>(...RESULT_KINDS),
  at: text(),
  outcome: text(),
  minutes: number().nullable().defined(),
  by: text(),
  incoming: yesNo(),
  number: text(),
  reached: text(),
  /** Whether it waits for the record that it names, or for a person to say whose it is. */
  waits: yesNo(),
  candidates: listOf(part({ id: whole(), name: text() })),
});
export type OpenResult = InferType<typeof openResultAnswer>;

/** How the results of a connection come back, and what came. */
export const resultsAnswer = part({
  everyMinutes: whole().nullable(),
  nextAt: text().nullable(),
  trouble: text().nullable(),
  taken: whole(),
  waits: whole(),
  asks: whole(),
  open: listOf(openResultAnswer),
  /** Published numbers that were called, with the source that they stand for; '' where none was chosen. */
  numbers: listOf(part({ number: text(), calls: whole(), source: text() })),
  days: listOf(part({ day: text(), outcome: text(), n: whole() })),
  /** What became of the last mailings, by people: how many it went to, and how many of them did what. */
  mailings: listOf(
    part({
      id: text(),
      subject: text(),
      at: text(),
      sent: whole(),
      opened: whole(),
      clicked: whole(),
      off: whole(),
      undeliverable: whole(),
    }),
  ),
  callers: listOf(part({ by: text(), minutes: number().defined(), calls: whole() })),
});
export type Results = InferType<typeof resultsAnswer>;

export const resultsChangeSchema = object({
  everyMinutes: number().integer().min(1).max(10_080).nullable().optional(),
  sources: lazy((value: unknown) =>
    value === undefined
      ? mixed().optional()
      : object(
          Object.fromEntries(
            Object.keys(Object(value) as object).map((number) => [number.slice(0, 60), trimmed().max(200).defined()]),
          ),
        ),
  ),
});
export interface ResultsChange {
  everyMinutes?: number | null;
  sources?: Record<string, string>;
}

export const settleResultSchema = object({
  id: string().max(200).required(),
  take: string().oneOf(['contact', 'new', 'drop']).required('Say whose it is, that it is somebody new, or let it go.'),
  contactId: anyId().nullable().default(null),
});
export type SettleResult = InferType<typeof settleResultSchema>;

export const hookOriginSchema = object({
  /** Where this app is reached from the tool, such as "https://loom.example"; null: it calls no more. */
  origin: string()
    .nullable()
    .defined()
    .max(300)
    .matches(/^https?:\/\/[^/?#\s]+$/, 'Give the address at which the tool reaches this app.'),
});

/** Calls of a tool that said that something changed. */
export const callsAnswer = part({
  /** Where it was told to call; null where it was told nothing. */
  url: text().nullable(),
  falseCount: whole(),
  lastFalse: text().nullable(),
  lastFalseAt: text().nullable(),
  waiting: whole(),
  calls: listOf(
    part({
      id: whole(),
      at: text(),
      kind: text(),
      body: text(),
      runId: whole().nullable(),
    }),
  ),
});
export type Calls = InferType<typeof callsAnswer>;
