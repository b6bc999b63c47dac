import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';

/** What can change: as the server tells it, or as a change made here names it. */
export const TOPICS = [
  'run',
  'contacts',
  'groups',
  'looks',
  'intakes',
  'held',
  'syncs',
  'setup',
  'segments',
  'mappings',
  'layouts',
] as const;
export type Topic = (typeof TOPICS)[number];

/** Everything that is asked of the server, by subject, and what each answer is made of. What a change touches follows from it. */
const READS = {
  session: ['setup'],
  people: ['setup', 'contacts'],
  owners: ['setup'],
  giving: ['setup'],
  accountSessions: ['setup'],
  invitation: [],
  worklist: ['run', 'contacts', 'groups', 'intakes', 'held', 'syncs'],
  tape: ['run'],
  runs: ['run'],
  run: ['run'],
  runKinds: [],
  undoPreview: ['contacts'],
  segments: ['segments', 'contacts', 'setup'],
  segment: ['segments', 'contacts'],
  segmentEvents: ['segments'],
  segmentChoices: ['segments', 'syncs', 'intakes'],
  segmentLook: ['contacts', 'setup'],
  lists: ['contacts', 'intakes', 'setup'],
  pipelines: ['setup'],
  areas: ['setup'],
  regions: ['contacts'],
  addresses: ['contacts'],
  contacts: ['contacts', 'setup'],
  contact: ['contacts', 'groups', 'syncs'],
  lookers: ['looks'],
  history: ['contacts'],
  activities: ['contacts', 'setup'],
  reminders: ['contacts'],
  due: ['contacts', 'setup'],
  completeness: ['setup', 'contacts', 'run'],
  keepingInTouch: ['contacts', 'setup'],
  activityHistory: ['contacts'],
  check: [],
  erasure: ['contacts', 'intakes'],
  erased: ['setup', 'contacts'],
  opportunities: ['contacts', 'setup'],
  exportLayouts: ['layouts'],
  gridLayouts: ['layouts'],
  duplicates: ['groups', 'looks'],
  board: ['contacts', 'groups'],
  households: ['groups'],
  intakes: ['intakes', 'held'],
  intake: ['intakes'],
  preview: [],
  trial: ['intakes'],
  savedMappings: ['mappings'],
  held: ['held'],
  mend: [],
  stops: ['contacts', 'run'],
  connections: ['run', 'syncs'],
  connection: ['run', 'syncs'],
  results: ['run', 'syncs'],
  connectionLists: ['run', 'syncs', 'segments'],
  sharedPlaces: ['run', 'syncs'],
  connectionList: ['run', 'syncs', 'segments'],
  calls: ['run', 'syncs'],
  conflicts: ['syncs'],
  whoSample: ['syncs'],
  standIns: [],
  connectors: [],
  syncChanges: ['syncs'],
  pair: [],
  feedReaders: ['setup'],
} as const satisfies Record<string, readonly Topic[]>;

export type Subject = keyof typeof READS;
const SUBJECTS = Object.keys(READS) as Subject[];

/** The keys of queries; there are no others. A key may be followed by what narrows the question. */
export const keys = Object.fromEntries(
  SUBJECTS.map((subject) => [subject, (...narrower: readonly unknown[]) => [subject, ...narrower]]),
) as unknown as { [S in Subject]: (...narrower: readonly unknown[]) => readonly [S, ...unknown[]] };

/** The subjects that a change touches. */
export function touchedBy(...topics: readonly Topic[]): Subject[] {
  return SUBJECTS.filter((subject) => READS[subject].some((topic) => topics.includes(topic)));
}

/** Looks again at everything that a change touches. */
export async function touch(client: QueryClient, ...topics: readonly Topic[]): Promise<void> {
  await Promise.all(touchedBy(...topics).map((subject) => client.invalidateQueries({ queryKey: keys[subject]() })));
}

/** The same for components: what it gives is called after a change, with what changed. */
export function useTouch(): (...topics: readonly Topic[]) => Promise<void> {
  const client = useQueryClient();
  return useCallback((...topics: readonly Topic[]) => touch(client, ...topics), [client]);
}
