import { wordTable } from '../../model';
import { foldText, type DateOrder, type DecimalMark, type FieldType, type NameOrder } from '../../fields';
import { readHeader, saysNameOrder, type HeaderReading } from '../../formats';
import { joinAddress, numberAddresses, settleStates, wholeAddresses } from './address-columns';
import {
  guessWithoutHeader,
  shownOrder,
  NONE,
  weighHeader,
  weighUnderHeading,
  weighValues,
  type Opinion,
} from './column-opinion';
import { profileColumn, typeOfValues, type ColumnProfile } from './column-values';
import { settleActivities } from './activity-columns';
import { settleOpportunities } from './opportunity-columns';
import { settleKind } from './kind-words';
import { settlePermissions } from './permission-columns';
import { asOwn, byRole, familyPrefix, givenBesideFamily, ofSecondPeople, secondOf, settleNames } from './settle-names';
import { lostZeros, type LostZeros } from './lost-zeros';
import { isOfAddress } from '../targets';

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
  /** What it means beside its field: a permission for several channels. */
  also?: string[];
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
  /** Whether names stand in it all in capitals. */
  inCapitals?: true;
  /** A cell whose letters came in broken. */
  brokenLetters?: string;
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
  'department',
  'gender',
  'language',
  'source',
  'stage',
  'owner',
  'tz',
  'nickname',
]);
const TYPE_OF = wordTable<FieldType>({
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
  activityDate: 'date',
  activityAmount: 'number',
  activityQuantity: 'number',
});

/** English words of headings; where no other heading has one, the file is not in English. */
const ENGLISH = new RegExp(
  String.raw`\b(?:name|names|first|last|forename|surname|phone|address|city|town|company|organi[sz]ations?` +
    String.raw`|country|birth|birthday|postcode|zip|street|state|owner|comments)\b`,
);

/** The name that a mail program shows with a mailbox, which is no mailbox and may be anything. */
const SHOWN_NAME =
  /(?:^| )(?:e ?)?mail\b.*\b(?:display ?name|displayname|shown name|anzeigename|nom (?:affiche|complet)|weergavenaam|nombre para mostrar|nome visualizzato)$/;
