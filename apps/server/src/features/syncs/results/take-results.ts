import { parsePhone, type Catalogue } from '@gray-loom/core/fields';
import { valuesOf } from '@gray-loom/core/model';
import {
  enquiryOfResult,
  entryOfResult,
  fateOf,
  faultOfResult,
  howOfStop,
  ToolTrouble,
  type OutsidePage,
  type OutsideResult,
  type OutsideStop,
} from '@gray-loom/core/syncing';
import { recordFrom } from '@gray-loom/core/writing';
import { addActivities } from '../../../book/activities';
import { lineOf, mailboxKeyOf, numberKeyOf, typedAddress } from '../../../book/address-keys';
import { loadCatalogue, PickLists } from '../../../book/picks';
import { insertReturned } from '../../../book/statements/returned-mail';
import { insertContacts } from '../../../book/write-contacts';
import { connectorsFor } from '../../../connectors';
import type { OpenTool } from '../../../connectors/connector';
import { inTransaction, wholeBook, type Database, type Queryable, type Tx } from '../../../db/connect';
import { appendChange } from '../../../feed/append-change';
import { tell } from '../../../feed/events';
import type { RunContext } from '../../../runs/kind';
import { markProgress } from '../../../runs/lease';
import { failRun, finishRun } from '../../../runs/runs';
import { requireConnection, settingsOf, type ConnectionRow } from '../connections';
import {
  accountsByName,
  contactsOfKeys,
  insertAddressStops,
  insertResults,
  peopleByNumberKeys,
  resultsHere,
  waitedFor,
  whoRecordsAre,
  type ResultRow,
} from '../statements/results';
import { handledCalls, openCalls } from '../statements/hooks';
import { wasCalled } from '../statements/start-sync';
import { noteClock } from '../hooks/hook-state';
import { feedOf, keepFeed } from './result-feed';
import { startResults } from './start-results';

/** What the other side calls for results. */
const RESULT_CALLS = ['results'];
/** Results that waited, settled in one transaction. */
const AT_ONCE = 500;

/** What results are written with: everything of the book that they ask for, loaded once for a run. */
export interface ResultsContext {
  connectionId: number;
  /** Name of the connection, for evidence. */
  name: string;
  country: string;
  runId: number;
  catalogue: Catalogue;
  picks: PickLists;
  sources: Readonly<Record<string, string>>;
  /** Accounts by name and mailbox, in small letters. */
  accounts: ReadonlyMap<string, number>;
}

export async function resultsContext(
  database: Database,
  row: ConnectionRow,
  { runId, country }: { runId: number; country: string },
): Promise<ResultsContext> {
  const { rows } = await accountsByName(database.pool);
  return {
    connectionId: row.id,
    name: row.name,
    country,
    runId,
    catalogue: await loadCatalogue(database.db),
    picks: await PickLists.load(database.db),
    sources: (await feedOf(database.db, row.id)).sources,
    accounts: new Map(
      rows.flatMap(({ id, name, email }) => [name, email].map((key) => [key.toLowerCase(), id] as const)),
    ),
  };
}

const isMailbox = (text: string): boolean => text.includes('@');
const mailboxOf = (text: string): string => text.trim().toLowerCase();

/** Who alive has each of these numbers or mailboxes; by the number as it was given. */
async function whoHas(client: Queryable, numbers: readonly string[], country: string): Promise<Map<string, number[]>> {
  const normOf = (text: string) => (isMailbox(text) ? mailboxOf(text) : lineOf(parsePhone(text, country).norm));
  const norms = new Map(numbers.map((number) => [number, normOf(number)]));
  const keys = [...norms].flatMap(
    ([number, norm]) => (isMailbox(number) ? mailboxKeyOf(number) : numberKeyOf(norm))?.key ?? [],
  );
  if (!keys.length) return new Map();
  const people = await peopleByNumberKeys(client, keys.map(String));
  const byNorm = new Map<string, number[]>();
  for (const { id, record } of people) {
    const own = [
      ...valuesOf(record, 'tel').map((value) => lineOf(value.norm)),
      ...valuesOf(record, 'email').map((value) => mailboxOf(String(value.v))),
    ];
    for (const norm of new Set(own)) byNorm.set(norm, [...(byNorm.get(norm) ?? []), id]);
  }
  return new Map([...norms].map(([number, norm]) => [number, byNorm.get(norm) ?? []]));
}

