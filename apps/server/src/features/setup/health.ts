import { awaitedLater } from '@gray-loom/core/model';
import type { Health } from '@gray-loom/wire';
import { countLivePeople } from '../../book/statements/contact-records';
import type { Config } from '../../config';
import type { Database } from '../../db/connect';
import { hasWorker } from '../../runs/worker-sign';

/** Whoever does not answer within this time is down. */
const ANSWER_MS = 2000;

/** What a promise gives; null where it fails or takes too long, which is said as down. */
async function inTime<T>(answer: Promise<T>): Promise<T | null> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<null>((done) => (timer = setTimeout(() => done(null), ANSWER_MS)));
  try {
    return await Promise.race([awaitedLater(answer), late]);
  } catch {
    return null;
  } finally {
    clearTimeout(timer);
  }
}

const answers = async (origin: string): Promise<boolean> =>
  (await fetch(`${origin}/counts`, { signal: AbortSignal.timeout(ANSWER_MS) })).ok;

/** What of Gray Loom runs and what is down. */
export async function health({ pool }: Database, { standIns, version }: Config): Promise<Health> {
  const people = await inTime(countLivePeople(pool));
  const isReachable = people !== null;
  const [worker, ...outside] = await Promise.all([
    isReachable ? inTime(hasWorker({ pool })) : null,
    ...standIns.map((origin) => inTime(answers(origin))),
  ]);
  const down: Health['down'] = [
    ...(isReachable ? [] : (['database'] as const)),
    // Without the database nobody can tell.
    ...(isReachable && !worker ? (['worker'] as const) : []),
    ...(outside.every(Boolean) ? [] : (['stand-ins'] as const)),
  ];
  return { status: down.length ? 'degraded' : 'ok', down, contacts: people?.rows[0]?.n ?? 0, version };
}