const isShownName = (header: string) => SHOWN_NAME.test(foldText(header.replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')));

/** A "stage" is of a relationship in English; in other languages it is a course or a time of practice. */
function settleStage(headers: readonly (string | null)[], opinions: Opinion[]): void {
  const words = headers.map((header) => foldText((header ?? '').replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')));
  opinions.forEach(({ target }, i) => {
    if (target !== 'stage' || words[i] !== 'stage') return;
    const others = words.filter((_, k) => k !== i && opinions[k]?.target);
    if (others.length > 1 && !others.some((text) => ENGLISH.test(text))) opinions[i] = NONE;
  });
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
const WITHIN_TOWN = new RegExp(
  String.raw`^(?:locality|village|hamlet|district|suburb|neighbou?rhood|area|parish|ortsteil|stadtteil|lieu dit` +
    String.raw`|quartier|barrio|colonia|frazione|bairro|wijk|dzielnica|cast obce|mistni cast)\b`,
);

/** "Locality, Town": the smaller place is a line of the street. */
function settleLocalities(headers: readonly (string | null)[], opinions: Opinion[]): void {
  opinions.forEach(({ target, certainty01 }, i) => {
    const isPair = target === 'locality' && opinions[i + 1]?.target === 'locality';
    if (isPair && WITHIN_TOWN.test(foldText(headers[i] ?? ''))) opinions[i] = { target: 'street', certainty01 };
  });
}

/** Rows in which one line stands again and again, from which on it is nobody's own beside a column of others. */
const COMMON_FROM = 2;

/** A mailbox or phone that is the same in every row, beside a column in which it is not, is no one's of the rows ("To address"). */
function settleCommon(opinions: Opinion[], profiles: readonly ColumnProfile[]): void {
  for (const field of ['email', 'tel']) {
    const columns = opinions.flatMap(({ target }, i) => (target === field ? [i] : []));
    const isCommon = (i: number) => profiles[i]?.distinct === 1 && (profiles[i]?.filled ?? 0) >= COMMON_FROM;
    if (columns.some((i) => (profiles[i]?.distinct ?? 0) > 1))
      for (const i of columns) if (isCommon(i)) opinions[i] = NONE;
  }
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
  const readings = byRole(asOwn(headers)).map((header, i) =>
    (header === null && headers[i]) || isShownName(headers[i] ?? '')
      ? { ...readHeader(''), ofOthers: true }
      : readHeader(header ?? ''),
  );
  const isOfSecond = ofSecondPeople(readings, profiles);
  const named = headers.some((header) => header);
  const opinions = named
    ? profiles.map((p, i): Opinion => {
        const reading = readings[i];
        if (reading?.ofOthers || isOfSecond(i)) return NONE;
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
    settleActivities(headers, opinions, profiles);
    settleStage(headers, opinions);
    settleNames(readings, opinions, profiles);
  }
  settleDates(readings, profiles);
  const besides = settlePermissions(headers, looked, opinions, profiles);
  settleKind(headers, looked, opinions, profiles);
  settleCommon(opinions, profiles);
  settleLocalities(headers, opinions);
  settleStates(headers, opinions, profiles);
  const second = familyPrefix(opinions) ?? secondOf('familyName', opinions) ?? secondOf('prefix', opinions);
  settleRepeats(opinions);
  const labelColumns = columnsOfLabels(readings, opinions, profiles);
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
      ...(besides.has(i) ? { also: besides.get(i) ?? [] } : {}),
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
      ...(field !== null && IN_CAPITALS.has(field) && p.capitals01 >= IN_CAPITALS01 ? { inCapitals: true } : {}),
      ...(p.brokenLetters === null ? {} : { brokenLetters: p.brokenLetters }),
      separator: field === 'tags' || field === 'email' ? (p.separator ?? (field === 'tags' ? ';' : null)) : null,
      choices: type === 'choice' ? p.values : [],
    };
  });
}

/** Meanings that are names, and the share of capitals from which on a column is written in them. */
const IN_CAPITALS: ReadonlySet<string> = new Set(
  'fullName givenName additionalNames familyName organization street locality'.split(' '),
);
const IN_CAPITALS01 = 0.8;

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

const DATE_WORD = new RegExp(
  String.raw`\b(?:date|dates|dated|day|datum|data|dato|fecha|dag|since|joined|seit|depuis|desde|dal|sinds|from` +
    String.raw`|until|start|started|begin|end|ended|created|updated|modified|changed|opened|closed|received|paid` +
    String.raw`|sent|arrived|left|last|first|kelt|tarih|tarihi|paiva)\b|(?:datum|dato|date)$|[日날]`,
);

/** Whether a heading names a day, so that numbers below it may be those of a spreadsheet. */
function saysDate(header: string): boolean {
  if (/[$€£¥%]/.test(header)) return false;
  return DATE_WORD.test(foldText(header)) || /[日날]/.test(header);
}

/** Columns whose labels stand in another column ("Phone 1 - Type"), each with that one: the nearest of one meaning and number. */
/** How a mail program reaches an address, which tells nothing of whose or where it is. */
const TECHNICAL_TYPE = /^(?:smtp|ex|x400|x500|mailto|internet|internet e-?mail|http|unknown|default|0|1)$/i;

function columnsOfLabels(
  readings: readonly HeaderReading[],
  opinions: readonly Opinion[],
  profiles: readonly ColumnProfile[],
): Map<number, number> {
  const found = new Map<number, number>();
  readings.forEach(({ kindOf, ordinal }, at) => {
    const { values = [] } = profiles[at] ?? {};
    if (!kindOf || (values.length > 0 && values.every((value) => TECHNICAL_TYPE.test(value)))) return;
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
