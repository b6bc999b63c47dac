import { KilledSync, type OtherTool } from '@gray-loom/server/testing';
import fc from 'fast-check';
import { anyEdits, anyHistory, anyOwnEdits, SyncWorld, type History } from '../packages/core/src/testing/sync-world';
import { atMost, type BenchResult } from './harness';

const IN_MEMORY = Number(process.env.GRAY_LOOM_BENCH_HISTORIES ?? 20_000);
const OVER_HTTP = Number(process.env.GRAY_LOOM_BENCH_KILLED ?? 200);
const WITH_DIALER = Number(process.env.GRAY_LOOM_BENCH_KILLED_BOTH ?? 100);
const WITH_ALL = Number(process.env.GRAY_LOOM_BENCH_KILLED_ALL ?? 100);
const ROUNDS = 12;
/** Histories of one book; with more its people no longer fit the page that is looked at. */
const A_BOOK = 50;

/** What breaks a law after a history, in words; null when nothing does. */
async function brokenBy(
  history: History,
  looks: (world: SyncWorld) => string[],
  empty: boolean,
): Promise<string | null> {
  const world = new SyncWorld(history);
  if (empty) for (let i = 0; i < 3; i++) await world.step({ kind: 'newHere' });
  else await world.begin();
  for (const step of history.steps) await world.step(step);
  if ((await world.rest(ROUNDS)) === null) return 'it does not come to rest';
  return looks(world)[0] ?? null;
}

/** Histories over HTTP with kills; gives how many break a law. */
async function overHttp(seed: number, histories: number, others: readonly OtherTool[]): Promise<number> {
  let broken = 0;
  // Books grow with each history, and are looked at whole after it; now and then a fresh one is begun.
  for (let from = 0; from < histories; from += A_BOOK) {
    const sync = await KilledSync.start(others);
    try {
      for (let i = from; i < Math.min(histories, from + A_BOOK); i++) {
        const faults = await sync.history(seed + i, 6);
        if (!faults.length) continue;
        broken++;
        process.stderr.write(
          `over HTTP${others.map((one) => ` with a ${one}`).join('')}, seed ${seed + i}: ${faults.join('; ')}\n`,
        );
      }
    } finally {
      await sync.end();
    }
  }
  return broken;
}

/** Random histories of edits and faults: in memory with three tools, and over HTTP with server and worker killed. */
export async function benchHistories(): Promise<BenchResult> {
  const seed = Number(process.env.GRAY_LOOM_SEED ?? Date.now() % 1_000_000);
  const startedMs = performance.now();
  const kinds = [
    {
      name: 'whatever happens',
      arbitrary: anyHistory,
      share: 0.6,
      looks: (world: SyncWorld) => world.broken(),
      empty: false,
    },
    {
      name: 'edits that ask',
      arbitrary: anyEdits,
      share: 0.3,
      looks: (world: SyncWorld) => world.lost(),
      empty: false,
    },
    {
      name: 'edits of one side',
      arbitrary: anyOwnEdits,
      share: 0.1,
      looks: (world: SyncWorld) => world.asked(),
      empty: true,
    },
  ];
  let broken = 0;
  for (const { name, arbitrary, share, looks, empty } of kinds) {
    let at = 0;
    for (const history of fc.sample(arbitrary, { numRuns: Math.round(IN_MEMORY * share), seed })) {
      const fault = await brokenBy(history, looks, empty);
      if (fault) {
        broken++;
        process.stderr.write(`${name}, seed ${seed}, number ${at}: ${fault}\n`);
      }
      at++;
    }
  }
  const memoryS = (performance.now() - startedMs) / 1000;
  const killed = await overHttp(seed, OVER_HTTP, []);
  const both = await overHttp(seed, WITH_DIALER, ['dialer']);
  const three = await overHttp(seed, WITH_ALL, ['dialer', 'mailer']);
  return {
    name: 'histories',
    claims: [
      atMost('histories in memory that break a law', broken, 0, `of ${IN_MEMORY}`),
      atMost('histories over HTTP with kills that break a law', killed, 0, `of ${OVER_HTTP}`),
      atMost('histories over HTTP of an address book and a dialer that break a law', both, 0, `of ${WITH_DIALER}`),
      atMost('histories over HTTP of all three tools that break a law', three, 0, `of ${WITH_ALL}`),
    ],
    figures: { seed, 'in memory, s': memoryS, 'all, s': (performance.now() - startedMs) / 1000 },
  };
}
