import type { Catalogue, FieldDefinition } from '@gray-loom/core/fields';
import { BY_HAND, readCell, type ColumnMapping, type ReadingContext } from '@gray-loom/core/mapping';
import {
  isAddress,
  isRelation,
  type AddressValue,
  type MoneyValue,
  type RelationValue,
  type ValueContent,
} from '@gray-loom/core/model';
import type { CandidateValue } from '@gray-loom/core/writing';
import type pg from 'pg';
import { refuseValue } from './refusals';
import { refuseIssue } from '../http/refusal';
import type { PickLists } from './picks';
import { stateOfContact, pictureExists } from './statements/typed-values';

/** What somebody typed of one field: a text, or the parts of what has parts. */
export interface Typed {
  field: string;
  text?: string | null;
  value?: ValueContent | null;
  label?: string | null;
}

export interface TypedContext {
  catalogue: Catalogue;
  picks: PickLists;
  country: string;
  client: Pick<pg.Pool | pg.PoolClient, 'query'>;
  /** Contact that the value is for; null for one that is being made. */
  contactId: number | null;
}

const PART_LIMIT = 500;
const PARTS = ['street', 'locality', 'region', 'postalCode', 'country'] as const;

/** Reads what was typed by hand with the same readers that files go through. Errors: a refusal that names the field. */
export async function readTyped(typed: Typed, context: TypedContext): Promise<CandidateValue[]> {
  const field = context.catalogue.find(typed.field);
  if (!field) throw refuseValue.noSuchField({ field: typed.field });
  const label = typed.label?.trim() || null;
  const labelled = (v: ValueContent): CandidateValue[] => [label ? { v, label } : { v }];
  if (typed.value !== null && typed.value !== undefined) {
    switch (field.type) {
      case 'address': {
        const address = readAddress(typed.value, context);
        return address ? labelled(address) : [];
      }
      case 'relation':
        return labelled(await readRelation(typed.value, context));
      case 'picture':
        return labelled(await readPicture(typed.value, context));
      default:
        throw refuseValue.notParts({ field: field.key, name: field.name });
    }
  }
  const text = typed.text?.trim() ?? '';
  if (text === '') return [];
  if (field.type === 'address' || field.type === 'relation' || field.type === 'picture')
    throw refuseValue.partsNeeded({ field: field.key, name: field.name });
  return readText(field, text, label, context);
}

function readText(field: FieldDefinition, text: string, label: string | null, context: TypedContext): CandidateValue[] {
  // By hand one value is one value, also where it holds a semicolon.
  const column: ColumnMapping = { ...BY_HAND, target: field.key, label, separator: null };
  const reading = readCell(text, column, field, readingContext(context), { name: field.name });
  const values = reading.values.filter(([key]) => key === field.key).map(([, value]) => value);
  const wrong = reading.issues[0];
  if (!values.length && wrong) throw refuseIssue(wrong, 'nothingChanged', { field: field.key });
  return values;
}

function readingContext({ country, picks }: TypedContext): ReadingContext {
  return {
    country,
    stages: picks.stages,
    formerStage: (key) => picks.formerStage(key),
    thisYear: new Date().getFullYear(),
    settle: (kind, plain) => picks.settle(kind, plain),
  };
}

function readAddress(value: ValueContent, context: TypedContext): AddressValue | null {
  if (!isAddress(value)) throw refuseValue.noAddress({ field: 'adr' });
  const address: AddressValue = {};
  for (const part of PARTS) {
    const text = value[part];
    if (typeof text !== 'string' || !text.trim()) continue;
    if (text.length > PART_LIMIT)
      throw refuseValue.valueTooLong({ field: 'adr', what: `The ${part}`, length: text.length, limit: PART_LIMIT });
    // The street keeps its lines, which a file's cell cannot have.
    if (part === 'street') {
      address.street = text
        .split(/\r?\n/)
        .map((line) => line.trim())
        .filter(Boolean)
        .join('\n');
      continue;
    }
    const reading = readCell(
      text,
      { ...BY_HAND, target: part, label: null },
      { type: 'text' },
      readingContext(context),
      {},
    );
    for (const [key, read] of reading.values) address[key as keyof AddressValue] = String(read.v);
  }
  return Object.keys(address).length ? address : null;
}

async function readRelation(value: ValueContent, { client, contactId }: TypedContext): Promise<RelationValue> {
  const at = { field: 'related' } as const;
  if (!isRelation(value)) throw refuseValue.noRelation(at);
  const relation = String(value.relation ?? '').trim();
  const name = String(value.name ?? '').trim();
  const fee = String(value.fee ?? '').trim();
  const owed = readOwed(value.owed);
  if (!relation) throw refuseValue.noRelation(at);
  for (const [what, text, limit] of [
    ['The relationship', relation, 60],
    ['The name', name, 200],
    ['The fee', fee, 200],
  ] as const)
    if (text.length > limit) throw refuseValue.valueTooLong({ ...at, what, length: text.length, limit });
  if (value.to === null || value.to === undefined) {
    if (!name) throw refuseValue.nobody(at);
    return { relation, to: null, name, ...owed, ...(fee ? { fee } : {}) };
  }
  if (value.to === contactId) throw refuseValue.relatedToSelf(at);
  const { rows } = await stateOfContact(client, value.to);
  if (rows[0]?.state !== 'live') throw refuseValue.noSuchContact(at);
  return { relation, to: value.to, ...owed, ...(fee ? { fee } : {}) };
}

/** What a referrer is owed, as it is kept. */
function readOwed(owed: MoneyValue | null | undefined): { owed?: MoneyValue } {
  if (!owed) return {};
  const { amount, currency } = owed;
  const isAmount = typeof amount === 'number' && Number.isFinite(amount) && amount >= 0 && amount <= MOST_OWED;
  if (!isAmount || !/^[A-Z]{3}$/.test(String(currency))) throw refuseValue.noAmount({ field: 'related' });
  return { owed: { amount, currency } };
}

const MOST_OWED = 1e12;

async function readPicture(value: ValueContent, { client }: TypedContext): Promise<string> {
  const { rowCount } = await pictureExists(client, String(value));
  if (!rowCount) throw refuseValue.noPicture({ field: 'photo' });
  return String(value);
}
