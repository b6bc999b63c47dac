import { areNicknames, isKnownGivenName } from '../../fields';
import { compareEmail } from './compare-email';
import { compareNames } from './compare-names';
import { isSamePhone, lineOf } from '../people/keys';
import {
  COMPARED,
  level,
  namesOf,
  type Comparison,
  type LevelName,
  type MatchContext,
  type NameCard,
  type Turn,
} from './levels';
import type { MatchPerson } from '../people/person';
import { editDistance, isSlip } from './text-distance';

export function comparePhone(a: MatchPerson, b: MatchPerson, context: MatchContext): LevelName<'phone'> {
  if (!a.phones.length || !b.phones.length) return 'absent';
  let best: LevelName<'phone'> = 'different';
  for (const x of a.phones) {
    for (const y of b.phones) {
      if (isSamePhone(x, y)) {
        if (!context.isShared(lineOf(x)) && !context.isShared(lineOf(y))) return 'same';
        best = 'sameShared';
      } else if (best === 'different' && editDistance(lineOf(x), lineOf(y), 1) <= 1) best = 'slip';
    }
  }
  return best;
}

export function compareBday(a: string, b: string): LevelName<'bday'> {
  if (!a || !b) return 'absent';
  if (a === b) return 'same';
  // Of two full days whose years and whose month and day differ, nothing agrees.
  if (isFull(a) && isFull(b) && !sameFrom(a, b, 0, 4) && !(sameFrom(a, b, 5, 7) && sameFrom(a, b, 8, 10)))
    return 'different';
  const [ya, ma, da] = partsOf(a);
  const [yb, mb, db] = partsOf(b);
  if (ma === mb && da === db && (!ya || !yb)) return 'same';
  if (ya === yb && ma === db && da === mb) return 'swapped';
  const differing = Number(ya !== yb) + Number(ma !== mb) + Number(da !== db);
  if (differing === 1 && editDistance(a, b, 1) <= 1) return 'slip';
  return 'different';
}

const isFull = (iso: string) => iso.length === 10 && !iso.startsWith('--');

function sameFrom(a: string, b: string, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (a.charCodeAt(i) !== b.charCodeAt(i)) return false;
  return true;
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

export function compareOrganization(a: MatchPerson, b: MatchPerson): LevelName<'organization'> {
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

/** Compares two prepared people field by field. Symmetric; absent on either side is level 0. */
export function comparePeople(a: MatchPerson, b: MatchPerson, context: MatchContext): Comparison {
  const levels = new Array<number>(COMPARED.length).fill(0);
  const turn = compareInto(levels, a, b, context);
  return { ...namesOf(a, b, turn), levels };
}

/** The same into a list. Tells which names were compared. */
export function compareInto(levels: number[], a: MatchPerson, b: MatchPerson, context: MatchContext): Turn {
  const { given, family: told, turn } = compareNames(a, b, context);
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
  return turn;
}

const ALONE: MatchContext = {
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
