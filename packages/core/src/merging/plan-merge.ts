import { ALSO_PREFIX, LIFECYCLE, valuesOf, type Operation, type Value } from '../model';
import type { Catalogue, FieldDefinition } from '../fields';
import { contentKey } from '../writing';
import {
  defaultKeep,
  fieldsInUse,
  NEWEST_ALWAYS,
  proposeValue,
  sameWriting,
  uniteValues,
  valuesToChoose,
  type MergeMember,
  type MergeRow,
  type MergeRules,
} from './merge-fields';
import { rightlySpelled, type ShareOf } from './spelling';

export interface MergeInput {
  members: readonly MergeMember[];
  /** Record that stays; the one that says most when not chosen. */
  keepId?: number | null;
  /** A person's choices: field key -> member whose value is taken. */
  choices: Readonly<Record<string, number>>;
  catalogue: Catalogue;
  /** Time of a value in milliseconds, from the value or its run. */
  timeOf: (value: Value) => number;
  /** How values are chosen where nobody chose; the newest everywhere when not given. */
  rules?: MergeRules;
  /** Place of a value's thread in the order of trust, 0 first. */
  trustOf?: (value: Value) => number;
  /** How often names stand in the book; without it only the records themselves tell a slip. */
  shareOf?: ShareOf;
  /** The merge run, which is the cause of the operations. */
  run: number;
}

export interface MergePlan {
  keepId: number;
  rows: MergeRow[];
  operations: Operation[];
}

/**
 * Plans a merge: the resulting values by rules and a person's choices, and the operations that bring them about. The
 * kept record gains what the others say; the others become merged into it and keep their own values untouched, so the
 * inverse of the operations gives every record back exactly.
 * Laws: independent of the order of members; merging merged records gives the same live values as merging all at once.
 */
export function planMerge({
  members,
  keepId,
  choices,
  catalogue,
  timeOf,
  rules = NEWEST_ALWAYS,
  trustOf,
  shareOf = () => 0,
  run,
}: MergeInput): MergePlan {
  const ordered = [...members].sort((a, b) => a.id - b.id);
  const keep =
    ordered.find((member) => member.id === keepId) ?? ordered.find((member) => member.id === defaultKeep(ordered));
  if (!keep || ordered.length < 2) throw new Error('a merge needs at least two members, one of them kept');
  const rows: MergeRow[] = [];
  const operations: Operation[] = [];
  let next = keep.record.n;
  const push = (field: string, slot: number, before: Value | null, after: Value | null) =>
    operations.push({ target: keep.id, field, slot, before, after });

  const mergeOne = (field: FieldDefinition) => {
    const all = valuesToChoose(field, ordered);
    const chosenMember = choices[field.key];
    const own =
      chosenMember === undefined
        ? undefined
        : all.find((value) => value.memberId === chosenMember && value.value.slot === 0);
    const proposed = own ?? proposeValue(field, all, { rules, timeOf, trustOf });
    const chosen = own || !proposed ? proposed : rightlySpelled(field.key, proposed, all, ordered, shareOf);
    const cells = ordered.map(({ id, record }) => ({ memberId: id, values: valuesOf(record, field.key) }));
    const present = cells.flatMap((cell) => cell.values);
    const filled = cells.filter((cell) => cell.values.length > 0).length;
    const kind = filled === 1 ? 'one' : sameWriting(field, present) ? 'agree' : 'differ';
    if (!chosen) return;
    const before = valuesOf(keep.record, field.key)[0] ?? null;
    const { rank: _rank, ...content } = chosen.value;
    const after: Value = { ...content, slot: 0 };
    if (!before || chosen.memberId !== keep.id || chosen.value.slot !== 0) push(field.key, 0, before, after);
    setAside(
      field,
      all.map((value) => value.value),
      after,
    );
    rows.push({ field: field.key, name: field.name, kind, cells, chosen: chosen.memberId, result: [after] });
  };

  /** Values that were not chosen stay with the contact. */
  const setAside = (field: FieldDefinition, all: Value[], chosen: Value) => {
    const key = ALSO_PREFIX + field.key;
    const there = valuesOf(keep.record, key);
    const known = new Set([contentKey(field.type, chosen)]);
    for (const value of there) {
      const content = contentKey(field.type, value);
      if (known.has(content)) push(key, value.slot, value, null);
      known.add(content);
    }
    for (const value of [...all].sort((a, b) => timeOf(b) - timeOf(a) || a.slot - b.slot)) {
      const content = contentKey(field.type, value);
      if (known.has(content)) continue;
      known.add(content);
      const { rank: _rank, ...rest } = value;
      push(key, next, null, { ...rest, slot: next });
      next++;
    }
  };

  const mergeMany = (field: FieldDefinition) => {
    const united = uniteValues(field, ordered, keep.id);
    const cells = ordered.map(({ id, record }) => ({ memberId: id, values: valuesOf(record, field.key) }));
    let rank = valuesOf(keep.record, field.key).reduce((most, value) => Math.max(most, value.rank ?? 0), -1);
    const result = united.map(({ memberId, value }) => {
      if (memberId === keep.id) return value;
      const after: Value = { ...value, slot: next++, rank: ++rank };
      push(field.key, after.slot, null, after);
      return after;
    });
    const filled = cells.filter((cell) => cell.values.length > 0);
    const keysOf = (values: Value[]) =>
      values
        .map((value) => contentKey(field.type, value))
        .sort()
        .join('\n');
    const kind =
      filled.length === 1 ? 'one' : new Set(filled.map((cell) => keysOf(cell.values))).size === 1 ? 'agree' : 'several';
    if (result.length) rows.push({ field: field.key, name: field.name, kind, cells, chosen: null, result });
  };

  for (const field of fieldsInUse(catalogue, ordered)) {
    if (field.several) mergeMany(field);
    else mergeOne(field);
  }
  for (const member of ordered) {
    if (member.id === keep.id) continue;
    operations.push({
      target: member.id,
      field: LIFECYCLE,
      slot: 0,
      before: null,
      after: { slot: 0, v: { state: 'merged', into: keep.id }, run },
    });
  }
  return { keepId: keep.id, rows, operations };
}
