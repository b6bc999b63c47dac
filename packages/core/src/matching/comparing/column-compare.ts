import { compareBday, compareOrganization, comparePhone } from './compare';
import { doHostsAgree, EMAIL_RANK, isOfName, twoEmails } from './compare-email';
import {
  compareFamily,
  compareGiven,
  compareNames,
  crossNames,
  familyInScripts,
  givenInScripts,
  isTurned,
  mayCross,
  worth,
} from './compare-names';
import { isSamePhone, lineOf } from '../people/keys';
import { LevelCache } from './level-cache';
import {
  COMPARED,
  level,
  LEVELS,
  namesOf,
  TURNS,
  type ComparedField,
  type Comparison,
  type LevelName,
  type MatchContext,
  type Turn,
} from './levels';
import {
  ABJAD,
  INFERRED,
  KNOWN,
  LENGTH_BIT,
  LINE_BITS,
  NORTH_AMERICA,
  ODD,
  ROLE,
  SCRIPT_BITS,
  UNREADABLE,
  WHOLE_BIT,
} from '../people/people-columns';
import type { PeopleStore } from '../people/people-store';
import type { MatchPerson } from '../people/person';
import { countBits, editDistance, isSlip } from './text-distance';

const EMAIL = {
  absent: level('email', 'absent'),
  same: level('email', 'same'),
  sameShared: level('email', 'sameShared'),
  near: level('email', 'near'),
  sameLocal: level('email', 'sameLocal'),
  close: level('email', 'close'),
  different: level('email', 'different'),
};
const EMAIL_RANKS = LEVELS.email.map((name) => EMAIL_RANK[name] ?? 0);
const PHONE = {
  absent: level('phone', 'absent'),
  same: level('phone', 'same'),
  sameShared: level('phone', 'sameShared'),
  slip: level('phone', 'slip'),
  different: level('phone', 'different'),
};
const BDAY = { absent: level('bday', 'absent'), same: level('bday', 'same'), different: level('bday', 'different') };
const PLACE = {
  absent: level('place', 'absent'),
  same: level('place', 'same'),
  sameStreet: level('place', 'sameStreet'),
  samePostal: level('place', 'samePostal'),
  sameTown: level('place', 'sameTown'),
  different: level('place', 'different'),
};
const GENERATION = {
  absent: level('generation', 'absent'),
  same: level('generation', 'same'),
  onlyOne: level('generation', 'onlyOne'),
  different: level('generation', 'different'),
};
const NO_ORGANIZATION = level('organization', 'absent');
const NO_FAMILY = level('family', 'absent');
const nameOf = <F extends ComparedField>(field: F, number: number): LevelName<F> =>
  (LEVELS[field][number] ?? LEVELS[field][0]) as LevelName<F>;
const GIVEN_WORTH = LEVELS.given.map(worth);
const FAMILY_WORTH = LEVELS.family.map(worth);

/** What is known of something: nothing yet, that it is so, or that it is not. */
const [UNKNOWN, YES, NO] = [0, 1, 2];

/** In how many of their hexadecimal digits two numbers differ. */
function differing(a: number, b: number): number {
  const x = a ^ b;
  return countBits((x | (x >>> 1) | (x >>> 2) | (x >>> 3)) & 0x11111111);
}

/** The last seven digits of a line; numbers that are one line agree in them. */
const LAST_SEVEN = 0x0fffffff;

/**
 * Compares people of a store as comparePeople does, level by level the same: by their numbers where those tell, by levels of texts
 * that met before, and by the texts themselves for what is left. Most pairs of a scan are told without a text.
 */