const rowOf = (result: OutsideResult): Omit<ResultRow, 'state' | 'contact_id' | 'candidates'> => ({
  outside_id: result.id,
  kind: result.kind,
  at: result.at,
  outcome: result.outcome,
  minutes: result.minutes,
  by: result.by,
  incoming: result.incoming,
  reached: result.reached,
  record_id: result.recordId,
  number: result.number,
  of_id: result.of?.id ?? '',
  subject: result.of?.subject ?? '',
  link: result.link ?? '',
});

export const resultIn = (row: ResultRow): OutsideResult => ({
  id: row.outside_id,
  kind: row.kind as OutsideResult['kind'],
  recordId: row.record_id,
  number: row.number,
  reached: row.reached,
  incoming: row.incoming,
  at: row.at,
  outcome: row.outcome,
  minutes: row.minutes,
  by: row.by,
  ...(row.of_id ? { of: { id: row.of_id, subject: row.subject } } : {}),
  ...(row.link ? { link: row.link } : {}),
});

export type ResultCounts = Record<
  'entries' | 'enquiries' | 'waiting' | 'asked' | 'letGo' | 'stops' | 'unreadable',
  number
>;
export const noResults = (): ResultCounts => ({
  entries: 0,
  enquiries: 0,
  waiting: 0,
  asked: 0,
  letGo: 0,
  stops: 0,
  unreadable: 0,
});

/** Makes one contact for each number of which nobody here knows anything: whoever has it, with the source that they came by. */
async function makeCallers(
  tx: Tx,
  { runId, catalogue, picks, country }: ResultsContext,
  callers: ReadonlyMap<string, string>,
): Promise<Map<string, number>> {
  const list = [...callers];
  const ids = await insertContacts(
    tx,
    runId,
    list.map(([number, source]) => {
      const { norm } = parsePhone(number, country);
      return {
        record: recordFrom(
          {
            tel: [{ v: number, ...(norm ? { norm } : {}) }],
            ...(source ? { source: [{ v: picks.settle('source', source) }] } : {}),
          },
          catalogue,
          { run: runId },
        ),
      };
    }),
  );
  await picks.save(tx);
  return new Map(list.map(([number], i) => [number, ids[i] ?? 0]));
}

/** Writes results, each where it belongs: entries and enquiries of contacts, and what waits or is asked. `decided`: whose they are, by a person. */
export async function writeResults(
  tx: Tx,
  context: ResultsContext,
  results: readonly OutsideResult[],
  counts: ResultCounts,
  decided: ReadonlyMap<string, number | 'new'> = new Map(),
): Promise<void> {
  if (!results.length) return;
  const { connectionId, country, runId, accounts, sources } = context;
  const records = results.flatMap(({ recordId }) => recordId ?? []);
  const { rows: known } = await whoRecordsAre(tx.client, connectionId, [...new Set(records)]);
  const byRecord = new Map(known.map((one) => [one.record_id, one]));
  const unknown = results.filter(({ recordId, number }) => number && byRecord.get(recordId ?? '')?.contact_id == null);
  const have = await whoHas(tx.client, [...new Set(unknown.map(({ number }) => number))], country);
  const told = (result: OutsideResult) => ({
    connectionId,
    who: accounts.get(result.by.toLowerCase()) ?? null,
    source: sources[result.reached] ?? '',
  });
  const fates = results.map((result) => {
    const choice = decided.get(result.id);
    if (choice === 'new') return { is: 'enquiry' } as const;
    if (choice !== undefined) return { is: 'entry', contactId: choice } as const;
    const record = byRecord.get(result.recordId ?? '');
    return fateOf(result, {
      linked: record?.contact_id ?? null,
      erased: record?.erased ?? false,
      haveNumber: have.get(result.number) ?? [],
    });
  });
  const callers = new Map<string, string>();
  results.forEach((result, i) => {
    if (fates[i]?.is === 'enquiry' && !callers.has(result.number)) callers.set(result.number, told(result).source);
  });
  const made = await makeCallers(tx, context, callers);
  const rows: ResultRow[] = [];
  const entries: Parameters<typeof addActivities>[2][number][] = [];
  results.forEach((result, i) => {
    const fate = fates[i] ?? { is: 'waits' };
    const row = rowOf(result);
    if (fate.is === 'entry' || fate.is === 'enquiry') {
      const contactId = fate.is === 'entry' ? fate.contactId : (made.get(result.number) ?? 0);
      const activity = (fate.is === 'entry' ? entryOfResult : enquiryOfResult)(result, told(result));
      entries.push({ contactId, activity });
      counts[fate.is === 'entry' ? 'entries' : 'enquiries']++;
      // Whose it is says the activity from now on; the number stands with the contact.
      rows.push({ ...row, record_id: null, number: '', state: 'taken', contact_id: contactId, candidates: [] });
    } else if (fate.is === 'letGo') {
      counts.letGo++;
      rows.push({ ...row, record_id: null, number: '', state: 'letGo', contact_id: null, candidates: [] });
    } else {
      counts[fate.is === 'waits' ? 'waiting' : 'asked']++;
      const candidates = fate.is === 'asks' ? fate.candidates : [];
      rows.push({ ...row, state: fate.is, contact_id: null, candidates });
    }
  });
  if (entries.length) await addActivities(tx, runId, entries);
  await insertResults(tx.client, connectionId, runId, JSON.stringify(rows));
}

