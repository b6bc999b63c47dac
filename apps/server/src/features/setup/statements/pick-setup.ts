import type { Queryable } from '../../../db/connect';

export const orderPicksBy = (client: Queryable, kind: string, labels: readonly string[]) =>
  client.query(
    `update pick p set ordinal = o.place from unnest($2::text[]) with ordinality as o(label, place) where p.kind = $1 and p.label = o.label`,
    [kind, labels],
  );

export const countWithPick = (client: Queryable, kind: string, label: string) =>
  client.query<{ n: number }>('select coalesce(sum(n), 0)::int as n from tally where kind = $1 and label = $2', [
    kind,
    label,
  ]);

export const addFormerNames = (client: Queryable, kind: string, label: string, keys: readonly string[]) =>
  client.query(
    `update pick set formerly = (select coalesce(array_agg(distinct k), '{}') from unnest(formerly || $3::text[]) as n(k) where k <> fold_key)
       where kind = $1 and label = $2`,
    [kind, label, keys],
  );

/** Takes a former name from whatever was called so: it means something else now, or is its own again. */
export const forgetFormerName = (client: Queryable, kind: string, key: string) =>
  client.query(`update pick set formerly = array_remove(formerly, $2) where kind = $1 and $2 = any(formerly)`, [
    kind,
    key,
  ]);
