import { isAddress, KIND, valuesOf, type AddressValue, type ContactRecord, type Operation, type Value } from '../model';
import type { Catalogue, FieldDefinition } from '../fields';
import type { Candidate, CandidateValue } from './candidate';
import { addressesAgree, contentKey } from './content-key';

/**
 * What happens to a value that is there: the new one takes its place, only blanks are filled, whichever is newer stands, or
 * a person is asked.
 */
export type WriteRule = 'replace' | 'fill' | 'newest' | 'ask';
export const WRITE_RULES: readonly WriteRule[] = ['fill', 'replace', 'newest', 'ask'];

/** The thread that written values get. */
export interface Stamp {
  run: number;
  row?: number;
  atMs?: number;
  /** When a run that wrote a value began, in ms since 1970 UTC; for the rule 'newest'. */
  timeOfRun?: (run: number) => number;
}

export interface WritePlan {
  operations: Operation[];
  /** Fields that were blank, or got one more value. */
  filled: number;
  /** Fields whose value was replaced. */
  replaced: number;
  /** Fields that stand otherwise and are for a person to decide; nothing is planned for them. */
  asked: { field: string; before: Value; offered: CandidateValue }[];
}

function stamped(candidate: CandidateValue, slot: number, stamp: Stamp, rank?: number): Value {
  const value: Value = { slot, v: candidate.v, run: stamp.run };
  if (candidate.norm !== undefined) value.norm = candidate.norm;
  if (candidate.label) value.label = candidate.label;
  if (rank !== undefined && rank !== 0) value.rank = rank;
  if (stamp.row !== undefined) value.row = stamp.row;
  const atMs = candidate.atMs ?? stamp.atMs;
  if (atMs !== undefined) value.atMs = atMs;
  return value;
}

/** Whether two values say the same in the same words; then their content keys are equal. */
function isSaidAlike(a: CandidateValue, b: CandidateValue): boolean {
  if (a.norm !== b.norm) return false;
  if (a.v === b.v) return true;
  if (!isAddress(a.v) || !isAddress(b.v)) return false;
  for (const part of ADDRESS_PARTS) if (a.v[part] !== b.v[part]) return false;
  return true;
}

const ADDRESS_PARTS = ['street', 'locality', 'region', 'postalCode', 'country'] as const;

class Planner {
  readonly operations: Operation[] = [];
  filled = 0;
  replaced = 0;
  readonly asked: WritePlan['asked'] = [];
  private next: number;

  constructor(
    private readonly target: number,
    private readonly record: ContactRecord,
    private readonly stamp: Stamp,
  ) {
    this.next = record.n;
  }

  one(field: FieldDefinition, candidate: CandidateValue, rule: WriteRule): void {
    const before = valuesOf(this.record, field.key)[0] ?? null;
    if (!before) {
      this.operations.push({
        target: this.target,
        field: field.key,
        slot: 0,
        before: null,
        after: stamped(candidate, 0, this.stamp),
      });
      this.filled++;
    } else if (rule === 'fill' || contentKey(field.type, before) === contentKey(field.type, candidate)) {
      return;
    } else if (rule === 'ask') {
      this.asked.push({ field: field.key, before, offered: candidate });
    } else if (rule === 'replace' || this.isNewer(candidate, before)) {
      this.operations.push({
        target: this.target,
        field: field.key,
        slot: 0,
        before,
        after: stamped(candidate, 0, this.stamp),
      });
      this.replaced++;
    }
  }

  private isNewer(candidate: CandidateValue, before: Value): boolean {
    const { atMs, run, timeOfRun } = this.stamp;
    const time = (value: number | undefined, of: number | undefined) => value ?? (of && timeOfRun?.(of)) ?? 0;
    return time(candidate.atMs ?? atMs, run) > time(before.atMs, before.run);
  }

  many(field: FieldDefinition, candidates: CandidateValue[]): void {
    const values = valuesOf(this.record, field.key);
    // What is said as it was said before needs no closer look.
    if (candidates.every((candidate) => values.some((value) => isSaidAlike(value, candidate)))) return;
    const known = new Set(values.map((value) => contentKey(field.type, value)));
    let rank = values.reduce((most, value) => Math.max(most, value.rank ?? 0), values.length ? 0 : -1);
    let added = false;
    for (const candidate of candidates) {
      const key = contentKey(field.type, candidate);
      if (known.has(key)) continue;
      if (field.type === 'address' && this.completesAddress(field, values, candidate)) continue;
      known.add(key);
      const slot = this.next++;
      this.operations.push({
        target: this.target,
        field: field.key,
        slot,
        before: null,
        after: stamped(candidate, slot, this.stamp, ++rank),
      });
      added = true;
    }
    if (added) this.filled++;
  }

  /** An address that agrees with one that is there fills its missing parts instead of standing beside it. */
  private completesAddress(field: FieldDefinition, values: Value[], candidate: CandidateValue): boolean {
    const offered = candidate.v as AddressValue;
    const before = values.find((value) => addressesAgree(value.v as AddressValue, offered));
    if (!before) return false;
    const there = before.v as AddressValue;
    const missing = Object.entries(offered).filter(([part, text]) => text && !there[part as keyof AddressValue]);
    if (!missing.length) return true;
    const after: Value = {
      ...stamped({ ...candidate, v: { ...offered, ...there } }, before.slot, this.stamp, before.rank),
      label: before.label,
    };
    if (after.label === undefined) delete after.label;
    this.operations.push({ target: this.target, field: field.key, slot: before.slot, before, after });
    this.filled++;
    return true;
  }
}

/**
 * Plans what a candidate writes into a record under the write rules. Several values of one field are united by normal
 * form whatever the rule, so nothing is lost. Laws: planning again after applying gives no operations; nothing that
 * says the same as what is there is written.
 */
export function planWrite(
  target: number,
  record: ContactRecord,
  candidate: Candidate,
  ruleOf: (field: string) => WriteRule,
  catalogue: Catalogue,
  stamp: Stamp,
): WritePlan {
  const planner = new Planner(target, record, stamp);
  for (const [key, candidates] of Object.entries(candidate)) {
    const field = catalogue.find(key);
    const first = candidates[0];
    if (!field || !first) continue;
    // How a name was written elsewhere says nothing new about somebody whose name is known in its parts.
    if (key === 'fullName' && (record.f.givenName || record.f.familyName)) continue;
    if (field.several) planner.many(field, candidates);
    else planner.one(field, first, ruleOf(key));
  }
  const { operations, filled, replaced, asked } = planner;
  return { operations, filled, replaced, asked };
}

/** The record of a new contact made of a candidate. The same as planning into an empty record and applying that. */
export function recordFrom(candidate: Candidate, catalogue: Catalogue, stamp: Stamp): ContactRecord {
  const f: Record<string, Value[]> = {};
  let next = 1;
  for (const [key, candidates] of Object.entries(candidate)) {
    const field = catalogue.find(key);
    const first = candidates[0];
    if (!first || (!field && key !== KIND)) continue;
    if (!field?.several) {
      f[key] = [stamped(first, 0, stamp)];
      continue;
    }
    if (candidates.length === 1) {
      f[key] = [stamped(first, next++, stamp, 0)];
      continue;
    }
    const known = new Set<string>();
    const values: Value[] = [];
    for (const value of candidates) {
      const content = contentKey(field.type, value);
      if (known.has(content)) continue;
      known.add(content);
      values.push(stamped(value, next++, stamp, values.length));
    }
    f[key] = values;
  }
  return { n: next, f };
}
