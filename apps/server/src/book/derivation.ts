import type { Area, FieldType } from '@gray-loom/core/fields';
import type pg from 'pg';

/** What of the set-up decides how a record's columns and keys are derived. */
export interface Derivation {
  areas: Area[];
  /** Fields whose values no two contacts should share, beside those that are looked up anyway. */
  uniqueFields: { key: string; type: FieldType }[];
}

/** Types of the standard fields that may be asked to be unique and have no look-up key otherwise. */
const STANDARD_TYPES: Record<string, FieldType> = {
  nickname: 'text',
  legalName: 'text',
  url: 'url',
  webDomain: 'text',
};

/** Reads the definitions in force; small, and read anew by every writer so that none works by old ones. */
export async function loadDerivation(client: Pick<pg.Pool | pg.PoolClient, 'query'>): Promise<Derivation> {
  const { rows } = await (client as pg.Pool).query<{
    areas: Area[] | null;
    fields: { key: string; type: FieldType | null }[] | null;
  }>(
    `select (select json_agg(json_build_object('name', name, 'rules', rules) order by ordinal, id) from area) as areas,
       (select json_agg(json_build_object('key', r.field, 'type', f.type))
          from field_rule r left join custom_field f on r.field = 'custom.' || f.id where r.unique_rule <> 'no') as fields`,
  );
  return {
    areas: rows[0]?.areas ?? [],
    uniqueFields: (rows[0]?.fields ?? []).flatMap(({ key, type }) => {
      const known = type ?? STANDARD_TYPES[key];
      return known ? [{ key, type: known }] : [];
    }),
  };
}
