import { givenTextOf } from './person';

/** Stands between words that are kept as one text; no folded word has it. */
export const BETWEEN = '\u0001';
/** Stands between parts of what is kept as one text. */
export const PARTS = '\u0002';

export interface GivenCard {
  given: string[];
  givenText: string;
  nickname: string;
}
export interface FamilyCard {
  family: string[];
  familyText: string;
  familyWhole: string;
}
export interface OrganizationCard {
  organization: string[];
  organizationText: string;
}

/** What texts say by their number, each told once. */
export class Cards<T> {
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

export const wordsOf = (text: string): string[] => (text === '' ? [] : text.split(BETWEEN));

export function givenCardOf(text: string): GivenCard {
  const [words = '', nickname = ''] = text.split(PARTS);
  const given = wordsOf(words);
  return { given, givenText: givenTextOf(given), nickname };
}

export function familyCardOf(text: string): FamilyCard {
  const [words = '', whole] = text.split(PARTS);
  const family = wordsOf(words);
  const familyText = family.join('');
  return { family, familyText, familyWhole: whole ?? familyText };
}

export function organizationCardOf(text: string): OrganizationCard {
  const organization = wordsOf(text);
  return { organization, organizationText: organization.join('') };
}
