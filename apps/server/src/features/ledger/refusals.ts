import { conflict, declareRefusals, forbidden, missing } from '../../http/refusal';

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
  outsideRemit: forbidden(
    ({ count }: { count: number }) =>
      `It touched ${count === 1 ? 'one contact' : `${count.toLocaleString('en')} contacts`} outside your remit, ` +
      'and is taken back whole or not at all. Ask somebody who sees everybody.',
  ),
  notYourRun: forbidden('Somebody else started this run. Ask them, or somebody who sees everybody.'),
  editMoved: conflict(
    'What was edited since has changed again while you decided. Look once more; nothing was taken back.',
  ),
});
