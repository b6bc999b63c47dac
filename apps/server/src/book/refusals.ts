import type { Value } from '@gray-loom/core/model';
import { conflict, declareRefusals, invalid, missing } from '../http/refusal';

interface StandingClash {
  field: string;
  fieldName: string;
  value: string;
  contacts: { id: number; name: string }[];
  elsewhere: number;
}

interface Clashing {
  field: string;
  clashes: StandingClash[];
}

const NAMED = 3;

/** The first clash in words: field and value, and who has it. */
function clashWords({ clashes }: Clashing): [string, string] {
  const [first] = clashes;
  const contacts = first?.contacts ?? [];
  const names = contacts.slice(0, NAMED).map(({ name }) => name);
  const more = contacts.length - names.length + (first?.elsewhere ?? 0);
  const who = names.length
    ? `${names.join(', ')}${more > 0 ? ` and ${more} more` : ''}`
    : 'somebody outside your remit';
  return [`${first?.fieldName} '${first?.value}'`, who];
}

/** What stands against a value that somebody typed. */
export const refuseValue = declareRefusals({
  noSuchField: invalid(({ field }: { field: string }) => `There is no field '${field}'.`),
  notParts: invalid(({ name }: { field: string; name: string }) => `${name} is given as text.`),
  partsNeeded: invalid(({ name }: { field: string; name: string }) => `${name} is given by its parts.`),
  noAddress: invalid<{ field: 'adr' }>('This is no address.'),
  valueTooLong: invalid(
    ({ what, length, limit }: { field: string; what: string; length: number; limit: number }) =>
      `${what} has ${length} characters; at most ${limit} are kept. Nothing was changed.`,
  ),
  noRelation: invalid<{ field: 'related' }>('Say what the other is, such as spouse or assistant.'),
  nobody: invalid<{ field: 'related' }>('Choose a contact, or type a name.'),
  relatedToSelf: invalid<{ field: 'related' }>(
    'Nobody is related to themselves. Choose another contact; nothing was changed.',
  ),
  noSuchContact: invalid<{ field: 'related' }>('The other contact is gone. Choose another one.'),
  noAmount: invalid<{ field: 'related' }>(
    'The fee is no amount. Write it as a number with a currency, such as 250 GBP.',
  ),
  noPicture: invalid<{ field: 'photo' }>('The picture is not here. Choose it again.'),
  uniqueClash: conflict((facts: Clashing) => {
    const [what, who] = clashWords(facts);
    return `${what} may stand with one contact only, and ${who} has it. Open that contact, or give another value.`;
  }),
  uniqueWarning: conflict((facts: Clashing) => {
    const [what, who] = clashWords(facts);
    return `${what} stands with ${who} already. Save again to have it twice.`;
  }),
});

/** What stands against changing a contact. */
export const refuseContact = declareRefusals({
  noSuchContact: missing('There is no such contact. It may have been part of something that was taken back.'),
  alreadyMerged: conflict<{ into: number | null }>(
    'This contact was merged into another one meanwhile. Open that one and make the change there.',
  ),
  deleted: conflict('This contact was deleted meanwhile. Bring it back first; what you typed is still in the field.'),
  gone: conflict('This contact is deleted or merged already.'),
  erased: conflict('This contact was erased on request. Nothing of it is left to change or to bring back.'),
  notDeleted: conflict('This contact is not deleted.'),
  valueChanged: conflict(
    ({
      who,
      name,
      text,
    }: {
      who: string;
      name: string;
      text: string;
      field: string;
      slot: number;
      now: Value | null;
    }) =>
      `${who} changed ${name} while you were editing: it is now '${text}'. Your text is still here; save again to replace it, or keep what is there.`,
  ),
});
