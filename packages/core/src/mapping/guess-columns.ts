import { foldText, type DateOrder, type DecimalMark, type FieldType, type NameOrder } from '../fields';
import { ofFamily, readHeader, saysNameOrder, type HeaderReading } from '../formats';
import { joinAddress, numberAddresses, settleStates, wholeAddresses } from './address-columns';
import {
  guessWithoutHeader,
  shownOrder,
  NONE,
  weighHeader,
  weighUnderHeading,
  weighValues,
  wholeNamesAmong,
  type Opinion,
} from './column-opinion';
import { profileColumn, typeOfValues, type ColumnProfile } from './column-values';
import { settleOpportunities } from './opportunity-columns';
import { lostZeros, type LostZeros } from './lost-zeros';
import { isOfAddress } from './targets';

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
  /** Single letters that are titles before whole names in this column, as M. is in French. */
  letterTitles?: string;
  /** Dates that can be read both ways, where none tells which. */
  unclearDates?: number;
  decimal: DecimalMark;
  /** What is written for yes and no, where it is so only in this column ("A" and "N"). */
  yesNo?: readonly [yes: string, no: string];
  separator: string | null;
  /** Whether the streets of this column are whole addresses. */
  wholeAddress?: boolean;
  /** What shows that postal codes have lost zeros in front. */
  zeros?: LostZeros;
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

/** Two columns that are one field together, the second behind the first. */
interface Joined {
  first: number;
  second: number;
  field: string;
}

/** Two family names side by side, as people have them in Spanish, or two columns of titles; null where there are no two. */
function secondOf(field: string, opinions: readonly Opinion[]): Joined | null {
  const first = opinions.findIndex(({ target }) => target === field);
  const isSecond = first >= 0 && opinions[first + 1]?.target === field;
  // The first is the surer or as sure, so that it stays.
  const isKept = (opinions[first]?.certainty01 ?? 0) >= (opinions[first + 1]?.certainty01 ?? 0);
  return isSecond && isKept ? { first, second: first + 1, field } : null;
}

/** The small words of family names in a column of their own: with the family name behind them they are it. */
function familyPrefix(opinions: Opinion[]): Joined | null {
  const first = opinions.findIndex(({ target }) => target === 'familyPrefix');
  const second = opinions.findIndex(({ target }) => target === 'familyName');
  if (first < 0) return null;
  opinions[first] = opinions[second] ?? NONE;
  if (second < 0) return null;
  opinions[second] = NONE;
  return { first, second, field: 'familyName' };
}

/** English words of headings; where no other heading has one, the file is not in English. */
const ENGLISH =
  /\b(?:name|names|first|last|forename|surname|phone|address|city|town|company|organi[sz]ations?|country|birth|birthday|postcode|zip|street|state|owner|comments)\b/;

