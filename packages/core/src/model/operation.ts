import { err, ok, type Result } from './result';
import { sameContent, type ContactRecord, type Value } from './value';

/**
 * One change of one value of one contact. `before` is what must be there for the change to apply, `after` what will be;
 * null stands for no value. JSON-safe, so that a list of operations can be stored and its inverse needs nothing else.
 */
export interface Operation {
  /** Id of the contact. */
  target: number;
  field: string;
  slot: number;
  before: Value | null;
  after: Value | null;
}

/** An operation whose `before` no longer holds, with what is there now. */
export interface OperationConflict {
  operation: Operation;
  now: Value | null;
}

function findSlot(record: ContactRecord, field: string, slot: number): Value | null {
  return record.f[field]?.find((value) => value.slot === slot) ?? null;
}

function writeSlot(f: Record<string, Value[]>, operation: Operation): void {
  const others = (f[operation.field] ?? []).filter((value) => value.slot !== operation.slot);
  if (operation.after) others.push(operation.after);
  others.sort((a, b) => a.slot - b.slot);
  if (others.length) f[operation.field] = others;
  else delete f[operation.field];
}

/** True when what the operation expects is what the record holds, thread included. */
export function operationHolds(record: ContactRecord, operation: Operation): boolean {
  return sameContent(findSlot(record, operation.field, operation.slot), operation.before);
}

/**
 * Applies all operations to one record, or none.
 * Laws: applying the inverse afterwards gives the same values back; a failed call leaves the record as it was.
 * Cost: linear in operations times values per field. Errors: every operation whose `before` does not hold.
 */
export function applyOperations(
  record: ContactRecord,
  operations: readonly Operation[],
): Result<ContactRecord, OperationConflict[]> {
  const f = { ...record.f };
  let next = record.n;
  const conflicts: OperationConflict[] = [];
  for (const operation of operations) {
    const now = f[operation.field]?.find((value) => value.slot === operation.slot) ?? null;
    if (!sameContent(now, operation.before)) {
      conflicts.push({ operation, now });
      continue;
    }
    writeSlot(f, operation);
    next = Math.max(next, operation.slot + 1);
  }
  return conflicts.length ? err(conflicts) : ok({ n: next, f });
}

/** The operations that take the given ones back, in the order in which they must run. */
export function invertOperations(operations: readonly Operation[]): Operation[] {
  return operations.map((operation) => ({ ...operation, before: operation.after, after: operation.before })).reverse();
}

export interface UndoOutcome {
  record: ContactRecord;
  applied: Operation[];
  left: OperationConflict[];
}

/**
 * Takes back what still holds what was written and lists what moved on since (engines.md, 2: undo of an import).
 * Works operation by operation; operations on one slot are taken back newest first, and once one of a slot is left,
 * the older ones of that slot are left too.
 */
export function undoWherePossible(record: ContactRecord, operations: readonly Operation[]): UndoOutcome {
  let current = record;
  const applied: Operation[] = [];
  const left: OperationConflict[] = [];
  for (const inverse of invertOperations(operations)) {
    const result = applyOperations(current, [inverse]);
    if (result.ok) {
      current = result.value;
      applied.push(inverse);
    } else {
      left.push({ operation: inverse, now: findSlot(current, inverse.field, inverse.slot) });
    }
  }
  return { record: current, applied, left };
}

/** One step of a contact's history: what one run did to it, and whether that run has been taken back. */
export interface HistoryStep {
  operations: readonly Operation[];
  undone: boolean;
}

/**
 * The inverses of operations with what they give back put right for what was taken back meanwhile: a value that a run wrote
 * which is undone by now does not come back with the undo of a later one. `history` is what happened to the contact before
 * the first of the operations, oldest first. Inverses of one slot run newest first, so only the last of a slot gives back.
 */
export function withoutUndone(inverses: readonly Operation[], history: readonly HistoryStep[]): Operation[] {
  const placeOf = ({ field, slot }: Operation) => `${field}\n${slot}`;
  const last = new Map(inverses.map((inverse, i) => [placeOf(inverse), i]));
  const standing = new Map<string, Value | null>();
  for (const { operations, undone } of history) {
    for (const operation of operations) {
      const place = placeOf(operation);
      if (!last.has(place)) continue;
      if (!standing.has(place)) standing.set(place, operation.before);
      if (!undone) standing.set(place, operation.after);
    }
  }
  return inverses.map((inverse, i) => {
    const place = placeOf(inverse);
    const after = standing.get(place);
    return after === undefined || last.get(place) !== i ? inverse : { ...inverse, after };
  });
}

/** The operations that write a whole new record. */
export function creationOf(target: number, record: ContactRecord): Operation[] {
  return Object.entries(record.f).flatMap(([field, values]) =>
    values.map((after) => ({ target, field, slot: after.slot, before: null, after })),
  );
}
