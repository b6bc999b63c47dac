import type { Catalogue, FieldDefinition, UniqueRule } from '@gray-loom/core/fields';
import { externalKey } from '@gray-loom/core/mapping';
import { keyHash, phoneBlock, preparePerson } from '@gray-loom/core/matching';
import { kindOf, type ContactRecord, type Value } from '@gray-loom/core/model';
import { contentKey } from '@gray-loom/core/writing';
import { everybodyIn, wholeBook, type Database, type Queryable, type Tx } from '../db/connect';
import { refuseValue } from './refusals';
import { uniqueKey } from './contact-rows';
import { partedBySight } from './seen';
import { lockKeys } from './statements/locks';
import { holdersOfKey, selectClashes, namesOf } from './statements/unique-values';

type Offered = Pick<Value, 'v' | 'norm'>;

/** The look-up key under which contacts with the same value of a field are found; null for a value that is none. */
export function lookUpKey(field: FieldDefinition, value: Offered): string | null {
  switch (field.type) {
    case 'email': {
      const box = preparePerson({ emails: [value.norm ?? String(value.v)] }).emails[0];
      return box ? `e:${box.key}` : null;
    }
    case 'tel': {
      const phone = preparePerson({ phones: [value.norm ?? String(value.v)] }).phones[0];
      return phone ? `p:${phoneBlock(phone)}` : null;
    }
    default:
      return field.key === 'externalId' ? externalKey(String(value.v)) : uniqueKey(field.key, field.type, value);
  }
}

/** Whether a record has the value in the field, by normal form. */
export function hasValue(record: ContactRecord, field: FieldDefinition, value: Offered): boolean {
  const wanted = contentKey(field.type, value);
  return (record.f[field.key] ?? []).some((own) => contentKey(field.type, own) === wanted);
}

export interface Clash {
  field: string;
  fieldName: string;
  rule: UniqueRule;
  value: string;
  contacts: { id: number; name: string }[];
  /** How many more have it whom the actor does not see. */
  elsewhere: number;
}

/** Others who have a value that no two contacts should share. The one place in the code that looks for them. */
export async function findClashes(
  database: Pick<Database, 'roots' | 'actor'> & { look: Queryable },
  catalogue: Catalogue,
  offered: readonly { field: string; value: Offered }[],
  exceptId: number | null,
): Promise<Clash[]> {
  const clashes: Clash[] = [];
  for (const { field: key, value } of offered) {
    const field = catalogue.uniqueFields.find((one) => one.key === key);
    const text = field && lookUpKey(field, value);
    if (!field || !text) continue;
    const rows = await holdersOfKey(database.look, String(keyHash(text)), exceptId);
    const contacts = rows.filter(({ record }) => kindOf(record) === 'person' && hasValue(record, field, value));
    if (!contacts.length) continue;
    const { seen, others } = await partedBySight(wholeBook(database), contacts, ({ id }) => id);
    clashes.push({
      field: key,
      fieldName: field.name,
      rule: field.unique ?? 'no',
      value: String(value.v),
      contacts: seen.map(({ id, name }) => ({ id, name })),
      elsewhere: others.length,
    });
  }
  return clashes;
}

/** The look-up keys of those values that no two contacts should share. */
export function uniqueKeysOf(catalogue: Catalogue, offered: readonly { field: string; value: Offered }[]): number[] {
  const unique = new Map(catalogue.uniqueFields.map((field) => [field.key, field]));
  return offered.flatMap(({ field, value }) => {
    const definition = unique.get(field);
    const text = definition && lookUpKey(definition, value);
    return text ? [keyHash(text)] : [];
  });
}

/**
 * Refuses values that others have, inside the transaction that would write them. Two people who type the same value at
 * one moment come one after the other, so that the second is told. A field that only warns is let through with `despite`.
 */
export async function guardUnique(
  tx: Tx,
  catalogue: Catalogue,
  offered: readonly { field: string; value: Offered }[],
  exceptId: number | null,
  despite: boolean,
): Promise<void> {
  const unique = new Set(catalogue.uniqueFields.map(({ key }) => key));
  const guarded = offered.filter(({ field }) => unique.has(field));
  if (!guarded.length) return;
  await lockKeys(tx.client, uniqueKeysOf(catalogue, guarded));
  const clashes = await findClashes({ ...tx, look: everybodyIn(tx).pool }, catalogue, guarded, exceptId);
  const standing = clashes.filter((clash) => clash.rule === 'refuse' || !despite);
  const [first] = standing;
  if (!first) return;
  const refused = standing.some((clash) => clash.rule === 'refuse');
  throw refuseValue[refused ? 'uniqueClash' : 'uniqueWarning']({ field: first.field, clashes: standing });
}

export interface ClashGroup {
  value: string;
  contacts: { id: number; name: string }[];
}

const SHOWN = 200;

/** Values of a field that several contacts have already; what switching uniqueness on would have refused. */
export async function listClashes(
  { pool }: Database,
  field: FieldDefinition,
): Promise<{ groups: ClashGroup[]; more: boolean }> {
  const { rows } = await selectClashes(pool, field.key, SHOWN + 1);
  const ids = [...new Set(rows.flatMap((row) => row.ids.slice(0, 12)))];
  const named = await namesOf(pool, ids);
  const nameOf = new Map(named.rows.map((row) => [row.id, row.name]));
  return {
    groups: rows.slice(0, SHOWN).map((row) => ({
      value: row.value,
      contacts: row.ids.slice(0, 12).map((id) => ({ id, name: nameOf.get(id) ?? '' })),
    })),
    more: rows.length > SHOWN,
  };
}
