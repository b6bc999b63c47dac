import { activityRun } from './features/activity/activity-runs';
import { batchRun } from './features/batch/batch-run';
import { contactRuns } from './features/contacts/contact-runs';
import { duplicateRuns } from './features/duplicates/duplicate-runs';
import { erasingRuns } from './features/erasing/erasing-runs';
import { intakeRuns } from './features/intake/intake-runs';
import { undoKind } from './features/ledger/undo-kind';
import { setupRuns } from './features/setup/setup-runs';
import { resultsRun, syncRun } from './features/syncs/sync-runs';
import { RunKinds } from './runs/kind';

/** Every kind of run that there is. */
export const runKinds: RunKinds = new RunKinds([
  ...contactRuns,
  activityRun,
  ...intakeRuns,
  ...duplicateRuns,
  syncRun,
  resultsRun,
  ...erasingRuns,
  ...setupRuns,
  batchRun,
  undoKind(() => runKinds),
]);
