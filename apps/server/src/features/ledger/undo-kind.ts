import { undoInWords } from '@gray-loom/wire';
import type { RunKind, RunKinds } from '../../runs/kind';
import { undoLargeRun } from './undo-large-run';

/** Taking a run back. What else hangs on a run is said by its kind, so this one is given all kinds. */
export function undoKind(kinds: () => RunKinds): RunKind {
  return {
    kind: 'undo',
    name: 'undone',
    sentence: ({ title, counts }) => [title, undoInWords(counts)].filter(Boolean).join(': '),
    undo: {},
    work: {
      thread: { name: 'changing', heapMb: 1024, idleMs: 60_000 },
      size: () => 'long',
      pauses: false,
      // Half an undo would be neither the one nor the other.
      stops: 'never',
      retries: 10,
      do: (context) => undoLargeRun(context, kinds()),
    },
  };
}
