import { areNicknames, isKnownGivenName, nicknamesOf, PARTICLES } from '../fields';
import { isNicknameSlip, isShortForm } from './given-forms';
import type { MailboxFacts, MatchPerson } from './person';
import { isSamePhone, lineOf } from './keys';
import { LevelCache } from './level-cache';
import { leniently, skeleton } from './romanised';
import { editDistance, isClose, isSlip } from './text-distance';

/** The fields that are compared, in the order of a comparison pattern. */
export const COMPARED = ['given', 'family', 'email', 'phone', 'bday', 'place', 'organization', 'generation'] as const;
export type ComparedField = (typeof COMPARED)[number];

/** Agreement levels per field. Level 0 is always "absent": nothing to compare, which is not disagreement. */
export const LEVELS = {
  given: ['absent', 'same', 'nickname', 'initial', 'slip', 'part', 'different', 'similar', 'close'],
  family: ['absent', 'same', 'slip', 'part', 'different', 'inferredSame', 'inferredDifferent', 'close', 'similar'],
  email: ['absent', 'same', 'sameShared', 'near', 'sameLocal', 'different', 'close'],
  phone: ['absent', 'same', 'sameShared', 'slip', 'different'],
  bday: ['absent', 'same', 'swapped', 'slip', 'different'],
  place: ['absent', 'same', 'sameStreet', 'samePostal', 'sameTown', 'different'],
  organization: ['absent', 'same', 'close', 'different'],
  generation: ['absent', 'same', 'onlyOne', 'different'],
} as const satisfies Record<ComparedField, readonly string[]>;

export type LevelName<F extends ComparedField> = (typeof LEVELS)[F][number];

/** How two people compare: one level number per field of COMPARED, and the names that were compared. */
export interface Comparison {
  levels: number[];
  /** Set when given and family name stand in each other's place. */
  swapped: boolean;
  given: readonly [string, string];
  family: readonly [string, string];
}

/** The names of two people as a comparison keeps them. */
export const namesOf = (a: MatchPerson, b: MatchPerson): Pick<Comparison, 'given' | 'family'> => ({
  given: [a.given[0] ?? '', b.given[0] ?? ''],
  family: [a.familyText, b.familyText],
});

/** The number of each level by its name. */
const NUMBER = Object.fromEntries(
  COMPARED.map((field) => [field, Object.fromEntries(LEVELS[field].map((name, i) => [name, i]))]),
) as Record<ComparedField, Record<string, number>>;

function level<F extends ComparedField>(field: F, name: LevelName<F>): number {
  return NUMBER[field][name] ?? 0;
}

function oneGiven(a: string, b: string, context: MatchContext): LevelName<'given'> {
  if (a === b) return 'same';
  if (a.length === 1 || b.length === 1) return a[0] === b[0] ? 'initial' : 'different';
  // Louis and Louise, Nicola and Nicole: a letter apart, but each a name of its own.
  const slip = isSlip(a, b);
  const nicknames = context.areNicknames(a, b);
  if (slip && context.areTwoNames(a, b) && (!nicknames || (context.areFormal(a, b) && editDistance(a, b, 1) <= 1)))
    return 'similar';
  if (nicknames) return 'nickname';
  if (slip) return 'slip';
  const [short, long] = a.length < b.length ? [a, b] : [b, a];
  if (short.length >= 3 && long.startsWith(short)) return context.areTwoNames(a, b) ? 'similar' : 'nickname';
  if (context.areTwoNames(a, b)) return 'different';
  if (isShortForm(short, long)) return 'nickname';
  if (isClose(a, b) || isNicknameSlip(a, b) || isNicknameSlip(b, a) || haveOneSkeleton(a, b)) return 'close';
  // Each a slip, of one name or of two forms of one.
  const [x, y] = [context.nearestGiven(a), context.nearestGiven(b)];
  return (x !== a || y !== b) && (x === y || context.areNicknames(x, y)) ? 'close' : 'different';
}