export class ColumnComparer {
  private readonly givens = new LevelCache();
  private readonly families = new LevelCache();
  /** The same of names in two scripts, compared without vowels or as foreign sounds are written. */
  private readonly bare = { givens: new LevelCache(), families: new LevelCache() };
  private readonly lenient = { givens: new LevelCache(), families: new LevelCache() };
  private readonly crossings = new LevelCache();
  private readonly hosts = new LevelCache();
  private readonly towns = new LevelCache();
  private readonly organizations = new LevelCache();
  private readonly days = new LevelCache();
  private readonly turned: Uint8Array;
  private readonly sharedMail: Uint8Array;
  private readonly ofName: Uint8Array;
  private readonly sharedPhone: Uint8Array;
  private readonly columns;

  constructor(
    private readonly store: PeopleStore,
    private readonly context: MatchContext,
  ) {
    this.columns = store.arrays;
    this.turned = new Uint8Array(store.length);
    this.sharedMail = new Uint8Array(this.columns.mailKey.length);
    this.ofName = new Uint8Array(this.columns.mailKey.length);
    this.sharedPhone = new Uint8Array(this.columns.phoneKey.length);
  }

  /** How two compare, with the names that were compared. */
  compare(a: number, b: number): Comparison {
    const levels = new Array<number>(COMPARED.length).fill(0);
    const turn = this.compareInto(levels, a, b);
    return { ...namesOf(this.person(a), this.person(b), turn), levels };
  }

  /** The levels of two into a list that is used again and again. Tells which names were compared. */
  compareInto(levels: number[], a: number, b: number): Turn {
    const turn = this.names(levels, a, b);
    const email = this.email(a, b);
    const { flags } = this.columns;
    // What a mailbox told about the name adds nothing where the mailbox itself is compared.
    if (
      (((flags[a] ?? 0) | (flags[b] ?? 0)) & INFERRED) !== 0 &&
      (email === EMAIL.same || email === EMAIL.near || email === EMAIL.sameLocal)
    )
      levels[1] = NO_FAMILY;
    levels[2] = email;
    levels[3] = this.phone(a, b);
    levels[4] = this.bday(a, b);
    levels[5] = this.place(a, b);
    levels[6] = this.organization(a, b);
    levels[7] = this.generation(a, b);
    for (const field of this.context.ignored) levels[field] = 0;
    return turn;
  }

  private person(i: number): MatchPerson {
    return this.store.at(i) as MatchPerson;
  }

  private names(levels: number[], a: number, b: number): Turn {
    const { flags, given, family } = this.columns;
    const [flagsA, flagsB] = [flags[a] ?? 0, flags[b] ?? 0];
    if (this.isTurned(a) && this.isTurned(b)) return this.namesInFull(levels, a, b);
    const [givenA, givenB] = [given[a] ?? 0, given[b] ?? 0];
    // A family name that an address told is another thing than one that was said.
    const familyA = (family[a] ?? 0) * 2 + (flagsA & INFERRED ? 1 : 0);
    const familyB = (family[b] ?? 0) * 2 + (flagsB & INFERRED ? 1 : 0);
    let ofGiven = this.givens.of(givenA + 1, givenB + 1, () =>
      level('given', compareGiven(this.person(a), this.person(b), this.context)),
    );
    let ofFamily = this.families.of(familyA + 1, familyB + 1, () =>
      level('family', compareFamily(this.person(a), this.person(b), this.context)),
    );
    if (((flagsA ^ flagsB) & SCRIPT_BITS) !== 0) {
      const [scriptA, scriptB] = [flagsA & SCRIPT_BITS, flagsB & SCRIPT_BITS];
      if (scriptA === UNREADABLE || scriptB === UNREADABLE) return this.namesInFull(levels, a, b);
      const scripts = scriptA === ABJAD || scriptB === ABJAD ? this.bare : this.lenient;
      const [straightGiven, straightFamily] = [ofGiven, ofFamily];
      ofGiven = scripts.givens.of(givenA + 1, givenB + 1, () =>
        level('given', givenInScripts(this.person(a), this.person(b), nameOf('given', straightGiven))),
      );
      ofFamily = scripts.families.of(familyA + 1, familyB + 1, () =>
        level('family', familyInScripts(this.person(a), this.person(b), nameOf('family', straightFamily))),
      );
    }
    levels[0] = ofGiven;
    levels[1] = ofFamily;
    if ((GIVEN_WORTH[ofGiven] ?? 0) + (FAMILY_WORTH[ofFamily] ?? 0) > 0) return TURNS.none;
    if (givenA === 0 || givenB === 0 || (!this.mayCross(a, b) && !this.mayCross(b, a))) return TURNS.none;
    return this.take(
      levels,
      crossNames(this.person(a), this.person(b), nameOf('given', ofGiven), nameOf('family', ofFamily), this.context),
    );
  }

