import {
  workRun,
  actingAs,
  inTransaction,
  type Database,
  type Tx,
  pick,
  run,
  type ThreadKind,
  startImport,
  listGroups,
  matchBoard,
  keepGroupApart,
  mergeGroup,
  loadCatalogue,
  PickLists,
  startRun,
  threadFor,
  firstAdministrator,
  takeFile,
  type NewContact,
  insertContacts,
} from '@gray-loom/server';
import { Readable } from 'node:stream';
import { eq, sql } from 'drizzle-orm';
import { foldText } from '@gray-loom/core/fields';
import { recordFrom } from '@gray-loom/core/writing';
import { seedActivity } from './activity';
import { castPeople, THREADS, type Cast } from './cast';
import { fairFile } from './fair-file';
import { seedOpportunities } from './opportunities';
import { Dice, SHORT, toldBy, type DemoThread } from './people';
import { CULTURES, SOURCES, STAGES, TAGS } from './quillhaven';
import { seedSegments } from './segments';
import { seedBookState } from './book-state';
import { seedWholeRecord } from './whole-record';

const DAY = 86_400_000;
const MINUTE = 60_000;
const FAIR_DAYS_BACK = 9;
/** When somebody looked for duplicates and decided some, over the years of the scenario. */
const AFTERNOONS = [
  { daysBack: 640, merges: 3, apart: false },
  { daysBack: 310, merges: 3, apart: true },
  { daysBack: 95, merges: 3, apart: false },
  { daysBack: 24, merges: 2, apart: false },
];

interface SeedOptions {
  withPeople: boolean;
  databaseUrl: string;
  say: (text: string) => void;
}

const KIND_OF: Record<DemoThread, 'import' | 'sync' | 'form' | 'create'> = {
  file: 'import',
  addressBook: 'sync',
  dialer: 'sync',
  mailer: 'sync',
  form: 'form',
  inbox: 'form',
  hand: 'create',
};

/** Fills a new workspace: pick-lists always; with people, the whole Quillhaven scenario, the same at every start. */
export async function seedDemo(database: Database, { withPeople, databaseUrl, say }: SeedOptions): Promise<void> {
  await inTransaction(database, (tx) => seedLists(tx, withPeople));
  if (!withPeople) return;
  say('Making the demo people of the Quillhaven Boat School.');
  const administrator = await firstAdministrator(database);
  const own = administrator ? actingAs(database, administrator) : database;
  const { people, entries } = castPeople();
  let since = Infinity;
  for (const afternoon of AFTERNOONS) {
    await seedPeople(database, own, entries, since, afternoon.daysBack);
    await seedDecisions(own, databaseUrl, afternoon);
    since = afternoon.daysBack;
  }
  await seedPeople(database, own, entries, since, FAIR_DAYS_BACK);
  await seedFile(own, databaseUrl, 'boat-fair-sign-in.csv', fairFile(people, 11, 220), FAIR_DAYS_BACK);
  await seedWholeRecord(database, own, databaseUrl);
  await seedOpportunities(own);
  await spreadOverADay(database, await lastRunOf(database, FAIR_DAYS_BACK));
  await seedPeople(database, own, entries, FAIR_DAYS_BACK, 0);
  await seedActivity(database, own);
  await scan(own, databaseUrl);
  await seedSegments(database, own);
  await seedBookState(database);
  await takeFile(own, {
    name: 'regatta-crews-2026.csv',
    body: Readable.from([fairFile(people, 29, 412)]),
    declaredBytes: null,
    limitBytes: 1e8,
    country: 'GB',
  });
}

async function seedLists(tx: Tx, withPeople: boolean): Promise<void> {
  const rows = [
    ...STAGES.map(([label, meaning], i) => ({
      kind: 'stage' as const,
      label,
      meaning,
      ordinal: i,
      foldKey: foldText(label),
    })),
    ...(withPeople ? TAGS.map((label) => ({ kind: 'tag' as const, label, foldKey: foldText(label) })) : []),
    ...(withPeople ? SOURCES.map((label) => ({ kind: 'source' as const, label, foldKey: foldText(label) })) : []),
  ];
  // An empty workspace that nobody opened yet has some of them already.
  await tx.db.insert(pick).values(rows).onConflictDoNothing();
}

/** The runs of all threads between two days back, oldest first, so that the ledger reads in order. */
async function seedPeople(
  database: Database,
  own: Database,
  entries: Cast['entries'],
  fromDaysBack: number,
  toDaysBack: number,
): Promise<void> {
  const dice = new Dice(77);
  const catalogue = await loadCatalogue(database.db);
  const plan = THREADS.flatMap((thread, index) => {
    const own = entries.filter((entry) => entry.thread === index);
    const size = Math.ceil(own.length / thread.runs);
    return Array.from({ length: thread.runs }, (_, i) => ({
      thread,
      entries: own.slice(i * size, (i + 1) * size),
      daysBack:
        thread.runs === 1
          ? thread.sinceDays
          : thread.sinceDays * (1 - Math.sqrt((i + 0.5) / thread.runs)) + dice.below(3),
    }));
  })
    .filter(({ daysBack }) => daysBack <= fromDaysBack && daysBack > toDaysBack)
    .sort((a, b) => b.daysBack - a.daysBack);
  for (const batch of plan) {
    if (!batch.entries.length) continue;
    await inTransaction(batch.thread.kind === 'hand' ? own : database, async (tx) => {
      const at = new Date(Date.now() - batch.daysBack * DAY - dice.below(36_000_000));
      const picks = await PickLists.load(tx.db);
      const threadId = await threadFor(tx, batch.thread.kind as ThreadKind, batch.thread.name);
      const runId = await startRun(tx, {
        kind: KIND_OF[batch.thread.kind],
        state: 'done',
        threadId,
        title: batch.thread.name,
        counts: { new: batch.entries.length },
      });
      const contacts = batch.entries.map(({ person }, i): NewContact => ({
        record: recordFrom(toldBy(batch.thread.kind, person, dice), catalogue, {
          run: runId,
          row: batch.thread.kind === 'file' ? i + 1 : undefined,
        }),
        sourceRow: batch.thread.kind === 'file' ? i + 1 : null,
        at,
      }));
      await insertContacts(tx, runId, contacts);
      await picks.save(tx);
      await tx.db.update(run).set({ createdAt: at, finishedAt: at }).where(eq(run.id, runId));
    });
  }
}

