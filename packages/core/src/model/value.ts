/** A postal address in the parts of vCard 4 ADR (RFC 6350, 6.3.1). `country` is an ISO 3166-1 alpha-2 code where it is known. */
export interface AddressValue {
  street?: string;
  locality?: string;
  region?: string;
  postalCode?: string;
  country?: string;
}

/** Where a contact stands in its life. A live contact has no lifecycle value at all. */
export interface LifecycleValue {
  state: 'deleted' | 'merged' | 'erased';
  /** Id of the contact that took this one in, when `state` is `merged`. */
  into?: number;
}

/** An amount with its currency (ISO 4217). */
export interface MoneyValue {
  amount: number;
  currency: string;
}

/** A range; an end that is null is open. */
export interface RangeValue {
  from: number | null;
  to: number | null;
}

/**
 * How this contact is related to another (RELATED of vCard 4, RFC 6350 6.6.6): "the other is my `relation`". Kept with
 * one of the two; the other shows it the other way round. `to` is a contact, `name` somebody who is none.
 */
export interface RelationValue {
  relation: string;
  to: number | null;
  name?: string;
  /** What a referrer is owed. */
  owed?: MoneyValue;
  /** On what terms, in words. */
  fee?: string;
}

export type ValueContent =
  string | number | boolean | string[] | AddressValue | LifecycleValue | MoneyValue | RangeValue | RelationValue;

/**
 * One value of one field, with its thread: the run that wrote it and the row of that run's file it came from.
 * `slot` names the value inside its contact for good (0 for a field that holds one value), `rank` orders several
 * values of one field (lowest first), `atMs` is when the value was true at its source, where that differs from the run.
 */
export interface Value {
  slot: number;
  v: ValueContent;
  /** The normal form that is compared (E.164, e-mail key), kept beside what was typed where the two differ. */
  norm?: string;
  label?: string;
  rank?: number;
  run: number;
  row?: number;
  atMs?: number;
}

/** All values of a contact by field key. `n` is the next free slot and never goes down, so a slot is never used twice. */
export interface ContactRecord {
  n: number;
  f: Record<string, Value[]>;
}

export const LIFECYCLE = 'lifecycle';
/** Field that makes a record an organization (vCard KIND); a person has none. */
export const KIND = 'kind';

/** Values a merge did not choose stay with the contact under this prefix, so that nothing is lost and a later merge looks at all. */
export const ALSO_PREFIX = 'also.';

export type ContactKind = 'person' | 'organization';
/** An opportunity is a record like any other: its values have threads, its changes are operations, its runs are undone. */
export type RecordKind = ContactKind | 'opportunity';

export function kindOf(record: ContactRecord): RecordKind {
  const kind = record.f[KIND]?.[0]?.v;
  return kind === 'organization' || kind === 'opportunity' ? kind : 'person';
}

function isObject(v: ValueContent | undefined): v is Exclude<ValueContent, string | number | boolean | string[]> {
  return typeof v === 'object' && !Array.isArray(v);
}

export function isRelation(v: ValueContent | undefined): v is RelationValue {
  return isObject(v) && 'relation' in v;
}

export function isMoney(v: ValueContent | undefined): v is MoneyValue {
  return isObject(v) && 'amount' in v;
}

export function isRange(v: ValueContent | undefined): v is RangeValue {
  return isObject(v) && 'from' in v;
}

export function isAddress(v: ValueContent | undefined): v is AddressValue {
  return isObject(v) && !('relation' in v) && !('amount' in v) && !('from' in v) && !('state' in v);
}

export function emptyRecord(): ContactRecord {
  return { n: 1, f: {} };
}

/** Values of a field in order of rank, then slot; an empty list when there are none. */
export function valuesOf(record: ContactRecord, field: string): Value[] {
  const values = record.f[field];
  if (!values) return [];
  if (values.length < 2) return values;
  return [...values].sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0) || a.slot - b.slot);
}

export function firstValue(record: ContactRecord, field: string): Value | undefined {
  return valuesOf(record, field)[0];
}

/** The first value of a field as text, '' when absent or not text. */
export function firstText(record: ContactRecord, field: string): string {
  const v = firstValue(record, field)?.v;
  return typeof v === 'string' ? v : '';
}

export function lifecycleOf(record: ContactRecord): LifecycleValue | null {
  const v = record.f[LIFECYCLE]?.[0]?.v;
  return isObject(v) && 'state' in v ? v : null;
}

/** Equality of JSON-safe contents, independent of the order of keys. */
export function sameContent(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const entriesA = Object.entries(a).filter(([, x]) => x !== undefined);
  const entriesB = Object.entries(b).filter(([, x]) => x !== undefined);
  if (entriesA.length !== entriesB.length) return false;
  return entriesA.every(([key, x]) => sameContent(x, (b as Record<string, unknown>)[key]));
}
