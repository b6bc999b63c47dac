import type { FeedReader } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import type { Consumer } from '../../feed/consumer';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { selectReaders, tryAgainNow } from './statements/upkeep';

/** Everybody who reads the feed of changes, how far they are and what stands in their way. */
export async function feedReaders(
  { pool }: Database,
  consumers: readonly Pick<Consumer, 'name' | 'sentence'>[],
): Promise<FeedReader[]> {
  const { rows } = await selectReaders(pool);
  return rows.map(({ name, connection, behind, error, failing_since, next_try_at }) => ({
    name,
    sentence:
      consumers.find((one) => one.name === name)?.sentence ??
      (connection
        ? `Takes changes to ${connection} with its next run.`
        : `Was read by ${name}, which this version has not.`),
    behind,
    error,
    failingSince: failing_since?.toISOString() ?? null,
    nextTryAt: next_try_at?.toISOString() ?? null,
  }));
}

/** Lets a reader that failed try again at once. */
export async function retryReader({ pool }: Database, name: string): Promise<void> {
  const { rowCount } = await tryAgainNow(pool, name);
  if (!rowCount) throw refuse.noSuchReader();
  await tell(pool, { topic: 'setup' });
}
