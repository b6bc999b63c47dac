import { wordsOf, type FamilyCard, type GivenCard, type OrganizationCard } from './name-cards';
import { INFERRED, LENGTH_BIT, ROLE, SCRIPT_BITS, SCRIPTS, type Arrays } from './people-columns';
import { keyOfMailbox, type MatchPerson } from './person';
import type { MailboxFacts } from './person-facts';
import type { NameScript } from './romanised';

/** What a person's texts and numbers are read from. */
export interface StoredTexts {
  readonly arrays: Arrays;
  givenCard(number: number): GivenCard;
  familyCard(number: number): FamilyCard;
  organizationCard(number: number): OrganizationCard;
  word(number: number): string;
  street(i: number): string;
  localText(at: number): string;
  mailbox(at: number): MailboxFacts;
  phone(at: number): string;
}

const NONE: never[] = [];

/** One mailbox out of a store, read as far as it is asked about. */
export class StoredMailbox implements MailboxFacts {
  private text: string | null = null;

  constructor(
    private readonly store: StoredTexts,
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
export class StoredPerson implements MatchPerson {
  private mail: MailboxFacts[] | null = null;

  constructor(
    private readonly store: StoredTexts,
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
