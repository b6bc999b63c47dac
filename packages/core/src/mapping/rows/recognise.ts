import type { Issue } from '../../model';
import { foldText, isPlaceholderText } from '../../fields';
import {
  indexKeys,
  isSamePhone,
  keyHash,
  namesAgree,
  phoneBlock,
  wholeNameKeys,
  type Band,
  type MatchPerson,
  type NameCard,
} from '../../matching';
import type { Candidate } from '../../writing';
import type { Recogniser } from '../mapping';

/** What is remembered of a person to recognise them by: few short texts, since a whole file's people are kept. */
export type IdentityCard = NameCard &
  Pick<MatchPerson, 'generation' | 'postal' | 'locality' | 'bday' | 'organizationText' | 'phones'> & {
    hasMailbox: boolean;
    /** Ids that the file, or an outside tool, gives. */
    ids: readonly string[];
  };

export function cardOf(person: MatchPerson, ids: readonly { v: unknown }[] = []): IdentityCard {
  const {
    given,
    givenText,
    nickname,
    unreadable,
    script,
    family,
    familyText,
    familyInferred,
    generation,
    postal,
    locality,
    bday,
    organizationText,
    phones,
    emails,
  } = person;
  return {
    given,
    givenText,
    nickname,
    unreadable,
    script,
    family,
    familyText,
    familyInferred,
    generation,
    postal,
    locality,
    bday,
    organizationText,
    phones,
    hasMailbox: emails.length > 0,
    ids: ids.map(({ v }) => externalKey(String(v))),
  };
}

export interface IdentityKey {
  by: Recogniser;
  /** Key text; the part before the colon tells the kind. */
  key: string;
  /** Its number, under which it is found. */
  hash: number;
  /** What the person who decides gets to see. */
  shown: string;
}

function keyOf(by: Recogniser, key: string, shown: string): IdentityKey {
  return { by, key, hash: keyHash(key), shown };
}

/** The keys somebody is recognised by, in the order chosen. */
export function identityKeys(
  candidate: Candidate,
  person: MatchPerson,
  recognise: readonly Recogniser[],
): IdentityKey[] {
  const keys: IdentityKey[] = [];
  for (const by of recognise) {
    switch (by) {
      case 'externalId':
        for (const value of candidate.externalId ?? [])
          keys.push(keyOf(by, externalKey(String(value.v)), String(value.v)));
        break;
      case 'email':
        for (const box of person.emails) keys.push(keyOf(by, `e:${box.key}`, box.key));
        break;
      case 'tel':
        for (const phone of person.phones) keys.push(keyOf(by, `p:${phoneBlock(phone)}`, phone));
        break;
      case 'name':
        for (const key of wholeNameKeys(person)) keys.push(keyOf(by, key, `${person.given[0]} ${person.familyText}`));
        break;
      case 'engine':
        for (const key of indexKeys(person)) keys.push(keyOf(by, key, ''));
        break;
    }
  }
  return keys;
}

export function externalKey(id: string): string {
  return `x:${foldText(id) || id}`;
}

/** The marks that rows of one file fold by: the matching as a whole looks at people who are here, and not at each row. */
export function foldedBy(recognise: readonly Recogniser[]): Recogniser[] {
  return [...new Set(recognise.flatMap((by): Recogniser[] => (by === 'engine' ? ['email', 'tel', 'name'] : [by])))];
}

/** Somebody found by a key. */
export interface Hit<Id> {
  id: Id;
  card: IdentityCard;
  /** Everything that is compared, where the matching as a whole is asked. */
  person?: MatchPerson;
  by: Recogniser;
  shown: string;
}

export type Recognition<Id> = { kind: 'new' } | { kind: 'known'; id: Id } | { kind: 'held'; ids: Id[]; issue: Issue };

/** The initials of a name of one family word, as one number by which names are told apart at once; 0 where they do not tell. */
export function initialsOf({ givenText, familyText, family, unreadable }: IdentityCard): number {
  if (unreadable || family.length !== 1 || givenText === '' || familyText === '') return 0;
  return (givenText.charCodeAt(0) << 16) | familyText.charCodeAt(0);
}

/** Whether two names have no letter in common at the front, either way round: most people who share a phone. Spares the closer look. */
export function clearlyDiffer(a: number, b: number): boolean {
  if (a === 0 || b === 0) return false;
  const [family, otherFamily] = [a & 0xffff, b & 0xffff];
  return family !== otherFamily && family !== b >>> 16 && a >>> 16 !== otherFamily;
}

const PLAIN_LIST_NAME = /^([A-Za-z]{2,}), ([A-Za-z]{2,})$/;

/**
 * The same of somebody of whom only the name in lists is known ("Reis, Ana"); false where that does not tell. Who it is true
 * of is not recognised by a phone, and need not be looked at.
 */
export function clearlyDiffersFrom(
  { givenText, familyText, family, unreadable }: IdentityCard,
  listName: string,
): boolean {
  const found = PLAIN_LIST_NAME.exec(listName);
  const [given, last] = [givenText[0], familyText[0]];
  if (!found || !given || !last || unreadable || family.length !== 1) return false;
  const [, otherFamily = '', otherGiven = ''] = found.map((word) => word.toLowerCase());
  if (isPlaceholderText(otherFamily) || isPlaceholderText(otherGiven)) return false;
  return last !== otherFamily[0] && last !== otherGiven[0] && given !== otherFamily[0];
}

/** Two whole names that have neither part in common, either way round. */
function isSomebodyElse(a: IdentityCard, b: IdentityCard): boolean {
  if (!a.givenText || !a.familyText || !b.givenText || !b.familyText || a.familyInferred || b.familyInferred)
    return false;
  if (a.unreadable || b.unreadable || a.familyText === b.familyText) return false;
  return a.givenText !== b.familyText && a.familyText !== b.givenText && namesAgree(a, b) === 'differ';
}

