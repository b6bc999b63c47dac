import { consumerOf } from './feed-place';
import { dropPosition } from '../../feed/positions';
import { randomBytes } from 'node:crypto';
import { asc, desc, eq, sql } from 'drizzle-orm';
import {
  NO_TOTALS,
  sayLine,
  withMadeFields,
  wordBrake,
  type BrakeReason,
  type PassTotals,
  type SyncSetup,
} from '@gray-loom/core/syncing';
import type {
  ConnectionChange,
  ConnectionDetail,
  ConnectionRequest,
  ConnectionSummary,
  ConnectionTestRequest,
  ConnectionTestResult,
  SyncRunRequest,
  SyncTrial,
} from '@gray-loom/wire';
import { connectorsFor } from '../../connectors';
import type { Credentials } from '../../connectors/connector';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { connection, run, syncChoice, syncLink, thread } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { Refusal } from '../../http/refusal';
import { seal, unseal } from './secrets';
import { loadCatalogue, PickLists } from '../../book/picks';
import { enqueueRun, startRun, threadFor } from '../../runs/runs';
import { checkSetup, fightsOf, firstSetup, limitWords } from './sync-setup';

export type ConnectionRow = typeof connection.$inferSelect;
/** Looks that a thread can have. */
const LOOKS = 4;

export interface SyncServices {
  database: Database;
  secretKey: Buffer | null;
  standIns: readonly string[];
}

export async function requireConnection({ db }: Pick<Database, 'db'>, id: number): Promise<ConnectionRow> {
  const [found] = await db.select().from(connection).where(eq(connection.id, id));
  if (!found) throw refuse.noSuchConnection();
  return found;
}

export function credentialsOf(row: ConnectionRow, secretKey: Buffer | null): Credentials {
  return { user: row.userName, password: unseal(row.secret, secretKey) };
}

/** Tries an address and credentials, and says which step failed. Nothing is kept. */
export async function testConnection(
  services: SyncServices,
  { address, user, password, of }: ConnectionTestRequest,
): Promise<ConnectionTestResult> {
  const kept = of === null ? null : await requireConnection(services.database, of);
  const credentials = {
    user: user || (kept?.userName ?? ''),
    password: password || (kept ? unseal(kept.secret, services.secretKey) : ''),
  };
  const { steps, capabilities } = await connectorsFor(services.standIns).addressBook.find(address, credentials);
  return { steps, capabilities };
}

/** Makes a connection after its test, with a set-up to begin with, or that of another one. Nothing is synced yet. */
export async function makeConnection(services: SyncServices, request: ConnectionRequest): Promise<{ id: number }> {
  const { database, secretKey } = services;
  const from = request.from === null ? null : await requireConnection(database, request.from);
  const password = request.password || (from ? unseal(from.secret, secretKey) : '');
  const secret = seal(password, secretKey);
  const found = await connectorsFor(services.standIns).addressBook.find(request.address, {
    user: request.user,
    password,
  });
  if (!found.address || !found.capabilities) {
    const failed = found.steps.find(({ ok }) => !ok);
    throw refuse.connectionFails({
      text: failed?.text ?? null,
      ...(failed ? { step: failed.name } : {}),
      field: failed?.name.includes('password') ? 'password' : 'address',
    });
  }
  const { address: place } = found;
  const capabilities = withMadeFields(found.capabilities, ownFields(from?.setup));
  const picks = await PickLists.load(database.db);
  const catalogue = await loadCatalogue(database.db);
  const setup = from ? from.setup : firstSetup(capabilities, picks.stages);
  checkSetup(setup, capabilities, catalogue);
  return inTransaction(database, async (tx) => {
    await refuseTaken(tx, request.name, null);
    const [others] = await tx.db.select({ n: sql<number>`count(*)::int` }).from(connection);
    const [row] = await tx.db
      .insert(connection)
      .values({
        name: request.name,
        kind: 'addressBook',
        threadId: await threadFor(tx, 'addressBook', request.name),
        address: request.address,
        place,
        userName: request.user,
        secret,
        setup,
        everyMinutes: from?.everyMinutes ?? null,
        capabilities,
        look: (others?.n ?? 0) % LOOKS,
        hook: randomBytes(18).toString('base64url'),
      })
      .returning({ id: connection.id });
    await tell(tx.client, { topic: 'syncs' });
    return { id: row?.id ?? 0 };
  });
}

