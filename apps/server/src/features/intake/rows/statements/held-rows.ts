import { type Mapping } from '@gray-loom/core/mapping';
import { type Issue } from '@gray-loom/core/model';
import type { Queryable } from '../../../../db/connect';

export const heldRows = (client: Queryable, runId: number | null, limit: number) =>
  client.query<{
    run_id: number;
    row: number;
    issues: Issue[] | null;
    cells: string[] | null;
    name: string;
    intake_id: number;
    headers: (string | null)[];
  }>(
    `select i.run_id, i.row, i.issues, i.cells, f.name, f.id as intake_id, f.shape->'headers' as headers
     from import_row i join run r on r.id = i.run_id join intake f on f.import_run = r.id
     where i.outcome = 'held' and i.settled is null and r.undone_by is null and ($1::int is null or i.run_id = $1)
     order by i.run_id desc, i.row limit $2`,
    [runId, limit],
  );

export const mappingsOfFiles = (client: Queryable, intakeIds: readonly number[]) =>
  client.query<{ id: number; mapping: Mapping }>('select id, mapping from intake where id = any($1::int[])', [
    intakeIds,
  ]);

export const threadOfRun = (client: Queryable, runId: number) =>
  client.query<{ thread_id: number }>('select thread_id from run where id = $1', [runId]);

export const heldAlike = (client: Queryable, runId: number, column: number, cell: string) =>
  client.query<{ row: number; cells: string[] }>(
    `select row, cells from import_row where run_id = $1 and outcome = 'held' and settled is null and cells->>$2::int = $3
     order by row`,
    [runId, column, cell],
  );

export const heldAmong = (client: Queryable, runId: number, rows: readonly number[]) =>
  client.query<{ row: number; cells: string[] | null; issues: Issue[] | null }>(
    `select row, cells, issues from import_row where run_id = $1 and outcome = 'held' and settled is null and row = any($2::int[])
     order by row`,
    [runId, rows],
  );

export const countHeld = (client: Queryable, runId: number | null) =>
  client.query<{ n: number }>(
    `select count(*)::int as n from import_row i join run r on r.id = i.run_id join intake f on f.import_run = r.id
     where i.outcome = 'held' and i.settled is null and r.undone_by is null and ($1::int is null or i.run_id = $1)`,
    [runId],
  );

/** Where a transaction goes back to when one row of many cannot be let in. */
export const setMark = (client: Queryable) => client.query('savepoint held_row');
export const backToMark = (client: Queryable) => client.query('rollback to savepoint held_row');

/** Held rows that say more of somebody who came in with another row, with the columns in which they do. */
export const heldAsMore = (client: Queryable, runId: number) =>
  client.query<{ row: number; cells: string[] | null; columns: number[] }>(
    `select i.row, i.cells, m.columns
     from import_row i cross join lateral (
       select array_agg(distinct (o.issue->'path'->>'column')::int) as columns from jsonb_array_elements(i.issues) o(issue)
       where o.issue->>'code' = 'repeatSaysMore' and o.issue->'path'->>'column' is not null) m
     where i.run_id = $1 and i.outcome = 'held' and i.settled is null and m.columns is not null order by i.row`,
    [runId],
  );

/** How many such rows there are, by import. */
export const moreOfPeople = (client: Queryable, runId: number | null) =>
  client.query<{ run_id: number; name: string; n: number; headers: (string | null)[] }>(
    `select h.run_id, f.name, h.n, f.shape->'headers' as headers
     from (select i.run_id, count(*)::int as n from import_row i join run r on r.id = i.run_id
         where i.outcome = 'held' and i.settled is null and r.undone_by is null and ($1::int is null or i.run_id = $1)
           and i.issues::text like '%"repeatSaysMore"%' group by i.run_id) h
       join intake f on f.import_run = h.run_id order by h.run_id desc`,
    [runId],
  );
