import {
  findCountry,
  formatPhone,
  joinName,
  parseEmail,
  parsePhone,
  parseDate,
  tidyText,
  typeValue,
  type Catalogue,
  type FieldType,
} from '../fields';
import { firstText, isAddress, valuesOf, type AddressValue, type ContactRecord, type Value } from '../model';
import { contentKey, type CandidateValue } from '../writing';
import { NAME_FIELDS, WHOLE_NAME, type SyncLine } from './lines';
import type { OutsideField, OutsideRecord, OutsideValue } from './outside';

/** What lines are read and written against. */
export interface SyncContext {
  catalogue: Catalogue;
  /** Country that national numbers over there are read in. */
  country: string;
  /** The kept writing of a value of a pick-list. */
  settle?: (kind: 'tag' | 'source' | 'owner', text: string) => string;
}

/** A value of one side in the form in which both are compared. */
export interface Item {
  /** Equal for equal values, as far as the other side can tell them apart. */
  key: string;
  outside: OutsideValue;
  /** The value here that it shows, where there is one. */
  value?: Value;
}

const ANY_FIELD: OutsideField = { key: '', name: '', type: 'text', most: 1 };

function shaped(text: string, field: OutsideField): string {
  const cased = field.capitals ? text.toUpperCase() : text;
  return field.longest && cased.length > field.longest ? cased.slice(0, field.longest).trimEnd() : cased;
}

function shapedAddress(address: AddressValue, field: OutsideField): AddressValue {
  return Object.fromEntries(
    Object.entries(address)
      .map(([part, text]) => [part, shaped(String(text ?? ''), field)])
      .filter(([, text]) => text),
  ) as AddressValue;
}

/** A date as ISO 8601 has it, without a year where none is known; null where it is none. */
function isoDate(text: string): string | null {
  const parsed = parseDate(text, 'dayFirst');
  return parsed.ok ? parsed.value : null;
}

/** What a text over there says in the type of the field here; null where it cannot be read as one. */
export function readOutside(type: FieldType, value: OutsideValue, context: SyncContext): CandidateValue | null {
  const label = value.label ? { label: value.label } : {};
  if (typeof value.v !== 'string') {
    if (type !== 'address') return null;
    const { country, ...rest } = value.v;
    const code = country ? (findCountry(country) ?? country) : undefined;
    const address = Object.fromEntries(
      Object.entries(rest)
        .map(([part, text]) => [part, part === 'street' ? (text ?? '').trim() : tidyText(text ?? '')])
        .filter(([, text]) => text),
    ) as AddressValue;
    if (code) address.country = code;
    return Object.keys(address).length ? { v: address, ...label } : null;
  }
  const text = type === 'longText' ? value.v.trim() : tidyText(value.v);
  switch (type) {
    case 'email': {
      const parsed = parseEmail(text);
      return parsed.ok ? { v: parsed.value.norm, ...label } : null;
    }
    case 'tel': {
      const { norm } = parsePhone(text, context.country);
      if (!norm && !/\d{3}/.test(text)) return null;
      return { v: text, ...(norm ? { norm } : {}), ...label };
    }
    case 'date':
    case 'partialDate': {
      const iso = isoDate(text);
      return iso ? { v: iso, ...label } : null;
    }
    case 'address':
      return text ? { v: { street: text }, ...label } : null;
    case 'number': {
      const number = Number(text);
      return Number.isFinite(number) && text ? { v: number } : null;
    }
    case 'yesNo':
      return /^(?:yes|no)$/i.test(text) ? { v: /^yes$/i.test(text) } : null;
    case 'text':
    case 'longText':
    case 'url':
    case 'choice':
      return text ? { v: text, ...label } : null;
    case 'tag':
    case 'source':
    case 'owner':
      return text ? { v: context.settle?.(type, text) ?? text } : null;
    case 'stage':
      return text ? { v: text } : null;
    default:
      return null;
  }
}