async function refuseTaken(tx: Tx, name: string, exceptId: number | null): Promise<void> {
  const [taken] = await tx.db.select({ id: connection.id }).from(connection).where(eq(connection.name, name));
  if (taken && taken.id !== exceptId) throw refuse.nameTaken({ name, field: 'name' });
}

/** Changes name, credentials, set-up, timetable or state. A set-up that changed is tried again before it runs. */
export async function changeConnection(services: SyncServices, id: number, change: ConnectionChange): Promise<void> {
  const { database, secretKey } = services;
  const row = await requireConnection(database, id);
  const set: Partial<typeof connection.$inferInsert> = {};
  if (change.setup) {
    set.capabilities = withMadeFields(row.capabilities, ownFields(change.setup));
    checkSetup(change.setup, set.capabilities, await loadCatalogue(database.db));
    set.setup = change.setup;
    set.setupVersion = row.setupVersion + 1;
    set.setupAt = new Date();
    // Everything is looked at again: what the set-up means for records that did not change is not known.
    set.theirCursor = null;
  }
  if (change.user !== undefined || change.password || change.address !== undefined) {
    const credentials = {
      user: change.user ?? row.userName,
      password: change.password || unseal(row.secret, secretKey),
    };
    const found = await connectorsFor(services.standIns).addressBook.find(change.address ?? row.address, credentials);
    if (!found.address || !found.capabilities)
      throw refuse.connectionFails({ text: found.steps.find(({ ok }) => !ok)?.text ?? null });
    if (found.address !== row.place) set.theirCursor = null;
    Object.assign(set, {
      userName: credentials.user,
      secret: seal(credentials.password, secretKey),
      address: change.address ?? row.address,
      place: found.address,
      capabilities: withMadeFields(found.capabilities, ownFields(change.setup ?? row.setup)),
      trouble: null,
    });
  }
  if (change.look !== undefined) set.look = change.look;
  if (change.everyMinutes !== undefined) set.everyMinutes = change.everyMinutes;
  if (change.state) {
    if (change.state === 'on' && row.triedVersion < (set.setupVersion ?? row.setupVersion)) throw refuse.needsTrial();
    set.state = change.state;
  }
  const every = set.everyMinutes === undefined ? row.everyMinutes : set.everyMinutes;
  const state = set.state ?? row.state;
  set.nextRunAt = state === 'on' && every !== null ? new Date(Date.now() + every * 60_000) : null;
  await inTransaction(database, async (tx) => {
    if (change.name && change.name !== row.name) {
      await refuseTaken(tx, change.name, id);
      set.name = change.name;
      await tx.db.update(thread).set({ name: change.name }).where(eq(thread.id, row.threadId));
    }
    await tx.db.update(connection).set(set).where(eq(connection.id, id));
    if (change.setup) await tx.db.update(syncLink).set({ dirty: true }).where(eq(syncLink.connectionId, id));
    // One that is stopped keeps nothing of the feed waiting; where it goes on it looks at everybody.
    if (change.setup || change.state === 'stopped') await dropPosition(tx.client, consumerOf(id));
    await tell(tx.client, { topic: 'syncs' });
  });
}

const ownFields = (setup: SyncSetup | undefined) => setup?.lines.map(({ outside }) => outside) ?? [];

