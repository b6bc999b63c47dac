import type { DuplicateOrigin } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { byWeek } from './by-week';
import { copiesByWeek, copiesByThread, WEEKS } from './statements/duplicate-origin';

/** How duplicates got in: second and further records of people by week and by the thread that brought them. */
export async function duplicateOrigin({ pool }: Database): Promise<DuplicateOrigin> {
  const [weeks, threads] = await Promise.all([copiesByWeek(pool), copiesByThread(pool)]);
  return {
    weeks: byWeek(weeks.rows, WEEKS),
    threads: threads.rows as DuplicateOrigin['threads'],
    copies: threads.rows.reduce((sum, row) => sum + row.copies, 0),
  };
}
