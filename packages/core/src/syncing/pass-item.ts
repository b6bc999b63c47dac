import { applyOperations, firstValue, valuesOf, type ContactRecord, type Operation } from '../model';
import type { BrakeLimits, PassTotals } from './brake';
import type { ListLine } from './kept-lists';
import type { SyncLine } from './lines';
import type { PairPlan, PlannedConflict } from './plan-pair';
import type { ApartReason, Link, OurPerson, PairEvent } from './ports';
import type { Scope } from './scope';

export interface SyncSetup {
  lines: SyncLine[];
  /** Segments that are lists over there, and lists that are tags here. */
  lists?: ListLine[];
  scopes: Scope[];
  newHere: boolean;
  newThere: boolean;
  whenGoneThere: 'keep' | 'makeAgain';
  /** When a contact is deleted here. */
  whenGoneHere: 'keep' | 'remove';
  /** When somebody does not take part any more. */
  whenLeaving: 'keep' | 'remove' | 'takeLabelOff';
  /** When two contacts that are linked were merged here: a person is asked what becomes of the second record, or it goes. */
  whenMergedHere: 'ask' | 'remove';
  /** Of several people with the one address that a record is found by: the record is the one's who was here first, or a person says whose. */
  whoShares?: 'first' | 'ask';
  limits: BrakeLimits;
}

/** The contact of an item, as it was when it was planned. */
export type PlannedPerson = Pick<OurPerson, 'id' | 'version' | 'record'>;

/** What a pass does about one record over there and one contact here. */
export interface PassItem {
  link: Link;
  person: PlannedPerson | null;
  plan: PairPlan | null;
  action: 'pair' | 'makeHere' | 'makeThere' | 'ask' | 'apart' | 'removeThere' | 'note';
  operations: Operation[];
  /** The record to be made here. */
  create?: ContactRecord;
  event?: PairEvent;
  apart?: ApartReason;
  conflicts?: PlannedConflict[];
  /** Where the record over there was before. */
  movedFrom?: string;
}

/** What comes of a pass. */
export interface PassEnd {
  totals: PassTotals;
  /** Ids over there that did not come to rest; the next pass begins where this one did. */
  left: number;
  stopped: boolean;
  full: boolean;
}

/** Records and contacts that are looked at, and written, at a time. */
export const AT_ONCE = 100;

export function* batches<T>(list: readonly T[], size = AT_ONCE): Generator<T[]> {
  for (let i = 0; i < list.length; i += size) yield list.slice(i, i + size);
}

export const freshLink = (outsideId: string, contactId: number): Link => ({
  outsideId,
  contactId,
  state: 'linked',
  apart: null,
  version: '',
  base: null,
  seen: null,
  intent: null,
  dirty: false,
  scope: null,
  candidates: [],
  band: null,
  notTaken: null,
  unreadable: null,
  asks: null,
  kept: null,
  waitsFor: null,
});

export const NONE: ReadonlySet<string> = new Set();
export const TELLING = ['givenName', 'familyName', 'fullName', 'organization', 'email', 'tel', 'nickname'];

export function applied(record: ContactRecord, operations: readonly Operation[]): ContactRecord {
  const applied = applyOperations(record, operations);
  return applied.ok ? applied.value : record;
}

/** Of several records over there for one contact, the one that is kept in step. */
export function primary(links: readonly Link[], root: number): Link {
  const sorted = [...links].sort((a, b) => (a.outsideId < b.outsideId ? -1 : 1));
  return (sorted.find(({ contactId }) => contactId === root) ?? sorted[0]) as Link;
}

export const isInStep = ({ state }: Link) => state === 'linked' || state === 'making';

/** Somebody over there of whom nothing is known here. */
export const isNobody = ({ state, apart, contactId }: Link) =>
  state === 'stranger' || (state === 'apart' && (apart === 'refused' || apart === 'unreadable') && contactId === 0);
/** Reasons that end when somebody takes part again. */
export const COMES_BACK: ReadonlySet<ApartReason | null> = new Set<ApartReason | null>([
  'left',
  'goneHere',
  'merged',
  'refused',
]);

/** Whether a record that is no longer in step is again once it is there and its contact takes part: also one that was put back. */
export const isBack = ({ apart }: Link): boolean => COMES_BACK.has(apart) || apart === 'goneThere';

export function sameTexts(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((text) => b.includes(text));
}

/** What somebody who comes in by a scope is given: tags that are missing, and the others where they are blank. */
export function give(target: number, record: ContactRecord, scope: Scope | null, run: number): Operation[] {
  if (!scope) return [];
  const operations: Operation[] = [];
  let slot = record.n;
  const there = new Set(valuesOf(record, 'tags').map(({ v }) => String(v).toLowerCase()));
  let rank = there.size;
  for (const tag of scope.give.tags) {
    if (there.has(tag.toLowerCase())) continue;
    operations.push({ target, field: 'tags', slot, before: null, after: { slot, v: tag, run, rank: rank++ } });
    slot++;
  }
  for (const field of ['source', 'owner', 'stage'] as const) {
    const v = scope.give[field];
    if (v && !firstValue(record, field))
      operations.push({ target, field, slot: 0, before: null, after: { slot: 0, v, run } });
  }
  return operations;
}
