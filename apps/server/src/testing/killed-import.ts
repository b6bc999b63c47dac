import pg from 'pg';
import type { RunSummary } from '@gray-loom/wire';
import type { RealApp, Victim } from './real-app';

export const KILLED_ROWS = 16_000;
/** Whoever else is killed, each of the three is at least once. */
const VICTIMS: readonly Victim[] = ['worker', 'database', 'server', 'worker', 'database'];

/** Linear congruential numbers below one (Numerical Recipes). */
function dice(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

async function until(look: () => Promise<RunSummary | null>, holds: (run: RunSummary) => boolean): Promise<RunSummary> {
  for (;;) {
    const run = await look();
    if (run && holds(run)) return run;
    await new Promise((done) => setTimeout(done, 30));
  }
}

/** What is left of an import that was killed again and again, beside what it would have been without that. */
export interface KilledImport {
  killed: number;
  state: string;
  error: string | null;
  counts: Record<string, number>;
  trialCounts: Record<string, number>;
  rows: number;
  differentRows: number;
  people: number;
  mailboxesTwice: number;
  lost: number;
  keptPeople: number;
}

/** Brings a file in while worker, server and database are killed at random moments. `name` tells its people from those of other files. */
export async function killedImport(app: RealApp, seed: number, name: string): Promise<KilledImport> {
  const roll = dice(seed);
  // Every hundredth row repeats an earlier person, every hundred and first cannot be read.
  const lines = Array.from({ length: KILLED_ROWS }, (_, i) => {
    if (i % 100 === 99) return `${name}${i - 50},Family${i - 50},${name}${i - 50}@example.org`;
    return `${name}${i},Family${i},${i % 101 === 100 ? 'no mailbox' : `${name}${i}@example.org`}`;
  });
  const intakeId = await app.upload(`${name}.csv`, `First name,Last name,Email\n${lines.join('\n')}\n`);
  const trialId = (await app.json<{ runId: number }>(`/intakes/${intakeId}/trial`, 'POST'))?.runId ?? 0;
  const trial = await until(
    () => app.json<RunSummary>(`/runs/${trialId}`),
    ({ state }) => state === 'done',
  );
  const runId = (await app.json<{ runId: number }>(`/intakes/${intakeId}/import`, 'POST'))?.runId ?? 0;
  const look = () => app.json<RunSummary>(`/runs/${runId}`);
  let killed = 0;
  for (const [i, victim] of VICTIMS.entries()) {
    const from = (KILLED_ROWS * i) / (VICTIMS.length + 1);
    const at = from + (roll() * KILLED_ROWS) / (VICTIMS.length + 2);
    const run = await until(look, ({ progress, state }) => progress.done >= at || state === 'done');
    if (run.state === 'done') break;
    await new Promise((done) => setTimeout(done, roll() * 250));
    await app.kill(victim);
    killed++;
  }
  const ended = await until(look, ({ state }) => state !== 'running' && state !== 'queued');
  const database = new pg.Client(app.url);
  await database.connect();
  const { rows } = await database.query<{ n: number; different: number; people: number; twice: number; lost: number }>(
    `select (select count(*)::int from import_row where run_id = $1) as n,
       (select count(distinct row)::int from import_row where run_id = $1) as different,
       (select count(*)::int from contact where created_run = $1) as people,
       (select count(*)::int from (select email from contact where email <> '' group by email having count(*) > 1) d) as twice,
       (select count(*)::int from import_row r where run_id = $1 and outcome <> 'held' and not exists (select 1
          from contact c where c.id = r.contact_id)) as lost`,
    [runId],
  );
  await database.end();
  const [found] = rows;
  return {
    killed,
    state: ended.state,
    error: ended.error,
    counts: ended.counts,
    trialCounts: trial.counts,
    rows: found?.n ?? 0,
    differentRows: found?.different ?? 0,
    people: found?.people ?? 0,
    mailboxesTwice: found?.twice ?? 0,
    lost: found?.lost ?? 0,
    keptPeople: (await app.json<{ people: number }>('/lists'))?.people ?? 0,
  };
}
