import type { ContactRecord, Operation } from '../model';
import type { Channel } from '../writing';
import type { OutsideLists } from './lists-there';
import type { OutsideForms } from './submissions';
import type { Capabilities, NewOutsideField, OutsideField, OutsideFields, OutsideRecord } from './outside';
import type { OutsidePage, OutsideResult, OutsideStop } from './results';
import type { Base, PlannedChange, PlannedConflict } from './plan-pair';
import type { ApartReason, SyncChoice } from './scope';

export type { ApartReason } from './scope';

/**
 * making: to be made over there, the id is chosen and written down; linked: in step; asking: a person is asked who it is;
 * fresh: a person said that it is nobody who is here; stranger: is nobody here and is not to be made here; apart: no longer
 * in step, for the reason given.
 */
export type LinkState = 'making' | 'linked' | 'asking' | 'fresh' | 'stranger' | 'apart';

/** What was about to be written over there and is not confirmed yet: what would be agreed on if it was. */
export interface Intent {
  fields: OutsideFields | null;
  labels: string[] | null;
  base: Base;
}

/** The tie between a record over there and a contact here. */
export interface Link {
  outsideId: string;
  /** As it was linked; the contact that took it in by a merge is found from it. 0 while nobody is known. */
  contactId: number;
  state: LinkState;
  apart: ApartReason | null;
  version: string;
  base: Base | null;
  /** The record over there as it was last read or written; null before. */
  seen: OutsideRecord | null;
  intent: Intent | null;
  /** To be looked at in the next pass whatever changed. */
  dirty: boolean;
  scope: string | null;
  /** Whom it may be, while a person is asked; the likeliest first. */
  candidates: number[];
  /** How sure the likeliest of them is; null while nobody is asked. */
  band: IdentityBand | null;
  /** What the other side said as it did not take what was to be written; null where it took all. */
  notTaken: string | null;
  /** Why the record over there cannot be read, in words; null where it can. */
  unreadable: string | null;
  /**
   * What becomes of it, while a person is asked: `two`, since its contact was merged into one that has a record there;
   * `removal`, since it is to be removed and was edited over there meanwhile.
   */
  asks: 'two' | 'removal' | null;
  /** The whole record as it was when we removed it, so that it can be put back with everything it had. */
  kept: string | null;
  /** Where its record would be, while that place is somebody else's; null where it waits for nothing. */
  waitsFor: string | null;
}

export interface OurPerson {
  /** The contact that stands for it now: the taker of a merged one. */
  id: number;
  version: number;
  record: ContactRecord;
  stopped: Channel[];
  choice: SyncChoice | null;
  meets: ReadonlySet<string>;
  /** Ids of the segments that they are in, of those that are lists over there; absent where none are. */
  segments?: ReadonlySet<number>;
  changedAtMs: (field: string) => number;
}

/** What becomes of the second record of a contact that another one was merged into. */
export type SecondTake = 'removeThere' | 'leave';

export type IdentityBand = 'certain' | 'likely';

export type Identity =
  | { who: 'one'; contactId: number }
  /** The likeliest first; `band` is how sure that one is. */
  | { who: 'ask'; contactIds: number[]; band: IdentityBand }
  /** Somebody who was erased here on request, and is kept out. */
  | { who: 'erased' }
  | { who: 'nobody' };

/** What one pair writes here, in one transaction with all others of its batch. */
export interface PairWrite {
  link: Link;
  /** Where the record over there was before it moved; the link takes the place of the one from there. */
  movedFrom?: string;
  /** Contact to be made here; the link gets its id. */
  create?: ContactRecord;
  operations: Operation[];
  /** Version that the contact must still have; otherwise nothing of this pair is written. */
  version: number | null;
  stop: Channel[];
  changes: PlannedChange[];
  /** The open questions about this pair; they take the place of those that were. Absent: they stay as they are. */
  conflicts?: PlannedConflict[];
  /** Says what became of it, for the story of the contact. */
  event?: PairEvent;
}

export type PairEvent =
  'madeHere' | 'madeThere' | 'linked' | 'asked' | 'apart' | 'removedThere' | 'again' | 'refused' | 'unreadable';

export type WriteResult = { ok: true; contactId: number } | { ok: false };

/** The book here. */
export interface SyncStore {
  cursors(): Promise<{ theirs: string | null; ours: string | null }>;
  /** Contacts that were changed since, and those that may take part where there is no cursor yet. Never misses a late commit. */
  changedHere(cursor: string | null): Promise<{ ids: number[]; cursor: string }>;
  /** Outside ids of links with something unfinished. */
  unfinished(): Promise<string[]>;
  /** Everybody of whom a person is asked whether somebody over there is the same, with the ids of those over there. */
  askedAbout(): Promise<Map<number, string[]>>;
  /** Links that wait for a place whose record is in step with nobody by now. */
  freeToTake(): Promise<string[]>;
  /** Links that wait for these places. */
  waitingFor(places: readonly string[]): Promise<Link[]>;
  /** Of contacts that were merged: what a person said becomes of the records that they have in all tools. */
  saidOfMerged(contactIds: readonly number[]): Promise<Map<number, SecondTake>>;
  /** Those over there who are nobody here, and are not to be made here. */
  strangers(): Promise<Link[]>;
  /** Versions of all records that are there as far as we know; for a lost cursor over there. */
  versions(): Promise<Map<string, string>>;
  links(outsideIds: readonly string[]): Promise<Map<string, Link>>;
  /** Links whose record was last seen with one of these names, by name. */
  linksByUid(uids: readonly string[]): Promise<Map<string, Link>>;
  /** Links of contacts and of everybody who was merged into them. */
  linksOf(contactIds: readonly number[]): Promise<Link[]>;
  /** By the id that was asked for; ids of merged contacts lead to their taker. */
  people(ids: readonly number[]): Promise<Map<number, OurPerson>>;
  identify(records: readonly OutsideRecord[]): Promise<Identity[]>;
  /** Writes a batch in one transaction; what is refused because the contact moved is left out and said. */
  save(writes: readonly PairWrite[]): Promise<WriteResult[]>;
  /** Moves the cursors on, when everything up to them is done. */
  finish(cursors: { theirs: string | null; ours: string }): Promise<void>;
}

