import type { RunKind } from '../../runs/kind';

/** Neither is taken back: what was erased is gone, and who is let in again came in by what they did themselves. */
export const erasingRuns: readonly RunKind[] = [
  { kind: 'erase', name: 'erased', sentence: ({ title }) => title, undo: null, work: null },
  { kind: 'lift', name: 'let in again', sentence: ({ title }) => title, undo: null, work: null },
];