/**
 * Whether a contact that a row names by its number is whom the row is about: by name, or by a key of the row that it has. Numbers
 * of another workspace name others here.
 */
export function isNumbered(row: IdentityCard, here: IdentityCard, sharesKey: boolean): boolean {
  if (sharesKey) return !isSomebodyElse(row, here);
  return (row.givenText !== '' || row.familyText !== '') && namesAgree(row, here) === 'agree';
}

/** Numbers of one country are one line only as a whole; of different ones as the matching takes them. */
function isOneLine(a: string, b: string): boolean {
  const inOneCountry = a.startsWith('+') && a.length === b.length && a.slice(0, 3) === b.slice(0, 3);
  return a === b || (!inOneCountry && isSamePhone(a, b));
}

/** Whether both have some of one kind and none of it in common. */
function areApart(a: readonly string[], b: readonly string[], isSame = (x: string, y: string) => x === y): boolean {
  return a.length > 0 && b.length > 0 && !a.some((x) => b.some((y) => isSame(x, y)));
}

/**
 * Whether two of one name are told apart by everything else that is known of both: by the ids that somebody gave them, or by mailbox,
 * phone and place together. A birthday in common says no more then.
 */
function areToldApart(a: IdentityCard, b: IdentityCard, apart: boolean): boolean {
  if (areApart(a.ids, b.ids)) return true;
  const places = (card: IdentityCard) => [card.postal || card.locality].filter(Boolean);
  return apart && areApart(a.phones, b.phones, isOneLine) && areApart(places(a), places(b));
}

/** `apart` says that both have mailboxes and none of them is the other's. */
function isCertain(person: IdentityCard, hit: Hit<unknown>, apart: boolean): boolean {
  if (hit.by === 'externalId') return !isSomebodyElse(person, hit.card);
  if ((hit.by === 'tel' || hit.by === 'name') && clearlyDiffer(initialsOf(person), initialsOf(hit.card))) return false;
  const names = namesAgree(person, hit.card);
  if (person.generation && hit.card.generation && person.generation !== hit.card.generation) return false;
  const birthdaysClash = person.bday !== '' && hit.card.bday !== '' && person.bday !== hit.card.bday;
  switch (hit.by) {
    case 'engine':
      return false;
    case 'email':
      return names !== 'differ';
    case 'tel':
      return (
        names === 'agree' &&
        !birthdaysClash &&
        person.phones.some((own) => hit.card.phones.some((other) => isOneLine(own, other)))
      );
    case 'name': {
      // Without a mailbox or number to go by, a slip of the pen in a name is too little: the family name has to be the same.
      if (names !== 'agree' || birthdaysClash || person.familyText !== hit.card.familyText) return false;
      if (areToldApart(person, hit.card, apart)) return false;
      const agree = (a: string, b: string) => a !== '' && a === b;
      return (
        agree(person.bday, hit.card.bday) ||
        // People of one name live in one town: with mailboxes of their own they are not taken for one.
        (agree(person.postal, hit.card.postal) && !apart) ||
        (agree(person.locality, hit.card.locality) && agree(person.organizationText, hit.card.organizationText))
      );
    }
  }
}

/** What the matching as a whole says of a row's person and somebody who is here. */
export type Judge = (here: MatchPerson) => Band;

/**
 * Decides whether a row's person is known: exactly one certain is that one; several are held; a mailbox or an outside id that
 * belongs to somebody of another name is held, and so is who is only likely by the matching as a whole; none is new. The earliest
 * recogniser that is certain decides.
 */
export function recognisePerson<Id extends number>(
  person: IdentityCard,
  hits: readonly Hit<Id>[],
  order: readonly Recogniser[],
  judge?: Judge,
): Recognition<Id> {
  if (hits.length === 0) return { kind: 'new' };
  const likely = new Set<Id>();
  for (const by of order) {
    const certain = new Set<Id>();
    if (by === 'engine' && judge) {
      const asked = new Set<Id>();
      for (const hit of hits) {
        if (hit.by !== by || !hit.person || asked.has(hit.id)) continue;
        asked.add(hit.id);
        const band = judge(hit.person);
        if (band === 'certain') certain.add(hit.id);
        else if (band === 'likely') likely.add(hit.id);
      }
    } else
      for (const hit of hits) {
        if (hit.by !== by) continue;
        const apart =
          by === 'name' &&
          person.hasMailbox &&
          hit.card.hasMailbox &&
          order.includes('email') &&
          !hits.some((other) => other.by === 'email' && other.id === hit.id);
        if (isCertain(person, hit, apart)) certain.add(hit.id);
      }
    if (certain.size > 1) {
      const ids = [...certain].sort((a, b) => a - b);
      return { kind: 'held', ids, issue: { code: 'severalMatches', contactIds: ids, path: {} } };
    }
    for (const id of certain) return { kind: 'known', id };
  }
  if (likely.size) {
    const ids = [...likely].sort((a, b) => a - b);
    return { kind: 'held', ids, issue: { code: 'likelyMatch', contactIds: ids, path: {} } };
  }
  const shared = hits.filter((hit) => hit.by === 'email' || hit.by === 'externalId');
  const [first] = shared;
  if (first) {
    const ids = [...new Set(shared.map((hit) => hit.id))].sort((a, b) => a - b);
    return { kind: 'held', ids, issue: { code: 'sharedIdentifier', value: first.shown, contactIds: ids, path: {} } };
  }
  return { kind: 'new' };
}

/** A phone or name that more people than this have in common proves nothing and is not looked at. */
export const COMMON_KEY = 12;
