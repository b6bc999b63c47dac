import type { Queryable } from '../../../db/connect';

/** Keeps a call; one that came before, word for word, is not kept again. */
export const keepCall = (
  client: Queryable,
  connectionId: number,
  { hash, body, kind, ids }: { hash: Buffer; body: string; kind: string; ids: readonly string[] },
) =>
  client.query<{ id: number }>(
    `insert into hook_call (connection_id, hash, body, kind, ids) values ($1, $2, $3, $4, $5::jsonb)
     on conflict (connection_id, hash) do nothing returning id`,
    [connectionId, hash, body, kind, JSON.stringify(ids)],
  );

export const openCalls = (client: Queryable, connectionId: number, kinds: readonly string[]) =>
  client.query<{ id: number; kind: string; ids: string[] }>(
    `select id, kind, ids from hook_call where connection_id = $1 and run_id is null and kind = any($2::text[]) order by id`,
    [connectionId, kinds],
  );

/** Connections of which calls wait, and what for. */
export const connectionsWithCalls = (client: Queryable) =>
  client.query<{ connection_id: number; wanted: 'records' | 'results' }>(
    `select distinct h.connection_id, case when h.kind = 'results' then 'results' else 'records' end as wanted
     from hook_call h join connection c on c.id = h.connection_id and c.state = 'on' where h.run_id is null`,
  );

export const handledCalls = (client: Queryable, ids: readonly number[], runId: number) =>
  client.query('update hook_call set run_id = $2 where id = any($1::bigint[]) and run_id is null', [ids, runId]);

/** Counts a call that is not believed. */
export const countFalse = (client: Queryable, connectionId: number, why: string) =>
  client.query(
    `insert into hook_state (connection_id, false_count, last_false, last_false_at) values ($1, 1, $2, now())
     on conflict (connection_id) do update set false_count = hook_state.false_count + 1, last_false = $2, last_false_at = now()`,
    [connectionId, why],
  );

export const latestCalls = (client: Queryable, connectionId: number, limit: number) =>
  client.query<{ id: number; at: Date; kind: string; body: string; run_id: number | null }>(
    'select id, at, kind, body, run_id from hook_call where connection_id = $1 order by id desc limit $2',
    [connectionId, limit],
  );

/** Calls are kept to be looked at for a while; what is not handled stays. */
export const pruneCalls = (client: Queryable) =>
  client.query(`delete from hook_call where run_id is not null and at < now() - interval '30 days'`);

/** Keeps the word of a colleague over there on whoever these records are, where nobody here said anything else. */
export const chooseByRecords = (client: Queryable, connectionId: number, recordIds: readonly string[]) =>
  client.query(
    `insert into sync_choice (connection_id, contact_id, choice)
     select distinct l.connection_id, l.contact_id, 'send' from sync_link l
     where l.connection_id = $1 and l.outside_id = any($2::text[]) and l.contact_id > 0
     on conflict (connection_id, contact_id) do nothing`,
    [connectionId, recordIds],
  );