/** Asks the other side again what fields and labels it has, and how much room. */
export async function refreshCapabilities(services: SyncServices, id: number): Promise<void> {
  const row = await requireConnection(services.database, id);
  const tool = connectorsFor(services.standIns)[row.kind].open(row.place, credentialsOf(row, services.secretKey));
  // Fields that somebody made over there are told by the records that have them.
  const { rows } = await services.database.pool.query<{ key: string }>(
    `select distinct key from (select seen from sync_link where connection_id = $1 and seen is not null limit 5000) l,
       json_object_keys(l.seen->'fields') as key where key like 'x-%' order by key limit 100`,
    [id],
  );
  const own = [...ownFields(row.setup), ...rows.map(({ key }) => key)];
  const capabilities = withMadeFields(await tool.capabilities(), own);
  await services.database.db.update(connection).set({ capabilities }).where(eq(connection.id, id));
  await tell(services.database.pool, { topic: 'syncs' });
}

const OPEN_RUN = sql`${run.kind} = 'sync' and ${run.state} in ('queued', 'running', 'paused')`;

/** Puts a run of a connection on the queue; there is one at a time. */
export async function startSync(
  tx: Tx,
  row: ConnectionRow,
  { trial, only, onlyThere = [] }: Omit<SyncRunRequest, 'onlyThere'> & { onlyThere?: string[] },
): Promise<number> {
  await tx.client.query('select pg_advisory_xact_lock(4312, $1)', [row.id]);
  const [open] = await tx.db
    .select({ id: run.id, state: run.state })
    .from(run)
    .where(sql`${OPEN_RUN} and (${run.detail}->>'connectionId')::int = ${row.id}`);
  if (open) throw refuse.runs({ name: row.name, runId: open.id, waits: open.state === 'paused' });
  if (row.state === 'stopped') throw refuse.stopped({ name: row.name });
  if (!trial && row.triedVersion < row.setupVersion) throw refuse.needsTrial();
  const what = trial
    ? `Trial of ${row.name}`
    : only
      ? `${row.name}, ${only.length + onlyThere.length} chosen`
      : row.name;
  const runId = await startRun(tx, {
    kind: 'sync',
    state: 'queued',
    threadId: row.threadId,
    title: what,
    detail: { connectionId: row.id, trial, ...(only ? { only, onlyThere } : {}) },
  });
  await enqueueRun(tx, runId);
  await tell(tx.client, { topic: 'syncs' });
  return runId;
}

export async function runConnection(
  database: Database,
  id: number,
  request: Parameters<typeof startSync>[2],
): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const row = await requireConnection(tx, id);
    return { runId: await startSync(tx, row, request) };
  });
}

/** The other side says that something changed. Unknown addresses are told nothing. */
export async function callIn(database: Database, hook: string): Promise<void> {
  await inTransaction(database, async (tx) => {
    const [row] = await tx.db.select().from(connection).where(eq(connection.hook, hook));
    if (!row || row.state !== 'on') throw refuse.noSuchHook();
    await startSync(tx, row, { trial: false, only: null }).catch((error: unknown) => {
      // One that runs already takes the change along, or the next one does.
      if (!(error instanceof Refusal) || error.code !== 'runs') throw error;
    });
  });
}

/** Starts what is due by its timetable. A little later each time by chance, so that not all begin at once. */
export async function startDueSyncs(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    const due = await tx.db
      .select()
      .from(connection)
      .where(sql`${connection.state} = 'on' and ${connection.nextRunAt} <= now()`)
      .for('update', { skipLocked: true });
    for (const row of due) {
      const every = (row.everyMinutes ?? 60) * 60_000;
      await tx.db
        .update(connection)
        .set({ nextRunAt: row.everyMinutes === null ? null : new Date(Date.now() + every * (1 + Math.random() * 0.1)) })
        .where(eq(connection.id, row.id));
      await startSync(tx, row, { trial: false, only: null }).catch((error: unknown) => {
        if (!(error instanceof Refusal)) throw error;
      });
    }
  });
}