/** Types of fields here that can be kept in step with a field over there. */
export const SYNCED_TYPES: ReadonlySet<FieldType> = new Set<FieldType>([
  'text',
  'longText',
  'email',
  'tel',
  'address',
  'url',
  'date',
  'partialDate',
  'number',
  'yesNo',
  'choice',
  'tag',
  'stage',
  'source',
  'owner',
]);

function keyOf(type: FieldType, outside: OutsideValue, field: OutsideField, context: SyncContext): string {
  if (typeof outside.v !== 'string') {
    const read = readOutside('address', outside, context);
    return read ? contentKey('address', read) : '';
  }
  if (type === 'email' || type === 'tel' || type === 'date' || type === 'partialDate') {
    const read = readOutside(type, outside, context);
    // Two mailboxes of one person may differ by what follows a plus sign only; to a tool they are two.
    if (read) return shaped(type === 'email' ? String(read.v).toLowerCase() : contentKey(type, read), field);
  }
  if (type === 'tag' || type === 'choice') return contentKey(type, { v: tidyText(outside.v) });
  return shaped(tidyText(outside.v), field);
}

function outsideOf(type: FieldType, value: Value, field: OutsideField): OutsideValue {
  const label = field.labelled && value.label ? { label: value.label } : {};
  if (isAddress(value.v)) return { v: shapedAddress(value.v, field), ...label };
  if (type === 'tel') return { v: shaped(value.norm ? formatPhone(value.norm) : String(value.v), field), ...label };
  return { v: shaped(typeValue(value), field), ...label };
}

export function outsideField(line: SyncLine, fields: readonly OutsideField[]): OutsideField {
  return fields.find((field) => field.key === line.outside) ?? { ...ANY_FIELD, key: line.outside, most: Infinity };
}

export function typeOf(line: SyncLine, context: SyncContext): FieldType {
  return line.field === WHOLE_NAME ? 'text' : (context.catalogue.find(line.field)?.type ?? 'text');
}

/** The record here as the other side can hold it, for one line: at most as many values as go there, cut and cased as it does. */
export function project(record: ContactRecord, line: SyncLine, field: OutsideField, context: SyncContext): Item[] {
  if (line.fixed !== undefined)
    return line.fixed ? [itemOf('text', { v: shaped(line.fixed, field) }, field, context)] : [];
  if (line.field === WHOLE_NAME) {
    const text = joinName(Object.fromEntries(NAME_FIELDS.map((part) => [part, firstText(record, part)])));
    const whole = text || firstText(record, 'fullName');
    return whole ? [itemOf('text', { v: shaped(tidyText(whole), field) }, field, context)] : [];
  }
  const type = typeOf(line, context);
  const items: Item[] = [];
  const known = new Set<string>();
  for (const value of valuesOf(record, line.field)) {
    const item = { ...itemOf(type, outsideOf(type, value, field), field, context), value };
    if (!item.key || known.has(item.key)) continue;
    known.add(item.key);
    items.push(item);
    if (items.length >= field.most) break;
  }
  return items;
}

function itemOf(type: FieldType, outside: OutsideValue, field: OutsideField, context: SyncContext): Item {
  return { key: keyOf(type, outside, field, context), outside };
}

/** What stands over there, in the form in which it is compared. */
export function itemsOf(
  values: readonly OutsideValue[],
  line: SyncLine,
  field: OutsideField,
  context: SyncContext,
): Item[] {
  const type = line.fixed === undefined ? typeOf(line, context) : 'text';
  const known = new Set<string>();
  const items: Item[] = [];
  for (const value of values) {
    const item = itemOf(type, field.labelled ? value : { v: value.v }, field, context);
    if (!item.key || known.has(item.key)) continue;
    known.add(item.key);
    items.push(item);
  }
  return items;
}

export function valuesThere(record: OutsideRecord, line: SyncLine): OutsideValue[] {
  return record.fields[line.outside] ?? [];
}