/** Keeps of addresses that mail to them came back, or reached them after all, and has whoever has them looked at anew. */
async function keepReturned(
  tx: Tx,
  { runId, country }: Pick<ResultsContext, 'runId' | 'country'>,
  told: readonly { address: string; at: string; cameBack: boolean; how: string }[],
): Promise<void> {
  const keyed = told.flatMap(({ address, at, cameBack, how }) => {
    const known = typedAddress(address, country);
    return known ? [{ key: known.key, address, came_back: cameBack, how, at }] : [];
  });
  if (!keyed.length) return;
  const { rows } = await insertReturned(tx.client, runId, JSON.stringify(keyed));
  if (!rows.length) return;
  const { rows: people } = await contactsOfKeys(
    tx.client,
    rows.map(({ key }) => String(key)),
  );
  await appendChange(tx, { kind: 'permission', runId, contacts: people.map(({ id }) => id) });
}

/** Keeps stops of numbers, whoever has them now or later. */
async function writeStops(
  tx: Tx,
  { runId, name, country }: ResultsContext,
  stops: readonly OutsideStop[],
  counts: ResultCounts,
): Promise<void> {
  const keyed = stops.flatMap((stop) => {
    const { channel, address, at, undeliverable } = stop;
    // Nobody said anything where mail came back.
    if (undeliverable) return [];
    const known = typedAddress(address, country);
    return known ? [{ key: known.key, address, channel, how: howOfStop(stop, name), at }] : [];
  });
  await keepReturned(
    tx,
    { runId, country },
    stops.flatMap(({ address, at, how = 'mail came back', undeliverable }) =>
      undeliverable ? [{ address, at, cameBack: true, how: `${name}: ${how}`.slice(0, 300) }] : [],
    ),
  );
  if (!keyed.length) return;
  const { rows } = await insertAddressStops(tx.client, runId, JSON.stringify(keyed));
  if (!rows.length) return;
  counts.stops += rows.length;
  const { rows: people } = await contactsOfKeys(
    tx.client,
    rows.map(({ key }) => String(key)),
  );
  await appendChange(tx, { kind: 'permission', runId, contacts: people.map(({ id }) => id) });
}

const sayUnreadable = (n: number, fault: string): string =>
  `${n === 1 ? '1 result cannot' : `${n.toLocaleString('en-GB')} results cannot`} be read and ${n === 1 ? 'was' : 'were'} passed over (${fault}). ` +
  'The others came in. Whoever keeps the tool can say what is wrong with it.';

/** Reads on in a list that only grows; where the place is not known any more, from its beginning. */
async function pageAfter<T>(
  read: (cursor: string | null) => Promise<OutsidePage<T>>,
  cursor: string | null,
): Promise<OutsidePage<T>> {
  return read(cursor).catch((error: unknown) => {
    if (!(error instanceof ToolTrouble) || error.kind !== 'cursorLost' || cursor === null) throw error;
    return read(null);
  });
}

/**
 * Takes in what came back from a tool since the last time, a page in a transaction: stops of numbers first, then results, each once,
 * however often or late it comes; then those that waited for their record. What is taken is marked with the place to go on from, so that a
 * run that was killed loses and doubles nothing.
 */
