import { electOrder, foldText, type DateOrder, type DecimalMark, type FieldType, type NameOrder } from '../fields';
import { readHeader, saysFamilyFirst, type HeaderReading } from '../formats';
import { profileColumn, typeOfValues, type ColumnProfile } from './column-values';
import { isAddressPart } from './targets';

/** What one column seems to mean. */
export interface ColumnGuess {
  index: number;
  header: string | null;
  /** Key of a mapping target, or null when nothing fits. */
  field: string | null;
  label: string | null;
  /** Which of several of one label, where the file says so. */
  nth?: number;
  /** Column whose cells say the label, row by row. */
  labelFrom?: number;
  /** Column whose text goes on behind: the second family name. */
  joined?: number;
  /** File in which somebody gave this heading the meaning that is guessed. */
  learnedFrom?: string;
  type: FieldType;
  certainty01: number;
  samples: string[];
  dateOrder: DateOrder;
  /** Which part whole names begin with, where heading or names show it. */
  nameOrder?: NameOrder;
  /** Dates that can be read both ways, where none tells which. */
  unclearDates?: number;
  decimal: DecimalMark;
  separator: string | null;
  /** Distinct values, when a new field made of this column would be a choice. */
  choices: string[];
}

/** Rows whose values are looked at; more tell nothing new. */
const PROFILED_ROWS = 500;

const ONCE = new Set([
  'givenName',
  'familyName',
  'fullName',
  'prefix',
  'suffix',
  'additionalNames',
  'bday',
  'anniversary',
  'organization',
  'title',
  'source',
  'stage',
  'owner',
  'tz',
  'nickname',
]);
const TYPE_OF: Record<string, FieldType> = {
  email: 'email',
  tel: 'tel',
  url: 'url',
  bday: 'partialDate',
  anniversary: 'partialDate',
  note: 'longText',
  tags: 'tag',
  source: 'source',
  stage: 'stage',
  owner: 'owner',
  opportunityCloseDate: 'date',
  opportunityValue: 'number',
};

interface Opinion {
  target: string | null;
  certainty01: number;
}

const NONE: Opinion = { target: null, certainty01: 0 };

/** Checks what the heading says against what the cells hold. */
function weighHeader(target: string, certainty01: number, p: ColumnProfile): Opinion {
  if (p.filled === 0) return { target, certainty01: certainty01 * 0.8 };
  const agree = (share: number, needed: number): Opinion =>
    share >= needed
      ? { target, certainty01: Math.min(0.99, certainty01 * 0.7 + 0.3 * share + 0.02) }
      : share > needed / 3
        ? { target, certainty01: certainty01 * 0.6 }
        : NONE;
  switch (target) {
    case 'email':
      return agree(p.email01, 0.5);
    case 'tel':
      return agree(Math.max(p.phone01, p.number01 * 0.6), 0.5);
    case 'bday':
    case 'anniversary':
    case 'opportunityCloseDate':
      return agree(p.date01, 0.4);
    case 'opportunityValue':
      return agree(p.number01, 0.4);
    case 'url':
      return agree(p.host01, 0.4);
    case 'givenName':
    case 'familyName':
    case 'fullName':
    case 'organization':
    case 'locality':
      // Numbers, dates and mailboxes are no names, whatever the heading says.
      return p.email01 > 0.5 || p.number01 > 0.5 || p.date01 > 0.5 ? NONE : { target, certainty01 };
    case 'title':
      return p.values.length > 0 &&
        p.values.every((v) => /^(?:mr|mrs|ms|miss|mx|dr|prof|rev|herr|frau|sir|dame)\.?$/i.test(v))
        ? { target: 'prefix', certainty01: 0.9 }
        : { target, certainty01 };
    case 'prefix':
      return p.longText01 > 0.2 ? NONE : { target, certainty01 };
    case 'postalCode':
      // A word for the postal code in one language is one for the mobile phone in another.
      return p.values.length > 0 && p.values.every((v) => v.replace(/\D/g, '').length >= 10)
        ? { target: 'tel', certainty01: 0.75 }
        : { target, certainty01 };
    case 'region':
      if (p.country01 >= 0.8 && p.distinct > 1) return { target: 'country', certainty01: 0.75 };
      return p.number01 > 0.5 ? NONE : { target, certainty01 };
    case 'country':
      // In some languages one word is a country, in others the part of one.
      if (p.country01 + p.regionCode01 >= 0.3) return { target, certainty01 };
      return p.number01 + p.date01 > 0.5 ? NONE : { target: 'region', certainty01: certainty01 * 0.6 };
    case 'phase':
      // Only opportunities have one.
      return NONE;
    default:
      return { target, certainty01 };
  }
}

