import { outcomesInWords } from '@gray-loom/wire';
import { ifStopped, type RunKind } from '../../runs/kind';
import { importFile } from './import-file';
import { unsettle } from './rows/mended-file';
import { tryImport } from './try-import';

const importRun: RunKind = {
  kind: 'import',
  name: 'imports',
  doing: 'Bringing in',
  sentence: (run) => `${run.title}: ${outcomesInWords(run.counts)}${ifStopped(run)}`,
  // Rows that this run let in wait again.
  undo: { also: (tx, { id }) => unsettle(tx, id) },
  work: {
    // Who brings a file in often brings the next; a thread whose code has run before does it in three quarters of the time.
    // Rows in planning live for one batch of 250. With 24, 48 and 128 MB an import took the same; 48 leaves room for matching.
    thread: { name: 'importing', heapMb: 2048, youngMb: 48, idleMs: 300_000 },
    size: () => 'long',
    pauses: true,
    stops: 'anytime',
    retries: 5,
    do: importFile,
    // Told to stop before it begins, it only ends what is there.
    endStopped: importFile,
  },
};

const trialRun: RunKind = {
  kind: 'trial',
  name: 'trials',
  doing: 'Trying',
  sentence: ({ title, counts }) => `${title}: ${outcomesInWords(counts)}`,
  undo: null,
  quiet: true,
  work: {
    thread: { name: 'trying', heapMb: 2048, youngMb: 48, idleMs: 60_000 },
    size: () => 'long',
    pauses: false,
    stops: 'anytime',
    retries: 3,
    do: tryImport,
    endStopped: tryImport,
  },
};

const formRun: RunKind = {
  kind: 'form',
  name: 'forms',
  sentence: ({ title, counts }) => `${title}: ${outcomesInWords(counts)}`,
  undo: {},
  work: null,
};

/** What brings contacts in. */
export const intakeRuns: readonly RunKind[] = [importRun, trialRun, formRun];