export async function takeResults(asked: RunContext): Promise<void> {
  const { config, run, lease } = asked;
  const database = wholeBook(asked.database);
  const row = await requireConnection(database, Number(run.detail.connectionId));
  const tool = connectorsFor(config.standIns)[row.kind].open(row.place, settingsOf(row, config.secretKey));
  try {
    await takeAll({ ...asked, database }, row, tool);
  } catch (error) {
    if (!(error instanceof ToolTrouble)) throw error;
    await failRun(database, lease.runId, `${error.message} What came in stands; the next time goes on from there.`);
    const waitMs = error.waitMs === null ? {} : { nextAt: new Date(Date.now() + Math.max(error.waitMs, 60_000)) };
    await keepFeed(database.db, row.id, { trouble: error.message, ...waitMs });
    await tell(database.pool, { topic: 'syncs' });
  }
}

async function takeAll(
  { database, config, run, lease, leaseMs }: RunContext,
  row: ConnectionRow,
  tool: OpenTool,
): Promise<void> {
  const context = await resultsContext(database, row, { runId: lease.runId, country: config.country });
  const counts: ResultCounts = { ...noResults(), ...(run.counts as Partial<ResultCounts>) };
  let done = 0;
  let stopped = false;
  let firstFault: string | null = null;
  const inStep = async (work: (tx: Tx) => Promise<void>) => {
    await inTransaction(database, async (tx) => {
      await work(tx);
      ({ stopRequested: stopped } = await markProgress(tx, lease, { done, total: done }, { ...counts }, leaseMs));
    });
  };
  const called = (await openCalls(database.pool, row.id, RESULT_CALLS)).rows.map(({ id }) => id);
  const feed = await feedOf(database.db, row.id);
  for (let cursor = feed.stopsCursor, more = !!tool.stops; more && !stopped;) {
    const page = await pageAfter((at) => tool.stops?.(at) ?? Promise.reject(new Error('no stops')), cursor);
    await inStep(async (tx) => {
      await writeStops(tx, context, page.entries, counts);
      await keepFeed(tx.db, row.id, { stopsCursor: page.cursor });
    });
    ({ cursor, more } = page);
  }
  for (let cursor = feed.cursor, more = !!tool.results; more && !stopped;) {
    const page = await pageAfter((at) => tool.results?.(at) ?? Promise.reject(new Error('no results')), cursor);
    done += page.entries.length;
    // One that cannot be read does not hold up the others.
    const now = Date.now() + tool.clock.aheadMs;
    const readable = page.entries.filter((one) => {
      const fault = faultOfResult(one, now);
      firstFault ??= fault;
      if (fault !== null) counts.unreadable++;
      return fault === null;
    });
    await inStep(async (tx) => {
      const ids = readable.map(({ id }) => id);
      const here = new Set((await resultsHere(tx.client, row.id, ids)).rows.map(({ id }) => id));
      const fresh = new Map(readable.filter(({ id }) => !here.has(id)).map((one) => [one.id, one]));
      await writeResults(tx, context, [...fresh.values()], counts);
      const seen = [...fresh.values()].filter(({ outcome }) => outcome === 'opened' || outcome === 'clicked');
      await keepReturned(
        tx,
        context,
        seen.map(({ number, at, outcome, of }) => ({
          address: number,
          at,
          cameBack: false,
          how: `${context.name}: ${outcome} "${of?.subject ?? 'a mailing'}"`.slice(0, 300),
        })),
      );
      await keepFeed(tx.db, row.id, { cursor: page.cursor });
    });
    ({ cursor, more } = page);
  }
  for (let more = true; more && !stopped;)
    await inStep(async (tx) => {
      const { rows } = await waitedFor(tx.client, row.id, AT_ONCE);
      more = rows.length === AT_ONCE;
      await writeResults(tx, context, rows.map(resultIn), counts);
    });
  await inTransaction(database, async (tx) => {
    await finishRun(tx, lease.runId, stopped ? 'stopped' : 'done', { ...counts, requests: tool.requests });
    await keepFeed(tx.db, row.id, {
      trouble: firstFault === null ? null : sayUnreadable(counts.unreadable, firstFault),
    });
    await noteClock(tx.db, row.id, tool);
    await handledCalls(tx.client, called, lease.runId);
    const { rows } = await wasCalled(tx.client, lease.runId);
    if (rows[0]?.called && !stopped) await startResults(tx, row);
    await tell(tx.client, { topic: 'syncs' });
  });
}
