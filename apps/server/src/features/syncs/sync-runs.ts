import { resultsInWords, syncInWords } from '@gray-loom/wire';
import { ifStopped, type RunKind } from '../../runs/kind';
import { syncConnection } from './sync-connection';
import { takeResults } from './results/take-results';

/** One run of a connection: a trial, or a pass that writes. */
export const syncRun: RunKind = {
  kind: 'sync',
  name: 'syncs',
  sentence: (run) => `${run.title}: ${syncInWords(run.counts)}${ifStopped(run)}`,
  undo: {},
  work: {
    thread: { name: 'syncing', heapMb: 1024, idleMs: 300_000 },
    // One contact that is sent now does not wait for an import.
    size: ({ only }) => (Array.isArray(only) && only.length > 0 && only.length <= 5 ? 'short' : 'long'),
    pauses: true,
    // It hears Stop between two records; what is under way over there is not cut off, so that nothing is left unsure.
    stops: 'atMarker',
    // What was under way over there is known by its intent, and is not done twice.
    retries: 5,
    do: syncConnection,
  },
};

/** What came back from a tool since the last time. */
export const resultsRun: RunKind = {
  kind: 'results',
  name: 'results',
  sentence: (run) => `${run.title}: ${resultsInWords(run.counts)}${ifStopped(run)}`,
  undo: {},
  work: {
    thread: { name: 'syncing', heapMb: 1024, idleMs: 300_000 },
    size: () => 'short',
    pauses: false,
    stops: 'atMarker',
    // A page and the place behind it are one transaction.
    retries: 5,
    do: takeResults,
  },
};
