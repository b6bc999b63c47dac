import type { ValueContent } from '@gray-loom/core/model';
import type { BatchRefusal, Channel } from '@gray-loom/core/writing';
import { array, boolean, lazy, mixed, number, object, string, type InferType } from 'yup';
import { contactFilterSchema } from './contacts';
import { id } from './ids';
import { listOf, oneOf, part, text, trimmed, whole, yesNo } from './parts';

/** Contacts that can be named one by one; more are named by a filter, with those that are left out. */
export const MOST_NAMED = 5000;

/** Whom a batch is about: these, or all that a filter finds but these. */
const whatSchema = object({
  ids: array(id()).max(MOST_NAMED).default([]),
  filter: contactFilterSchema.default(undefined).optional(),
  except: array(id()).max(MOST_NAMED).default([]),
});
export type BatchWhat = InferType<typeof whatSchema>;

const label = () => trimmed().min(1).max(200).required();

const CHANGES = {
  tags: object({
    kind: mixed<'tags'>().oneOf(['tags']).required(),
    add: array(label()).max(50).default([]),
    remove: array(label()).max(50).default([]),
    /** Those that are added are all there are then. */
    only: boolean().default(false),
  }),
  set: object({
    kind: mixed<'set'>().oneOf(['set']).required(),
    field: string().required().max(60),
    text: string().max(20_000).nullable().default(null),
    value: mixed<ValueContent>().nullable().default(null),
    label: string().max(40).nullable().default(null),
    how: mixed<'replace' | 'fill' | 'add'>().oneOf(['replace', 'fill', 'add']).default('replace'),
  }),
  clear: object({ kind: mixed<'clear'>().oneOf(['clear']).required(), field: string().required().max(60) }),
  permission: object({
    kind: mixed<'permission'>().oneOf(['permission']).required(),
    channel: mixed<Channel>().oneOf(['email', 'text', 'call', 'voicemail', 'post']).required(),
    state: mixed<'allowed' | 'optedOut'>().oneOf(['allowed', 'optedOut']).required(),
    how: trimmed().max(500).default(''),
  }),
  delete: object({ kind: mixed<'delete'>().oneOf(['delete']).required() }),
  restore: object({ kind: mixed<'restore'>().oneOf(['restore']).required() }),
  sync: object({
    kind: mixed<'sync'>().oneOf(['sync']).required(),
    connectionId: number().integer().min(1).required(),
    choice: mixed<'send' | 'never'>().oneOf(['send', 'never']).nullable().default(null),
  }),
} as const;
type ChangeKind = keyof typeof CHANGES;
export type BatchRequestChange = { [K in ChangeKind]: InferType<(typeof CHANGES)[K]> }[ChangeKind];

/** A change by its kind; the schema of another kind is never asked. */
const changeSchema = lazy((given: unknown) => {
  const kind = (given as { kind?: unknown } | null)?.kind;
  return typeof kind === 'string' && Object.hasOwn(CHANGES, kind)
    ? CHANGES[kind as ChangeKind]
    : object({ kind: string().oneOf(Object.keys(CHANGES)).required('Say what is to change.') });
}) as unknown as (typeof CHANGES)['delete'];

export const batchChangeSchema = object({ what: whatSchema.required(), change: changeSchema });
export interface BatchRequest {
  what: BatchWhat;
  change: BatchRequestChange;
}

export const batchTrialAnswer = part({
  /** How many it is about. */
  concerns: whole(),
  changes: whole(),
  /** Already so. */
  same: whole(),
  refused: listOf(part({ why: oneOf<BatchRefusal>('gone', 'notDeleted', 'nobody', 'optedOut', 'unique'), n: whole() })),
  /** How many were looked at; where they are not all, the other numbers are reckoned from them. */
  looked: whole(),
  isSample: yesNo(),
  examples: listOf(part({ id: whole(), name: text(), before: text(), after: text() })),
});
export type BatchTrial = InferType<typeof batchTrialAnswer>;

/** The run that does it; finished at once where there are few. */
export const batchStartedAnswer = part({ runId: whole(), finished: yesNo() });
export type BatchStarted = InferType<typeof batchStartedAnswer>;

/** People that can be put on the list of a tool at once. */
export const MOST_CALLED_NEXT = 20;

export const callNextSchema = object({
  what: whatSchema.required(),
  connectionId: number().integer().min(1).required(),
});
export type CallNextRequest = InferType<typeof callNextSchema>;

export type NotCalled = 'gone' | 'wantsNoCalls' | 'notThere' | 'refusedThere';
export const calledNextAnswer = part({
  called: whole(),
  refused: listOf(part({ why: oneOf<NotCalled>('gone', 'wantsNoCalls', 'notThere', 'refusedThere'), n: whole() })),
});
export type CalledNext = InferType<typeof calledNextAnswer>;

const NOT_CALLED: Record<NotCalled, (one: boolean) => string> = {
  gone: (one) => `${one ? 'is' : 'are'} deleted or merged away`,
  wantsNoCalls: (one) => `${one ? 'wants' : 'want'} no calls`,
  notThere: (one) => `${one ? 'is' : 'are'} not in step with it`,
  refusedThere: (one) => `${one ? 'was' : 'were'} not taken there`,
};

/** Who is called next, and who is not: "3 are called next; 1 wants no calls". */
export function calledInWords({ called, refused }: CalledNext): string {
  const said = [called === 1 ? '1 is called next' : `${called || 'Nobody'} ${called ? 'are' : 'is'} called next`];
  for (const { why, n: count } of refused) said.push(`${count} ${NOT_CALLED[why](count === 1)}`);
  return `${said.join('; ')}.`;
}

const REFUSALS: Record<BatchRefusal, string> = {
  gone: 'deleted or merged away',
  notDeleted: 'merged into another',
  nobody: 'nothing would be left to tell them by',
  optedOut: 'opted out',
  unique: 'somebody else has that value',
};

/** Why contacts are left as they are, in words. */
export const sayBatchRefusal = (why: BatchRefusal): string => REFUSALS[why];

const n = (count: number) => count.toLocaleString('en-GB');

/** What a batch did or would do: "1,188 change, 16 already so, 3 refused: opted out". */
export function batchInWords(
  { changes, same, refused }: Pick<BatchTrial, 'changes' | 'same' | 'refused'>,
  { isDone = false } = {},
): string {
  const parts = [`${n(changes)} ${isDone ? 'changed' : changes === 1 ? 'changes' : 'change'}`];
  if (same) parts.push(`${n(same)} already so`);
  for (const one of refused) if (one.n) parts.push(`${n(one.n)} refused: ${sayBatchRefusal(one.why)}`);
  return parts.join(', ');
}