  private namesInFull(levels: number[], a: number, b: number): Turn {
    return this.take(levels, compareNames(this.person(a), this.person(b), this.context));
  }

  private take(levels: number[], { given, family, turn }: ReturnType<typeof compareNames>): Turn {
    levels[0] = level('given', given);
    levels[1] = level('family', family);
    return turn;
  }

  private isTurned(i: number): boolean {
    const known = this.turned[i];
    if (known !== UNKNOWN) return known === YES;
    const found = isTurned(this.person(i), this.context);
    this.turned[i] = found ? YES : NO;
    return found;
  }

  /** Whether one's family name could stand among the other's given names; by numbers that are even for one and odd for the other. */
  private mayCross(a: number, b: number): boolean {
    const { family, given } = this.columns;
    return (
      this.crossings.of((family[a] ?? 0) * 2 + 2, (given[b] ?? 0) * 2 + 1, () =>
        mayCross(this.person(a), this.person(b)) ? 1 : 0,
      ) === 1
    );
  }

  private email(a: number, b: number): number {
    const { mailFrom } = this.columns;
    const [fromA, toA] = [mailFrom[a] ?? 0, mailFrom[a + 1] ?? 0];
    const [fromB, toB] = [mailFrom[b] ?? 0, mailFrom[b + 1] ?? 0];
    if (fromA === toA || fromB === toB) return EMAIL.absent;
    let best = EMAIL.different;
    for (let i = fromA; i < toA; i++)
      for (let j = fromB; j < toB; j++) {
        const found = this.mailbox(i, j, a, b);
        if ((EMAIL_RANKS[found] ?? 0) > (EMAIL_RANKS[best] ?? 0)) best = found;
      }
    return best;
  }

  private mailbox(i: number, j: number, a: number, b: number): number {
    const { mailKey, mailPlain, mailDigits, mailLetters, mailAbout } = this.columns;
    const [aboutI, aboutJ] = [mailAbout[i] ?? 0, mailAbout[j] ?? 0];
    if (mailKey[i] === mailKey[j])
      return (aboutI & ROLE) !== 0 || this.isSharedMailbox(i) ? EMAIL.sameShared : EMAIL.same;
    if (((aboutI | aboutJ) & ROLE) !== 0 || mailDigits[i] !== mailDigits[j]) return EMAIL.different;
    const [longI, longJ] = [aboutI >> LENGTH_BIT, aboutJ >> LENGTH_BIT];
    if (mailPlain[i] === mailPlain[j] && longI >= 4) {
      if (this.doHostsAgree(i, j)) return EMAIL.near;
      if (!this.isOfName(i, a) && !this.isOfName(j, b)) return EMAIL.sameLocal;
      const digits = this.store.word(mailDigits[i] ?? 0);
      return digits.length >= 3 ? EMAIL.sameLocal : digits === '' ? EMAIL.absent : EMAIL.close;
    }
    const shorter = Math.min(longI, longJ);
    if (shorter < 6) return EMAIL.different;
    const limit = shorter >= 8 ? 2 : 1;
    if (
      Math.abs(longI - longJ) > limit ||
      countBits((mailLetters[i] ?? 0) ^ (mailLetters[j] ?? 0)) > 2 * limit ||
      this.store.localDistance(i, j, limit) > limit ||
      !this.doHostsAgree(i, j)
    )
      return EMAIL.different;
    const { store, context } = this;
    const isEitherOfName = () => this.isOfName(i, a) || this.isOfName(j, b);
    return level(
      'email',
      twoEmails(store.mailbox(i), store.mailbox(j), this.person(a), this.person(b), context, isEitherOfName),
    );
  }

