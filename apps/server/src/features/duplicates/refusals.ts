import { conflict, declareRefusals, forbidden, invalid, missing } from '../../http/refusal';

/** What stands against a scan, its settings and what is learned. */
export const refuse = declareRefusals({
  scanning: conflict('A scan is running already; its progress stands on the tape.'),
  thresholdsCross: invalid('Certain has to lie above likely, and likely above possible. Nothing was changed.'),
  nothingCompared: invalid('Something has to count, or nobody could be told from anybody.'),
  noSuchField: invalid(({ field }: { field: string }) => `There is no field ${field} any more. Nothing was changed.`),
  tooFewDecisions: conflict(
    ({ all, ofEachKind }: { all: number; ofEachKind: number }) =>
      `There are too few decisions to learn from: ${all} are needed, ${ofEachKind} of each kind at least.`,
  ),
  nothingLearned: conflict('Nothing that was learned is in force.'),
});

/** What stands against merging a group. */
export const refuseGroup = declareRefusals({
  noSuchGroup: missing('There is no such group. A newer scan may have found it differently.'),
  notInGroup: invalid('One of these records is not part of the group.'),
  noSuchContact: missing('One of these records is gone. Nothing was merged; go to the next group.'),
  alreadyMerged: conflict(
    ({ who, state, name }: { contactId: number; who: string | null; state: 'merged' | 'deleted'; name: string }) =>
      `${who ?? 'Somebody'} ${state} ${name} meanwhile. Nothing was merged now; look at the group again.`,
  ),
  recordChanged: conflict(
    ({ name }: { contactId: number; name: string }) =>
      `${name} was changed while you looked at the group. Nothing was merged; the board shows the new values now.`,
  ),
  outsideRemit: forbidden(
    ({ count }: { count: number }) =>
      `${count === 1 ? 'One record of this group is' : `${count} records of this group are`} outside your remit. ` +
      'Propose the merge; somebody who sees everybody decides.',
  ),
  mergingAlready: conflict('Certain groups are being merged already; the tape shows how far.'),
  nothingCertain: conflict('No certain group is open; there is nothing to merge.'),
});

export const refuseHousehold = declareRefusals({
  noHousehold: conflict('This household is not there any more; somebody else decided about it.'),
  gone: conflict('One of these people was deleted meanwhile. Look again; nothing was changed.'),
  severalHomes: conflict(
    'These people are in different households already. Take them out there first; nothing was changed.',
  ),
  tooFew: invalid<{ field: 'memberIds' }>('A household has two people at least.'),
  changedSince: conflict('The household was changed since. Take that back first, or change it by hand.'),
});
