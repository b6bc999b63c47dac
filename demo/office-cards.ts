import { castPeople, THREADS } from './cast';
import { Dice, makePerson, Phones, toldBy, type DemoPerson } from './people';

const quote = (text: string) =>
  text
    .replace(/\\/g, '\\\\')
    .replace(/([,;])/g, '\\$1')
    .replace(/\n/g, '\\n');
const NEW_PEOPLE = 14;

/** The cards of the office address book: most of whom it gave us once, some changed since, a few whom nobody else knows. */
export function officeCards(): { name: string; text: string }[] {
  const dice = new Dice(90);
  const phones = new Phones();
  const { entries } = castPeople();
  const known = entries.filter(({ thread }) => THREADS[thread]?.kind === 'addressBook').map(({ person }) => person);
  const people = known.filter(() => !dice.chance(0.03)).map((person) => changed(person, dice));
  for (let i = 0; i < NEW_PEOPLE; i++) people.push(makePerson(dice, phones, 9000 + i * 7));
  return people.map((person, i) => ({
    name: `card-${String(i + 1).padStart(4, '0')}.vcf`,
    text: cardOf(person, i, dice),
  }));
}

/** What the office heard of somebody since: another phone or mailbox. */
function changed(person: DemoPerson, dice: Dice): DemoPerson {
  if (dice.chance(0.04)) return { ...person, mobile: `07700 900${String(100 + dice.below(900))}` };
  if (dice.chance(0.03)) return { ...person, firm: 'Tern Joinery' };
  return person;
}

function cardOf(person: DemoPerson, i: number, dice: Dice): string {
  const told = toldBy('addressBook', person, dice);
  const texts = (field: string) => (told[field] ?? []).map(({ v, label }) => ({ text: String(v), label: label ?? '' }));
  const old = dice.chance(0.6);
  const type = (label: string) => (label ? `;TYPE=${label === 'mobile' ? 'cell' : label}` : '');
  const labels = [person.stage, ...person.tags];
  const lines = [
    'BEGIN:VCARD',
    `VERSION:${old ? '3.0' : '4.0'}`,
    `UID:urn:uuid:0f5e1a00-0000-4000-8000-${String(i).padStart(12, '0')}`,
    `FN:${quote(`${person.given} ${person.family}`)}`,
    `N:${quote(person.family)};${quote(person.given)};;;`,
    ...texts('email').map(({ text, label }) => `EMAIL${type(label)}:${text}`),
    ...texts('tel').map(({ text, label }) => `TEL${type(label)}:${text}`),
    ...(person.firm ? [`ORG:${quote(person.firm)}`] : []),
    ...(told.adr
      ? [
          `ADR;TYPE=home:;;${[person.street, person.town, person.region, person.postal, person.country].map(quote).join(';')}`,
        ]
      : []),
    ...(person.note ? [`NOTE:${quote(person.note)}`] : []),
    `CATEGORIES:${labels.map(quote).join(',')}`,
    'X-OFFICE-DRAWER:B',
    'END:VCARD',
    '',
  ];
  return lines.join('\r\n');
}
