import { TextColumn, Texts } from '../comparing/columns';
import { keyHash, lineOf } from './keys';
import {
  BETWEEN,
  Cards,
  familyCardOf,
  givenCardOf,
  organizationCardOf,
  PARTS,
  type FamilyCard,
  type GivenCard,
  type OrganizationCard,
} from './name-cards';
import {
  INFERRED,
  KNOWN,
  LENGTH_BIT,
  makeColumns,
  NORTH_AMERICA,
  ODD,
  ROLE,
  SCRIPTS,
  WHOLE_BIT,
  type Arrays,
  type Columns,
} from './people-columns';
import type { MatchPerson } from './person';
import type { MailboxFacts } from './person-facts';
import { StoredMailbox, StoredPerson, type StoredTexts } from './stored-person';
import { lettersOf, unitDistance } from '../comparing/text-distance';

/** People in the order of their numbers, as the stages of a scan ask for them. */
export interface People {
  readonly length: number;
  at(i: number): MatchPerson | undefined;
}

/** Everybody, one after the other. */
export function forEachPerson(people: People, each: (person: MatchPerson, i: number) => void): void {
  for (let i = 0; i < people.length; i++) {
    const person = people.at(i);
    if (person) each(person, i);
  }
}

/** What another thread needs to read the same people: memory that is shared, and the texts that many have. */
export interface SharedPeople {
  length: number;
  columns: Record<string, Int32Array | Float64Array>;
  streets: ReturnType<TextColumn['shared']>;
  mailboxes: ReturnType<TextColumn['shared']>;
  phones: ReturnType<TextColumn['shared']>;
  givens: string[];
  families: string[];
  organizations: string[];
  words: string[];
}

const hashOf = (text: string): number => (text === '' ? 0 : keyHash(text) || 1);

/**
 * Prepared people as columns of numbers, some 250 bytes each, in memory that threads can share: equal texts have equal numbers, so
 * that most of a comparison needs no texts at all. Whoever is asked for is put together again as far as they are looked at.
 */
export class PeopleStore implements People, StoredTexts {
  private readonly columns: Columns = makeColumns();
  private readonly streets: TextColumn;
  private readonly mailboxes: TextColumn;
  private readonly phones: TextColumn;
  private readonly givens: Texts;
  private readonly families: Texts;
  private readonly organizations: Texts;
  private readonly words: Texts;
  private readonly givenCards = new Cards<GivenCard>();
  private readonly familyCards = new Cards<FamilyCard>();
  private readonly organizationCards = new Cards<OrganizationCard>();
  private held: Arrays | null = null;
  private count = 0;

  constructor(shared?: SharedPeople) {
    this.streets = new TextColumn(shared?.streets);
    this.mailboxes = new TextColumn(shared?.mailboxes);
    this.phones = new TextColumn(shared?.phones);
    this.givens = new Texts(shared?.givens);
    this.families = new Texts(shared?.families);
    this.organizations = new Texts(shared?.organizations);
    this.words = new Texts(shared?.words);
    if (shared) {
      this.count = shared.length;
      this.held = shared.columns as unknown as Arrays;
    } else {
      this.columns.mailFrom.push(0);
      this.columns.phoneFrom.push(0);
    }
  }

  get length(): number {
    return this.count;
  }

  /** The numbers, as they are when nobody is added any more. */
  get arrays(): Arrays {
    this.held ??= Object.fromEntries(
      Object.entries(this.columns).map(([name, column]) => [name, column.items.subarray(0, column.length)]),
    ) as unknown as Arrays;
    return this.held;
  }

  add(person: MatchPerson): void {
    const { columns, words } = this;
    this.held = null;
    columns.given.push(
      this.givens.numberOf(
        person.nickname === '' ? person.given.join(BETWEEN) : `${person.given.join(BETWEEN)}${PARTS}${person.nickname}`,
      ),
    );
    const family = person.family.join(BETWEEN);
    const isBare = person.familyWhole === person.familyText;
    columns.family.push(this.families.numberOf(isBare ? family : `${family}${PARTS}${person.familyWhole}`));
    columns.flags.push(SCRIPTS.indexOf(person.script) | (person.familyInferred ? INFERRED : 0));
    columns.generation.push(words.numberOf(person.generation));
    columns.organization.push(this.organizations.numberOf(person.organization.join(BETWEEN)));
    columns.domains.push(words.numberOf(person.domainNames.join(BETWEEN)));
    columns.street.push(hashOf(person.street));
    this.streets.push(person.street);
    columns.house.push(words.numberOf(person.house));
    columns.postal.push(words.numberOf(person.postal));
    columns.locality.push(words.numberOf(person.locality));
    columns.bday.push(words.numberOf(person.bday));
    columns.day.push(FULL_DAY.test(person.bday) ? Number(person.bday.replaceAll('-', '')) : 0);
    for (const box of person.emails) this.addMailbox(box);
    columns.mailFrom.push(columns.mailKey.length);
    for (const phone of person.phones) this.addPhone(phone);
    columns.phoneFrom.push(columns.phoneKey.length);
    this.count++;
  }

  private addMailbox(box: MailboxFacts): void {
    const { columns } = this;
    this.mailboxes.push(box.plain === box.local ? box.local : `${box.plain}${BETWEEN}${box.local}`);
    columns.mailDomain.push(this.words.numberOf(box.domain));
    columns.mailKey.push(hashOf(box.key));
    columns.mailPlain.push(hashOf(box.plain));
    columns.mailDigits.push(this.words.numberOf(box.digits));
    columns.mailLetters.push(lettersOf(box.plain));
    columns.mailStem.push(box.stem.length);
    columns.mailAbout.push((box.plain.length << LENGTH_BIT) | (box.role ? ROLE : 0));
  }

