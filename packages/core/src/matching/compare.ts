import { areNicknames, isKnownGivenName, nicknamesOf, PARTICLES } from '../fields';
import type { MailboxFacts, MatchPerson } from './person';
import { phoneBlock } from './keys';
import { editDistance, isSlip } from './text-distance';

/** The fields that are compared, in the order of a comparison pattern. */
export const COMPARED = ['given', 'family', 'email', 'phone', 'bday', 'place', 'organization', 'generation'] as const;
export type ComparedField = (typeof COMPARED)[number];

/** Agreement levels per field. Level 0 is always "absent": nothing to compare, which is not disagreement. */
export const LEVELS = {
  given: ['absent', 'same', 'nickname', 'initial', 'slip', 'part', 'different', 'similar'],
  family: ['absent', 'same', 'slip', 'part', 'different', 'inferredSame', 'inferredDifferent'],
  email: ['absent', 'same', 'sameShared', 'near', 'sameLocal', 'different'],
  phone: ['absent', 'same', 'sameShared', 'slip', 'different'],
  bday: ['absent', 'same', 'swapped', 'slip', 'different'],
  place: ['absent', 'same', 'sameStreet', 'samePostal', 'sameTown', 'different'],
  organization: ['absent', 'same', 'close', 'different'],
  generation: ['absent', 'same', 'onlyOne', 'different'],
} as const satisfies Record<ComparedField, readonly string[]>;

export type LevelName<F extends ComparedField> = (typeof LEVELS)[F][number];

/** How two people compare: one level number per field of COMPARED, and the words that agreed. */
export interface Comparison {
  levels: number[];
  /** Set when given and family name stand in each other's place. */
  swapped: boolean;
}

function level<F extends ComparedField>(field: F, name: LevelName<F>): number {
  return (LEVELS[field] as readonly string[]).indexOf(name);
}

const G = (name: LevelName<'given'>) => level('given', name);
const F = (name: LevelName<'family'>) => level('family', name);

function oneGiven(a: string, b: string, context: MatchContext): LevelName<'given'> {
  if (a === b) return 'same';
  if (a.length === 1 || b.length === 1) return a[0] === b[0] ? 'initial' : 'different';
  if (areNicknames(a, b)) return 'nickname';
  // Louis and Louise, Nicola and Nicole: a letter apart, but each a name of its own.
  const names = context.isGivenName(a) && context.isGivenName(b);
  if (isSlip(a, b)) return names ? 'similar' : 'slip';
  const [short, long] = a.length < b.length ? [a, b] : [b, a];
  if (short.length >= 3 && long.startsWith(short)) return 'nickname';
  return !names && (isNicknameSlip(a, b) || isNicknameSlip(b, a)) ? 'nickname' : 'different';
}

/** Whether one name is a slip of a short form of the other ("Anndy" for Andrew). */
function isNicknameSlip(a: string, b: string): boolean {
  if (b.length < 4) return false;
  return nicknamesOf(a).some(
    (name) => name.length >= 4 && Math.abs(name.length - b.length) <= 1 && editDistance(name, b, 1) <= 1,
  );
}

function compareGiven(a: NameCard, b: NameCard, context: MatchContext): LevelName<'given'> {
  const x = a.given[0];
  const y = b.given[0];
  if (!x || !y) return 'absent';
  const first = oneGiven(x, y, context);
  if (first === 'same' || first === 'nickname' || first === 'slip') return first;
  if (a.nickname && a.nickname === y) return 'nickname';
  if (b.nickname && b.nickname === x) return 'nickname';
  if (x.length > 1 && y.length > 1) {
    const joinedA = a.givenText;
    const joinedB = b.givenText;
    if (joinedA === joinedB) return 'same';
    if (first === 'different' && isSlip(joinedA, joinedB)) return 'slip';
    if (
      a.given.slice(1).some((word) => word.length > 2 && word === y) ||
      b.given.slice(1).some((word) => word.length > 2 && word === x)
    )
      return 'part';
  }
  return first;
}

function oneFamily(a: string[], b: string[], textA: string, textB: string): LevelName<'family'> {
  if (textA === textB) return 'same';
  if (a.length > 1 || b.length > 1) {
    if (a.some((word) => word.length > 2 && b.includes(word))) return 'part';
    if (a.some((word) => b.some((other) => isSlip(word, other)))) return 'part';
  }
  if (isSlip(textA, textB)) return 'slip';
  if (textA.length === 1 || textB.length === 1) return textA[0] === textB[0] ? 'part' : 'different';
  return 'different';
}

function compareFamily(a: NameCard, b: NameCard): LevelName<'family'> {
  if (!a.family.length || !b.family.length) return 'absent';
  const found = oneFamily(a.family, b.family, a.familyText, b.familyText);
  if (!a.familyInferred && !b.familyInferred) return found;
  if (found === 'different')
    return a.familyText.endsWith(b.familyText) || b.familyText.endsWith(a.familyText)
      ? 'inferredSame'
      : 'inferredDifferent';
  return 'inferredSame';
}

