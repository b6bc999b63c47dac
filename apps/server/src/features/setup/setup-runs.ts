import { changedInWords } from '@gray-loom/wire';
import type { Tx } from '../../db/connect';
import { ifStopped, type RunKind, type RunWork, type UndoTarget } from '../../runs/kind';
import { changeMany } from './change-many';
import { changeOf, undoChange } from './change-contacts';

const WORK: RunWork = {
  thread: { name: 'changing', heapMb: 1024, idleMs: 60_000 },
  size: () => 'long',
  pauses: false,
  stops: 'anytime',
  retries: 5,
  do: changeMany,
};

async function undoSetup(tx: Tx, { id }: UndoTarget): Promise<void> {
  const change = await changeOf({ pool: tx.client }, id);
  if (change) await undoChange(tx, change);
}

const many = (kind: string, name: string, undo: RunKind['undo']): RunKind => ({
  kind,
  name,
  sentence: (run) => `${run.title}: ${changedInWords(run.counts)}${ifStopped(run)}`,
  undo,
  work: WORK,
});

/** Changes of the set-up, and what they change in contacts. */
export const setupRuns: readonly RunKind[] = [
  { kind: 'setup', name: 'set-up', sentence: ({ title }) => title, undo: null, work: null },
  many('pickMerge', 'merged labels', { also: undoSetup }),
  many('handOver', 'handed over', { also: undoSetup }),
  many('convert', 'converted fields', { also: undoSetup }),
  // Nobody's word changes, so there is nothing to take back.
  many('recompute', 'worked out anew', null),
];
