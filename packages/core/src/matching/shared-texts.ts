import type { MatchPerson } from './person';

/** Texts beyond so many are kept one by one; a pool of more would cost more than it spares. */
const MOST = 2_000_000;

/**
 * Gives equal texts of many people one place in memory: names, towns, days and the like repeat a thousandfold. What is a
 * person's own (mailboxes, phones, streets) stays as it is. Spares about a third of what a million people take.
 */
export class SharedTexts {
  private readonly texts = new Map<string, string>();
  private readonly lists = new Map<string, string[]>();

  private text(text: string): string {
    if (text === '') return '';
    const known = this.texts.get(text);
    if (known !== undefined) return known;
    if (this.texts.size < MOST) this.texts.set(text, text);
    return text;
  }

  private list(texts: string[]): string[] {
    if (texts.length === 0) return NONE;
    const key = texts.length === 1 ? (texts[0] ?? '') : texts.join('\u0001');
    const known = this.lists.get(key);
    if (known) return known;
    const shared = texts.map((text) => this.text(text));
    if (this.lists.size < MOST) this.lists.set(key, shared);
    return shared;
  }

  /** The person with shared texts in place of its own. */
  share(person: MatchPerson): MatchPerson {
    person.given = this.list(person.given);
    person.givenText = this.text(person.givenText);
    person.family = this.list(person.family);
    person.familyText = this.text(person.familyText);
    person.familyWhole = this.text(person.familyWhole);
    person.nickname = this.text(person.nickname);
    person.organization = this.list(person.organization);
    person.organizationText = this.text(person.organizationText);
    person.domainNames = this.list(person.domainNames);
    if (!person.phones.length) person.phones = NONE;
    person.house = this.text(person.house);
    person.postal = this.text(person.postal);
    person.locality = this.text(person.locality);
    person.bday = this.text(person.bday);
    for (const box of person.emails) {
      box.domain = this.text(box.domain);
      box.digits = this.text(box.digits);
      if (box.plain === box.local) box.plain = box.local;
      if (box.stem === box.plain) box.stem = box.plain;
    }
    return person;
  }
}

const NONE: string[] = [];
