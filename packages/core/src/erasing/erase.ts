import { displayNameOf } from '../fields';
import {
  ALSO_PREFIX,
  applyOperations,
  invertOperations,
  KIND,
  LIFECYCLE,
  type ContactRecord,
  type Operation,
  type Value,
} from '../model';

/** What stands wherever a value of somebody who was erased stood. */
export const ERASED = 'erased';

/** Fields that say nothing of a person, and what the record is. */
const KEPT = new Set([LIFECYCLE, KIND]);

/**
 * The operations that take every value from a record and mark it as erased.
 *
 * @param target - id of the contact
 * @param run - the run that erases it
 */
export function erasingOperations(record: ContactRecord, target: number, run: number): Operation[] {
  const gone = Object.entries(record.f).flatMap(([field, values]) =>
    KEPT.has(field)
      ? []
      : values.map((before): Operation => ({ target, field, slot: before.slot, before, after: null })),
  );
  const before = record.f[LIFECYCLE]?.[0] ?? null;
  const after: Value = { slot: before?.slot ?? 0, v: { state: ERASED }, run };
  return [...gone, { target, field: LIFECYCLE, slot: after.slot, before, after }];
}

const erased = (value: Value | null): Value | null => value && { slot: value.slot, v: ERASED, run: value.run };

/** The same changes with no content in them: which fields changed, and by which runs, can still be told. */
export function erasedChanges(changes: readonly Omit<Operation, 'target'>[]): Omit<Operation, 'target'>[] {
  return changes.map((change) =>
    KEPT.has(change.field)
      ? change
      : { field: change.field, slot: change.slot, before: erased(change.before), after: erased(change.after) },
  );
}

/**
 * Every name that a contact was shown by, from now back to when it came in; titles of runs hold them.
 *
 * @param changes - what each of its versions changed, newest first; null where it came in
 */
export function namesEver(
  record: ContactRecord,
  changes: readonly (readonly Omit<Operation, 'target'>[] | null)[],
): string[] {
  const names = new Set([displayNameOf(record)]);
  let state = record;
  for (const list of changes) {
    if (!list) break;
    const earlier = applyOperations(state, invertOperations(list.map((one) => ({ ...one, target: 0 }))));
    // What cannot be walked back to is told by what did apply.
    if (!earlier.ok) break;
    state = earlier.value;
    names.add(displayNameOf(state));
  }
  return [...names].filter((name) => name !== 'No name');
}

/** A contact as it is, and as it is by the values that merges did not choose. */
export function asMerged(record: ContactRecord): ContactRecord[] {
  const also = Object.entries(record.f).filter(([field]) => field.startsWith(ALSO_PREFIX));
  if (!also.length) return [record];
  const f = {
    ...record.f,
    ...Object.fromEntries(also.map(([field, values]) => [field.slice(ALSO_PREFIX.length), values])),
  };
  return [record, { ...record, f }];
}