  private doHostsAgree(i: number, j: number): boolean {
    const { mailDomain } = this.columns;
    const [x, y] = [mailDomain[i] ?? 0, mailDomain[j] ?? 0];
    return x === y || this.hosts.of(x, y, () => (doHostsAgree(this.store.word(x), this.store.word(y)) ? 1 : 0)) === 1;
  }

  private isOfName(i: number, owner: number): boolean {
    const known = this.ofName[i];
    if (known !== UNKNOWN) return known === YES;
    const found = isOfName(this.store.mailbox(i), this.person(owner), this.context);
    this.ofName[i] = found ? YES : NO;
    return found;
  }

  private isSharedMailbox(i: number): boolean {
    const known = this.sharedMail[i];
    if (known !== UNKNOWN) return known === YES;
    const found = this.context.isShared(this.store.mailbox(i).key);
    this.sharedMail[i] = found ? YES : NO;
    return found;
  }

  private phone(a: number, b: number): number {
    const { phoneFrom, phoneKey, phoneLow, phoneHigh, phoneAbout } = this.columns;
    const [fromA, toA] = [phoneFrom[a] ?? 0, phoneFrom[a + 1] ?? 0];
    const [fromB, toB] = [phoneFrom[b] ?? 0, phoneFrom[b + 1] ?? 0];
    if (fromA === toA || fromB === toB) return PHONE.absent;
    let best = PHONE.different;
    for (let i = fromA; i < toA; i++)
      for (let j = fromB; j < toB; j++) {
        const [aboutI, aboutJ] = [phoneAbout[i] ?? 0, phoneAbout[j] ?? 0];
        if (((aboutI | aboutJ) & ODD) !== 0)
          return level('phone', comparePhone(this.person(a), this.person(b), this.context));
        const [lowI, lowJ] = [phoneLow[i] ?? 0, phoneLow[j] ?? 0];
        if (phoneKey[i] === phoneKey[j] || (((lowI ^ lowJ) & LAST_SEVEN) === 0 && this.isOneLine(i, j))) {
          if (!this.isSharedPhone(i) && !this.isSharedPhone(j)) return PHONE.same;
          best = PHONE.sameShared;
          continue;
        }
        if (best !== PHONE.different) continue;
        if ((aboutI & LINE_BITS) === (aboutJ & LINE_BITS)) {
          // Of two lines of one length that differ in three places, one slip is too few; in one place it is that.
          const places = differing(lowI, lowJ) + differing(phoneHigh[i] ?? 0, phoneHigh[j] ?? 0);
          if (places <= 1) best = PHONE.slip;
          if (places !== 2) continue;
        }
        if (editDistance(lineOf(this.store.phone(i)), lineOf(this.store.phone(j)), 1) <= 1) best = PHONE.slip;
      }
    return best;
  }

  /** Whether two numbers that are written in two ways and end alike are one line; isSamePhone by numbers, where those tell. */
  private isOneLine(i: number, j: number): boolean {
    const { phoneLow, phoneHigh, phoneAbout } = this.columns;
    const [aboutI, aboutJ] = [phoneAbout[i] ?? 0, phoneAbout[j] ?? 0];
    const [longI, longJ] = [aboutI >> WHOLE_BIT, aboutJ >> WHOLE_BIT];
    if ((aboutI & aboutJ & KNOWN) !== 0) {
      if ((aboutI & aboutJ & NORTH_AMERICA) !== 0 || longI <= 9 || longJ <= 9) return false;
      return phoneLow[i] === phoneLow[j] && ((phoneHigh[i] ?? 0) & 15) === ((phoneHigh[j] ?? 0) & 15);
    }
    return isSamePhone(this.store.phone(i), this.store.phone(j));
  }

