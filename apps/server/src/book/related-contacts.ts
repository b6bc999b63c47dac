import { displayNameOf, inverseRelation, isCouple, partnerByName } from '@gray-loom/core/fields';
import { keyHash, organizationWords } from '@gray-loom/core/matching';
import {
  firstText,
  firstValue,
  isAddress,
  isRelation,
  kindOf,
  valuesOf,
  type ContactRecord,
  type RelationValue,
  type Value,
} from '@gray-loom/core/model';
import { addressesAgree } from '@gray-loom/core/writing';
import type { ContactDetail } from '@gray-loom/wire';
import type { Database } from '../db/connect';
import { organizationNameKeys, organizationRecordKey, relationKey } from './contact-rows';
import {
  contactsWithState,
  relatedTo,
  mergedInto,
  organizationByKey,
  peopleOfOrganizations,
  type Other,
} from './statements/related-contacts';

/** The contacts of some ids; where one was merged away, the one that took it in, under the id asked for. */
export async function livingOf({ pool }: Pick<Database, 'pool'>, ids: readonly number[]): Promise<Map<number, Other>> {
  const found = new Map<number, Other>();
  let wanted = new Map([...new Set(ids)].map((id) => [id, [id]]));
  // A chain of merges is short; going round in one cannot happen, since a merge takes in what is live.
  for (let step = 0; wanted.size && step < 20; step++) {
    const rows = await contactsWithState(pool, [...wanted.keys()]);
    const next = new Map<number, number[]>();
    for (const row of rows) {
      const askers = wanted.get(row.id) ?? [];
      if (row.state === 'merged' && row.merged_into !== null)
        next.set(row.merged_into, [...(next.get(row.merged_into) ?? []), ...askers]);
      else for (const asker of askers) found.set(asker, row);
    }
    wanted = next;
  }
  return found;
}

/** Relationships in both directions, and the partner in the same home if there is one, or one who is known by name only. */
export async function relationsOf(
  database: Pick<Database, 'pool'>,
  id: number,
  record: ContactRecord,
): Promise<{ relations: Pick<ContactDetail, 'related' | 'relatedBy'>; partner: ContactRecord | null }> {
  const own = valuesOf(record, 'related').flatMap(({ v }) => (isRelation(v) ? [v] : []));
  const others = await livingOf(
    database,
    own.flatMap(({ to }) => (to === null ? [] : [to])),
  );
  // Those who keep a relationship with this contact, or with one that was merged into it.
  const from = await relatedTo(database.pool, await keysOf(database, id), id);
  const into = new Set(await idsInto(database, id));
  const relatedBy = from.flatMap((other) =>
    valuesOf(other.record, 'related').flatMap(({ v }) =>
      isRelation(v) && v.to !== null && into.has(v.to)
        ? [
            {
              contactId: other.id,
              name: displayNameOf(other.record),
              relation: inverseRelation(v.relation),
              fee: v.fee ?? '',
              owed: v.owed ?? null,
            },
          ]
        : [],
    ),
  );
  const related: ContactDetail['related'] = {};
  for (const [asked, other] of others) related[asked] = { id: other.id, name: displayNameOf(other.record) };
  const couples = [
    ...own.flatMap((one) => (isCouple(one.relation) && one.to !== null ? [others.get(one.to)] : [])),
    ...relatedBy.flatMap((one) => (isCouple(one.relation) ? from.filter((other) => other.id === one.contactId) : [])),
  ];
  const partner = couples.find((other) => other && sharesHome(record, other.record));
  return { relations: { related, relatedBy }, partner: partner?.record ?? partnerByName(record) };
}

/** Relationships with the name of whoever they lead to, for showing; what is kept holds the id alone. */
export async function withNames(
  database: Pick<Database, 'pool'>,
  values: readonly (Value | null)[],
): Promise<<T extends Value | null>(value: T) => T> {
  const idOf = (value: Value | null) => (value && isRelation(value.v) ? value.v.to : null);
  const ids = values.flatMap((value) => idOf(value) ?? []);
  const others = ids.length ? await livingOf(database, ids) : new Map<number, Other>();
  return (value) => {
    const other = others.get(idOf(value) ?? 0);
    return other && value
      ? { ...value, v: { ...(value.v as RelationValue), name: displayNameOf(other.record) } }
      : value;
  };
}

async function idsInto({ pool }: Pick<Database, 'pool'>, id: number): Promise<number[]> {
  const { rows } = await mergedInto(pool, id);
  return rows.map((row) => row.id);
}

async function keysOf(database: Pick<Database, 'pool'>, id: number): Promise<string[]> {
  return (await idsInto(database, id)).map((one) => String(keyHash(relationKey(one))));
}

/** Two share a home when their addresses agree, or one of them has none. */
function sharesHome(a: ContactRecord, b: ContactRecord): boolean {
  const [x, y] = [firstValue(a, 'adr')?.v, firstValue(b, 'adr')?.v];
  return !isAddress(x) || !isAddress(y) || addressesAgree(x, y);
}

/** The record of the organization a person belongs to: the one that goes by that name. */
export async function organizationOf({ pool }: Pick<Database, 'pool'>, record: ContactRecord): Promise<number | null> {
  const name = organizationWords(firstText(record, 'organization')).join('');
  if (!name) return null;
  const { rows } = await organizationByKey(pool, String(keyHash(organizationRecordKey(name))));
  return rows[0]?.id ?? null;
}

/** People whose organization is this one, by any of its names. */
export async function peopleOf(
  { pool }: Pick<Database, 'pool'>,
  record: ContactRecord,
): Promise<ContactDetail['people']> {
  const names = organizationNameKeys(record);
  const rows = await peopleOfOrganizations(
    pool,
    names.map((name) => String(keyHash(`o:${name}`))),
  );
  return rows
    .filter(
      (row) =>
        kindOf(row.record) === 'person' &&
        names.includes(organizationWords(firstText(row.record, 'organization')).join('')),
    )
    .map((row) => ({ id: row.id, name: displayNameOf(row.record), title: firstText(row.record, 'title') }));
}
