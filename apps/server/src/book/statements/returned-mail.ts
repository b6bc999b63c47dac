import type { Queryable } from '../../db/connect';

export interface ReturnedRow {
  address_key: number;
  address: string;
  how: string;
  at: Date;
  run_id: number;
}

/** Keeps that mail to addresses came back, or reached them: what is known is not kept twice, and one that never came back is not named. */
export const insertReturned = (client: Queryable, runId: number, rows: string) =>
  client.query<{ key: number }>(
    `insert into returned_mail (address_key, address, came_back, how, at, run_id)
     select distinct on (n.key, n.came_back) n.key, n.address, n.came_back, n.how, n.at, $1
     from json_to_recordset($2::json) as n(key bigint, address text, came_back boolean, how text, at timestamptz)
     where (n.came_back or exists (select 1 from returned_mail b where b.address_key = n.key and b.came_back and b.at < n.at))
       and not exists (select 1 from returned_mail b join run r on r.id = b.run_id and r.undone_by is null
         where b.address_key = n.key and b.came_back = n.came_back and b.at >= n.at)
     order by n.key, n.came_back, n.at desc
     returning address_key as key`,
    [runId, rows],
  );

/** Of these addresses, those from which the last mail came back. */
export const returnedFrom = (client: Queryable, keys: readonly string[]) =>
  client.query<ReturnedRow>(
    `select address_key, address, how, at, run_id from (
       select distinct on (b.address_key) b.* from returned_mail b join run r on r.id = b.run_id and r.undone_by is null
       where b.address_key = any($1::bigint[]) order by b.address_key, b.at desc, b.came_back desc) last
     where came_back order by at desc`,
    [keys],
  );
