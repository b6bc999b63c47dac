import {
  isNobodysName,
  isOfSeveral,
  findCountry,
  foldText,
  foldWords,
  isFormulaLike,
  isLossyPhone,
  isPlaceholderDate,
  isPlaceholderName,
  isPlaceholderText,
  isZeroDate,
  mailboxesIn,
  nameBeside,
  phonesIn,
  LONG_TEXT_LIMIT,
  parseDate,
  meantEmail,
  parseEmail,
  parseMoney,
  parseNumber,
  parsePhone,
  parseRange,
  parseAddress,
  parseTownLine,
  parseUrl,
  parseYesNo,
  splitName,
  TEXT_LIMIT,
  tidyText,
  unguardText,
  type FieldType,
  type PhoneNumber,
} from '../../fields';
import { labelWord } from '../../formats';
import { KIND, type Issue, type IssuePath } from '../../model';
import type { CandidateValue } from '../../writing';
import type { ColumnMapping } from '../mapping';
import { isActivityTarget, readActivityCell } from './activity-cells';
import { isOpportunityTarget, readOpportunityCell, type OpportunityContext } from './opportunity-cells';
import { kindSaid } from '../columns/kind-words';
import { TOWN_LINE } from '../targets';
import { NAME_PARTS } from '../write-rules';

/** What cells are read against: pick-lists and the like. Looking up is by folded text. */
export interface ReadingContext {
  country: string;
  /** Country of the row's own address; phones are read in it first. */
  rowCountry?: string | undefined;
  stages: readonly string[];
  /** The stage that was once called so (folded). */
  formerStage?: (key: string) => string | undefined;
  /** The year it is; a birthday is not after it. */
  thisYear?: number;
  /** The kept writing of a known source or tag, or what was given when it is new; of an owner the account, by its name or e-mail. */
  settle: (kind: 'source' | 'tag' | 'owner', text: string) => string;
  /** Whether an owner is an account; without it every owner is. */
  isOwner?: (text: string) => boolean;
  /** What opportunities of the file are read against; without it every stage goes, in euros. */
  opportunities?: OpportunityContext;
}

/** What of a field decides how its cells are read. */
export interface ReadAs {
  type: FieldType;
  choices?: readonly string[];
  currency?: string;
}

/** What became of one cell: values by field key, and issues. */
export interface CellReading {
  values: [field: string, value: CandidateValue][];
  issues: Issue[];
  /** The name that stands beside a mailbox. */
  beside?: string;
}