/** Whether two words differ in their vowels alone. */
function haveOneSkeleton(a: string, b: string): boolean {
  if (a[0] !== b[0]) return false;
  const bones = skeleton(a);
  return bones.length > 2 && bones === skeleton(b);
}

/** How much a level of names says, in rough bits; only to choose between two ways of reading a pair. */
const NAME_WORTH: Record<string, number> = {
  same: 6,
  nickname: 4,
  slip: 4,
  close: 2,
  part: 3,
  initial: 1,
  similar: 0,
  inferredSame: 2,
  absent: 0,
  inferredDifferent: -3,
  different: -5,
};
const worth = (level: string) => NAME_WORTH[level] ?? 0;

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

function oneFamily(a: string[], b: string[], textA: string, textB: string, context: MatchContext): LevelName<'family'> {
  if (textA === textB) return 'same';
  if (a.length > 1 || b.length > 1) {
    if (a.some((word) => word.length > 2 && b.includes(word))) return 'part';
    if (a.some((word) => b.some((other) => isSlip(word, other) && !context.areTwoFamilies(word, other)))) return 'part';
  }
  // Schmidt and Schmitt, Hansen and Jansen: a letter apart, but each a name of its own.
  if (isSlip(textA, textB)) return context.areTwoFamilies(textA, textB) ? 'similar' : 'slip';
  if (textA.length === 1 || textB.length === 1) return textA[0] === textB[0] ? 'part' : 'different';
  const [short, long] = textA.length < textB.length ? [textA, textB] : [textB, textA];
  // Cut off by a field that was too short, or with a particle run into it.
  if (short.length >= 4 && (long.startsWith(short) || long.endsWith(short))) return 'close';
  if (context.areTwoFamilies(textA, textB)) return 'different';
  return isClose(textA, textB) ||
    haveOneSkeleton(textA, textB) ||
    context.nearestFamily(textA) === context.nearestFamily(textB)
    ? 'close'
    : 'different';
}

function compareFamily(a: NameCard, b: NameCard, context: MatchContext): LevelName<'family'> {
  if (!a.family.length || !b.family.length) return 'absent';
  const found = oneFamily(a.family, b.family, a.familyText, b.familyText, context);
  if (!a.familyInferred && !b.familyInferred) return found;
  if (found === 'different')
    return a.familyText.endsWith(b.familyText) || b.familyText.endsWith(a.familyText)
      ? 'inferredSame'
      : 'inferredDifferent';
  return 'inferredSame';
}

/** The ways a mailbox is made of a name, without separators and digits. */
function isMadeOf(stem: string, given: string, family: string): boolean {
  const g = given[0] ?? '';
  const f = family[0] ?? '';
  return (
    stem === given + family ||
    stem === family + given ||
    stem === g + family ||
    stem === family + g ||
    stem === given + f ||
    stem === f + given
  );
}

/** Whether a mailbox is made of a name, so that a namesake could well have the like elsewhere: it holds the name, or a part of it. */
function isOfName(box: MailboxFacts, person: MatchPerson, context: MatchContext): boolean {
  if (person.script !== '') return true;
  const { givenText, familyWhole: family, familyText } = person;
  if (isMadeOf(box.stem, givenText, family)) return true;
  const first = person.given[0] ?? '';
  const holds = (part: string) => part.length >= 3 && box.stem.includes(part);
  return (
    holds(familyText) ||
    holds(first) ||
    // A name has several ways of writing.
    holds(first.slice(0, 4)) ||
    holds(familyText.slice(0, 4)) ||
    (box.stem[0] === first[0] && context.isFamilyName(box.stem.slice(1))) ||
    nicknamesOf(first).some(holds) ||
    (family !== '' && (isSlip(first + family, box.stem) || isSlip((first[0] ?? '') + family, box.stem)))
  );
}

/** What of a mailbox is left once the given name or its initial is taken off. */
function familyOf(stem: string, { givenText }: MatchPerson): string {
  if (givenText.length > 1 && stem.startsWith(givenText)) return stem.slice(givenText.length);
  if (givenText.length > 1 && stem.endsWith(givenText)) return stem.slice(0, -givenText.length);
  return stem[0] === givenText[0] ? stem.slice(1) : '';
}

