import { eq } from 'drizzle-orm';
import type { Db } from '../../../db/connect';
import { resultFeed } from '../../../db/schema';

export type ResultFeed = typeof resultFeed.$inferSelect;

/** How the results of a connection come back; the defaults where nobody said anything yet. */
export async function feedOf(db: Db, connectionId: number): Promise<ResultFeed> {
  const [found] = await db.select().from(resultFeed).where(eq(resultFeed.connectionId, connectionId));
  return (
    found ?? {
      connectionId,
      cursor: null,
      stopsCursor: null,
      everyMinutes: null,
      nextAt: null,
      sources: {},
      trouble: null,
    }
  );
}

export async function keepFeed(
  db: Db,
  connectionId: number,
  parts: Partial<Omit<ResultFeed, 'connectionId'>>,
): Promise<void> {
  await db
    .insert(resultFeed)
    .values({ connectionId, ...parts })
    .onConflictDoUpdate({ target: resultFeed.connectionId, set: parts });
}
