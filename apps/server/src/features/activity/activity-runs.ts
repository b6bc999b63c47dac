import type { RunKind } from '../../runs/kind';

/** What somebody writes down, changes, does or removes in the stream of a contact; over with the request. */
export const activityRun: RunKind = {
  kind: 'activity',
  name: 'activities',
  sentence: ({ title }) => title,
  undo: {},
  work: null,
};
