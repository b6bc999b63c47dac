import { floatColumn, intColumn, TextColumn, Texts } from './columns';
import { keyHash, lineOf } from './keys';
import { givenTextOf, keyOfMailbox, type MailboxFacts, type MatchPerson } from './person';
import type { NameScript } from './romanised';
import { lettersOf, unitDistance } from './text-distance';

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

const SCRIPTS: readonly NameScript[] = ['', 'han', 'abjad', 'other'];
/** Bits of `flags`: the script, and whether the family name was read out of an address. */
export const SCRIPT_BITS = 3;
/** Scripts by their number in `flags`: one whose sounds cannot be told, and those without vowels. */
export const [UNREADABLE, ABJAD] = [SCRIPTS.indexOf('han'), SCRIPTS.indexOf('abjad')];
export const INFERRED = 4;
/** Bits of `mail.about`: whether it is a role's; above them the length of the local part without separators. */
export const ROLE = 1;
export const LENGTH_BIT = 1;
/**
 * Bits of `phone.about`: length of the line, whether it is no plain row of up to fifteen digits, whether the country code is known,
 * and whether that is North America's; above them the length of the whole number.
 */
export const LINE_BITS = 15;
export const ODD = 16;
export const KNOWN = 32;
export const NORTH_AMERICA = 64;
export const WHOLE_BIT = 7;

/** Stands between words that are kept as one text; no folded word has it. */
const BETWEEN = '\u0001';
const PARTS = '\u0002';

interface GivenCard {
  given: string[];
  givenText: string;
  nickname: string;
}
interface FamilyCard {
  family: string[];
  familyText: string;
  familyWhole: string;
}
interface OrganizationCard {
  organization: string[];
  organizationText: string;
}

/** What texts say by their number, each told once. */
class Cards<T> {
  private items: (T | undefined)[] = [];

  at(number: number): T | undefined {
    return this.items[number];
  }

  keep(number: number, count: number, card: T): T {
    if (this.items.length < count) {
      const larger = new Array<T | undefined>(count).fill(undefined);
      for (let i = 0; i < this.items.length; i++) larger[i] = this.items[i];
      this.items = larger;
    }
    this.items[number] = card;
    return card;
  }
}

const wordsOf = (text: string): string[] => (text === '' ? [] : text.split(BETWEEN));

function givenCardOf(text: string): GivenCard {
  const [words = '', nickname = ''] = text.split(PARTS);
  const given = wordsOf(words);
  return { given, givenText: givenTextOf(given), nickname };
}

function familyCardOf(text: string): FamilyCard {
  const [words = '', whole] = text.split(PARTS);
  const family = wordsOf(words);
  const familyText = family.join('');
  return { family, familyText, familyWhole: whole ?? familyText };
}

function organizationCardOf(text: string): OrganizationCard {
  const organization = wordsOf(text);
  return { organization, organizationText: organization.join('') };
}

/** One person's numbers: who share a text share its number. Lists of several (mailboxes, phones) go by where they start. */
const makeColumns = () => ({
  given: intColumn(),
  family: intColumn(),
  flags: intColumn(),
  generation: intColumn(),
  organization: intColumn(),
  domains: intColumn(),
  street: floatColumn(),
  house: intColumn(),
  postal: intColumn(),
  locality: intColumn(),
  bday: intColumn(),
  /** A full date as the number yyyymmdd; 0 for anything else. */
  day: intColumn(),
  mailFrom: intColumn(),
  phoneFrom: intColumn(),
  mailKey: floatColumn(),
  mailDomain: intColumn(),
  mailPlain: floatColumn(),
  mailDigits: intColumn(),
  mailLetters: intColumn(),
  mailAbout: intColumn(),
  mailStem: intColumn(),
  phoneKey: floatColumn(),
  phoneLow: intColumn(),
  phoneHigh: intColumn(),
  phoneAbout: intColumn(),
});

