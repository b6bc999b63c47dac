import type { Queryable } from '../../db/connect';

export const insertTallies = (client: Queryable, columns: unknown[]) =>
  client.query(
    'insert into public.tally (kind, label, who, n) select * from unnest($1::text[], $2::text[], $3::text[], $4::int[])',
    columns,
  );