  private isSharedPhone(i: number): boolean {
    const known = this.sharedPhone[i];
    if (known !== UNKNOWN) return known === YES;
    const found = this.context.isShared(lineOf(this.store.phone(i)));
    this.sharedPhone[i] = found ? YES : NO;
    return found;
  }

  private bday(a: number, b: number): number {
    const { bday, day } = this.columns;
    const [bdayA, bdayB] = [bday[a] ?? 0, bday[b] ?? 0];
    if (bdayA === 0 || bdayB === 0) return BDAY.absent;
    if (bdayA === bdayB) return BDAY.same;
    const [dayA, dayB] = [day[a] ?? 0, day[b] ?? 0];
    // Of two full days whose years and whose month and day differ, nothing agrees.
    if (dayA !== 0 && dayB !== 0 && dayA % 10_000 !== dayB % 10_000) {
      if (Math.trunc(dayA / 10_000) !== Math.trunc(dayB / 10_000)) return BDAY.different;
    }
    return this.days.of(bdayA, bdayB, () => level('bday', compareBday(this.store.word(bdayA), this.store.word(bdayB))));
  }

  private place(a: number, b: number): number {
    const { street, postal, locality, house } = this.columns;
    const [streetA, streetB] = [street[a] ?? 0, street[b] ?? 0];
    const [postalA, postalB] = [postal[a] ?? 0, postal[b] ?? 0];
    const [townA, townB] = [locality[a] ?? 0, locality[b] ?? 0];
    if ((streetA === 0 && postalA === 0 && townA === 0) || (streetB === 0 && postalB === 0 && townB === 0))
      return PLACE.absent;
    const isOnePostal = postalA !== 0 && postalA === postalB;
    if (streetA !== 0 && streetB !== 0) {
      const isOneStreet =
        streetA === streetB ||
        (house[a] === house[b] && editDistance(this.store.street(a), this.store.street(b), 3) <= 3);
      if (isOneStreet && (isOnePostal || this.isOneTown(townA, townB))) return PLACE.same;
      if (isOneStreet && (townA === 0 || townB === 0)) return PLACE.sameStreet;
    }
    if (isOnePostal) return PLACE.samePostal;
    return this.isOneTown(townA, townB) ? PLACE.sameTown : PLACE.different;
  }

  private isOneTown(a: number, b: number): boolean {
    if (a === 0 || b === 0) return false;
    return a === b || this.towns.of(a, b, () => (isSlip(this.store.word(a), this.store.word(b)) ? 1 : 0)) === 1;
  }

  private organization(a: number, b: number): number {
    const { organization, domains } = this.columns;
    const [x, y] = [organization[a] ?? 0, organization[b] ?? 0];
    let [one, other] = [x * 2 + 2, y * 2 + 2];
    if (x === 0 || y === 0) {
      // A mailbox at the organization's own domain tells the organization as well.
      const told = x === 0 ? (domains[a] ?? 0) : (domains[b] ?? 0);
      if ((x === 0 && y === 0) || told === 0) return NO_ORGANIZATION;
      [one, other] = [told * 2 + 1, (x || y) * 2 + 2];
    }
    return this.organizations.of(one, other, () =>
      level('organization', compareOrganization(this.person(a), this.person(b))),
    );
  }

  private generation(a: number, b: number): number {
    const { generation } = this.columns;
    const [x, y] = [generation[a] ?? 0, generation[b] ?? 0];
    if (x === 0 || y === 0) return x === y ? GENERATION.absent : GENERATION.onlyOne;
    return x === y ? GENERATION.same : GENERATION.different;
  }
}