const reasonWords = (detail: Record<string, unknown>) =>
  ((detail.reasons ?? []) as BrakeReason[]).map((reason) => wordBrake(reason));

async function summaries(database: Database, rows: readonly ConnectionRow[]): Promise<ConnectionSummary[]> {
  if (!rows.length) return [];
  const ids = rows.map(({ id }) => id);
  const [links, asked, today, runs, people] = await Promise.all([
    database.pool.query<{ id: number; in_step: number; asking: number; known: number }>(
      `select connection_id as id, count(*) filter (where state = 'linked')::int as in_step,
         count(*) filter (where state = 'asking')::int as asking, count(*)::int as known
       from sync_link where connection_id = any($1::int[]) group by 1`,
      [ids],
    ),
    database.pool.query<{ id: number; n: number }>(
      `select connection_id as id, count(*)::int as n from sync_conflict where connection_id = any($1::int[]) group by 1`,
      [ids],
    ),
    database.pool.query<{
      id: number;
      made_here: number;
      made_there: number;
      changed_here: number;
      changed_there: number;
    }>(
      `select s.connection_id as id,
         count(distinct s.outside_id) filter (where s.kind = 'madeHere')::int as made_here,
         count(distinct s.outside_id) filter (where s.kind = 'madeThere')::int as made_there,
         count(distinct s.outside_id) filter (where s.field <> '' and s.side = 'here')::int as changed_here,
         count(distinct s.outside_id) filter (where s.field <> '' and s.side = 'there')::int as changed_there
       from sync_change s join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = any($1::int[]) and s.at >= date_trunc('day', now()) group by 1`,
      [ids],
    ),
    database.pool.query<{
      id: number;
      run_id: number;
      state: string;
      at: Date;
      error: string | null;
      detail: Record<string, unknown>;
    }>(
      `select w.id, r.id as run_id, r.state, r.created_at as at, r.error, r.detail from unnest($1::int[]) as w(id) cross join lateral
         (select * from run where kind = 'sync' and (detail->>'connectionId')::int = w.id
            and not coalesce((detail->>'trial')::boolean, false) order by id desc limit 1) r`,
      [ids],
    ),
    database.pool.query<{ n: number }>(
      `select coalesce(sum(n), 0)::int as n from tally where kind = 'live' and who = 'person'`,
    ),
  ]);
  const active = await database.pool.query<{ id: number; run_id: number }>(
    `select (detail->>'connectionId')::int as id, id as run_id from run where kind = 'sync' and state in ('queued', 'running')`,
  );
  const by = <T extends { id: number }>(list: readonly T[], id: number) => list.find((one) => one.id === id);
  return rows.map((row): ConnectionSummary => {
    const last = by(runs.rows, row.id);
    const link = by(links.rows, row.id);
    const day = by(today.rows, row.id);
    return {
      id: row.id,
      name: row.name,
      kind: row.kind,
      look: row.look,
      state: row.state,
      address: row.address,
      here: people.rows[0]?.n ?? 0,
      there: row.capabilities.records ?? link?.known ?? null,
      inStep: link?.in_step ?? 0,
      waiting: (link?.asking ?? 0) + (by(asked.rows, row.id)?.n ?? 0),
      today: {
        madeHere: day?.made_here ?? 0,
        changedHere: day?.changed_here ?? 0,
        madeThere: day?.made_there ?? 0,
        changedThere: day?.changed_there ?? 0,
      },
      lastRun: last ? { id: last.run_id, state: last.state, at: last.at.toISOString(), error: last.error } : null,
      nextRunAt: row.nextRunAt?.toISOString() ?? null,
      running: by(active.rows, row.id)?.run_id ?? null,
      trouble: row.trouble,
      braked:
        last?.state === 'paused' && (last.detail.reasons as unknown[] | undefined)?.length
          ? { runId: last.run_id, reasons: reasonWords(last.detail) }
          : null,
      needsTrial: row.triedVersion < row.setupVersion,
    };
  });
}

