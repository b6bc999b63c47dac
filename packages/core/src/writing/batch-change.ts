import { type FieldDefinition } from '../fields';
import { LIFECYCLE, lifecycleOf, valuesOf, type ContactRecord, type Operation, type Value } from '../model';
import type { CandidateValue } from './candidate';
import { contentKey } from './content-key';
import type { Channel, PermissionState } from './permission';

/** What is done to each of many contacts. Values are read already. */
export type BatchChange =
  /** Tags are added and taken off; with `only` those that are added are all there are then. */
  | { kind: 'tags'; add: CandidateValue[]; remove: string[]; only: boolean }
  /** A field gets a value: in place of what is there, only where nothing is, or beside it where there may be several. */
  | { kind: 'set'; field: string; value: CandidateValue; how: 'replace' | 'fill' | 'add' }
  | { kind: 'clear'; field: string }
  | { kind: 'permission'; channel: Channel; state: Exclude<PermissionState, 'unknown'>; how: string }
  | { kind: 'delete' }
  | { kind: 'restore' }
  | { kind: 'sync'; connectionId: number; choice: 'send' | 'never' | null };

/** Why a contact is left as it is: it is gone, or was not deleted; nothing would be left to tell it by; it opted out; no room for another. */
export type BatchRefusal = 'gone' | 'notDeleted' | 'nobody' | 'optedOut' | 'unique';

export type BatchPlan =
  { outcome: 'change'; operations: Operation[] } | { outcome: 'same' } | { outcome: 'refused'; why: BatchRefusal };

/** Fields by which a contact can be told; one of them has to stay. */
const TELLING = ['givenName', 'familyName', 'fullName', 'organization', 'email', 'tel', 'nickname'];

const SAME: BatchPlan = { outcome: 'same' };
const planOf = (operations: Operation[]): BatchPlan => (operations.length ? { outcome: 'change', operations } : SAME);

interface About {
  id: number;
  record: ContactRecord;
  /** Where a channel stands, for a change of permissions. */
  permission?: PermissionState;
  /** What was said about a connection before. */
  choice?: 'send' | 'never' | null;
}

/**
 * What a change does to one contact; the same for trial and work. A permission and a choice write no operations: their plan is a change
 * without any.
 * @param field the definition of the field that is set or cleared
 */
export function planBatch(change: BatchChange, about: About, run: number, field?: FieldDefinition): BatchPlan {
  const { id, record } = about;
  const isGone = lifecycleOf(record) !== null;
  if (change.kind === 'restore') return planRestore(about);
  if (isGone) return { outcome: 'refused', why: 'gone' };
  switch (change.kind) {
    case 'tags':
      return planTags(change, about, run);
    case 'set':
      return field ? planSet(change, about, run, field) : SAME;
    case 'clear':
      return planClear(change.field, about);
    case 'permission':
      if (about.permission === change.state) return SAME;
      // Whoever said stop is asked one by one.
      if (change.state === 'allowed' && about.permission === 'optedOut') return { outcome: 'refused', why: 'optedOut' };
      return { outcome: 'change', operations: [] };
    case 'delete':
      return planOf([
        { target: id, field: LIFECYCLE, slot: 0, before: null, after: { slot: 0, v: { state: 'deleted' }, run } },
      ]);
    case 'sync':
      return (about.choice ?? null) === change.choice ? SAME : { outcome: 'change', operations: [] };
  }
}

function planRestore({ id, record }: About): BatchPlan {
  const before = record.f[LIFECYCLE]?.[0] ?? null;
  if (!before) return SAME;
  if (lifecycleOf(record)?.state !== 'deleted') return { outcome: 'refused', why: 'notDeleted' };
  return planOf([{ target: id, field: LIFECYCLE, slot: 0, before, after: null }]);
}

function stamped(value: CandidateValue, slot: number, run: number, rank: number | undefined): Value {
  const made: Value = { slot, v: value.v, run };
  if (value.norm !== undefined) made.norm = value.norm;
  if (value.label) made.label = value.label;
  if (rank !== undefined) made.rank = rank;
  return made;
}

function planTags(
  { add, remove, only }: Extract<BatchChange, { kind: 'tags' }>,
  { id, record }: About,
  run: number,
): BatchPlan {
  const there = valuesOf(record, 'tags');
  const key = (value: Pick<Value, 'v'>) => contentKey('tag', value);
  const wanted = new Map(add.map((value) => [key(value), value]));
  const unwanted = new Set(remove.map((v) => key({ v })));
  const gone = there.filter((value) => !wanted.has(key(value)) && (only || unwanted.has(key(value))));
  const has = new Set(there.map(key));
  let slot = record.n;
  let rank = there.length;
  return planOf([
    ...gone.map((before): Operation => ({ target: id, field: 'tags', slot: before.slot, before, after: null })),
    ...[...wanted].flatMap(([name, value]): Operation[] =>
      has.has(name)
        ? []
        : [{ target: id, field: 'tags', slot, before: null, after: stamped(value, slot++, run, rank++) }],
    ),
  ]);
}

function planSet(
  { value, how }: Extract<BatchChange, { kind: 'set' }>,
  { id, record }: About,
  run: number,
  { key, type, several }: FieldDefinition,
): BatchPlan {
  const there = valuesOf(record, key);
  const wanted = contentKey(type, value);
  const has = there.find((one) => contentKey(type, one) === wanted);
  const one = (slot: number, before: Value | null, after: Value | null): Operation => ({
    target: id,
    field: key,
    slot,
    before,
    after,
  });
  if (how === 'fill' && there.length) return SAME;
  if (!several) {
    const before = there[0] ?? null;
    return has ? SAME : planOf([one(0, before, stamped(value, 0, run, undefined))]);
  }
  if (how === 'add' || how === 'fill')
    return has ? SAME : planOf([one(record.n, null, stamped(value, record.n, run, there.length))]);
  const others = there.filter((other) => other !== has).map((other) => one(other.slot, other, null));
  return planOf(has ? others : [...others, one(record.n, null, stamped(value, record.n, run, 0))]);
}

function planClear(field: string, { id, record }: About): BatchPlan {
  const there = record.f[field] ?? [];
  if (!there.length) return SAME;
  const left = TELLING.some((other) => other !== field && (record.f[other]?.length ?? 0) > 0);
  if (TELLING.includes(field) && !left) return { outcome: 'refused', why: 'nobody' };
  return planOf(there.map((before) => ({ target: id, field, slot: before.slot, before, after: null })));
}
