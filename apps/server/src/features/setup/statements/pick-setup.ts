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
