import type { OutcomeCounts } from '@gray-loom/wire';
import type { Queryable } from '../../../db/connect';

export const importRuns = (client: Queryable, runIds: readonly number[]) =>
  client.query<{ id: number; counts: Partial<OutcomeCounts>; undone_by: number | null; held: number }>(
    `select r.id, r.counts, r.undone_by, (select count(*)::int from import_row i where i.run_id = r.id and i.outcome = 'held' and i.settled is null) as held
     from run r where r.id = any($1::int[])`,
    [runIds],
  );

export const decisionsSince = (client: Queryable, intakeId: number, trialRun: number | null) =>
  client.query<{ n: number; since: number }>(
    `select count(*)::int as n, count(*) filter (where made_at > coalesce((select created_at from run where id = $2), 'infinity'))::int as since
     from row_choice where intake_id = $1`,
    [intakeId, trialRun],
  );

export const beginProgress = (client: Queryable, runId: number, rowCount: number) =>
  client.query(`update run set progress = jsonb_build_object('done', 0, 'total', $2::int) where id = $1`, [
    runId,
    rowCount,
  ]);

export const copyIntake = (client: Queryable, id: number, accountId: number | null) =>
  client.query<{ id: number }>(
    `insert into intake (name, bytes, state, shape, guesses, mapping, issues, row_count, actor_id, read_as)
       select name, bytes, 'read', shape, guesses, jsonb_set(mapping, '{wholeFile,consent}', 'null'), issues, row_count, $2, null
       from intake where id = $1 returning id`,
    [id, accountId],
  );

export const copyPieces = (client: Queryable, from: number, into: number) =>
  client.query(
    'insert into file_chunk (intake_id, seq, bytes) select $2, seq, bytes from file_chunk where intake_id = $1',
    [from, into],
  );
