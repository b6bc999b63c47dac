import { parsePhone, splitName } from '@gray-loom/core/fields';
import type { Candidate } from '@gray-loom/core/writing';
import { COURSES, CULTURES, FIRMS, MAIL_DOMAINS, NOTES, SOURCES, TAGS, type Culture } from './quillhaven';

/** Linear congruential numbers (Numerical Recipes): the same people at every start. */
export class Dice {
  constructor(private state: number) {}
  below(n: number): number {
    this.state = (Math.imul(this.state, 1664525) + 1013904223) >>> 0;
    return Math.floor((this.state / 4294967296) * n);
  }
  pick<T>(from: readonly T[]): T {
    return from[this.below(from.length)] as T;
  }
  chance(share: number): boolean {
    return this.below(10_000) < share * 10_000;
  }
}

export interface DemoPerson {
  given: string;
  family: string;
  email: string;
  workEmail: string | null;
  mobile: string;
  land: string | null;
  street: string;
  town: string;
  region: string;
  postal: string;
  country: string;
  bday: string;
  firm: string | null;
  stage: string;
  tags: string[];
  source: string;
  course: string | null;
  note: string | null;
}

export type DemoThread = 'file' | 'hand' | 'addressBook' | 'dialer' | 'mailer' | 'form' | 'inbox';

/** Letters of a name as a mailbox has them. */
export const ascii = (text: string) =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/ø/gi, 'o')
    .replace(/å/gi, 'a')
    .replace(/æ/gi, 'ae')
    .replace(/[^A-Za-z]/g, '')
    .toLowerCase();

/** Phone numbers kept for fiction, each given once. */
export class Phones {
  private n = 0;
  next(country: string, dice: Dice): string {
    const i = this.n++;
    const two = String(i % 100).padStart(2, '0');
    if (country === 'GB') return dice.chance(0.6) ? `07700 ${900000 + (i % 1000)}` : `01632 ${960000 + (i % 1000)}`;
    if (country === 'AU') return `+61 491 57${String(i % 10)} ${String(100 + (Math.floor(i / 10) % 900))}`;
    return `+1 ${201 + (i % 699)} 555 01${two}`;
  }
}

export function makePerson(dice: Dice, phones: Phones, i: number): DemoPerson {
  const weight = dice.below(100);
  const culture = CULTURES[
    weight < 42 ? 0 : weight < 64 ? 1 : weight < 76 ? 2 : weight < 85 ? 3 : weight < 93 ? 4 : 5
  ] as Culture;
  const given = dice.pick(culture.given);
  const family = dice.pick(culture.family);
  const [town, region, postal] = dice.pick(culture.towns);
  const stage = [
    'Enquiry',
    'Enquiry',
    'Student',
    'Alumnus',
    'Alumnus',
    'Alumnus',
    'Donor',
    'Donor',
    'Instructor',
    'Supplier',
  ][dice.below(10)] as string;
  const firm = stage === 'Supplier' || dice.chance(0.18) ? dice.pick(FIRMS) : null;
  const [g, f] = [ascii(given), ascii(family)];
  const local = [`${g}.${f}`, `${g[0]}.${f}`, `${g}${String((i % 90) + 10)}`, `${f}.${g}`][dice.below(4)] as string;
  const digit = () => String(dice.below(10));
  const letter = () => String.fromCharCode(65 + dice.below(24));
  return {
    given,
    family,
    email: `${local}${dice.chance(0.3) ? i % 97 : ''}@${dice.pick(MAIL_DOMAINS)}`,
    workEmail: firm && dice.chance(0.5) ? `${g[0]}.${f}@${ascii(firm.replace(/ (?:Ltd)$/, ''))}.example` : null,
    mobile: phones.next(culture.country, dice),
    land: dice.chance(0.2) ? phones.next(culture.country, dice) : null,
    street:
      culture.country === 'NO' || culture.country === 'NL'
        ? `${dice.pick(culture.streets)} ${1 + dice.below(90)}`
        : culture.country === 'PT'
          ? `${dice.pick(culture.streets)} ${1 + dice.below(90)}`
          : `${1 + dice.below(140)} ${dice.pick(culture.streets)}`,
    town,
    region,
    postal:
      culture.country === 'GB'
        ? `${postal}${letter()}${letter()}`
        : culture.country === 'NL'
          ? `${postal}${letter()}`
          : `${postal}${digit()}${culture.country === 'PT' ? digit() : ''}`,
    country: culture.country,
    bday: `${1938 + dice.below(68)}-${String(1 + dice.below(12)).padStart(2, '0')}-${String(1 + dice.below(28)).padStart(2, '0')}`,
    firm,
    stage,
    tags: [...new Set(Array.from({ length: dice.below(3) }, () => dice.pick(TAGS)))],
    source: dice.pick(SOURCES),
    course: stage === 'Student' || stage === 'Alumnus' ? dice.pick(COURSES) : null,
    note: dice.chance(0.12) ? dice.pick(NOTES) : null,
  };
}