/** Whether a mailbox says nothing beyond the name, so that a namesake could well have the same one elsewhere. */
function isNameOnly(box: MailboxFacts, person: MatchPerson): boolean {
  if (box.digits) return false;
  if (person.unreadable) return true;
  const given = person.givenText;
  const family = person.familyWhole;
  const shapes = [
    given + family,
    family + given,
    (given[0] ?? '') + family,
    family + (given[0] ?? ''),
    given + (family[0] ?? ''),
    (family[0] ?? '') + given,
  ];
  return (
    shapes.some((shape) => shape === box.stem || isSlip(shape, box.stem)) ||
    (given.length > 2 && box.stem.startsWith(given) && family === '')
  );
}

function oneEmail(
  a: MailboxFacts,
  b: MailboxFacts,
  x: MatchPerson,
  y: MatchPerson,
  context: MatchContext,
): LevelName<'email'> {
  if (a.key === b.key) return a.role || context.isShared(a.key) ? 'sameShared' : 'same';
  if (a.role || b.role) return 'different';
  const localA = a.plain;
  const localB = b.plain;
  const sameDomain = a.domain === b.domain;
  if (localA === localB && localA.length >= 4) {
    if (sameDomain || hostOf(a.domain) === hostOf(b.domain) || editDistance(a.domain, b.domain, 2) <= 2) return 'near';
    // A namesake may well have the same name at another provider: that is no evidence either way.
    return isNameOnly(a, x) || isNameOnly(b, y) ? 'absent' : 'sameLocal';
  }
  // Mailboxes of one family differ in a digit or two as well, so a slip counts only where digits agree.
  if (
    sameDomain &&
    Math.min(localA.length, localB.length) >= 6 &&
    a.digits === b.digits &&
    editDistance(localA, localB, 1) <= 1
  )
    return 'near';
  return 'different';
}

function hostOf(domain: string): string {
  return domain.slice(0, domain.lastIndexOf('.'));
}

const EMAIL_RANK: Record<string, number> = { same: 6, near: 5, sameLocal: 4, sameShared: 3, absent: 2, different: 1 };

function compareEmail(a: MatchPerson, b: MatchPerson, context: MatchContext): LevelName<'email'> {
  if (!a.emails.length || !b.emails.length) return 'absent';
  let best: LevelName<'email'> = 'different';
  for (const x of a.emails) {
    for (const y of b.emails) {
      const found = oneEmail(x, y, a, b, context);
      if ((EMAIL_RANK[found] ?? 0) > (EMAIL_RANK[best] ?? 0)) best = found;
    }
  }
  return best;
}

function comparePhone(a: MatchPerson, b: MatchPerson, context: MatchContext): LevelName<'phone'> {
  if (!a.phones.length || !b.phones.length) return 'absent';
  let best: LevelName<'phone'> = 'different';
  for (const x of a.phones) {
    for (const y of b.phones) {
      if (x === y || (x.length > 8 && y.length > 8 && phoneBlock(x) === phoneBlock(y))) {
        if (!context.isShared(x)) return 'same';
        best = 'sameShared';
      } else if (best === 'different' && x.length === y.length && editDistance(x, y, 1) <= 1) best = 'slip';
    }
  }
  return best;
}

function compareBday(a: string, b: string): LevelName<'bday'> {
  if (!a || !b) return 'absent';
  if (a === b) return 'same';
  const [ya, ma, da] = partsOf(a);
  const [yb, mb, db] = partsOf(b);
  if (ma === mb && da === db && (!ya || !yb)) return 'same';
  if (ya === yb && ma === db && da === mb) return 'swapped';
  const differing = Number(ya !== yb) + Number(ma !== mb) + Number(da !== db);
  if (differing === 1 && editDistance(a, b, 1) <= 1) return 'slip';
  return 'different';
}

function partsOf(iso: string): [string, string, string] {
  return iso.startsWith('--')
    ? ['', iso.slice(2, 4), iso.slice(5, 7) || iso.slice(4, 6)]
    : [iso.slice(0, 4), iso.slice(5, 7), iso.slice(8, 10)];
}

function comparePlace(a: MatchPerson, b: MatchPerson): LevelName<'place'> {
  const hasA = a.street || a.postal || a.locality;
  const hasB = b.street || b.postal || b.locality;
  if (!hasA || !hasB) return 'absent';
  const postal = a.postal !== '' && a.postal === b.postal;
  const town = a.locality !== '' && (a.locality === b.locality || isSlip(a.locality, b.locality));
  if (a.street && b.street) {
    const street = a.street === b.street || (a.house === b.house && editDistance(a.street, b.street, 3) <= 3);
    if (street && (postal || town)) return 'same';
    if (street && (!a.locality || !b.locality)) return 'sameStreet';
  }
  if (postal) return 'samePostal';
  if (town) return 'sameTown';
  return 'different';
}