/** What the cells alone say. */
function weighValues(p: ColumnProfile): Opinion {
  if (p.filled === 0) return NONE;
  if (p.email01 >= 0.6) return { target: 'email', certainty01: 0.75 + 0.2 * p.email01 };
  if (p.url01 >= 0.7) return { target: 'url', certainty01: 0.8 };
  if (p.date01 < 0.5 && p.phone01 >= 0.7) return { target: 'tel', certainty01: 0.5 + 0.3 * p.phone01 };
  if (p.postal01 >= 0.8 && p.number01 < 0.5) return { target: 'postalCode', certainty01: 0.7 };
  if (p.country01 >= 0.8) return { target: 'country', certainty01: 0.75 };
  if (p.fullName01 >= 0.5) return { target: 'fullName', certainty01: 0.65 };
  return NONE;
}

/** Without a heading, neighbours help: given name before family name, street before town, region and postal code. */
function guessWithoutHeader(profiles: ColumnProfile[]): Opinion[] {
  const opinions = profiles.map((p): Opinion => {
    const byValue = weighValues(p);
    if (byValue.target) return byValue;
    if (p.filled && p.givenName01 >= 0.35) return { target: 'givenName', certainty01: 0.5 + 0.4 * p.givenName01 };
    if (p.postal01 >= 0.8) return { target: 'postalCode', certainty01: 0.7 };
    if (p.regionCode01 >= 0.8) return { target: 'region', certainty01: 0.6 };
    if (p.street01 >= 0.6) return { target: 'street', certainty01: 0.7 };
    if (p.date01 >= 0.6) return { target: 'bday', certainty01: 0.6 };
    if ((p.separator === ';' || p.separator === '|') && p.separated01 >= 0.15 && p.longText01 < 0.2)
      return { target: 'tags', certainty01: 0.6 };
    return NONE;
  });
  const isText = (i: number) => {
    const p = profiles[i];
    return !!p && p.filled > 0 && !opinions[i]?.target && p.number01 < 0.3 && p.date01 < 0.3 && p.longText01 < 0.2;
  };
  const given = opinions.findIndex((o) => o.target === 'givenName');
  if (given >= 0) {
    if (isText(given + 1)) opinions[given + 1] = { target: 'familyName', certainty01: 0.75 };
    else if (given > 0 && isText(given - 1)) opinions[given - 1] = { target: 'familyName', certainty01: 0.65 };
  } else if (isText(0) && isText(1)) {
    opinions[0] = { target: 'givenName', certainty01: 0.5 };
    opinions[1] = { target: 'familyName', certainty01: 0.5 };
  }
  const street = opinions.findIndex((o) => o.target === 'street');
  const anchor =
    street >= 0 ? street + 1 : opinions.findIndex((o) => o.target === 'region' || o.target === 'postalCode') - 1;
  // The town stands before the postal code in some countries and behind it in others.
  const town = [anchor, opinions.findIndex((o) => o.target === 'postalCode') + 1].find((i) => i > 0 && isText(i));
  if (anchor >= 0 && town !== undefined) opinions[town] = { target: 'locality', certainty01: 0.7 };
  return opinions;
}

/** Two family names side by side, as people have them in Spanish; null where there are no two. */
function secondFamilyName(opinions: readonly Opinion[]): { first: number; second: number } | null {
  const first = opinions.findIndex(({ target }) => target === 'familyName');
  const isSecond = first >= 0 && opinions[first + 1]?.target === 'familyName';
  // The first is the surer or as sure, so that it stays.
  const isKept = (opinions[first]?.certainty01 ?? 0) >= (opinions[first + 1]?.certainty01 ?? 0);
  return isSecond && isKept ? { first, second: first + 1 } : null;
}

/** A single-valued meaning goes to the surest column only. */
function settleRepeats(opinions: Opinion[]): void {
  const best = new Map<string, number>();
  opinions.forEach((opinion, i) => {
    if (!opinion.target || !ONCE.has(opinion.target)) return;
    const rival = best.get(opinion.target);
    if (rival === undefined) best.set(opinion.target, i);
    else if (opinion.certainty01 > (opinions[rival]?.certainty01 ?? 0)) {
      opinions[rival] = NONE;
      best.set(opinion.target, i);
    } else opinions[i] = NONE;
  });
}

