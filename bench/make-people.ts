import { createWriteStream, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { once } from 'node:events';
import { ascii, asAnotherToolHasThem, Dice, makePerson, Phones, type DemoPerson } from '../demo/people';

const COLUMNS =
  'record_id,source,given_name,family_name,full_name,email,phone,organization,street,city,region,postal_code,country,birthday,tags';
const SYLLABLES = (
  'ka lo mi ren tor vel dra ben sal wick ham ford lin mor ash cal dun fen gar hol ing jor kel lam mar nor os pen ' +
  'quin ros sten thor ul van wes yar zan bro cre del eth fal gri hav'
).split(' ');
/** Shares of people who are here more than once, and of kinds of those who are easily taken for somebody else. */
const TWICE = 0.3;
const HOUSEHOLD = 0.08;
const NAMESAKE = 0.04;
/** Rows written before the stream is waited for. */
const PIECE = 2000;

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** A family name: one in three is common, the others are spread as widely as in life. */
function familyOf(dice: Dice, common: string): string {
  if (dice.chance(0.33)) return common;
  return capital(Array.from({ length: 2 + dice.below(2) }, () => dice.pick(SYLLABLES)).join(''));
}

interface Made {
  person: DemoPerson;
  entity: string;
  kind: string;
}

/** One more way in which a tool spoils what it was given, with its name. */
function spoil(p: DemoPerson, dice: Dice): [DemoPerson, string] {
  switch (dice.below(6)) {
    case 0:
      return [{ ...p, given: p.given.toUpperCase(), family: p.family.toUpperCase() }, 'upper_case'];
    case 1:
      return [{ ...p, mobile: '', street: '', town: '', postal: '', region: '' }, 'mailbox_only'];
    case 2:
      return [{ ...p, email: '' }, 'no_mailbox'];
    case 3:
      return [{ ...p, given: p.given.charAt(0) }, 'initial'];
    case 4:
      return [{ ...p, given: p.family, family: p.given }, 'swapped_names'];
    default:
      return [{ ...p, bday: '' }, 'clean'];
  }
}

/** People in their order of making: some come twice, some share a home or a name with somebody else. */
function* people(dice: Dice): Generator<Made> {
  const phones = new Phones();
  for (let i = 0; ; i++) {
    const made = makePerson(dice, phones, i);
    const family = familyOf(dice, made.family);
    const email = `${ascii(made.given)}.${ascii(family)}${i % 9973}@${made.email.split('@')[1]}`;
    // Numbers that are kept for fiction are few; in a large book most people have none.
    const person = { ...made, family, email, mobile: i < 300_000 ? made.mobile : '' };
    const entity = `e${i}`;
    yield { person, entity, kind: 'clean' };
    if (dice.chance(TWICE)) {
      const [spoilt, kind] = spoil(asAnotherToolHasThem(person, dice, phones), dice);
      yield { person: spoilt, entity, kind };
    }
    if (dice.chance(HOUSEHOLD)) {
      const other = makePerson(dice, phones, i);
      const given = other.given === person.given ? `${other.given}a` : other.given;
      const kind = 'hn_household';
      yield { person: { ...person, given, email: '', bday: other.bday }, entity: `h${i}`, kind };
    }
    if (dice.chance(NAMESAKE)) {
      const other = makePerson(dice, phones, i + 1);
      yield {
        person: { ...other, given: person.given, family, email: `x${i}@example.net`, mobile: '' },
        entity: `n${i}`,
        kind: 'hn_same_name',
      };
    }
  }
}

const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** A record as a source tells it: the mailer's and forms' names stand in one field. */
function row(id: string, { person: p }: Made, dice: Dice): string {
  const source = dice.pick(['file', 'address_book', 'dialer', 'mailer', 'form', 'hand']);
  const whole = source === 'form';
  return [
    id,
    source,
    whole ? '' : p.given,
    whole ? '' : p.family,
    whole ? `${p.given} ${p.family}` : '',
    p.email,
    p.mobile,
    p.firm ?? '',
    p.street,
    p.town,
    p.region,
    p.postal,
    p.country,
    p.bday,
    p.tags.join(';'),
  ]
    .map(cell)
    .join(',');
}

/**
 * Writes `records.csv` and `truth.csv` (record_id, entity_id, case) of invented people with known duplicates: the same for the same
 * number and seed. It streams, so that a million take little memory.
 */
export async function writePeople(folder: string, records: number, seed: number): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const out = createWriteStream(join(folder, 'records.csv'));
  const truth = createWriteStream(join(folder, 'truth.csv'));
  const dice = new Dice(seed);
  const source = people(dice);
  out.write(`${COLUMNS}\n`);
  truth.write('record_id,entity_id,case\n');
  for (let from = 0; from < records; from += PIECE) {
    const lines: string[] = [];
    const truths: string[] = [];
    for (let n = from; n < Math.min(records, from + PIECE); n++) {
      const made = source.next().value as Made;
      const id = `r${String(n).padStart(7, '0')}`;
      lines.push(row(id, made, dice));
      truths.push(`${id},${made.entity},${made.kind}`);
    }
    if (!out.write(`${lines.join('\n')}\n`)) await once(out, 'drain');
    if (!truth.write(`${truths.join('\n')}\n`)) await once(truth, 'drain');
  }
  await Promise.all([out, truth].map((stream) => new Promise<void>((done) => stream.end(() => done()))));
}