  private addPhone(phone: string): void {
    const { columns } = this;
    this.phones.push(phone);
    columns.phoneKey.push(hashOf(phone));
    const line = lineOf(phone);
    const isOdd = !PLAIN_LINE.test(line);
    let [low, high] = [0, 0];
    for (let i = 0; i < line.length && !isOdd; i++) {
      const digit = line.charCodeAt(line.length - 1 - i) - 48;
      if (i < 8) low |= digit << (4 * i);
      else high |= digit << (4 * (i - 8));
    }
    columns.phoneLow.push(low);
    columns.phoneHigh.push(high);
    columns.phoneAbout.push(
      (isOdd ? ODD : line.length) |
        (phone.startsWith('+') ? KNOWN : 0) |
        (phone.startsWith('+1') ? NORTH_AMERICA : 0) |
        (phone.length << WHOLE_BIT),
    );
  }

  /** Adds everybody of another store, as another thread prepared them. */
  append(other: SharedPeople): void {
    this.held = null;
    const numbersIn = (texts: Texts, theirs: readonly string[]) =>
      Int32Array.from(theirs, (text) => texts.numberOf(text));
    const givens = numbersIn(this.givens, other.givens);
    const families = numbersIn(this.families, other.families);
    const organizations = numbersIn(this.organizations, other.organizations);
    const words = numbersIn(this.words, other.words);
    const { columns } = this;
    const numbers: Partial<Record<keyof Columns, Int32Array>> = {
      ...{ given: givens, family: families, organization: organizations, generation: words, domains: words },
      ...{ house: words, postal: words, locality: words, bday: words, mailDigits: words, mailDomain: words },
    };
    const before = { mailFrom: columns.mailKey.length, phoneFrom: columns.phoneKey.length };
    for (const name of Object.keys(columns) as (keyof Columns)[]) {
      const theirs = other.columns[name] as Int32Array;
      const known = numbers[name];
      if (name === 'mailFrom' || name === 'phoneFrom')
        // The first place of theirs is the last of ours.
        columns[name].pushAll(theirs.subarray(1).map((place) => place + before[name]));
      else columns[name].pushAll((known ? theirs.map((number) => known[number] ?? 0) : theirs) as never);
    }
    this.streets.pushAll(other.streets);
    this.mailboxes.pushAll(other.mailboxes);
    this.phones.pushAll(other.phones);
    this.count += other.length;
  }

  at(i: number): MatchPerson | undefined {
    return i >= 0 && i < this.count ? new StoredPerson(this, i) : undefined;
  }

  /** Nobody is added any more: lets go what only adding needs. */
  seal(): void {
    for (const texts of [this.givens, this.families, this.organizations, this.words]) texts.seal();
  }

  /** The same people for another thread. */
  shared(): SharedPeople {
    return {
      length: this.count,
      columns: { ...this.arrays },
      streets: this.streets.shared(),
      mailboxes: this.mailboxes.shared(),
      phones: this.phones.shared(),
      givens: this.givens.shared(),
      families: this.families.shared(),
      organizations: this.organizations.shared(),
      words: this.words.shared(),
    };
  }

  givenCard(number: number): GivenCard {
    return (
      this.givenCards.at(number) ?? this.givenCards.keep(number, this.givens.count, givenCardOf(this.givens.at(number)))
    );
  }

  familyCard(number: number): FamilyCard {
    return (
      this.familyCards.at(number) ??
      this.familyCards.keep(number, this.families.count, familyCardOf(this.families.at(number)))
    );
  }

  organizationCard(number: number): OrganizationCard {
    const { organizations, organizationCards } = this;
    return (
      organizationCards.at(number) ??
      organizationCards.keep(number, organizations.count, organizationCardOf(organizations.at(number)))
    );
  }

  word(number: number): string {
    return this.words.at(number);
  }

  street(i: number): string {
    return this.streets.at(i);
  }

  mailbox(at: number): MailboxFacts {
    return new StoredMailbox(this, at);
  }

  /** The local part as it is kept: without separators, with the whole of it behind where it has some. */
  localText(at: number): string {
    return this.mailboxes.at(at);
  }

  /** How far apart the local parts of two mailboxes are without their separators, given up above `limit`. */
  localDistance(a: number, b: number, limit: number): number {
    const { mailboxes } = this;
    const { mailAbout } = this.arrays;
    const [fromA, fromB] = [mailboxes.startOf(a), mailboxes.startOf(b)];
    const toA = fromA + ((mailAbout[a] ?? 0) >> LENGTH_BIT);
    const toB = fromB + ((mailAbout[b] ?? 0) >> LENGTH_BIT);
    return unitDistance(mailboxes.all, fromA, toA, mailboxes.all, fromB, toB, limit);
  }

  phone(at: number): string {
    return this.phones.at(at);
  }
}

/** A store of these people. */
export function storeOf(people: People): PeopleStore {
  const store = new PeopleStore();
  forEachPerson(people, (person) => store.add(person));
  return store;
}

const FULL_DAY = /^[0-9]{4}-[0-9]{2}-[0-9]{2}$/;
const PLAIN_LINE = /^[0-9]{1,15}$/;