/** Two mailboxes that are each made of their own person's name, and the names differ: no slip, two addresses. */
function isEachTheirOwn(
  a: MailboxFacts,
  b: MailboxFacts,
  x: MatchPerson,
  y: MatchPerson,
  context: MatchContext,
): boolean {
  if (context.areTwoFamilies(familyOf(a.stem, x), familyOf(b.stem, y))) return true;
  return (
    a.stem !== b.stem &&
    !x.familyInferred &&
    !y.familyInferred &&
    (isMadeOf(a.stem, x.givenText, x.familyWhole) || isMadeOf(a.stem, x.given[0] ?? '', x.familyWhole)) &&
    (isMadeOf(b.stem, y.givenText, y.familyWhole) || isMadeOf(b.stem, y.given[0] ?? '', y.familyWhole))
  );
}

/** Whether two addresses differ in their first or last letter alone. */
function hasOtherEnd(a: string, b: string): boolean {
  return a.length === b.length && (a.slice(1) === b.slice(1) || a.slice(0, -1) === b.slice(0, -1));
}

function oneEmail(
  a: MailboxFacts,
  b: MailboxFacts,
  x: MatchPerson,
  y: MatchPerson,
  context: MatchContext,
): LevelName<'email'> {
  if (a.key === b.key) return a.role || context.isShared(a.key) ? 'sameShared' : 'same';
  // Mailboxes of one name differ in their digits, so a slip counts only where those agree.
  if (a.role || b.role || a.digits !== b.digits) return 'different';
  const localA = a.plain;
  const localB = b.plain;
  const hostsAgree =
    a.domain === b.domain || hostOf(a.domain) === hostOf(b.domain) || editDistance(a.domain, b.domain, 2) <= 2;
  if (localA === localB && localA.length >= 4) {
    if (hostsAgree) return 'near';
    // A namesake may well have the same name at another provider: that is no evidence either way.
    if (!isOfName(a, x, context) && !isOfName(b, y, context)) return 'sameLocal';
    return a.digits.length >= 3 ? 'sameLocal' : a.digits === '' ? 'absent' : 'close';
  }
  if (!hostsAgree || Math.min(localA.length, localB.length) < 6) return 'different';
  const limit = Math.min(localA.length, localB.length) >= 8 ? 2 : 1;
  const distance = editDistance(localA, localB, limit);
  if (distance > limit || isEachTheirOwn(a, b, x, y, context)) return 'different';
  // Where initials stand in addresses made of names, another letter is another name.
  if (hasOtherEnd(a.stem, b.stem) && (isOfName(a, x, context) || isOfName(b, y, context))) return 'different';
  return distance === 1 && a.domain === b.domain ? 'near' : 'close';
}

function hostOf(domain: string): string {
  return domain.slice(0, domain.lastIndexOf('.'));
}

const EMAIL_RANK: Record<string, number> = {
  same: 7,
  near: 6,
  sameLocal: 5,
  close: 4,
  sameShared: 3,
  absent: 2,
  different: 1,
};

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
      if (isSamePhone(x, y)) {
        if (!context.isShared(lineOf(x))) return 'same';
        best = 'sameShared';
      } else if (best === 'different' && editDistance(lineOf(x), lineOf(y), 1) <= 1) best = 'slip';
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
  /** Levels of names that were found before. */
  readonly givenLevels: LevelCache;
  readonly familyLevels: LevelCache;
  /** Places of fields that are not compared. */
  readonly ignored: readonly number[];
  /** Whether several distinct people use an e-mail or phone, so that it proves little. */
  isShared(key: string): boolean;
  /** Whether two folded words that look alike are two given names rather than one and a slip of it. */
  areTwoNames(a: string, b: string): boolean;
  /** The same of two family names. */
  areTwoFamilies(a: string, b: string): boolean;
  /** Whether a word is a family name that occurs often enough to be known. */
  isFamilyName(word: string): boolean;
  /** Whether a person's given and family name stand in each other's place, by what the words usually are. */
  isTurned(given: string, family: string): boolean;
  /** Whether one given name is a usual form of the other. */
  areNicknames(a: string, b: string): boolean;
  /** Whether both are given names in their full form, so that neither is short for the other. */
  areFormal(a: string, b: string): boolean;
  /** The name that a rare word is most likely a slip of; the word itself where there is none. */
  nearestGiven(word: string): string;
  nearestFamily(word: string): string;
}