type Columns = ReturnType<typeof makeColumns>;
type Arrays = { readonly [K in keyof Columns]: Columns[K]['items'] };

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
export class PeopleStore implements People {
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
const NONE: never[] = [];

/** One mailbox out of a store, read as far as it is asked about. */
class StoredMailbox implements MailboxFacts {
  private text: string | null = null;

  constructor(
    private readonly store: PeopleStore,
    private readonly at: number,
  ) {}

  private get kept(): string {
    return (this.text ??= this.store.localText(this.at));
  }

  get plain(): string {
    const long = (this.store.arrays.mailAbout[this.at] ?? 0) >> LENGTH_BIT;
    return this.kept.length === long ? this.kept : this.kept.slice(0, long);
  }

  get local(): string {
    const long = (this.store.arrays.mailAbout[this.at] ?? 0) >> LENGTH_BIT;
    return this.kept.length === long ? this.kept : this.kept.slice(long + 1);
  }

  get key(): string {
    return keyOfMailbox(this.local, this.domain);
  }

  get stem(): string {
    return this.kept.slice(0, this.store.arrays.mailStem[this.at]);
  }

  get digits(): string {
    return this.store.word(this.store.arrays.mailDigits[this.at] ?? 0);
  }

  get domain(): string {
    return this.store.word(this.store.arrays.mailDomain[this.at] ?? 0);
  }

  get role(): boolean {
    return ((this.store.arrays.mailAbout[this.at] ?? 0) & ROLE) !== 0;
  }
}

/** One person out of a store, read as far as they are asked about. */
class StoredPerson implements MatchPerson {
  private mail: MailboxFacts[] | null = null;

  constructor(
    private readonly store: PeopleStore,
    private readonly i: number,
  ) {}

  private number(column: keyof Arrays): number {
    return this.store.arrays[column][this.i] ?? 0;
  }

  get given(): string[] {
    return this.store.givenCard(this.number('given')).given;
  }

  get givenText(): string {
    return this.store.givenCard(this.number('given')).givenText;
  }

  get nickname(): string {
    return this.store.givenCard(this.number('given')).nickname;
  }

  get family(): string[] {
    return this.store.familyCard(this.number('family')).family;
  }

  get familyText(): string {
    return this.store.familyCard(this.number('family')).familyText;
  }

  get familyWhole(): string {
    return this.store.familyCard(this.number('family')).familyWhole;
  }

  get familyInferred(): boolean {
    return (this.number('flags') & INFERRED) !== 0;
  }

  get script(): NameScript {
    return SCRIPTS[this.number('flags') & SCRIPT_BITS] ?? '';
  }

  get unreadable(): boolean {
    return this.script === 'han';
  }

  get generation(): string {
    return this.store.word(this.number('generation'));
  }

  get emails(): MailboxFacts[] {
    return (this.mail ??= this.list('mailFrom', (at) => this.store.mailbox(at)));
  }

  get phones(): string[] {
    return this.list('phoneFrom', (at) => this.store.phone(at));
  }

  private list<T>(starts: 'mailFrom' | 'phoneFrom', read: (at: number) => T): T[] {
    const column = this.store.arrays[starts];
    const [from, to] = [column[this.i] ?? 0, column[this.i + 1] ?? 0];
    if (from === to) return NONE;
    const list: T[] = [];
    for (let at = from; at < to; at++) list.push(read(at));
    return list;
  }

  get organization(): string[] {
    return this.store.organizationCard(this.number('organization')).organization;
  }

  get organizationText(): string {
    return this.store.organizationCard(this.number('organization')).organizationText;
  }

  get domainNames(): string[] {
    return wordsOf(this.store.word(this.number('domains')));
  }

  get street(): string {
    return this.store.street(this.i);
  }

  get house(): string {
    return this.store.word(this.number('house'));
  }

  get postal(): string {
    return this.store.word(this.number('postal'));
  }

  get locality(): string {
    return this.store.word(this.number('locality'));
  }

  get bday(): string {
    return this.store.word(this.number('bday'));
  }
}
