import type { Channel, PermissionState } from '@gray-loom/core/writing';
import type { Queryable } from '../../../db/connect';

interface Condition {
  where: string;
  values: readonly unknown[];
}

/** Fixes whom a run is about: all that meet a condition but some. Gives how many. */
export const fixByCondition = (
  client: Queryable,
  runId: number,
  { where, values }: Condition,
  except: readonly number[],
) => {
  const at = values.length;
  return client.query(
    `insert into public.batch_target (run_id, contact_id)
     select $${at + 1}::int, c.id from contact c where ${where} and not c.id = any($${at + 2}::bigint[])`,
    [...values, runId, except],
  );
};

/** The same of contacts that are named; those that are not there, or not in sight, are none. */
export const fixByIds = (client: Queryable, runId: number, ids: readonly number[]) =>
  client.query(
    `insert into public.batch_target (run_id, contact_id)
     select $1::int, c.id from contact c where c.id = any($2::bigint[]) and c.kind <> 'opportunity'`,
    [runId, ids],
  );

export const countMeeting = (client: Queryable, { where, values }: Condition, except: readonly number[]) =>
  client.query<{ n: number }>(
    `select count(*)::int as n from contact c where ${where} and not c.id = any($${values.length + 1}::bigint[])`,
    [...values, except],
  );

/** Every so many-th of them, by number. */
export const idsMeeting = (
  client: Queryable,
  { where, values }: Condition,
  except: readonly number[],
  every: number,
) => {
  const at = values.length;
  return client.query<{ id: number }>(
    `select c.id from contact c where ${where} and not c.id = any($${at + 1}::bigint[]) and c.id % $${at + 2}::int = 0 order by c.id`,
    [...values, except, every],
  );
};

export const nextTargets = (client: Queryable, runId: number, afterId: number, limit: number) =>
  client.query<{ id: number }>({
    name: 'next-targets',
    text: `select contact_id as id from public.batch_target where run_id = $1 and contact_id > $2 order by contact_id limit $3`,
    values: [runId, afterId, limit],
  });

export const dropTargets = (client: Queryable, runId: number) =>
  client.query('delete from public.batch_target where run_id = $1', [runId]);

/** What was said of each contact's part in a connection. */
export const choicesOf = (client: Queryable, connectionId: number, ids: readonly number[]) =>
  client.query<{ id: number; choice: 'send' | 'never' }>(
    'select contact_id as id, choice from public.sync_choice where connection_id = $1 and contact_id = any($2::bigint[])',
    [connectionId, ids],
  );

/** Says it anew, and keeps what was said before with the run. */
export async function keepChoices(
  client: Queryable,
  runId: number,
  connectionId: number,
  choice: 'send' | 'never' | null,
  ids: readonly number[],
): Promise<void> {
  await client.query(
    `update public.batch_target t set before = coalesce((select s.choice from public.sync_choice s
       where s.connection_id = $2 and s.contact_id = t.contact_id), '') where t.run_id = $1 and t.contact_id = any($3::bigint[])`,
    [runId, connectionId, ids],
  );
  await writeChoices(
    client,
    connectionId,
    ids,
    ids.map(() => choice ?? ''),
  );
}

/** Writes what is said of contacts' parts; an empty text is nothing. */
export async function writeChoices(
  client: Queryable,
  connectionId: number,
  ids: readonly number[],
  choices: readonly string[],
): Promise<void> {
  const values = [connectionId, ids, choices];
  await client.query(
    `delete from public.sync_choice s using unnest($2::bigint[], $3::text[]) as u(id, choice)
     where s.connection_id = $1 and s.contact_id = u.id and u.choice = ''`,
    values,
  );
  await client.query(
    `insert into public.sync_choice (connection_id, contact_id, choice)
     select $1::int, u.id, u.choice from unnest($2::bigint[], $3::text[]) as u(id, choice) where u.choice <> ''
     on conflict (connection_id, contact_id) do update set choice = excluded.choice`,
    values,
  );
}

export const choicesBefore = (client: Queryable, runId: number) =>
  client.query<{ id: number; before: string }>(
    'select contact_id as id, before from public.batch_target where run_id = $1 and before is not null',
    [runId],
  );

export const insertEvidence = (
  client: Queryable,
  runId: number,
  { channel, state, how }: { channel: Channel; state: PermissionState; how: string },
  ids: readonly number[],
) =>
  client.query(
    `insert into public.permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select id, $2, $3, $4, now(), $1 from unnest($5::bigint[]) as u(id)`,
    [runId, channel, state, how, ids],
  );

export const isConnection = (client: Queryable, id: number) =>
  client.query('select 1 from connection where id = $1', [id]);

export const isAccount = (client: Queryable, name: string) =>
  client.query('select 1 from account where name = $1 and retired_at is null', [name]);

export const changeOfBatch = <T>(client: Queryable, runId: number) =>
  client.query<{ change: T | null }>(`select detail->'change' as change from run where id = $1`, [runId]);
