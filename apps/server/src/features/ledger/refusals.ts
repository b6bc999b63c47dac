import { conflict, declareRefusals, missing } from '../../http/refusal';

interface Titled {
  title: string;
}

export const refuse = declareRefusals({
  noSuchRun: missing('There is no such run in the ledger.'),
  nothingToUndo: conflict(({ title }: Titled) => `"${title}" changed no contacts, so there is nothing to take back.`),
  stillRunning: conflict(
    ({ title }: Titled) => `"${title}" is still running. Stop it first, or wait until it is done.`,
  ),
  alreadyUndone: conflict(({ title }: Titled) => `"${title}" was taken back already.`),
  editMoved: conflict(
    'What was edited since has changed again while you decided. Look once more; nothing was taken back.',
  ),
});