function phone(typed: string, country: string, label?: string) {
  const { norm } = parsePhone(typed, country);
  return { v: typed, ...(norm ? { norm } : {}), ...(label ? { label } : {}) };
}

/** How one thread tells of a person: files are full and old, the dialer shouts, the mailer knows little. */
export function toldBy(thread: DemoThread, p: DemoPerson, dice: Dice): Candidate {
  const names = (given: string, family: string): Candidate => ({
    givenName: [{ v: given }],
    familyName: [{ v: family }],
  });
  const address = {
    v: { street: p.street, locality: p.town, region: p.region, postalCode: p.postal, country: p.country },
    label: 'home',
  };
  const tags = p.tags.map((v) => ({ v }));
  const sorting: Candidate = { stage: [{ v: p.stage }], source: [{ v: p.source }], ...(tags.length ? { tags } : {}) };
  switch (thread) {
    case 'file':
      return {
        ...names(p.given, p.family),
        email: [{ v: p.email, label: 'home' }],
        tel: [phone(p.mobile, p.country, 'mobile')],
        adr: [address],
        bday: [{ v: p.bday }],
        ...(p.firm ? { organization: [{ v: p.firm }] } : {}),
        ...(p.note ? { note: [{ v: p.note }] } : {}),
        ...sorting,
      };
    case 'addressBook':
      return {
        ...names(p.given, p.family),
        email: [{ v: p.email, label: 'home' }, ...(p.workEmail ? [{ v: p.workEmail, label: 'work' }] : [])],
        tel: [phone(p.mobile, p.country, 'mobile'), ...(p.land ? [phone(p.land, p.country, 'work')] : [])],
        ...(p.firm
          ? { organization: [{ v: p.firm }], title: [{ v: dice.pick(['Buyer', 'Foreman', 'Office', 'Skipper']) }] }
          : {}),
        ...(dice.chance(0.5) ? { adr: [address] } : {}),
        ...sorting,
      };
    case 'dialer':
      return {
        ...names(p.given.toUpperCase(), p.family.toUpperCase()),
        tel: [phone(p.mobile, p.country)],
        ...(dice.chance(0.4) ? { adr: [{ v: { locality: p.town.toUpperCase(), country: p.country } }] } : {}),
        tags: [{ v: 'phone bank' }],
      };
    case 'mailer':
      return {
        ...names(p.given, dice.chance(0.6) ? p.family : p.family.replace(/(.)(.)$/, '$2$1')),
        email: [{ v: p.email }],
        tags: [{ v: 'newsletter' }],
      };
    case 'form': {
      const full = `${p.given} ${p.family}`;
      const { name } = splitName(full);
      return {
        ...names(name.givenName, name.familyName),
        fullName: [{ v: full }],
        email: [{ v: p.email }],
        ...(dice.chance(0.6) ? { tel: [phone(p.mobile.replace(/ /g, ''), p.country)] } : {}),
        ...(p.note ? { note: [{ v: p.note }] } : {}),
        stage: [{ v: 'Enquiry' }],
        source: [{ v: 'Website' }],
      };
    }
    case 'inbox':
      return {
        ...names(p.given, p.family),
        email: [{ v: p.email }],
        note: [{ v: p.note ?? 'Asked about the spring course.' }],
        stage: [{ v: 'Enquiry' }],
      };
    case 'hand':
      return {
        ...names(p.given, p.family),
        ...(dice.chance(0.7) ? { tel: [phone(p.mobile, p.country, 'mobile')] } : { email: [{ v: p.email }] }),
        ...(dice.chance(0.3) && p.firm ? { organization: [{ v: p.firm.replace(/ Ltd$/, '') }] } : {}),
        ...sorting,
      };
  }
}

export const SHORT: Record<string, string> = {
  Katherine: 'Kate',
  Thomas: 'Tom',
  Elizabeth: 'Liz',
  William: 'Bill',
  James: 'Jim',
  Margaret: 'Maggie',
  Robert: 'Bob',
  Susan: 'Sue',
  Michael: 'Mike',
  Jennifer: 'Jen',
  Andrew: 'Andy',
  Benedita: 'Bene',
  Florence: 'Flo',
  Abigail: 'Abby',
};

/** The same person as another tool got to know them: a short name, a slip, a move, another mailbox. */
export function asAnotherToolHasThem(p: DemoPerson, dice: Dice, phones: Phones): DemoPerson {
  const other = { ...p, tags: [] as string[] };
  if (SHORT[p.given] && dice.chance(0.4)) other.given = SHORT[p.given] as string;
  else if (dice.chance(0.2)) other.family = p.family.replace(/(..)(.)(.*)/, '$1$3$2');
  if (dice.chance(0.15)) other.email = p.email.replace(/@.*/, `@${dice.pick(MAIL_DOMAINS)}`);
  if (dice.chance(0.12)) other.mobile = phones.next(p.country, dice);
  if (dice.chance(0.15)) other.street = p.street.replace(/\d+/, (n) => String(Number(n) + 1 + dice.below(9)));
  return other;
}
