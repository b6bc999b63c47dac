import { sumUpTallies } from './book/tallies';
import { reviewSegments } from './features/segments/review-segments';
import { keepBookState } from './features/worklist/statements/worklist';
import { startDueResults } from './features/syncs/results/start-results';
import { pruneCalls } from './features/syncs/statements/hooks';
import { wakeForCalls } from './features/syncs/hooks/wake';
import { carryStops } from './features/syncs/late-stops';
import { startDueSyncs } from './features/syncs/start-sync';
import { pruneFeed } from './feed/positions';
import type { Timetable } from './runs/kind';

/** What is done by the clock. */
export const timetables: readonly Timetable[] = [
  { name: 'startDueSyncs', pattern: '* * * * *', work: startDueSyncs },
  { name: 'wakeForCalls', pattern: '* * * * *', work: wakeForCalls },
  { name: 'carryStops', pattern: '* * * * *', work: carryStops },
  { name: 'startDueResults', pattern: '* * * * *', work: startDueResults },
  { name: 'reviewSegments', pattern: '* * * * *', isLong: true, work: (database) => reviewSegments(database) },
  { name: 'sumUpTallies', pattern: '* * * * *', work: sumUpTallies },
  { name: 'pruneCalls', pattern: '23 3 * * *', work: ({ pool }) => pruneCalls(pool) },
  { name: 'keepBookState', pattern: '11 * * * *', work: ({ pool }) => keepBookState(pool) },
  { name: 'pruneFeed', pattern: '17 3 * * *', work: ({ pool }) => pruneFeed(pool) },
];
