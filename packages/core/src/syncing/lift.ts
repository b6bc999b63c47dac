import { foldText, repairCase, splitName, tidyText } from '../fields';
import { firstText, valuesOf, type ContactRecord, type Operation, type Value } from '../model';
import type { CandidateValue } from '../writing';
import { NAME_FIELDS, type SyncLine } from './lines';
import type { OutsideField } from './outside';
import type { Item } from './project';

/** The thread of values that come from over there. */
export interface Stamp {
  run: number;
  atMs?: number;
}

function stamped(candidate: CandidateValue, slot: number, stamp: Stamp, before?: Value): Value {
  const value: Value = { slot, v: candidate.v, run: stamp.run };
  if (candidate.norm !== undefined) value.norm = candidate.norm;
  const label = candidate.label ?? before?.label;
  if (label) value.label = label;
  if (before?.rank !== undefined) value.rank = before.rank;
  if (stamp.atMs !== undefined) value.atMs = stamp.atMs;
  return value;
}

/** Writes changes of one record down as operations, each slot once. */
export class Lifter {
  private readonly bySlot = new Map<string, Operation>();
  private next: number;

  constructor(
    private readonly target: number,
    private readonly record: ContactRecord,
    private readonly stamp: Stamp,
  ) {
    this.next = record.n;
  }

  get operations(): Operation[] {
    return [...this.bySlot.values()];
  }

  private put(field: string, slot: number, before: Value | null, after: Value | null): void {
    if (before || after) this.bySlot.set(`${field}:${slot}`, { target: this.target, field, slot, before, after });
  }

  /** Sets the only value of a field, or takes it away. */
  one(field: string, candidate: CandidateValue | null): void {
    const before = valuesOf(this.record, field)[0] ?? null;
    const slot = before?.slot ?? 0;
    this.put(field, slot, before, candidate ? stamped(candidate, slot, this.stamp) : null);
  }

  /** Several values: as many as are taken away and added change places, so that order and label stay. */
  several(
    field: string,
    add: readonly CandidateValue[],
    remove: readonly Item[],
    relabel: readonly { item: Item; label: string | undefined }[],
  ): void {
    const gone = remove.flatMap(({ value }) => (value ? [value] : []));
    const ranks = valuesOf(this.record, field).map((value) => value.rank ?? 0);
    let rank = ranks.length ? Math.max(...ranks) : -1;
    add.forEach((candidate, i) => {
      const before = gone[i];
      if (before) {
        this.put(field, before.slot, before, stamped(candidate, before.slot, this.stamp, before));
        return;
      }
      const slot = this.next++;
      const value = stamped(candidate, slot, this.stamp);
      if (++rank > 0) value.rank = rank;
      this.put(field, slot, null, value);
    });
    for (const before of gone.slice(add.length)) this.put(field, before.slot, before, null);
    for (const { item, label } of relabel) {
      if (!item.value) continue;
      const { label: _old, ...rest } = item.value;
      this.put(field, item.value.slot, item.value, {
        ...rest,
        ...(label ? { label } : {}),
        run: this.stamp.run,
      });
    }
  }

  /**
   * A whole name as it was written over there, in its parts. A part that says the same as what is here, as far as the
   * other side can tell, stays as it is written here, so that capitals over there do not become capitals here.
   */
  wholeName(text: string, field: OutsideField): void {
    const { name } = splitName(text);
    for (const part of NAME_FIELDS) {
      const here = firstText(this.record, part);
      const there = field.capitals ? repairCase(tidyText(name[part])) : tidyText(name[part]);
      if (foldText(here) === foldText(there) && (field.capitals || here === there)) continue;
      this.one(part, there ? { v: there } : null);
    }
    if (!NAME_FIELDS.some((part) => tidyText(name[part])) && this.record.f.fullName) this.one('fullName', null);
  }
}

export type LineItems = { line: SyncLine; ours: Item[]; theirs: Item[] };