export interface Changes {
  changed: { id: string; version: string }[];
  gone: string[];
  /** Where to go on from; null where the other side keeps no such place. */
  cursor: string | null;
  /** Whether `changed` is everything there is, so that what is missing in it is gone. */
  full: boolean;
  /** Clock over there less ours, as seen in its answers, and how far that may be wrong. */
  clock: { aheadMs: number; errorMs: number };
}

export type OutsideWrite =
  | {
      kind: 'create';
      id: string;
      fields: OutsideFields;
      /** Null, beside `from`: as they were. */
      labels: string[] | null;
      stopped: Channel[];
      /** A record that was removed, as its removal gave it: it is put back whole, with the changes to it that are given. */
      from?: string;
    }
  | {
      kind: 'update';
      id: string;
      version: string;
      fields: OutsideFields | null;
      labels: string[] | null;
      stop: Channel[];
      seen: OutsideRecord;
    }
  | { kind: 'remove'; id: string; version: string };

export type OutsideWritten =
  /** `kept`: the whole record that was removed, in the writing of the tool. */
  | {
      ok: true;
      /** As it is kept now; under another id where that follows what was written (an address that was changed). */
      record: OutsideRecord | null;
      kept?: string;
    }
  /** clash: changed meanwhile; gone; full: no room; refused: not taken; unknown: no answer came, it may have been written. */
  | { ok: false; why: 'clash' | 'gone' | 'full' | 'refused' | 'unknown'; text: string };

/** What a job has answered by now: each write by the id that it was asked with. */
export interface BulkAnswers {
  /** Whether nothing more comes. */
  done: boolean;
  answers: { id: string; written: OutsideWritten }[];
}

/** Writing by a job over there that is asked after until it is done. */
export interface BulkWriter {
  /** Fewer writes than this are sent one by one. */
  from: number;
  /** Most that one job takes; absent where any number is fine. */
  most?: number;
  /** Gives the job; null where no answer came, so that nobody knows whether it was begun. */
  start(writes: readonly OutsideWrite[]): Promise<string | null>;
  look(job: string): Promise<BulkAnswers>;
}

/**
 * One outside tool. Contract: `changes` misses nothing that was changed after the cursor was given out, in whatever order;
 * `write` never overwrites a version it does not know, and a create with an id that is taken is a clash; a record that was
 * read and written back unchanged is the same. Errors other than those of a single record are thrown as ToolTrouble.
 */
export interface Tool {
  capabilities(): Promise<Capabilities>;
  /** Throws ToolTrouble with `cursorLost` where the cursor is not known any more. */
  changes(cursor: string | null): Promise<Changes>;
  /** Records by id; one that is gone is left out. */
  read(ids: readonly string[]): Promise<OutsideRecord[]>;
  write(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]>;
  /** An id for a record that is to be made. */
  newId(contactId: number, nonce: string): string;
  /** Where a record with these fields is found, for tools that find it by what it says (an address): of two such records there is one only. */
  placeOf?(fields: OutsideFields): string | null;
  /** The name that a record gets which we make at an id, and keeps wherever it is; for tools that keep such names. */
  newUid?(id: string): string;
  /** What happened there after a place, the oldest first or in any order; each entry at least once. For tools that talk to people. */
  results?(cursor: string | null): Promise<OutsidePage<OutsideResult>>;
  /** Who said stop after a place, of an address or number. For tools that keep that apart from people. */
  stops?(cursor: string | null): Promise<OutsidePage<OutsideStop>>;
  /** Puts somebody at the head of those who are called. Throws ToolTrouble with `refusedThere` where the tool does not. */
  callNext?(id: string): Promise<void>;
  /** Makes a field for records. Throws ToolTrouble with `refusedThere` where there is one of that name, or the tool takes no such field. */
  makeField?(field: NewOutsideField): Promise<OutsideField>;
  /** Writes many by a job; `write` takes them all the same. */
  bulk?: BulkWriter;
  /** The lists it has of its people. */
  lists?: OutsideLists;
  /** The forms it has, and what was answered to them. */
  forms?: OutsideForms;
  /** Has the tool call an address when something changes, signed with the secret; null: no more. */
  setHook?(hook: { url: string; secret: string } | null): Promise<void>;
}

export type TroubleKind =
  | 'cursorLost'
  | 'unreachable'
  | 'credentials'
  | 'notFound'
  | 'busy'
  | 'protocol'
  | 'refusedAddress'
  | 'refusedThere'
  | 'tooLarge';

/** The other side as a whole does not do what it should; a single record that fails is told in its place. */
export class ToolTrouble extends Error {
  constructor(
    readonly kind: TroubleKind,
    message: string,
    /** How long to wait before the next try, in ms, where the other side said so. */
    readonly waitMs: number | null = null,
  ) {
    super(message);
  }
}
