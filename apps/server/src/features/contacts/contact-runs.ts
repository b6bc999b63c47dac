import type { RunKind } from '../../runs/kind';

const atOnce = (kind: string, name: string, more: Partial<RunKind> = {}): RunKind => ({
  kind,
  name,
  sentence: ({ title }) => title,
  undo: {},
  work: null,
  ...more,
});

/** What somebody does to one contact by hand; over with the request. */
export const contactRuns: readonly RunKind[] = [
  atOnce('create', 'entries'),
  atOnce('edit', 'edits', { sentence: ({ title }) => `Changed ${title}` }),
  atOnce('delete', 'deletions'),
  atOnce('restore', 'restored'),
  // Evidence is only ever added to, so it is not taken back; what is said later counts.
  atOnce('permission', 'permissions', { undo: null }),
];