/** What stands for a picture that was kept when its file came in. */
const PICTURE_HASH = /^[0-9a-f]{40}$/;
/** Where no pipelines are known, as in a look at a file alone. */
export const ANY_STAGE: OpportunityContext = { pipelines: null, currency: 'EUR' };
const EMPTY: CellReading = { values: [], issues: [] };
const ZEROS = /^[\s().-]*0[0\s().-]*$/;
const LABEL_WORD = /^\s*(\p{L}[\p{L}\p{M}]*)\s*[:.]\s*(?=[+(\d])/u;

function bad(issue: Issue): CellReading {
  return { values: [], issues: [issue] };
}

function readEmails(text: string, column: ColumnMapping, path: IssuePath): CellReading {
  const values: [string, CandidateValue][] = [];
  const issues: Issue[] = [];
  const seen: string[] = [];
  let beside: string | null = null;
  for (const plain of mailboxesIn(text)) {
    if (isPlaceholderText(plain)) continue;
    const parsed = parseEmail(plain);
    if (!parsed.ok) {
      const meant = meantEmail(plain)?.norm;
      issues.push({ code: 'invalidEmail', value: plain, why: parsed.error, ...(meant ? { meant } : {}), path });
      continue;
    }
    if (seen.includes(parsed.value.key)) continue;
    seen.push(parsed.value.key);
    const value: CandidateValue = { v: parsed.value.norm };
    if (parsed.value.key !== parsed.value.norm) value.norm = parsed.value.key;
    if (column.label) value.label = column.label;
    values.push(['email', value]);
    const name = nameBeside(plain);
    if (name && beside && foldText(name) !== foldText(beside)) return bad({ code: 'twoPeople', value: text, path });
    beside ??= name;
  }
  return beside ? { values, issues, beside } : { values, issues };
}

/** A number as one of the row's own country, where it can be one; else of the file's. */
function readPhone(text: string, { country, rowCountry }: ReadingContext): PhoneNumber {
  const own = rowCountry && rowCountry !== country ? parsePhone(text, rowCountry) : null;
  return own?.valid ? own : parsePhone(text, country);
}

function readPhones(text: string, column: ColumnMapping, context: ReadingContext, path: IssuePath): CellReading {
  const values: [string, CandidateValue][] = [];
  const issues: Issue[] = [];
  for (const part of phonesIn(text)) {
    const plain = tidyText(part);
    if (!plain || isPlaceholderText(plain) || ZEROS.test(plain)) continue;
    if (isLossyPhone(plain)) {
      issues.push({ code: 'lossyPhone', value: plain, path });
      continue;
    }
    const parsed = readPhone(plain, context);
    if (!parsed.valid) issues.push({ code: 'invalidPhone', value: plain, path });
    const value: CandidateValue = { v: plain };
    if (parsed.norm) value.norm = parsed.norm;
    const inCell = LABEL_WORD.exec(plain)?.[1];
    const label = (inCell && labelWord(inCell)) || column.label;
    if (label) value.label = label;
    values.push(['tel', value]);
  }
  return { values, issues };
}

/** Days that have been. */
const PAST = new Set(['bday', 'anniversary']);

function readDate(
  text: string,
  field: string,
  column: ColumnMapping,
  thisYear: number | undefined,
  path: IssuePath,
): CellReading {
  if (isZeroDate(text)) return bad({ code: 'placeholderValue', value: text, path });
  const latest = PAST.has(field) ? thisYear : undefined;
  const parsed = parseDate(text, column.dateOrder, latest);
  if (parsed.ok && latest !== undefined && Number(parsed.value.slice(0, 4)) > latest)
    return bad({ code: 'invalidDate', value: text, why: 'notYet', path });
  if (!parsed.ok) return bad({ code: 'invalidDate', value: text, why: parsed.error, path });
  if (isPlaceholderDate(parsed.value)) return bad({ code: 'placeholderValue', value: text, path });
  return { values: [[field, { v: parsed.value }]], issues: [] };
}

function readFullName(text: string, { nameOrder, letterTitles }: ColumnMapping, path: IssuePath): CellReading {
  if (isPlaceholderName(text) || isNobodysName(text)) return bad({ code: 'placeholderValue', value: text, path });
  const { name, certainty01, fault } = splitName(text, nameOrder, letterTitles);
  if (fault === 'twoPeople') return bad({ code: 'twoPeople', value: text, path });
  if (fault === 'notAPerson') return bad({ code: 'notAPerson', value: text, path });
  const values: [string, CandidateValue][] = [];
  for (const field of NAME_PARTS) if (name[field]) values.push([field, { v: name[field] }]);
  values.push(['fullName', { v: tidyText(text) }]);
  const issues: Issue[] = certainty01 < 0.7 ? [{ code: 'uncertainName', value: text, path }] : [];
  return { values, issues };
}

function readPicks(
  text: string,
  separator: string | null,
  path: IssuePath,
  field: string,
  context: ReadingContext,
): CellReading {
  const parts = field === 'tags' ? text.split(separator ?? /[;|]|:{2,}/) : [text];
  const seen = new Map<string, string>();
  const issues: Issue[] = [];
  for (const part of parts) {
    const plain = tidyText(part);
    const key = foldText(plain);
    if (!plain || !key || seen.has(key)) continue;
    if (plain.length > 80) issues.push({ code: 'valueTooLong', length: plain.length, limit: 80, path });
    else seen.set(key, context.settle(field === 'tags' ? 'tag' : 'source', plain));
  }
  const kept = [...seen.values()];
  return { values: kept.map((v): [string, CandidateValue] => [field, { v }]), issues };
}

function readStage(text: string, context: ReadingContext, path: IssuePath): CellReading {
  const key = foldText(text);
  const stage = context.stages.find((known) => foldText(known) === key) ?? context.formerStage?.(key);
  if (!stage) return bad({ code: 'unknownStage', value: text, stages: [...context.stages], path });
  return { values: [['stage', { v: stage }]], issues: [] };
}

const NAME_FIELDS = new Set([
  'givenName',
  'familyName',
  'additionalNames',
  'prefix',
  'suffix',
  'nickname',
  'organization',
  'title',
  'department',
  'gender',
  'language',
]);

/** What a spreadsheet or a database writes where it has nothing, and nobody else does. */
const NO_VALUE = /^(?:#(?:n\/a|null!|ref!|value!|name\?|div\/0!|num!)|\(?null\)?)$/i;

function readText(text: string, field: string, type: FieldType, path: IssuePath): CellReading {
  const long = type === 'longText';
  const limit = long ? LONG_TEXT_LIMIT : TEXT_LIMIT;
  const plain = long ? text.replace(/\r\n?/g, '\n').trim() : tidyText(text);
  if (plain.length > limit) return bad({ code: 'valueTooLong', length: plain.length, limit, path });
  const isName = field === 'givenName' || field === 'additionalNames' || field === 'familyName';
  const isNone = NAME_FIELDS.has(field) && (isName ? isPlaceholderName(plain) : isPlaceholderText(plain));
  if ((isNone && (plain.length > 1 || !/\p{L}/u.test(plain))) || (!NAME_FIELDS.has(field) && NO_VALUE.test(plain)))
    return bad({ code: 'placeholderValue', value: plain, path });
  // "Guest" is a family name as well, and no given one.
  if (isName && isNobodysName(plain) && !(field === 'familyName' && /^(?:guest|gast)$/i.test(plain)))
    return bad({ code: 'placeholderValue', value: plain, path });
  if ((field === 'givenName' || field === 'familyName' || field === 'prefix') && isOfSeveral(field, plain))
    return bad({ code: 'twoPeople', value: plain, path });
  const issues: Issue[] = isFormulaLike(plain) ? [{ code: 'formulaLike', value: plain, path }] : [];
  return { values: [[field, { v: plain }]], issues };
}

function labelled(reading: CellReading, column: ColumnMapping): CellReading {
  if (column.label) for (const [, value] of reading.values) value.label = column.label;
  return reading;
}

function readChoices(text: string, field: string, choices: readonly string[], path: IssuePath): CellReading {
  const found: string[] = [];
  // Where semicolons part known choices, a comma is part of one.
  const known = (part: string) => choices.some((choice) => foldText(choice) === foldText(part));
  const bySemicolon = text
    .split(/[;\n]+/)
    .map(tidyText)
    .filter(Boolean);
  const parts = bySemicolon.every(known)
    ? bySemicolon
    : text
        .split(/[;,|\n]+/)
        .map(tidyText)
        .filter(Boolean);
  for (const part of parts) {
    const choice = choices.find((known) => foldText(known) === foldText(part));
    if (!choice) return bad({ code: 'unknownChoice', value: part, choices: [...choices], path });
    if (!found.includes(choice)) found.push(choice);
  }
  return { values: found.length ? [[field, { v: found }]] : [], issues: [] };
}

/** Yes where a cell says what its heading does ("paid" below "Paid deposit"), no where it says that it is not so. */
function yesByHeading(text: string, header: string | null): boolean | null {
  const asked = new Set(foldWords(header ?? ''));
  const said = foldText(text);
  if (asked.has(said)) return true;
  const denied = /^(?:(?:not|no|nicht|kein|keine|non|pas|un|in) ?)(.+)$/.exec(said)?.[1];
  return denied && asked.has(denied) ? false : null;
}

/** Types whose values no placeholder could be. */
const STRICT_TYPES: ReadonlySet<FieldType> = new Set(['partialDate', 'date', 'money', 'range', 'number', 'yesNo']);

function readTyped(
  text: string,
  field: string,
  as: ReadAs,
  column: ColumnMapping,
  { thisYear }: ReadingContext,
  path: IssuePath,
): CellReading {
  const { type, choices = [] } = as;
  if (STRICT_TYPES.has(type) && isPlaceholderText(text) && (type !== 'yesNo' || parseYesNo(text) === null))
    return bad({ code: 'placeholderValue', value: text, path });
  const read = (v: CandidateValue['v']): CellReading => ({ values: [[field, { v }]], issues: [] });
  switch (type) {
    case 'partialDate':
      return labelled(readDate(text, field, column, thisYear, path), column);
    case 'date': {
      const reading = readDate(text, field, column, thisYear, path);
      const iso = reading.values[0]?.[1].v;
      return typeof iso === 'string' && iso.startsWith('--')
        ? bad({ code: 'dateWithoutYear', value: text, path })
        : reading;
    }
    case 'money': {
      const money = parseMoney(text, column.decimal, as.currency ?? 'EUR');
      return money ? read(money) : bad({ code: 'invalidNumber', value: text, path });
    }
    case 'range': {
      const range = parseRange(text, column.decimal);
      return range ? read(range) : bad({ code: 'invalidRange', value: text, path });
    }
    case 'relation': {
      const [, relation = 'contact', name = text] = /^([^:]{1,60}):\s*(.+)$/s.exec(text) ?? [];
      return read({ relation: tidyText(relation), to: null, name: tidyText(name).slice(0, 200) });
    }
    case 'picture':
      return PICTURE_HASH.test(text) ? read(text) : bad({ code: 'noPicture', path });
    case 'choices':
      return readChoices(text, field, choices, path);
    case 'number': {
      const number = parseNumber(text, column.decimal);
      if (number === null) return bad({ code: 'invalidNumber', value: text, path });
      return { values: [[field, { v: number }]], issues: [] };
    }
    case 'yesNo': {
      const yes = parseYesNo(text) ?? yesByHeading(text, column.header);
      if (yes === null) return bad({ code: 'invalidYesNo', value: text, path });
      return { values: [[field, { v: yes }]], issues: [] };
    }
    case 'choice': {
      const choice = choices.find((known) => foldText(known) === foldText(text));
      if (!choice) return bad({ code: 'unknownChoice', value: text, choices: [...choices], path });
      return { values: [[field, { v: choice }]], issues: [] };
    }
    default:
      return readText(text, field, type, path);
  }
}

/**
 * Reads one cell as its column's mapping says: values by field key, and issues.
 * `as` is how its target field is read. An empty cell says nothing. Never throws on bad text.
 */
export function readCell(
  raw: string,
  column: ColumnMapping,
  as: ReadAs,
  context: ReadingContext,
  path: IssuePath,
): CellReading {
  const target = column.target;
  if (!target) return EMPTY;
  const trimmed = unguardText(raw.includes('\0') ? raw.replace(/\0/g, '') : raw).trim();
  if (trimmed === '') return EMPTY;
  if (isActivityTarget(target)) {
    const { currency } = context.opportunities ?? ANY_STAGE;
    return readActivityCell({ target, text: raw, column, path }, { kind: 'purchase', currency });
  }
  if (isOpportunityTarget(target)) {
    return readOpportunityCell({ target, text: trimmed, column, path }, context.opportunities ?? ANY_STAGE);
  }
  switch (target) {
    case 'email':
      return readEmails(trimmed, column, path);
    case 'tel':
      return readPhones(trimmed, column, context, path);
    case 'fullName':
      return readFullName(trimmed, column, path);
    case 'tags':
    case 'source':
      return readPicks(trimmed, column.separator, path, target, context);
    case 'stage':
      return readStage(trimmed, context, path);
    case 'url': {
      const url = parseUrl(trimmed);
      return {
        values: [['url', { v: url ?? trimmed, ...(column.label ? { label: column.label } : {}) }]],
        issues: url ? [] : [{ code: 'invalidUrl', value: trimmed, path }],
      };
    }
    case 'externalId':
      return { values: [['externalId', { v: tidyText(trimmed) }]], issues: [] };
    case 'country': {
      const code = findCountry(trimmed);
      return {
        values: [['country', { v: code ?? tidyText(trimmed) }]],
        issues: code ? [] : [{ code: 'unknownCountry', value: trimmed, path }],
      };
    }
    case TOWN_LINE:
      return {
        values: Object.entries(parseTownLine(trimmed)).map(([part, v]: [string, string]) => [part, { v }]),
        issues: [],
      };
    case 'street': {
      if (column.wholeAddress)
        return { values: Object.entries(parseAddress(trimmed)).map(([part, v]) => [part, { v }]), issues: [] };
      const lines = /[\r\n]/.test(trimmed)
        ? trimmed
            .split(/[\r\n]+/)
            .map(tidyText)
            .filter(Boolean)
            .join('\n')
        : null;
      return { values: [['street', { v: lines ?? tidyText(trimmed) }]], issues: [] };
    }
    case KIND:
      return kindSaid(trimmed) === 'organization' ? { values: [[KIND, { v: 'organization' }]], issues: [] } : EMPTY;
    case 'locality':
    case 'region':
    case 'postalCode':
      return { values: [[target, { v: tidyText(trimmed) }]], issues: [] };
    case 'owner': {
      const { values, issues } = readTyped(trimmed, target, as, column, context, path);
      const settled = (value: CandidateValue): CandidateValue =>
        typeof value.v === 'string' ? { ...value, v: context.settle('owner', value.v) } : value;
      const strangers = values.flatMap(([, { v }]): Issue[] =>
        typeof v === 'string' && context.isOwner?.(v) === false ? [{ code: 'unknownOwner', value: v, path }] : [],
      );
      return { values: values.map(([field, value]) => [field, settled(value)]), issues: [...issues, ...strangers] };
    }
    default:
      return readTyped(trimmed, target, as, column, context, path);
  }
}
