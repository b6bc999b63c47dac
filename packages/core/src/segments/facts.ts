import { foldText } from '../fields';
import {
  ALSO_PREFIX,
  isAddress,
  isMoney,
  isRange,
  isRelation,
  valuesOf,
  type ContactRecord,
  type Value,
  type ValueContent,
} from '../model';

/**
 * What of a contact conditions look at, by key: a text in its match form, or a number. Every field has one key; an address one for each
 * part, a number `FIELD#`, a range `FIELD<` and `FIELD>`. A field that may have several values holds them in one text:
 * `^home|ana@example.org^work|ana@example.net^` where they have labels, `^press^regatta^` where they have none.
 */
export type Facts = Record<string, string | number>;

type Said = Pick<Value, 'v' | 'norm' | 'label'>;

/** Fields whose values have labels. Of a relationship the label is what the other is. */
export const LABELLED: ReadonlySet<string> = new Set(['email', 'tel', 'url', 'adr', 'related', 'otherDate']);
const LISTED: ReadonlySet<string> = new Set(['tags', 'externalId']);
/** Their values are known by their exact spelling, so that a rename reaches them. */
const PICKED: ReadonlySet<string> = new Set(['stage', 'source', 'owner']);
/** Values of no field that somebody asks for. */
const SKIPPED: ReadonlySet<string> = new Set(['lifecycle', 'kind']);

export const ADDRESS_PARTS = ['street', 'locality', 'region', 'postalCode', 'country'] as const;

/** An open end of a range. */
const OPEN = 1e300;
const DATE = /^(?:\d{4}|-)-\d{2}-\d{2}$/;
const MARKS = /[|^]/g;

/** A text as it is compared: folded; mailboxes, links and dates as they are; phones as digits with their code. */
export function factText(field: string, text: string): string {
  if (PICKED.has(field)) return text.replace(MARKS, ' ');
  if (field === 'tags' || field === 'email' || field === 'url' || field === 'externalId' || field === 'webDomain')
    return text.trim().toLowerCase().replace(MARKS, ' ');
  if (field === 'tel') return text.replace(/[^\d+]/g, '') || text.toLowerCase().replace(MARKS, ' ');
  if (DATE.test(text)) return text;
  return foldText(text) || text.trim().toLowerCase().replace(MARKS, ' ');
}

/** A label as it is compared. */
export const factLabel = (label: string): string => foldText(label);

type Put = (key: string, value: string | number) => void;

function textOfValue(field: string, { v, norm }: Said): string {
  if (field === 'photo') return '1';
  // An extension stays apart from the number itself.
  if (field === 'tel') return factText(field, (norm ?? String(v)).replace(/;.*$/, ''));
  return factText(field, String(v));
}

function putLabelled(put: Put, key: string, said: readonly (readonly [label: string, text: string])[]): void {
  const texts = said.filter(([, text]) => text !== '');
  if (texts.length) put(key, `^${texts.map(([label, text]) => `${label}|${text}`).join('^')}^`);
}

function putAddresses(put: Put, values: readonly Said[]): void {
  for (const part of ADDRESS_PARTS)
    putLabelled(
      put,
      `adr.${part}`,
      values.map(({ v, label }) => [
        factLabel(label ?? ''),
        isAddress(v) ? factText(`adr.${part}`, v[part] ?? '') : '',
      ]),
    );
}

function putContent(put: Put, field: string, value: Said): void {
  const { v } = value;
  if (typeof v === 'string') put(field, textOfValue(field, value));
  else if (typeof v === 'number') put(`${field}#`, v);
  else if (typeof v === 'boolean') put(`${field}#`, v ? 1 : 0);
  else if (Array.isArray(v)) {
    if (v.length) put(field, `^${v.map((one) => factText(field, one)).join('^')}^`);
  } else if (isMoney(v)) put(`${field}#`, v.amount);
  else if (isRange(v)) {
    put(`${field}<`, v.from ?? -OPEN);
    put(`${field}>`, v.to ?? OPEN);
  }
}

function relationText(v: ValueContent): [label: string, text: string] {
  return isRelation(v) ? [factLabel(v.relation), foldText(v.name ?? '') || '?'] : ['', ''];
}

function putField(put: Put, field: string, values: readonly Said[]): void {
  const [first] = values;
  if (!first || SKIPPED.has(field) || field.startsWith(ALSO_PREFIX) || field.startsWith('opportunity')) return;
  if (field === 'adr') putAddresses(put, values);
  else if (field === 'related')
    putLabelled(
      put,
      field,
      values.map(({ v }) => relationText(v)),
    );
  else if (LABELLED.has(field))
    putLabelled(
      put,
      field,
      values.map((value) => [factLabel(value.label ?? ''), textOfValue(field, value)]),
    );
  else if (LISTED.has(field)) put(field, `^${values.map((value) => textOfValue(field, value)).join('^')}^`);
  else putContent(put, field, first);
}

/** What conditions look at, of a whole record. */
export function factsOf(record: ContactRecord): Facts {
  const facts: Facts = {};
  for (const field in record.f)
    putField(
      (key, value) => {
        facts[key] = value;
      },
      field,
      valuesOf(record, field),
    );
  return facts;
}

/** The same as JSON text, of fields with their values in order. */
export function factsJson(fields: Iterable<readonly [field: string, values: readonly Said[]]>): string {
  let json = '';
  const put: Put = (key, value) => {
    json += `${json ? ',' : ''}${JSON.stringify(key)}:${typeof value === 'number' ? value : JSON.stringify(value)}`;
  };
  for (const [field, values] of fields) putField(put, field, values);
  return `{${json}}`;
}

export interface LabelledText {
  label: string;
  text: string;
}

/** The texts of a key, apart. */
export function textsOfFact(fact: string | number | undefined): LabelledText[] {
  if (fact === undefined) return [];
  if (typeof fact === 'number') return [];
  if (!fact.startsWith('^')) return [{ label: '', text: fact }];
  return fact
    .slice(1, -1)
    .split('^')
    .map((entry) => {
      const bar = entry.indexOf('|');
      return { label: entry.slice(0, Math.max(bar, 0)), text: entry.slice(bar + 1) };
    });
}