function compareOrganization(a: MatchPerson, b: MatchPerson): LevelName<'organization'> {
  // A mailbox at the organization's own domain tells the organization as well.
  if (!a.organization.length || !b.organization.length) {
    const told = a.organizationText
      ? tells(b.domainNames, a.organizationText)
      : b.organizationText
        ? tells(a.domainNames, b.organizationText)
        : false;
    return told ? 'same' : 'absent';
  }
  if (a.organizationText === b.organizationText) return 'same';
  if (
    isSlip(a.organizationText, b.organizationText) ||
    a.organization.every((word) => b.organization.includes(word)) ||
    b.organization.every((word) => a.organization.includes(word))
  )
    return 'close';
  return 'different';
}

function tells(domainNames: readonly string[], organization: string): boolean {
  return domainNames.some((name) => name === organization || (name.length > 7 && organization.startsWith(name)));
}

function compareGeneration(a: string, b: string): LevelName<'generation'> {
  if (!a && !b) return 'absent';
  if (!a || !b) return 'onlyOne';
  return a === b ? 'same' : 'different';
}

/** What a comparison knows of all the data. */
export interface MatchContext {
  /** Whether several distinct people use an e-mail or phone, so that it proves little. */
  isShared(key: string): boolean;
  /** Whether a folded word is a given name of its own rather than a slip of one. */
  isGivenName(word: string): boolean;
}

/** The part of a prepared person that names are compared by. */
export type NameCard = Pick<
  MatchPerson,
  'given' | 'givenText' | 'nickname' | 'unreadable' | 'family' | 'familyText' | 'familyInferred'
>;

/** Names are also tried in each other's place, and taken so when that agrees where the straight reading does not. */
function compareNames(
  a: NameCard,
  b: NameCard,
  context: MatchContext,
): { given: LevelName<'given'>; family: LevelName<'family'>; swapped: boolean } {
  if (a.unreadable !== b.unreadable) return { given: 'absent', family: 'absent', swapped: false };
  const given = compareGiven(a, b, context);
  const family = compareFamily(a, b);
  const disagrees =
    given === 'different' && (family === 'different' || family === 'absent' || family === 'inferredDifferent');
  if (!disagrees || !a.given.length || !b.given.length) return { given, family, swapped: false };
  const crossA = a.family.length ? oneFamilyOrGiven(a.family, b.given, context) : 'absent';
  const crossB = b.family.length ? oneFamilyOrGiven(b.family, a.given, context) : 'absent';
  const agrees = (x: string) => x === 'same' || x === 'slip';
  const fits = (x: string) => agrees(x) || x === 'part';
  const swapped =
    (agrees(crossA) && fits(crossB)) ||
    (agrees(crossB) && fits(crossA)) ||
    (agrees(crossA) && crossB === 'absent') ||
    (agrees(crossB) && crossA === 'absent');
  if (!swapped) return { given, family, swapped };
  return { given: 'same', family: crossA === 'absent' || crossB === 'absent' ? 'absent' : 'same', swapped };
}

/** Compares two prepared people field by field. Symmetric; absent on either side is level 0. */
export function comparePeople(a: MatchPerson, b: MatchPerson, context: MatchContext): Comparison {
  const { given, family: told, swapped } = compareNames(a, b, context);
  let family = told;
  const email = compareEmail(a, b, context);
  // What a mailbox told about the name adds nothing where the mailbox itself is compared.
  if ((a.familyInferred || b.familyInferred) && (email === 'same' || email === 'near' || email === 'sameLocal'))
    family = 'absent';
  return {
    swapped,
    levels: [
      G(given),
      F(family),
      level('email', email),
      level('phone', comparePhone(a, b, context)),
      level('bday', compareBday(a.bday, b.bday)),
      level('place', comparePlace(a, b)),
      level('organization', compareOrganization(a, b)),
      level('generation', compareGeneration(a.generation, b.generation)),
    ],
  };
}

function oneFamilyOrGiven(
  family: string[],
  given: string[],
  context: MatchContext,
): 'same' | 'slip' | 'part' | 'different' {
  const x = family.join('');
  const y = given.filter((word) => !PARTICLES.has(word)).join('');
  if (x === y || (given[0] === x && x.length > 1)) return 'same';
  if (isSlip(x, y) || oneGiven(x, given[0] ?? '', context) === 'nickname') return 'slip';
  if (x.length === 1 || y.length === 1) return x[0] === y[0] ? 'part' : 'different';
  return family.length > 1 && family.some((word) => word === y || isSlip(word, y)) ? 'part' : 'different';
}

const ALONE: MatchContext = { isShared: () => false, isGivenName: isKnownGivenName };

/** How two names alone agree; what recognition by a shared identifier asks for. */
export function namesAgree(a: NameCard, b: NameCard): 'agree' | 'unclear' | 'differ' {
  const { given, family } = compareNames(a, b, ALONE);
  if (given === 'different' || given === 'similar') return 'differ';
  if (given === 'absent') return family === 'different' ? 'differ' : 'agree';
  if (given === 'initial') return family === 'different' ? 'differ' : 'agree';
  return given === 'part' || family === 'different' ? 'unclear' : 'agree';
}
