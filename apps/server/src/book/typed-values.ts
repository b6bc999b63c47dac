import type { Catalogue, FieldDefinition } from '@gray-loom/core/fields';
import { BY_HAND, readCell, type ColumnMapping, type ReadingContext } from '@gray-loom/core/mapping';
import {
  isAddress,
  isRelation,
  wordIssue,
  type AddressValue,
  type RelationValue,
  type ValueContent,
} from '@gray-loom/core/model';
import type { CandidateValue } from '@gray-loom/core/writing';
import type pg from 'pg';
import { Problem } from '../http/problem';
import type { PickLists } from './picks';

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

const PARTS = ['street', 'locality', 'region', 'postalCode', 'country'] as const;

/** Reads what was typed by hand with the same readers that files go through. Errors: Problem that names the field. */
export async function readTyped(typed: Typed, context: TypedContext): Promise<CandidateValue[]> {
  const field = context.catalogue.find(typed.field);
  if (!field) throw new Problem(422, 'noSuchField', `There is no field '${typed.field}'.`);
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
        throw new Problem(422, 'notParts', `${field.name} is given as text.`, { field: field.key });
    }
  }
  const text = typed.text?.trim() ?? '';
  if (text === '') return [];
  if (field.type === 'address' || field.type === 'relation' || field.type === 'picture')
    throw new Problem(422, 'partsNeeded', `${field.name} is given by its parts.`, { field: field.key });
  return readText(field, text, label, context);
}

function readText(field: FieldDefinition, text: string, label: string | null, context: TypedContext): CandidateValue[] {
  // By hand one value is one value, also where it holds a semicolon.
  const column: ColumnMapping = { ...BY_HAND, target: field.key, label, separator: null };
  const reading = readCell(text, column, field, readingContext(context), { name: field.name });
  const values = reading.values.filter(([key]) => key === field.key).map(([, value]) => value);
  const wrong = reading.issues[0];
  if (!values.length && wrong)
    throw new Problem(422, wrong.code, wordIssue(wrong).replace(/ The row is held.*$/, ' Nothing was changed.'), {
      field: field.key,
    });
  return values;
}

function readingContext({ country, picks }: TypedContext): ReadingContext {
  return {
    country,
    stages: picks.stages,
    thisYear: new Date().getFullYear(),
    settle: (kind, plain) => picks.settle(kind, plain),
  };
}

function readAddress(value: ValueContent, context: TypedContext): AddressValue | null {
  if (!isAddress(value)) throw new Problem(422, 'noAddress', 'This is no address.', { field: 'adr' });
  const address: AddressValue = {};
  for (const part of PARTS) {
    const text = value[part];
    if (typeof text !== 'string' || !text.trim()) continue;
    if (text.length > 500)
      throw new Problem(
        422,
        'valueTooLong',
        `The ${part} has ${text.length} characters; at most 500 are kept. Nothing was changed.`,
        {
          field: 'adr',
        },
      );
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
  const refuse = (code: string, text: string) => new Problem(422, code, text, { field: 'related' });
  if (!isRelation(value)) throw refuse('noRelation', 'This is no relationship.');
  const relation = String(value.relation ?? '').trim();
  const name = String(value.name ?? '').trim();
  const fee = String(value.fee ?? '').trim();
  if (!relation) throw refuse('noRelation', 'Say what the other is, such as spouse or assistant.');
  if (relation.length > 60 || name.length > 200 || fee.length > 200)
    throw refuse('valueTooLong', 'This is too long to be kept.');
  if (value.to === null || value.to === undefined) {
    if (!name) throw refuse('nobody', 'Choose a contact, or type a name.');
    return { relation, to: null, name, ...(fee ? { fee } : {}) };
  }
  if (value.to === contactId)
    throw refuse('relatedToSelf', 'Nobody is related to themselves. Choose another contact; nothing was changed.');
  const { rows } = await (client as pg.Pool).query<{ state: string }>('select state from contact where id = $1', [
    value.to,
  ]);
  if (rows[0]?.state !== 'live') throw refuse('noSuchContact', 'The other contact is gone. Choose another one.');
  return { relation, to: value.to, ...(fee ? { fee } : {}) };
}

async function readPicture(value: ValueContent, { client }: TypedContext): Promise<string> {
  const { rowCount } = await (client as pg.Pool).query('select 1 from picture where hash = $1', [String(value)]);
  if (!rowCount) throw new Problem(422, 'noPicture', 'The picture is not here. Choose it again.', { field: 'photo' });
  return String(value);
}