/** The part of a prepared person that names are compared by. */
export type NameCard = Pick<
  MatchPerson,
  | 'given'
  | 'givenText'
  | 'nickname'
  | 'unreadable'
  | 'script'
  | 'family'
  | 'familyText'
  | 'familyInferred'
  | 'givenNo'
  | 'familyNo'
>;

const NEARLY: ReadonlySet<string> = new Set(['absent', 'same', 'slip', 'nickname', 'part']);

/** How a name and the same name from another script agree; null where they do not. */
function inTwoScripts(a: string, b: string, bare: boolean): 'slip' | 'close' | null {
  if (!a || !b) return null;
  const form = bare ? skeleton : leniently;
  const [x, y] = [form(a), form(b)];
  if (x === y) return x.length > 2 ? 'slip' : 'close';
  return isSlip(x, y) ? 'close' : null;
}

/** A level of two names, from those found before where both are numbered. */
function keptLevel<F extends 'given' | 'family'>(
  field: F,
  a: number,
  b: number,
  context: MatchContext,
  make: () => LevelName<F>,
): LevelName<F> {
  if (a === 0 || b === 0) return make();
  const found = context[field === 'given' ? 'givenLevels' : 'familyLevels'].of(a, b, () => level(field, make()));
  return LEVELS[field][found] as LevelName<F>;
}

const isTurned = (card: NameCard, context: MatchContext) =>
  card.given.length === 1 &&
  card.family.length === 1 &&
  !card.familyInferred &&
  context.isTurned(card.givenText, card.familyText);

const turned = (card: NameCard): NameCard => ({
  ...card,
  given: card.family,
  givenText: card.familyText,
  family: card.given,
  familyText: card.givenText,
  givenNo: 0,
  familyNo: 0,
});

/**
 * Names are also tried in each other's place, and taken so when that agrees clearly better than the straight reading.
 */
function compareNames(
  a: NameCard,
  b: NameCard,
  context: MatchContext,
): { given: LevelName<'given'>; family: LevelName<'family'>; swapped: boolean } {
  if (a.unreadable !== b.unreadable) return { given: 'absent', family: 'absent', swapped: false };
  // Two records with both names turned agree in their family names, and that is not a given name.
  const bothTurned = isTurned(a, context) && isTurned(b, context);
  if (bothTurned)
    return {
      given: compareGiven(turned(a), turned(b), context),
      family: compareFamily(turned(a), turned(b), context),
      swapped: true,
    };
  let given = keptLevel('given', a.givenNo, b.givenNo, context, () => compareGiven(a, b, context));
  let family = keptLevel('family', a.familyNo, b.familyNo, context, () => compareFamily(a, b, context));
  if (a.script !== b.script) {
    // One name in two scripts is seldom written back letter for letter.
    const bare = a.script === 'abjad' || b.script === 'abjad';
    if (!NEARLY.has(given)) given = inTwoScripts(a.given[0] ?? '', b.given[0] ?? '', bare) ?? given;
    if (!NEARLY.has(family)) family = inTwoScripts(a.familyText, b.familyText, bare) ?? family;
  }
  const straight = worth(given) + worth(family);
  if (straight > 0 || !a.given.length || !b.given.length) return { given, family, swapped: false };
  // One of the two has to agree well, which is told fast; most pairs of strangers end here.
  if (!mayCross(a, b) && !mayCross(b, a)) return { given, family, swapped: false };
  const crossA = a.family.length && !a.familyInferred ? crossed(a.family, b.given, context) : 'absent';
  const crossB = b.family.length && !b.familyInferred ? crossed(b.family, a.given, context) : 'absent';
  const across = worth(crossA) + worth(crossB);
  if (across < 3 || across < straight + 4) return { given, family, swapped: false };
  const [better, other] = worth(crossA) >= worth(crossB) ? [crossA, crossB] : [crossB, crossA];
  return { given: better, family: other, swapped: true };
}