export async function listConnections(database: Database): Promise<ConnectionSummary[]> {
  return summaries(database, await database.db.select().from(connection).orderBy(asc(connection.id)));
}

/** One connection in full: how it is set up, what it does in words, what it did. */
export async function connectionDetail(database: Database, id: number): Promise<ConnectionDetail> {
  const row = await requireConnection(database, id);
  const [summary] = await summaries(database, [row]);
  const catalogue = await loadCatalogue(database.db);
  const days = await database.pool.query<{ day: string; here: number; there: number }>(
    `select to_char(d.day, 'YYYY-MM-DD') as day, coalesce(c.here, 0)::int as here, coalesce(c.there, 0)::int as there
     from generate_series(date_trunc('day', now()) - interval '13 days', date_trunc('day', now()), interval '1 day') as d(day)
     left join (select date_trunc('day', s.at) as day, count(*) filter (where s.side = 'here') as here, count(*) filter (where s.side = 'there') as there
       from sync_change s join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = $1 group by 1) c on c.day = d.day order by d.day`,
    [id],
  );
  const runs = await database.db
    .select()
    .from(run)
    .where(sql`${run.kind} = 'sync' and (${run.detail}->>'connectionId')::int = ${id}`)
    .orderBy(desc(run.id))
    .limit(20);
  const tried = runs.find(({ detail, state }) => detail.trial && state === 'done');
  const trial: SyncTrial | null = tried
    ? {
        runId: tried.id,
        at: tried.createdAt.toISOString(),
        totals: { ...NO_TOTALS, ...(tried.counts as Partial<PassTotals>) },
        reasons: reasonWords(tried.detail),
        isCurrent: tried.detail.setupVersion === row.setupVersion,
      }
    : null;
  return {
    ...(summary as ConnectionSummary),
    user: row.userName,
    setup: row.setup,
    everyMinutes: row.everyMinutes,
    capabilities: row.capabilities,
    hook: `/api/hooks/${row.hook}`,
    words: Object.fromEntries(row.setup.lines.map((line) => [line.id, sayLine(line, catalogue, row.capabilities)])),
    limits: limitWords(row.setup, row.capabilities, catalogue),
    fights: await fightsOf(database.db, { id, lines: row.setup.lines }, catalogue),
    days: days.rows,
    runs: runs.map((one) => ({
      id: one.id,
      title: one.title,
      state: one.state,
      at: one.createdAt.toISOString(),
      counts: one.counts,
      trial: one.detail.trial === true,
      error: one.error,
    })),
    trial,
  };
}

/** Lets a run go on that the brake held, since a person looked at its plan, which gives way to what is done now. */
export async function releaseBrake(database: Database, runId: number): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rowCount } = await tx.client.query(
      `update run set detail = detail - 'reasons' - 'written' || '{"released": true}', counts = coalesce(detail->'written', '{}')
       where id = $1 and kind = 'sync' and state = 'paused' and detail ? 'reasons'`,
      [runId],
    );
    if (rowCount) await tx.client.query('delete from sync_change where run_id = $1 and planned', [runId]);
  });
}

/** A person's word on one contact: sent by hand, never, or neither. */
export async function chooseContact(
  database: Database,
  connectionId: number,
  contactId: number,
  choice: 'send' | 'never' | null,
): Promise<void> {
  await requireConnection(database, connectionId);
  await inTransaction(database, async (tx) => {
    await tx.client.query('delete from sync_choice where connection_id = $1 and contact_id = $2', [
      connectionId,
      contactId,
    ]);
    if (choice) await tx.db.insert(syncChoice).values({ connectionId, contactId, choice });
    // What is linked is looked at in the next pass whatever changed.
    await tx.db
      .update(syncLink)
      .set({ dirty: true })
      .where(sql`${syncLink.connectionId} = ${connectionId} and ${syncLink.contactId} = ${contactId}`);
    await tell(tx.client, { topic: 'syncs' });
  });
}