/** Share of rows in which a name holds the family name that stands beside it, from which on it is a whole one. */
const WHOLE_FROM01 = 0.3;

/** The column of a "name" that is the given name, since the family name stands in a column of its own ("Name, Surname"). */
function givenBesideFamily(opinions: readonly Opinion[], rows: readonly (readonly string[])[]): number | null {
  if (opinions.some(({ target }) => target === 'givenName')) return null;
  const name = opinions.findIndex(({ target }) => target === 'fullName');
  const family = opinions.findIndex(({ target }) => target === 'familyName');
  if (name < 0 || family < 0) return null;
  const both = rows.filter((cells) => cells[name]?.trim() && cells[family]?.trim());
  const whole = both.filter((cells) => foldText(cells[name] ?? '').includes(foldText(cells[family] ?? '')));
  return both.length && whole.length < WHOLE_FROM01 * both.length ? name : null;
}

/**
 * Guesses the meaning of every column from its heading and its values, each with a certainty.
 * A heading is believed only where the values allow it; a column of e-mails is e-mail whatever its name.
 */
export function guessColumns(
  headers: readonly (string | null)[],
  sample: readonly (readonly string[])[],
): ColumnGuess[] {
  const looked = sample.slice(0, PROFILED_ROWS);
  const profiles = headers.map((_, i) => profileColumn(looked.map((cells) => cells[i] ?? '')));
  const readings = headers.map((header) => readHeader(header ?? ''));
  const named = headers.some((header) => header);
  const opinions = named
    ? profiles.map((p, i): Opinion => {
        const reading = readings[i];
        const byHeader = reading?.target ? weighHeader(reading.target, reading.certainty01, p) : NONE;
        if (byHeader.target && byHeader.certainty01 >= 0.5) {
          return byHeader.target !== 'email' && p.email01 >= 0.6 ? weighValues(p) : byHeader;
        }
        const byValue = weighValues(p);
        // A heading that says something else of its own makes values alone less sure.
        if (byValue.target === 'email') return byValue;
        if (byValue.target && !headers[i]) return byValue;
        return byValue.certainty01 >= 0.7 && byValue.target !== 'tel'
          ? { ...byValue, certainty01: byValue.certainty01 - 0.1 }
          : byHeader;
      })
    : guessWithoutHeader(profiles);
  if (named) readOpportunities(readings, opinions, profiles);
  const second = secondFamilyName(opinions);
  settleRepeats(opinions);
  const labelColumns = columnsOfLabels(readings, opinions);
  const numbered = numberAddresses(readings, opinions);
  const hasGiven = opinions.some((o) => o.target === 'givenName' || o.target === 'familyName');
  const givenBeside = givenBesideFamily(opinions, looked);
  return profiles.map((p, i) => {
    const opinion = opinions[i] ?? NONE;
    // "Nom" and "Name" mean the family name beside a given name, the whole name alone.
    const field =
      i === givenBeside
        ? 'givenName'
        : opinion.target === 'fullName' && hasGiven && !opinions.some((o) => o.target === 'familyName')
          ? 'familyName'
          : opinion.target;
    const type = (field && TYPE_OF[field]) || (field ? 'text' : typeOfValues(p, saysDate(headers[i] ?? '')));
    const labelled =
      field === 'email' ||
      field === 'tel' ||
      field === 'street' ||
      field === 'locality' ||
      field === 'postalCode' ||
      field === 'region' ||
      field === 'country' ||
      field === 'url';
    return {
      index: i,
      header: headers[i] ?? null,
      field,
      label: labelled ? labelFor(field, readings[i]?.label ?? null) : null,
      ...(numbered.has(i) ? { nth: numbered.get(i) ?? 0 } : {}),
      ...(second !== null && second.first === i && field === 'familyName' ? { joined: second.second } : {}),
      ...(labelColumns.has(i) ? { labelFrom: labelColumns.get(i) ?? 0 } : {}),
      type,
      certainty01: Math.round(opinion.certainty01 * 100) / 100,
      samples: p.samples,
      dateOrder: p.dateOrder,
      ...(field === 'fullName' ? orderOfNames(p, headers[i] ?? null) : {}),
      ...(p.unclearDates ? { unclearDates: p.unclearDates } : {}),
      decimal: p.decimal,
      separator: field === 'tags' || field === 'email' ? (p.separator ?? (field === 'tags' ? ';' : null)) : null,
      choices: type === 'choice' ? p.values : [],
    };
  });
}

