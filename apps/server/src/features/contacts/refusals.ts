import { sayConditionFault, type ConditionFault } from '@gray-loom/core/segments';
import { conflict, declareRefusals, invalid, missing, tooLarge } from '../../http/refusal';

const MB = 1_048_576;

export const refuse = declareRefusals({
  condition: invalid((fault: ConditionFault) => sayConditionFault(fault)),
  noAddress: invalid(({ addresses, count }: { addresses: string[]; count: number; field: 'addresses' }) => {
    const named = `${addresses.join(', ')}${count > addresses.length ? ' and more' : ''}`;
    return `${count === 1 ? 'This is' : 'These are'} neither a mailbox nor a number: ${named}. Nothing was kept.`;
  }),
  otherChannels: invalid<{ field: 'channels' }>(
    'None of these addresses is used for that channel: a mailbox is for e-mail, a number for calls, voicemail and texts.',
  ),
  oneAtATime: invalid<{ field: 'addresses' }>('Stops are lifted one at a time, each on the word of whoever it is.'),
  noSuchOrder: invalid('There is no such column to order by any more.'),
  segmentInItself: conflict(
    'These segments ask for each other, so that none of them can be worked out. Take one of the conditions out.',
  ),
  tooManyRows: tooLarge(
    ({ limit }: { limit: number }) =>
      `A spreadsheet is made of at most ${limit.toLocaleString('en-GB')} contacts. Narrow them, or take the table as CSV.`,
  ),
  /** Of an entry: nothing is there yet to tell the contact by. */
  noIdentity: invalid(({ field }: { field: string }) =>
    field === 'organization'
      ? 'Give the organization a name.'
      : 'Give at least a name, an e-mail, a phone or an organization, so that the contact can be told from others.',
  ),
  alreadyHere: conflict(
    ({ name }: { name: string; contactIds: number[] }) =>
      `${name} is here already, and likely the same. Add the facts to that contact, or save another one.`,
  ),
  wasErased: conflict(
    ({ on }: { on: string }) =>
      `Whoever this is was erased on request on ${on}, and is kept out. An administrator can lift that under Settings, Erased people.`,
  ),
  alreadyElsewhere: conflict(
    ({ count }: { count: number }) =>
      `${count === 1 ? 'Somebody' : `${count} people`} outside your remit may be the same. Ask somebody who sees everybody, or save it all the same.`,
  ),
  newOutside: conflict(
    'This contact would be outside your remit, and you would not see it again. Give it an owner, source, tag or address within it.',
  ),
  required: invalid(
    ({ name }: { field: string; name: string }) =>
      `${name} is asked for at entry. Fill it in, or change the rule in Settings.`,
  ),
  noSuchLayout: missing('There is no such layout any more.'),
  pictureTooLarge: tooLarge(
    ({ bytes, limitBytes }: { bytes: number; limitBytes: number }) =>
      `The picture has ${(bytes / MB).toFixed(1)} MB; at most ${limitBytes / MB} MB are taken. Nothing was kept; make it smaller first.`,
  ),
  noPicture: invalid('This is no picture that can be read. JPEG, PNG and WebP are taken; nothing was kept.'),
  noSuchPicture: missing('There is no such picture.'),
  noSuchAddress: conflict(
    ({ address }: { address: string }) => `${address} is not an address of this contact any more. Nothing was noted.`,
  ),
  invalidDate: invalid('Say when it was said: a day that has been.'),
  opportunity: missing<{ opportunityId: number }>('This is an opportunity. You find it under Opportunities.'),
});

/** Of an edit: what would be left tells nobody who it is. */
export const refuseEdit = declareRefusals({
  noIdentity: invalid(
    'Nothing would be left to tell this contact by. Keep a name, an e-mail or a phone, or delete the contact.',
  ),
});