/** A "stage" is of a relationship in English; in other languages it is a course or a time of practice. */
function settleStage(headers: readonly (string | null)[], opinions: Opinion[]): void {
  const words = headers.map((header) => foldText((header ?? '').replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')));
  opinions.forEach(({ target }, i) => {
    if (target !== 'stage' || words[i] !== 'stage') return;
    const others = words.filter((_, k) => k !== i && opinions[k]?.target);
    if (others.length > 1 && !others.some((text) => ENGLISH.test(text))) opinions[i] = NONE;
  });
}

/** Share of names with a family name below a heading of given names, and the other way round, from which on they are whole ones. */
const LONE_WHOLE01 = 0.6;
const LONE_GIVEN01 = 0.5;

/** Given or family names without the others beside them are whole names where they look so: in some languages one word is both. */
function settleLoneNames(opinions: Opinion[], profiles: readonly ColumnProfile[]): void {
  const names = ['givenName', 'familyName', 'fullName'];
  const found = opinions.flatMap(({ target }, i) => (target !== null && names.includes(target) ? [i] : []));
  const [only = -1] = found;
  const p = profiles[only];
  if (found.length !== 1 || !p) return;
  const { target, certainty01 } = opinions[only] ?? NONE;
  const isWhole = target === 'givenName' ? p.wholeName01 >= LONE_WHOLE01 : p.anyGivenName01 >= LONE_GIVEN01;
  if (target !== 'fullName' && isWhole)
    opinions[only] = { target: 'fullName', certainty01: Math.min(certainty01, 0.85) };
}

/** Where no heading says who somebody is, what they are called stands in for it, or the column that looks like names. */
function settleNames(
  readings: readonly HeaderReading[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): void {
  const has = (...targets: string[]) => opinions.some(({ target }) => target !== null && targets.includes(target));
  settleLoneNames(opinions, profiles);
  if (has('fullName', 'givenName')) return;
  const called = opinions.findIndex(({ target }) => target === 'nickname');
  if (called >= 0 && has('familyName')) opinions[called] = { target: 'givenName', certainty01: 0.75 };
  if (has('familyName')) return;
  // Of somebody who looks after people, few stand there again and again; after firms it may be another each time.
  const owner = opinions.findIndex(({ target }) => target === 'owner');
  const ofOwner = profiles[owner];
  if (ofOwner && !has('organization') && ofOwner.filled > 2 && ofOwner.distinct >= 0.8 * ofOwner.filled)
    opinions[owner] = { target: 'fullName', certainty01: 0.6 };
  if (has('fullName')) return;
  const isFree = (i: number) => !opinions[i]?.target && !readings[i]?.ofOthers && !readings[i]?.isAbout;
  const whole = wholeNamesAmong(profiles, isFree);
  if (whole >= 0) opinions[whole] = { target: 'fullName', certainty01: 0.6 };
}

const ZIP = /^\d{5}(?:-\d{4})?$/;

/**
 * The order of dates that can be read both ways: that of the file's other dates, or the American one where postal codes are
 * ZIP codes. What cannot be told is said to be so all the same.
 */
function settleDates(readings: readonly HeaderReading[], profiles: ColumnProfile[]): void {
  const clear = new Set(profiles.filter((p) => p.date01 > 0.5 && p.dateEvidence > 0).map((p) => p.dateOrder));
  const [only] = clear;
  const isAmerican = readings.some(({ isZip }, i) => isZip && profiles[i]?.values.every((code) => ZIP.test(code)));
  const order = clear.size === 1 ? only : isAmerican && clear.size === 0 ? 'monthFirst' : undefined;
  if (order !== 'dayFirst' && order !== 'monthFirst') return;
  for (const p of profiles) {
    // Points stand in no American date.
    const mayBe = clear.size > 0 || p.samples.some((sample) => sample.includes('/'));
    if (p.unclearDates && p.dateOrder !== 'serial' && mayBe) p.dateOrder = order;
  }
}

/** Headings of the place within a town where two of places stand side by side in one address. */
const WITHIN_TOWN =
  /^(?:locality|village|hamlet|district|suburb|neighbou?rhood|area|parish|ortsteil|stadtteil|lieu dit|quartier|barrio|colonia|frazione|bairro|wijk|dzielnica|cast obce|mistni cast)\b/;

/** "Locality, Town": the smaller place is a line of the street. */
function settleLocalities(headers: readonly (string | null)[], opinions: Opinion[]): void {
  opinions.forEach(({ target, certainty01 }, i) => {
    const isPair = target === 'locality' && opinions[i + 1]?.target === 'locality';
    if (isPair && WITHIN_TOWN.test(foldText(headers[i] ?? ''))) opinions[i] = { target: 'street', certainty01 };
  });
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

const NAMES: ReadonlySet<string | null> = new Set(['fullName', 'givenName', 'familyName']);

/**
 * Headings as those of the person: where no name is the person's own, those of the first of a family who has a mailbox are
 * taken, or of the first who has a name where the mailbox stands alone. In a list of children that is the parent, who can be
 * written to.
 */
function asOwn(headers: readonly (string | null)[]): (string | null)[] {
  const read = headers.map((header) => {
    const other = header ? ofFamily(header) : null;
    return { header, other, target: other ? readHeader(other.rest).target : readHeader(header ?? '').target };
  });
  if (read.some(({ other, target }) => !other && NAMES.has(target))) return [...headers];
  const first = (isIt: (target: string | null) => boolean) =>
    read.find(({ other, target }) => other && isIt(target))?.other?.who;
  const ofMailbox = read.some(({ other, target }) => !other && target === 'email')
    ? undefined
    : first((target) => target === 'email');
  const own = ofMailbox ?? first((target) => NAMES.has(target));
  return read.map(({ header, other }) => (own !== undefined && other?.who === own ? other.rest : header));
}

/** Share of rows in which a name holds the family name that stands beside it, from which on it is a whole one. */
const WHOLE_FROM01 = 0.3;

/** Whether a name holds a family name; where names are written without blanks it stands in front. */
function holdsName(name: string, family: string): boolean {
  if (/^\s*[\p{Script=Han}\p{Script=Hangul}]/u.test(family)) return name.trim().startsWith(family.trim());
  return foldText(name).includes(foldText(family));
}

/** The column of a "name" that is the given name, since the family name stands in a column of its own ("Name, Surname"). */
function givenBesideFamily(opinions: readonly Opinion[], rows: readonly (readonly string[])[]): number | null {
  if (opinions.some(({ target }) => target === 'givenName')) return null;
  const name = opinions.findIndex(({ target }) => target === 'fullName');
  const family = opinions.findIndex(({ target }) => target === 'familyName');
  if (name < 0 || family < 0) return null;
  const both = rows.filter((cells) => cells[name]?.trim() && cells[family]?.trim());
  const whole = both.filter((cells) => holdsName(cells[name] ?? '', cells[family] ?? ''));
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
  const readings = asOwn(headers).map((header) => readHeader(header ?? ''));
  const named = headers.some((header) => header);
  const opinions = named
    ? profiles.map((p, i): Opinion => {
        const reading = readings[i];
        if (reading?.ofOthers) return NONE;
        if (!headers[i]) return weighValues(p);
        const byHeader = reading?.target ? weighHeader(reading.target, reading.certainty01, p) : NONE;
        if (byHeader.target && byHeader.certainty01 >= 0.5)
          return byHeader.target !== 'email' && p.email01 >= 0.6 ? weighValues(p) : byHeader;
        // A heading that says something else of its own makes values alone less sure.
        const byValue = reading?.isAbout && p.email01 < 0.6 ? NONE : weighUnderHeading(p);
        return byValue.target ? byValue : byHeader;
      })
    : guessWithoutHeader(profiles);
  if (named) {
    settleOpportunities(headers, readings, opinions, profiles);
    settleStage(headers, opinions);
    settleNames(readings, opinions, profiles);
  }
  settleDates(readings, profiles);
  settleLocalities(headers, opinions);
  settleStates(headers, opinions, profiles);
  const second = familyPrefix(opinions) ?? secondOf('familyName', opinions) ?? secondOf('prefix', opinions);
  settleRepeats(opinions);
  const labelColumns = columnsOfLabels(readings, opinions);
  const labels = opinions.map(({ target }, i) => labelFor(target, readings[i]?.label ?? null));
  const whole = wholeAddresses(opinions, labels, profiles);
  joinAddress(opinions, labels, whole);
  const numbered = numberAddresses(opinions, labels, whole);
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
    return {
      index: i,
      header: headers[i] ?? null,
      field,
      label: labels[i] ?? null,
      ...(numbered.has(i) ? { nth: numbered.get(i) ?? 0 } : {}),
      ...(second !== null && second.first === i && field === second.field ? { joined: second.second } : {}),
      ...(labelColumns.has(i) ? { labelFrom: labelColumns.get(i) ?? 0 } : {}),
      type,
      certainty01: Math.round(opinion.certainty01 * 100) / 100,
      samples: p.samples,
      dateOrder: p.dateOrder,
      ...(field === 'fullName' ? orderOfNames(p, headers[i] ?? null) : {}),
      ...(field === 'fullName' && p.letterTitles ? { letterTitles: p.letterTitles } : {}),
      ...(p.unclearDates ? { unclearDates: p.unclearDates } : {}),
      decimal: p.decimal,
      ...(type === 'yesNo' && p.yesNoPair ? { yesNo: p.yesNoPair } : {}),
      ...(whole.has(i) ? { wholeAddress: true } : {}),
      ...(field === 'postalCode' ? zerosOf(i, opinions, labels, looked, readings[i]?.isZip ?? false) : {}),
      separator: field === 'tags' || field === 'email' ? (p.separator ?? (field === 'tags' ? ';' : null)) : null,
      choices: type === 'choice' ? p.values : [],
    };
  });
}

/** Whether a column of postal codes has lost zeros, by its country's column where it has one. */
function zerosOf(
  column: number,
  opinions: readonly Opinion[],
  labels: readonly (string | null)[],
  rows: readonly (readonly string[])[],
  isZip: boolean,
): { zeros?: LostZeros } {
  const cellsOf = (i: number) => rows.map((cells) => cells[i] ?? '');
  const country = opinions.findIndex(({ target }, i) => target === 'country' && labels[i] === labels[column]);
  const zeros = lostZeros(cellsOf(column), country < 0 ? null : cellsOf(country), isZip);
  return zeros ? { zeros } : {};
}

/** What the names show stands before what the heading says. */
function orderOfNames(p: ColumnProfile, header: string | null): { nameOrder?: NameOrder } {
  const said = header ? saysNameOrder(header) : null;
  const shown = shownOrder(p);
  // What the names cannot show is where given names end.
  const nameOrder = said === 'twoFamilies' && shown !== 'familyFirst' ? said : (shown ?? said);
  return nameOrder ? { nameOrder } : {};
}

const LABELLED: ReadonlySet<string> = new Set(['email', 'tel', 'url']);

/** The label of a column's values. No address is mobile or a fax, whatever the heading has in it. */
function labelFor(target: string | null, label: string | null): string | null {
  if (target === null) return null;
  if (isOfAddress(target)) return label === 'mobile' || label === 'fax' ? null : label;
  return LABELLED.has(target) ? label : null;
}

const DATE_WORD =
  /\b(?:date|dates|dated|day|datum|data|dato|fecha|dag|since|joined|seit|depuis|desde|dal|sinds|from|until|start|started|begin|end|ended|created|updated|modified|changed|opened|closed|received|paid|sent|arrived|left|last|first|kelt|tarih|tarihi|paiva)\b|(?:datum|dato|date)$|[日날]/;

/** Whether a heading names a day, so that numbers below it may be those of a spreadsheet. */
function saysDate(header: string): boolean {
  if (/[$€£¥%]/.test(header)) return false;
  return DATE_WORD.test(foldText(header)) || /[日날]/.test(header);
}

/** Columns whose labels stand in another column ("Phone 1 - Type"), each with that one: the nearest of one meaning and number. */
function columnsOfLabels(readings: readonly HeaderReading[], opinions: readonly Opinion[]): Map<number, number> {
  const found = new Map<number, number>();
  readings.forEach(({ kindOf, ordinal }, at) => {
    if (!kindOf) return;
    const fits = (i: number) => {
      const target = opinions[i]?.target;
      const same = target === kindOf || (kindOf === 'street' && !!target && isOfAddress(target));
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