/** A real file through the real import, with the rows that it holds back. */
async function seedFile(
  database: Database,
  databaseUrl: string,
  name: string,
  bytes: Buffer,
  daysBack: number,
): Promise<void> {
  const id = await takeFile(database, {
    name,
    body: Readable.from([bytes]),
    declaredBytes: null,
    limitBytes: 1e8,
    country: 'GB',
  });
  const { runId } = await startImport(database, id);
  await workRun(database, runId, { databaseUrl });
  const at = sql`now() - make_interval(days => ${daysBack})`;
  await database.db.update(run).set({ createdAt: at, finishedAt: at }).where(eq(run.id, runId));
  await database.pool.query(
    `update contact set created_at = now() - make_interval(days => $2), touched_at = now() - make_interval(days => $2) where created_run = $1`,
    [runId, daysBack],
  );
  await database.pool.query('update saved_mapping set used_at = now() - make_interval(days => $1)', [daysBack]);
  await database.pool.query(`update intake set created_at = now() - make_interval(days => $2) where id = $1`, [
    id,
    daysBack,
  ]);
}

async function scan(database: Database, databaseUrl: string): Promise<number> {
  const runId = await inTransaction(database, async (tx) =>
    startRun(tx, {
      kind: 'scan',
      state: 'queued',
      threadId: await threadFor(tx, 'hand', 'By hand'),
      title: 'Scan of everybody for duplicates',
    }),
  );
  await workRun(database, runId, { databaseUrl });
  return runId;
}

const GIVEN = new Set([...CULTURES.flatMap(({ given }) => given), ...Object.values(SHORT)]);
const FAMILY = new Set(CULTURES.flatMap(({ family }) => family));

/** Whether what a group would become is called as somebody of the scenario is: nobody here merged a slip of the pen into the book. */
function isSpeltRight({ rows }: Awaited<ReturnType<typeof matchBoard>>): boolean {
  const named = (field: string) => String(rows.find((row) => row.field === field)?.result[0]?.v ?? '');
  return GIVEN.has(named('givenName')) && FAMILY.has(named('familyName'));
}

/** Puts runs, what they wrote and what they found to a day in the past. */
async function datedBack({ pool }: Database, runIds: readonly number[], at: Date): Promise<void> {
  await pool.query('update run set created_at = $2, finished_at = $2 where id = any($1::int[])', [runIds, at]);
  await pool.query('update contact set touched_at = $2 where last_run = any($1::int[])', [runIds, at]);
  await pool.query('update match_model set created_at = $2 where run_id = any($1::int[])', [runIds, at]);
  await pool.query('update match_group set created_at = $1 where created_at > $1', [at]);
}

/** The last run that stands in its place in the past. */
async function lastRunOf({ pool }: Database, daysBack: number): Promise<number> {
  const { rows } = await pool.query<{ id: number }>(
    'select coalesce(max(id), 0)::int as id from run where created_at < now() - make_interval(days => $1 - 1)',
    [daysBack],
  );
  return rows[0]?.id ?? 0;
}

/** Puts what was done since a run to the days after the fair, a quarter of an hour apart. */
async function spreadOverADay(database: Database, since: number): Promise<void> {
  const { rows } = await database.pool.query<{ id: number }>(
    'select id from run where id > $1 or (created_at > now() - make_interval(days => 1) and id <= $1) order by id',
    [since],
  );
  const begun = Date.now() - FAIR_DAYS_BACK * DAY;
  for (const [i, { id }] of rows.entries()) await datedBack(database, [id], new Date(begun + (i + 1) * 15 * MINUTE));
}

/** An afternoon at the duplicates, some days back: a scan, a few certain groups merged, and maybe one kept apart. */
async function seedDecisions(
  database: Database,
  databaseUrl: string,
  { daysBack, merges, apart }: (typeof AFTERNOONS)[number],
): Promise<void> {
  const begun = Date.now() - daysBack * DAY;
  await datedBack(database, [await scan(database, databaseUrl)], new Date(begun));
  const { groups } = await listGroups(database);
  let n = 0;
  for (const group of groups) {
    if (n >= merges) break;
    if (group.band !== 'certain') continue;
    const board = await matchBoard(database, group.id);
    if (!isSpeltRight(board)) continue;
    const { runId } = await mergeGroup(database, group.id, {
      memberIds: board.members.map((member) => member.id),
      keepId: null,
      choices: {},
      versions: {},
    });
    await datedBack(database, [runId], new Date(begun + ++n * 7 * MINUTE));
  }
  const possible = apart ? groups.find((group) => group.band === 'possible') : undefined;
  if (!possible) return;
  const { runId } = await keepGroupApart(database, possible.id, {
    memberIds: (await matchBoard(database, possible.id)).members.map((member) => member.id),
    sharedLines: [],
  });
  await datedBack(database, [runId], new Date(begun + ++n * 7 * MINUTE));
}
