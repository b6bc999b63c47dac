import { asAnotherToolHasThem, ascii, Dice, makePerson, Phones, type DemoPerson, type DemoThread } from './people';
import { CULTURES } from './quillhaven';

const PEOPLE = 2040;

/** The threads of the scenario, how many days back each began, and the share of people it brought. */
export const THREADS: { kind: DemoThread; name: string; share: number; sinceDays: number; runs: number }[] = [
  { kind: 'file', name: 'alumni-2019.csv', share: 0.26, sinceDays: 2400, runs: 1 },
  { kind: 'addressBook', name: 'Office address book', share: 0.2, sinceDays: 1500, runs: 9 },
  { kind: 'dialer', name: 'Phone bank', share: 0.14, sinceDays: 420, runs: 10 },
  { kind: 'mailer', name: 'Newsletter', share: 0.16, sinceDays: 800, runs: 12 },
  { kind: 'form', name: 'Course enquiry', share: 0.13, sinceDays: 330, runs: 30 },
  { kind: 'inbox', name: 'Enquiries inbox', share: 0.05, sinceDays: 80, runs: 14 },
  { kind: 'hand', name: 'By hand', share: 0.06, sinceDays: 700, runs: 24 },
];

/** Who each thread brings: everybody once, and about one in five a second time as another tool has them. */
export interface Cast {
  people: DemoPerson[];
  entries: { thread: number; person: DemoPerson }[];
}

export function castPeople(): Cast {
  const dice = new Dice(4310);
  const phones = new Phones();
  const people: DemoPerson[] = [];
  const entries: { thread: number; person: DemoPerson }[] = [];
  const draw = () => {
    let at = dice.below(1000) / 1000;
    return Math.max(
      0,
      THREADS.findIndex((thread) => (at -= thread.share) < 0),
    );
  };
  for (let i = 0; i < PEOPLE; i++) {
    const person = makePerson(dice, phones, i);
    people.push(person);
    const first = draw();
    entries.push({ thread: first, person });
    for (let again = 0; again < 2 && dice.chance(again ? 0.1 : 0.13); again++) {
      const other = draw();
      if (other !== first) entries.push({ thread: other, person: asAnotherToolHasThem(person, dice, phones) });
    }
  }
  for (const person of families(entries)) entries.push({ thread: 0, person });
  return { people, entries };
}

const HOMES = 18;

/** Those who live with somebody of the first file, under the same name and with the same phone; each with a mailbox of their own. */
function families(entries: Cast['entries']): DemoPerson[] {
  const dice = new Dice(118);
  const hosts = entries.filter(({ thread }) => thread === 0).filter((_, i) => i % 23 === 7);
  return hosts.slice(0, HOMES).flatMap(({ person: host }, i) =>
    Array.from({ length: i % 5 === 0 ? 2 : 1 }, (_, n): DemoPerson => {
      const kin = makePerson(dice, new Phones(), 3000 + 10 * i + n);
      const { family, street, town, region, postal, country, mobile } = host;
      const names = CULTURES.find((one) => one.country === country)?.given.filter((name) => name !== host.given) ?? [];
      // The second of a home is called otherwise than the first.
      const given = names[(dice.below(names.length - 1) + n) % names.length] ?? kin.given;
      return {
        ...kin,
        ...{ given, family, street, town, region, postal, country, mobile },
        email: `${ascii(given)}.${ascii(family)}${30 + i}@example.net`,
        firm: null,
        workEmail: null,
      };
    }),
  );
}
