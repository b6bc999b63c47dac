import { setFlagsFromString } from 'node:v8';
import { Worker, type MessagePort } from 'node:worker_threads';
import pg from 'pg';
import { awaitedLater } from '@gray-loom/core/model';
import {
  bitsOfProbability,
  histogramOf,
  matchOrganizations,
  matchTogether,
  modelToJson,
  organizationOf,
  pairCode,
  type AskHelper,
  type HelperTask,
  type MatchModelJson,
  type PairHistogram,
  type PeopleStore,
} from '@gray-loom/core/matching';
import type { MatchSettings } from './match-settings';
import type { ReadAnswer, ReadTask } from './match-helper';
import { inThread } from '../../runs/threads';
import { readPeople } from './read-people';
import { countLive, middleLive, liveOrganizations } from './statements/match-thread';

export interface MatchTask {
  databaseUrl: string;
  threshold01: number;
  /** Pairs kept apart, as "a:b" with a < b. */
  apart: string[];
  /** Lines that a person said are shared. */
  sharedLines: string[];
  settings: MatchSettings;
  port: MessagePort;
}

export interface MatchAnswer {
  people: number;
  comparedPairs: number;
  groups: { memberIds: number[]; bits: number }[];
  organizations: { memberIds: number[]; bits: number }[];
  households: number[][];
  model: MatchModelJson;
  pairs: PairHistogram;
  stopped: boolean;
}

/** Everybody who is here, in order of id: one half is read and prepared here, the other by the helper. */
async function readEverybody(
  client: pg.Client,
  databaseUrl: string,
  helper: Helper,
  onRead: (done: number, total: number) => boolean,
): Promise<{ ids: number[]; people: PeopleStore }> {
  const live = `from contact where state = 'live' and kind = 'person'`;
  const size = await countLive(client, live);
  const total = Number(size.rows[0]?.n ?? 0);
  const middle = await middleLive(client, total >> 1, live);
  const upTo = Number(middle.rows[0]?.id ?? 0);
  const stop = new Int32Array(new SharedArrayBuffer(4));
  const range = { after: upTo, upTo: Number.MAX_SAFE_INTEGER };
  const theirs = awaitedLater(helper.read({ do: 'read', databaseUrl, range, stop }));
  const own = await readPeople(client, { after: 0, upTo }, (done) => {
    const goesOn = onRead(Math.min(total, done * 2), total);
    if (!goesOn) Atomics.store(stop, 0, 1);
    return goesOn;
  });
  const rest = await theirs;
  own.people.append(rest.people);
  for (const id of rest.ids) own.ids.push(id);
  return own;
}

/** Pairs of ids as codes of their places; those of whoever is not among them fall away. */
function codesOf(pairs: readonly string[], ids: readonly number[]): Set<number> {
  const wanted = new Set(pairs.flatMap((pair) => pair.split(':').map(Number)));
  const places = new Map<number, number>();
  ids.forEach((id, i) => {
    if (wanted.has(id)) places.set(id, i);
  });
  return new Set(
    pairs.flatMap((pair) => {
      const [a, b] = pair.split(':').map((id) => places.get(Number(id)));
      return a === undefined || b === undefined ? [] : [pairCode(a, b)];
    }),
  );
}

interface Helper {
  ask: AskHelper;
  read(task: ReadTask): Promise<ReadAnswer>;
  end(): Promise<number>;
}

/** Starts a second thread. A question is answered, or fails with the thread. */
function startHelper(): Helper {
  const thread = new Worker(new URL('./match-helper', import.meta.url));
  let asked: { done: (answer: unknown) => void; fail: (error: Error) => void } | null = null;
  let ended: Error | null = null;
  const fail = (error: Error) => {
    ended ??= error;
    asked?.fail(ended);
  };
  thread.on('message', (answer: unknown) => asked?.done(answer));
  thread.on('error', fail);
  thread.on('exit', () => fail(new Error('the second thread of the scan ended')));
  const ask = (task: HelperTask | ReadTask): Promise<unknown> =>
    ended
      ? Promise.reject(ended)
      : new Promise((done, failed) => {
          asked = { done, fail: failed };
          thread.postMessage(task);
        });
  return { ask: ask as AskHelper, read: ask as Helper['read'], end: () => thread.terminate() };
}

/** Runs in a thread of its own: reads everybody, learns a model, finds groups. Says how far it is through the port. */
async function findGroups({
  databaseUrl,
  threshold01,
  apart,
  sharedLines,
  settings,
  port,
}: MatchTask): Promise<MatchAnswer> {
  let stop = false;
  port.on('message', () => {
    stop = true;
  });
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  let helper: Helper | null = null;
  try {
    // A scan has much in memory that stays: a heap that grows by a quarter at a time takes a third less. Others do better without.
    setFlagsFromString('--heap-growing-percent=25');
    helper = startHelper();
    const { ids, people } = await readEverybody(client, databaseUrl, helper, (done, total) => {
      port.postMessage({ done, total: total * 2 });
      return !stop;
    });
    const keptApart = new Set(apart);
    const companies = await liveOrganizations(client);
    const companyIds = companies.map((row) => Number(row.id));
    const ofOrganizations = matchOrganizations(
      companies.map((row) => organizationOf(row.record)),
      bitsOfProbability(threshold01),
      (a, b) => keptApart.has(`${companyIds[Math.min(a, b)]}:${companyIds[Math.max(a, b)]}`),
    );
    const options = {
      threshold01,
      sharedLines,
      ...settings,
      keptApart: codesOf(apart, ids),
      onProgress: async (done01: number) => {
        port.postMessage({ done: Math.round(people.length * (1 + done01)), total: people.length * 2 });
        await new Promise((done) => setImmediate(done));
        return !stop;
      },
    };
    const result = await matchTogether(people, options, helper.ask);
    return {
      people: people.length,
      comparedPairs: result.comparedPairs,
      groups: result.groups.map((group) => ({
        memberIds: group.members.map((i) => ids[i] ?? 0),
        bits: group.weakestBits,
      })),
      organizations: ofOrganizations.groups.map((group) => ({
        memberIds: group.members.map((i) => companyIds[i] ?? 0),
        bits: group.weakestBits,
      })),
      households: result.households.map((members) => members.map((i) => ids[i] ?? 0)),
      model: modelToJson(result.model),
      pairs: histogramOf(result.pairs),
      stopped: result.stopped || stop,
    };
  } finally {
    setFlagsFromString('--heap-growing-percent=0');
    await helper?.end();
    await client.end();
    port.close();
  }
}

export default inThread(findGroups);
