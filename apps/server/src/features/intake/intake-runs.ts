import { outcomesInWords } from '@gray-loom/wire';
import { ifStopped, type RunKind } from '../../runs/kind';
import { importFile } from './import-file';
import { bringBackFields, retireMadeFields } from './made-fields';
import { unsettle } from './rows/mended-file';
import { tryImport } from './try-import';

/** Rows that are brought in or tried without waiting behind others who bring in many. */
const FEW_ROWS = 1000;
const sizeOf = ({ rows }: Record<string, unknown>) =>
  typeof rows === 'number' && rows <= FEW_ROWS ? ('short' as const) : ('long' as const);

const importRun: RunKind = {
  kind: 'import',
  name: 'imports',
  doing: 'Bringing in',
  sentence: (run) => `${run.title}: ${outcomesInWords(run.counts)}${ifStopped(run)}`,
  undo: {
    also: async (tx, target) => {
      // Rows that this run let in wait again.
      await unsettle(tx, target.id);
      if (target.kind === 'undo') await bringBackFields(tx, target.undoOf ?? 0);
      else await retireMadeFields(tx, target.id);
    },
  },
  work: {
    // Who brings a file in often brings the next; a thread whose code has run before does it in three quarters of the time.
    // What is written lives for one slice of 250; with 16 MB an update of those who are here took a sixth longer.
    thread: { name: 'importing', heapMb: 2048, youngMb: 32, idleMs: 300_000 },
    size: sizeOf,
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
    size: sizeOf,
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
