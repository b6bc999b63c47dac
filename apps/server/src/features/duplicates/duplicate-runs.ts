import { eq } from 'drizzle-orm';
import { groupsInWords, mergedInWords } from '@gray-loom/wire';
import type { Tx } from '../../db/connect';
import { keepApart, matchGroup, sharedLine } from '../../db/schema';
import { ifStopped, type RunKind, type UndoTarget } from '../../runs/kind';
import { checkDuplicates } from './due-checks';
import { undoHouseholds } from './households';
import { mergeCertain } from './merge-certain';
import { scanDuplicates } from './scan-duplicates';

/** Groups that a decision settled are open again, pairs it kept apart are not any more. */
async function undoDecision(tx: Tx, { id, kind, undoOf }: UndoTarget): Promise<void> {
  if (kind === 'undo') {
    if (undoOf) await tx.db.update(matchGroup).set({ state: 'merged' }).where(eq(matchGroup.decidedRun, undoOf));
    return;
  }
  await tx.db.update(matchGroup).set({ state: 'open' }).where(eq(matchGroup.decidedRun, id));
  await tx.db.delete(keepApart).where(eq(keepApart.runId, id));
  await tx.db.delete(sharedLine).where(eq(sharedLine.runId, id));
}

export const scanRun: RunKind = {
  kind: 'scan',
  name: 'scans',
  sentence: (run) => `${run.title}: ${groupsInWords(run.counts)}${ifStopped(run)}`,
  undo: null,
  quiet: true,
  work: {
    // Scans and checks share a thread, so that not both settle the same groups.
    thread: { name: 'matching', heapMb: 4096, idleMs: 10_000 },
    letsGo: 'importing',
    size: () => 'long',
    pauses: false,
    stops: 'anytime',
    retries: 3,
    do: scanDuplicates,
  },
};

export const checkRun: RunKind = {
  kind: 'check',
  name: 'checks for duplicates',
  sentence: (run) => `${run.title}: ${groupsInWords(run.counts)}${ifStopped(run)}`,
  undo: null,
  quiet: true,
  work: {
    thread: { name: 'matching', heapMb: 4096, idleMs: 10_000 },
    size: () => 'long',
    pauses: false,
    stops: 'anytime',
    retries: 3,
    do: checkDuplicates,
    endStopped: checkDuplicates,
  },
};

const mergeRun: RunKind = {
  kind: 'merge',
  name: 'merges',
  sentence: (run) => `${run.title}${mergedInWords(run.counts)}${ifStopped(run)}`,
  undo: { also: undoDecision },
  work: {
    thread: { name: 'changing', heapMb: 1024, idleMs: 60_000 },
    size: () => 'long',
    pauses: false,
    stops: 'anytime',
    retries: 3,
    do: mergeCertain,
  },
};

const keepApartRun: RunKind = {
  kind: 'keepApart',
  name: 'kept apart',
  sentence: ({ title }) => title,
  undo: {
    also: async (tx, target) => {
      if (target.kind !== 'undo') await undoDecision(tx, target);
    },
  },
  work: null,
};

const householdRun: RunKind = {
  kind: 'household',
  name: 'households',
  sentence: ({ title }) => title,
  undo: { also: undoHouseholds },
  work: null,
};

/** Looking for duplicates, and what is decided of them. */
export const duplicateRuns: readonly RunKind[] = [scanRun, checkRun, mergeRun, keepApartRun, householdRun];
