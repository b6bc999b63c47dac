import type { Issue } from '../model';
import { foldText } from '../fields';
import { nameKey, namesAgree, type MatchPerson } from '../matching';
import type { Candidate } from '../writing';
import type { Recogniser } from './mapping';

/** What is remembered of a person to recognise them by: few short texts, since a whole file's people are kept. */
export type IdentityCard = Pick<
  MatchPerson,
  'given' | 'givenText' | 'nickname' | 'unreadable' | 'family' | 'familyText' | 'familyInferred' | 'generation' | 'postal' | 'locality' | 'bday' | 'organizationText'
>;

export function cardOf(person: MatchPerson): IdentityCard {
  const { given, givenText, nickname, unreadable, family, familyText, familyInferred, generation, postal, locality, bday, organizationText } = person;
  return { given, givenText, nickname, unreadable, family, familyText, familyInferred, generation, postal, locality, bday, organizationText };
}

export interface IdentityKey {
  by: Recogniser;
  /** Key text; the part before the colon tells the kind. */
  key: string;
  /** What the person who decides gets to see. */
  shown: string;
}

/** The keys somebody is recognised by, in the order chosen. */
export function identityKeys(candidate: Candidate, person: MatchPerson, recognise: readonly Recogniser[]): IdentityKey[] {
  const keys: IdentityKey[] = [];
  for (const by of recognise) {
    switch (by) {
      case 'externalId':
        for (const value of candidate.externalId ?? []) keys.push({ by, key: externalKey(String(value.v)), shown: String(value.v) });
        break;
      case 'email':
        for (const box of person.emails) keys.push({ by, key: `e:${box.key}`, shown: box.key });
        break;
      case 'tel':
        for (const phone of person.phones) keys.push({ by, key: `p:${phone.slice(-9)}`, shown: phone });
        break;
      case 'name':
        if (person.given[0] && person.familyText && !person.familyInferred) {
          keys.push({ by, key: nameKey(person.given[0], person.familyText), shown: `${person.given[0]} ${person.familyText}` });
        }
        break;
    }
  }
  return keys;
}

export function externalKey(id: string): string {
  return `x:${foldText(id) || id}`;
}

/** Somebody found by a key. */
export interface Hit<Id> {
  id: Id;
  card: IdentityCard;
  by: Recogniser;
  shown: string;
}

export type Recognition<Id> = { kind: 'new' } | { kind: 'known'; id: Id } | { kind: 'held'; ids: Id[]; issue: Issue };

function isCertain(person: IdentityCard, hit: Hit<unknown>): boolean {
  if (hit.by === 'externalId') return true;
  const names = namesAgree(person, hit.card);
  if (person.generation && hit.card.generation && person.generation !== hit.card.generation) return false;
  const birthdaysClash = person.bday !== '' && hit.card.bday !== '' && person.bday !== hit.card.bday;
  switch (hit.by) {
    case 'email':
      return names !== 'differ';
    case 'tel':
      return names === 'agree' && !birthdaysClash;
    case 'name': {
      if (names !== 'agree' || birthdaysClash) return false;
      const agree = (a: string, b: string) => a !== '' && a === b;
      return agree(person.bday, hit.card.bday) || agree(person.postal, hit.card.postal) || (agree(person.locality, hit.card.locality) && agree(person.organizationText, hit.card.organizationText));
    }
  }
}

/**
 * Decides whether a row's person is known: exactly one certain is that one; several are held; a mailbox that belongs to
 * somebody of another name is held; none is new. The earliest recogniser that is certain decides.
 */
export function recognisePerson<Id extends number>(person: IdentityCard, hits: readonly Hit<Id>[], order: readonly Recogniser[]): Recognition<Id> {
  for (const by of order) {
    const certain = new Set(hits.filter((hit) => hit.by === by && isCertain(person, hit)).map((hit) => hit.id));
    if (certain.size > 1) {
      const ids = [...certain].sort((a, b) => a - b);
      return { kind: 'held', ids, issue: { code: 'severalMatches', contactIds: ids, path: {} } };
    }
    for (const id of certain) return { kind: 'known', id };
  }
  const shared = hits.filter((hit) => hit.by === 'email');
  const [first] = shared;
  if (first) {
    const ids = [...new Set(shared.map((hit) => hit.id))].sort((a, b) => a - b);
    return { kind: 'held', ids, issue: { code: 'sharedIdentifier', value: first.shown, contactIds: ids, path: {} } };
  }
  return { kind: 'new' };
}

/** People of one file by their keys, so that rows of one person fold together. Keeps cards, not rows. */
export class FoldIndex {
  private readonly byKey = new Map<string, { row: number; card: IdentityCard }[]>();

  find(keys: readonly IdentityKey[]): Hit<number>[] {
    const hits: Hit<number>[] = [];
    for (const { by, key, shown } of keys) for (const { row, card } of this.byKey.get(key) ?? []) hits.push({ id: row, card, by, shown });
    return hits;
  }

  add(row: number, card: IdentityCard, keys: readonly IdentityKey[]): void {
    const entry = { row, card };
    for (const { key } of keys) {
      const list = this.byKey.get(key);
      if (!list) this.byKey.set(key, [entry]);
      else if (list.length < 50 && !list.some((other) => other.row === row)) list.push(entry);
    }
  }
}
