import { firstText, isRelation, valuesOf, type ContactRecord } from '../../model';
import { isCouple } from '../relation';
import { joinName, splitName } from './person-name';

interface Names {
  prefix: string;
  given: string;
  family: string;
  suffix: string;
  organization: string;
}

function namesOf(record: ContactRecord): Names {
  return {
    prefix: firstText(record, 'prefix'),
    given: firstText(record, 'givenName'),
    family: firstText(record, 'familyName'),
    suffix: firstText(record, 'suffix'),
    organization: firstText(record, 'organization'),
  };
}

const lineOf = ({ prefix, given, family, suffix, organization }: Names) =>
  joinName({ prefix, givenName: given, familyName: family, suffix }) || organization;

/**
 * The line that stands above an address: "Ana Reis", or "Ana Reis and Tom Okoro" with a partner in the same home;
 * "Ana and Tom Reis" where the family name is one. What somebody wrote for the contact itself stands before all.
 */
export function letterLine(record: ContactRecord, partner: ContactRecord | null = null): string {
  const own = firstText(record, 'letterLine');
  if (own) return own;
  const a = namesOf(record);
  if (!partner) return lineOf(a) || firstText(record, 'fullName');
  const b = namesOf(partner);
  if (a.family && a.family === b.family && a.given && b.given) {
    const first = [a.prefix, a.given].filter(Boolean).join(' ');
    const second = [b.prefix, b.given].filter(Boolean).join(' ');
    return `${first} and ${second} ${a.family}`;
  }
  return [lineOf(a), lineOf(b)].filter(Boolean).join(' and ');
}

/**
 * The partner whom a record only names, as one that can stand in its letters; a given name alone takes the family name of the record.
 * Null where it names none.
 */
export function partnerByName(record: ContactRecord): ContactRecord | null {
  const named = valuesOf(record, 'related').flatMap(({ v }) =>
    isRelation(v) && isCouple(v.relation) && v.to === null && v.name?.trim() ? [v.name.trim()] : [],
  );
  const [whole] = named;
  if (!whole) return null;
  const { name, fault } = splitName(whole);
  const givenOnly = !whole.includes(' ');
  const parts = {
    prefix: name.prefix,
    givenName: fault || givenOnly ? whole : name.givenName,
    familyName: fault ? '' : givenOnly ? firstText(record, 'familyName') : name.familyName,
    suffix: name.suffix,
  };
  return {
    n: 1,
    f: Object.fromEntries(
      Object.entries(parts).flatMap(([field, v]) => (v ? [[field, [{ slot: 0, v, run: 0 }]]] : [])),
    ),
  };
}

/** How a household is called until somebody names it: "The Reis household", "The Reis and Okoro household". */
export function householdName(members: readonly ContactRecord[]): string {
  const families = [...new Set(members.map((member) => namesOf(member).family).filter(Boolean))];
  const names = families.length ? families : members.map((member) => lineOf(namesOf(member))).filter(Boolean);
  return `The ${inWords(names.slice(0, 3))} household`;
}

/** The line above the address of a household: both names of two, the name of the household for more. */
export function householdLine(members: readonly ContactRecord[], name: string | null): string {
  const [first, second] = members;
  if (name) return name;
  if (first && second && members.length === 2)
    return letterLine({ ...first, f: { ...first.f, letterLine: [] } }, second);
  return first && !second ? letterLine(first) : householdName(members);
}

const inWords = (names: readonly string[]) =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;

/** "Dear Ana,", "Dear Ana, Tom and Eva,", or by title and family name where no given name is known. */
export function salutation(record: ContactRecord, ...others: readonly (ContactRecord | null)[]): string {
  const own = firstText(record, 'salutation');
  if (own) return own;
  const calledBy = (one: ContactRecord) => {
    const { prefix, given, family } = namesOf(one);
    // Of several nicknames the first.
    const [nickname = ''] = firstText(one, 'nickname').split(',');
    return nickname.trim() || given || [prefix, family].filter(Boolean).join(' ');
  };
  const names = [record, ...others.flatMap((other) => other ?? [])].map(calledBy).filter(Boolean);
  return names.length ? `Dear ${inWords(names)},` : 'Hello,';
}