/** What the names show stands before what the heading says. */
function orderOfNames(p: ColumnProfile, header: string | null): { nameOrder?: NameOrder } {
  const nameOrder = electOrder(p.nameVotes) ?? (header && saysFamilyFirst(header) ? 'familyFirst' : null);
  return nameOrder ? { nameOrder } : {};
}

/** No address is mobile or a fax, whatever the heading has in it. */
function labelFor(field: string, label: string | null): string | null {
  return isAddressPart(field) && (label === 'mobile' || label === 'fax') ? null : label;
}

const DATE_WORD =
  /\b(?:date|dates|dated|day|datum|data|dato|fecha|dag|since|joined|seit|depuis|desde|dal|sinds|from|until|start|started|begin|end|ended|created|updated|modified|changed|opened|closed|received|paid|sent|arrived|left|last|first|kelt|tarih|tarihi|paiva)\b|(?:datum|dato|date)$|[日날]/;

/** Whether a heading names a day, so that numbers below it may be those of a spreadsheet. */
function saysDate(header: string): boolean {
  return DATE_WORD.test(foldText(header)) || /[日날]/.test(header);
}

/** Columns whose labels stand in another column ("Phone 1 - Type"), each with that one: the nearest of one meaning and number. */
function columnsOfLabels(readings: readonly HeaderReading[], opinions: readonly Opinion[]): Map<number, number> {
  const found = new Map<number, number>();
  readings.forEach(({ kindOf, ordinal }, at) => {
    if (!kindOf) return;
    const fits = (i: number) => {
      const target = opinions[i]?.target;
      const same = target === kindOf || (kindOf === 'street' && !!target && isAddressPart(target));
      return same && readings[i]?.ordinal === ordinal;
    };
    if (kindOf === 'street') {
      readings.forEach((_, i) => fits(i) && found.set(i, at));
      return;
    }
    const nearest = readings
      .map((_, i) => i)
      .filter((i) => fits(i) && !found.has(i))
      .sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0];
    if (nearest !== undefined) found.set(nearest, at);
  });
  return found;
}

/**
 * Which of several addresses of one label a column belongs to, from 1: the next one begins where a part comes again. Streets in
 * a row are the lines of one address.
 */
function numberAddresses(readings: readonly HeaderReading[], opinions: readonly Opinion[]): Map<number, number> {
  const groups = new Map<string, { columns: number[]; parts: Set<string> }[]>();
  opinions.forEach(({ target }, i) => {
    if (!target || !isAddressPart(target)) return;
    const label = labelFor(target, readings[i]?.label ?? null) ?? '';
    const addresses = groups.get(label) ?? [{ columns: [], parts: new Set<string>() }];
    groups.set(label, addresses);
    const current = addresses[addresses.length - 1];
    const line = target === 'street' && opinions[current?.columns.at(-1) ?? -2]?.target === 'street';
    if (current && (!current.parts.has(target) || line)) {
      current.columns.push(i);
      current.parts.add(target);
    } else addresses.push({ columns: [i], parts: new Set([target]) });
  });
  const numbered = new Map<number, number>();
  for (const addresses of groups.values()) {
    let nth = 0;
    addresses.forEach(({ columns, parts }, k) => {
      // A street that stands apart is another line of the address before it.
      if (k > 0 && (parts.size > 1 || !parts.has('street'))) nth++;
      if (nth > 0) for (const column of columns) numbered.set(column, nth);
    });
  }
  return numbered;
}

/** In a table with opportunities, stage, value, date and owner beside them are the opportunity's. */
function readOpportunities(readings: HeaderReading[], opinions: Opinion[], profiles: ColumnProfile[]): void {
  const first = readings.findIndex(
    (r) =>
      r.target?.startsWith('opportunity') && r.target !== 'opportunityCloseDate' && r.target !== 'opportunityValue',
  );
  if (first < 0) {
    opinions.forEach((o, i) => {
      if (o.target?.startsWith('opportunity')) opinions[i] = NONE;
    });
    return;
  }
  for (let i = first; i < opinions.length; i++) {
    const target = opinions[i]?.target;
    if (target === 'stage' || readings[i]?.target === 'phase')
      opinions[i] = { target: 'opportunityStage', certainty01: 0.85 };
    else if (target === 'owner') opinions[i] = NONE;
    else if (!target && (profiles[i]?.number01 ?? 0) > 0.5 && !opinions.some((o) => o.target === 'opportunityValue'))
      opinions[i] = { target: 'opportunityValue', certainty01: 0.75 };
  }
}
