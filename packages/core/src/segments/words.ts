import { wordTable } from '../model';
import { showValue } from '../fields';
import {
  isBlank,
  isGroup,
  SUBJECTS,
  type ActivitySpan,
  type Condition,
  type DayBound,
  type DaySpan,
  type Group,
  type NumberSpan,
  type SubjectKey,
  type Test,
  type TestValue,
} from './tree';

/** How what a condition refers to by key or number is called. */
export interface Names {
  field(key: string): string;
  /** A value of a field; of a run, thread, connection or segment its name. */
  value(field: string, value: string): string;
}

const PARTS = wordTable({
  street: 'street',
  locality: 'town',
  region: 'region',
  postalCode: 'postal code',
  country: 'country',
});
const MONTHS = 'January February March April May June July August September October November December'.split(' ');
const CHANNELS = wordTable({
  email: 'e-mail',
  text: 'texts',
  call: 'calls',
  voicemail: 'voicemail',
  post: 'post',
});
const STATES = wordTable({
  allowed: 'allowed',
  optedOut: 'stopped',
  unknown: 'not known',
  linked: 'in step',
  asking: 'asked about',
  apart: 'apart',
});

const lower = (name: string) => (/^[A-Z][a-z-]/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name);
const listed = (words: string[], last: string) =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} ${last} ${words[words.length - 1]}`;
const number = (n: number) => n.toLocaleString('en-GB', { maximumFractionDigits: 6 });

/** What a field or subject is called within a sentence. */
export function nameOfField(field: string, names: Pick<Names, 'field'>): string {
  if (Object.hasOwn(SUBJECTS, field)) return SUBJECTS[field as SubjectKey];
  if (field.startsWith('adr.')) return PARTS[field.slice(4)] ?? field;
  return lower(names.field(field));
}

function count(n: number, unit: string): string {
  return `${number(n)} ${unit}${n === 1 ? '' : 's'}`;
}

/** A day in words: "14 Jul 1971", "today", "6 months ago", "in 3 days". */
export function sayDay(bound: DayBound): string {
  if (typeof bound === 'string') return showValue('', { v: bound });
  const { n, unit } = bound;
  if (n === 0) return 'today';
  return n < 0 ? `${count(-n, unit)} ago` : `in ${count(n, unit)}`;
}

/** "year", "3 years": what stands behind "in the last". */
const stretch = (n: number, unit: string) => (n === 1 ? unit : count(n, unit));

function saySpan({ from, to }: DaySpan): string {
  if (from && to) {
    if (JSON.stringify(from) === JSON.stringify(to)) return `on ${sayDay(from)}`;
    if (typeof from === 'object' && typeof to === 'object') {
      if (to.n === 0 && from.n < 0) return `in the last ${stretch(-from.n, from.unit)}`;
      if (from.n === 0 && to.n > 0) return `in the next ${stretch(to.n, to.unit)}`;
    }
    return `from ${sayDay(from)} to ${sayDay(to)}`;
  }
  return from ? `${sayDay(from)} or later` : `${sayDay(to ?? '')} or earlier`;
}

function sayNumbers({ from, to }: NumberSpan): string {
  const has = (end: number | null | undefined): end is number => end !== undefined && end !== null;
  if (has(from) && has(to)) return from === to ? number(from) : `${number(from)} to ${number(to)}`;
  return has(from) ? `${number(from)} or more` : `${number(to ?? 0)} or less`;
}

const asks = (value: TestValue | undefined) => (isBlank(value) ? `what is asked on opening, “${value.ask}”` : null);

function sayValue({ field, op, value }: Test, names: Names): string {
  const asked = asks(value);
  if (asked) return asked;
  switch (op) {
    case 'is':
      return listed(
        (value as string[]).map((one) =>
          field === '@permission' || field === '@sync' || field === '@duplicate'
            ? (STATES[one] ?? one)
            : names.value(field, one),
        ),
        'or',
      );
    case 'contains':
    case 'begins':
      return `“${value as string}”`;
    case 'number':
    case 'overlaps':
      return sayNumbers(value as NumberSpan);
    case 'holds':
      return number(value as number);
    case 'span':
      return saySpan(value as DaySpan);
    case 'year':
      return `in ${String(value as number)}`;
    case 'month':
      return `in ${MONTHS[(value as number) - 1]}`;
    case 'day':
      return value === 'today' ? 'today, whatever the year' : `on ${showValue('', { v: `--${value as string}` })}`;
    case 'comes':
      return `in the next ${count(value as number, 'day')}, whatever the year`;
    default:
      return '';
  }
}

const manyOf = (kind: string) => (kind.endsWith('y') ? `${kind.slice(0, -1)}ies` : `${kind}s`);

/** What of activities is asked for: "3 or more gifts or purchases about “rigging” since 1 May 2026". */
function sayActivity(asked: ActivitySpan, isNot: boolean): string {
  const { kinds, what, since, until, times, sum, currency, outcomes, ofLast } = asked;
  const ways = outcomes?.length ? listed(outcomes, 'or') : '';
  if (ofLast !== undefined) {
    const many = times ? sayNumbers(times) : '1 or more';
    return `${many} of the last ${number(ofLast)} mailings${what ? ` about “${what}”` : ''} ${isNot ? 'not ' : ''}${ways}`;
  }
  const isPlain = !times || (times.from === 1 && (times.to === undefined || times.to === null));
  const what1 = kinds?.length
    ? listed(
        kinds.map((kind) => (isPlain ? kind : manyOf(kind))),
        'or',
      )
    : 'activity';
  const article = /^[aeiou]/.test(what1) ? 'an' : 'a';
  const counted = isPlain ? `${article} ${what1}` : `${sayNumbers(times)} ${kinds?.length ? what1 : 'activities'}`;
  const when =
    since && until
      ? saySpan({ from: since, to: until })
      : typeof since === 'object' && since.n < 0
        ? saySpan({ from: since, to: { n: 0, unit: 'day' } })
        : [since ? `since ${sayDay(since)}` : '', until ? `until ${sayDay(until)}` : ''].join('');
  return [
    isNot ? 'does not have' : 'has',
    counted,
    ways ? `with the outcome ${ways}` : '',
    what ? `about “${what}”` : '',
    when,
    sum ? `that come to ${sayNumbers(sum)}` : '',
    currency ? `in ${currency}` : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/** The verb between a field and its value. */
function verbOf({ field, op, not, value }: Test): string {
  switch (op) {
    case 'present':
      return not ? 'is missing' : 'is there';
    case 'missing':
      return not ? 'is there' : 'is missing';
    case 'yes':
      return not ? 'is not yes' : 'is yes';
    case 'no':
      return not ? 'is not no' : 'is no';
    case 'contains':
    case 'holds':
      return not ? 'does not contain' : 'contains';
    case 'begins':
      return not ? 'does not begin with' : 'begins with';
    case 'overlaps':
      return not ? 'does not overlap' : 'overlaps';
    case 'is':
      return not ? 'is not' : 'is';
    case 'number':
      return not ? 'is not' : 'is';
    default:
      if (field === '@created' || field === '@changed') return not ? 'not' : '';
      if (isBlank(value)) return not ? 'is not' : 'is';
      return not ? 'is not' : 'is';
  }
}

/** One test in words: "tag is not press", "birthday is in July". */
export function sayTest(test: Test, names: Names): string {
  const { field, label, op, value, not } = test;
  if (field === '@segment') return `${not ? 'not in' : 'in'} ${sayValue(test, names)}`;
  if (field === '@activity' && !isBlank(value)) return sayActivity(value as ActivitySpan, not === true);
  if (field === '@touch' && (op === 'present' || op === 'missing'))
    return (op === 'missing') !== (not === true) ? 'nobody was ever in touch' : 'somebody was in touch';
  if (field === '@touchBy') return `last touch ${not ? 'not ' : ''}by ${sayValue(test, names)}`;
  if (field === '@overdue' && (op === 'present' || op === 'missing'))
    return (op === 'missing') !== (not === true) ? 'has no rhythm' : 'has a rhythm of keeping in touch';
  if (field === '@find') return `${not ? 'does not match' : 'matches'} ${sayValue(test, names)}`;
  if (field === '@id') {
    const n = (value as string[]).length;
    return `${not ? 'not ' : ''}${n === 1 ? 'this one' : `these ${number(n)}`}`;
  }
  if (field === '@run') return `${not ? 'not touched by' : 'touched by'} ${sayValue(test, names)}`;
  if (field === '@thread') return `${not ? 'nothing' : 'something'} came from ${sayValue(test, names)}`;
  if (field === '@duplicate' && op !== 'is')
    return (op === 'missing') !== (not === true) ? 'no likely duplicate' : 'has a likely duplicate';
  if (field === '@sync') {
    const name = names.value('@sync', label ?? '');
    if (op === 'is') return `${verbOf(test)} ${sayValue(test, names)} with ${name}`;
    return (op === 'missing') !== (not === true) ? `not in ${name}` : `in ${name}`;
  }
  const about =
    field === '@permission'
      ? `${CHANNELS[label ?? ''] ?? label}`
      : field === 'related' && label
        ? label
        : `${nameOfField(field, names)}${label ? ` (${label})` : ''}`;
  return [about, verbOf(test), op === 'present' || op === 'missing' || value === undefined ? '' : sayValue(test, names)]
    .filter(Boolean)
    .join(' ');
}

function sayGroup({ join, of }: Group, names: Names, isInner: boolean): string {
  const parts = of.map((one) => sayWithin(one, names, true));
  if (!parts.length) return join === 'none' ? 'nobody is left out' : 'everybody';
  if (join === 'none') return `none of (${listed(parts, 'or')})`;
  const words = listed(parts, join === 'all' ? 'and' : 'or');
  return isInner && parts.length > 1 ? `(${words})` : words;
}

const sayWithin = (condition: Condition, names: Names, isInner: boolean): string =>
  isGroup(condition) ? sayGroup(condition, names, isInner) : sayTest(condition, names);

/** A condition as one sentence: "tag is regatta and e-mail is missing". */
export const sayCondition = (condition: Condition, names: Names): string => sayWithin(condition, names, false);
