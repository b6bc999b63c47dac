import { conflict, declareRefusals, invalid, missing } from '../../http/refusal';

export const refuse = declareRefusals({
  nobodyMeant: invalid('Say whom it is about: nobody is picked.'),
  nothingToChange: conflict(
    'Nobody is changed by this: all are so already, or are left as they are. Nothing was written.',
  ),
  noSuchField: missing('There is no such field.'),
  notInBatch: invalid(
    ({ name }: { name: string }) => `${name} is made from other fields, or is no value of many. Change it one by one.`,
  ),
  uniqueField: invalid(
    ({ name }: { name: string }) => `${name} is to be different for everybody, so that many cannot get one value.`,
  ),
  noValue: invalid('Say which value it gets, or clear the field.'),
  noTags: invalid('Say which tags are added or taken off.'),
  noEvidence: invalid(
    'Say how they allowed it: what was asked, where and when. Without that nobody may be written to again.',
  ),
  noSuchAccount: invalid('An owner is an account; there is none of this name.'),
  tooManyToCall: invalid(
    ({ count, most }: { count: number; most: number }) =>
      `${count.toLocaleString('en-GB')} are too many to be called next. Pick at most ${most}, or let a list of many take part by a scope.`,
  ),
  noSuchConnection: missing('There is no such connection.'),
});
