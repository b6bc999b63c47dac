import type { Database } from '../db/connect';
import type { Logger } from '../log';
import { dropWorker, signWorker, workersSeen } from './statements/worker-sign';

/** How often a worker gives a sign of life. */
const SIGN_MS = 2000;
/** A worker that gave none for so long is taken for dead. */
const ALIVE_MS = 4 * SIGN_MS;

/** Gives signs of life until it is told to end. */
export async function signLife({ pool }: Database, id: string, log: Logger): Promise<() => Promise<void>> {
  const sign = () =>
    signWorker(pool, id).catch((error: unknown) =>
      log.warn({ code: (error as { code?: string }).code }, 'a sign of life could not be given'),
    );
  await sign();
  const timer = setInterval(() => void sign(), SIGN_MS);
  return async () => {
    clearInterval(timer);
    const [dropped] = await Promise.allSettled([dropWorker(pool, id)]);
    // Without a database there is nobody to tell; the sign grows old by itself.
    if (dropped.status === 'rejected') log.warn('the last sign of life could not be taken back');
  };
}

/** Whether a worker is there to do what waits. */
export async function hasWorker({ pool }: Pick<Database, 'pool'>): Promise<boolean> {
  const { rows } = await workersSeen(pool, ALIVE_MS);
  return (rows[0]?.n ?? 0) > 0;
}