/** Compares two prepared people field by field. Symmetric; absent on either side is level 0. */
export function comparePeople(a: MatchPerson, b: MatchPerson, context: MatchContext): Comparison {
  const levels = new Array<number>(COMPARED.length).fill(0);
  const swapped = compareInto(levels, a, b, context);
  return { swapped, ...namesOf(a, b), levels };
}

/** The same into a list that is used again and again, for the innermost loop of a scan. Tells whether names are swapped. */
export function compareInto(levels: number[], a: MatchPerson, b: MatchPerson, context: MatchContext): boolean {
  const { given, family: told, swapped } = compareNames(a, b, context);
  let family = told;
  const email = compareEmail(a, b, context);
  // What a mailbox told about the name adds nothing where the mailbox itself is compared.
  if ((a.familyInferred || b.familyInferred) && (email === 'same' || email === 'near' || email === 'sameLocal'))
    family = 'absent';
  levels[0] = level('given', given);
  levels[1] = level('family', family);
  levels[2] = level('email', email);
  levels[3] = level('phone', comparePhone(a, b, context));
  levels[4] = level('bday', compareBday(a.bday, b.bday));
  levels[5] = level('place', comparePlace(a, b));
  levels[6] = level('organization', compareOrganization(a, b));
  levels[7] = level('generation', compareGeneration(a.generation, b.generation));
  for (const field of context.ignored) levels[field] = 0;
  return swapped;
}

/** Whether one's family name could stand among the other's given names. */
function mayCross({ family, familyText }: NameCard, { given, givenText }: NameCard): boolean {
  if (familyText === givenText || isSlip(familyText, givenText)) return true;
  for (const word of family)
    for (const other of given)
      if (word === other || isSlip(word, other) || (other.length === 1 && word[0] === other)) return true;
  return false;
}

/** How a family name and the other's given names agree. */
function crossed(family: string[], given: string[], context: MatchContext): Crossed {
  const x = family.join('');
  const y = given.filter((word) => !PARTICLES.has(word)).join('');
  if (x === y || (given[0] === x && x.length > 1)) return 'same';
  if (isSlip(x, y)) return 'slip';
  if (family.length > 1 && family.some((word) => word === y || isSlip(word, y))) return 'part';
  if (given.length > 1 && given.some((word) => word === x || isSlip(word, x))) return 'part';
  if (x.length === 1 || given[0]?.length === 1) return x[0] === y[0] ? 'part' : 'different';
  const first = oneGiven(family.length === 1 ? x : (family[family.length - 1] ?? ''), given[0] ?? '', context);
  if (first === 'nickname' || first === 'close') return 'close';
  return isClose(x, y) ? 'close' : 'different';
}

/** Levels that both a given and a family name can have. */
type Crossed = 'absent' | 'same' | 'slip' | 'part' | 'close' | 'different';

const ALONE: MatchContext = {
  givenLevels: new LevelCache(),
  familyLevels: new LevelCache(),
  ignored: [],
  isShared: () => false,
  areTwoNames: (a, b) => isKnownGivenName(a) && isKnownGivenName(b),
  areTwoFamilies: () => false,
  isFamilyName: () => false,
  isTurned: () => false,
  areNicknames,
  areFormal: () => false,
  nearestGiven: (word) => word,
  nearestFamily: (word) => word,
};

/** How two names alone agree; what recognition by a shared identifier asks for. */
export function namesAgree(a: NameCard, b: NameCard): 'agree' | 'unclear' | 'differ' {
  const { given, family } = compareNames(a, b, ALONE);
  if (given === 'different' || given === 'similar') return 'differ';
  if (given === 'absent') return family === 'different' ? 'differ' : 'agree';
  if (given === 'initial') return family === 'different' ? 'differ' : 'agree';
  return given === 'part' || family === 'different' ? 'unclear' : 'agree';
}
