import { KILLED_ROWS, killedImport, RealApp } from '@gray-loom/server/testing';
import { atMost, type BenchResult } from './harness';

const KILLS = 50;
const MOST_ROUNDS = 30;

/** Fifty kills of worker, server and database at random moments of imports: nothing lost, nothing twice, counts right. */
export async function benchKilled(): Promise<BenchResult> {
  const seed = Number(process.env.GRAY_LOOM_SEED ?? Date.now() % 1_000_000);
  const app = await RealApp.start();
  const startedMs = performance.now();
  let killed = 0;
  let wrong = 0;
  let round = 0;
  try {
    for (; killed < KILLS && round < MOST_ROUNDS; round++) {
      const found = await killedImport(app, seed + round, `Crew${round}x`);
      killed += found.killed;
      const right =
        found.state === 'done' &&
        found.rows === KILLED_ROWS &&
        found.differentRows === KILLED_ROWS &&
        found.mailboxesTwice === 0 &&
        found.lost === 0 &&
        found.people === found.counts.new &&
        Object.entries(found.trialCounts).every(([outcome, n]) => found.counts[outcome] === n);
      if (!right) {
        wrong++;
        process.stderr.write(`round ${round}, seed ${seed + round}: ${JSON.stringify(found)}\n`);
      }
    }
  } finally {
    await app.end();
  }
  return {
    name: 'killed',
    claims: [
      atMost('imports with a row lost, doubled or miscounted after being killed', wrong, 0, `of ${round}`),
      atMost('kills short of fifty', Math.max(0, KILLS - killed), 0, 'kills'),
    ],
    figures: { seed, imports: round, kills: killed, seconds: (performance.now() - startedMs) / 1000 },
  };
}
