import { sayConditionFault, type ConditionFault } from '@gray-loom/core/segments';
import { conflict, declareRefusals, invalid, missing } from '../../http/refusal';

export const refuse = declareRefusals({
  noSuchSegment: missing('There is no such segment any more.'),
  nameTaken: conflict(
    ({ name }: { name: string }) => `There is a segment '${name}' already. Give this one another name.`,
  ),
  condition: invalid((fault: ConditionFault) => sayConditionFault(fault)),
  askedFor: conflict(
    ({ by }: { by: string }) =>
      `${by} asks for this segment. Take that condition out first, or nobody could say who is meant.`,
  ),
  hasRhythm: conflict(
    'Its people are expected to be heard from. Take its rhythm out under Settings, Keeping in touch, and remove it then.',
  ),
  isList: conflict(
    ({ connection, list }: { connection: string; list: string }) =>
      `${connection} keeps the list "${list}" by this segment. Take it out of the table of that connection first.`,
  ),
  notYours: conflict(({ by }: { by: string }) => `${by} made this segment. Make a new one from it, and change that.`),
});
