import { foldText } from '../fields';
import { isSlip } from '../matching';
import type { Value } from '../model';
import type { MemberValue, MergeMember } from './merge-fields';

/** Fields in which a slip of the pen makes another word. */
const SPELLED: ReadonlySet<string> = new Set(['givenName', 'familyName', 'additionalNames', 'organization']);
/** How much more common in the book a name has to be to speak for itself. */
const COMMONER = 8;
/** Letters of a name from which on its standing in a mailbox is no chance. */
const TELLING_LETTERS = 4;

/** How often a name stands in the book, 0 to 1; 0 where that is not known. */
export type ShareOf = (field: string, folded: string) => number;

const textOf = ({ v }: Value): string => (typeof v === 'string' ? foldText(v) : '');

/** Letters of the mailboxes of all records, each as one word. */
function mailboxesOf(members: readonly MergeMember[]): string[] {
  return members.flatMap(({ record }) =>
    (record.f.email ?? []).map(({ v }) => foldText((String(v).split('@')[0] ?? '').replace(/[^\p{L}]+/gu, ''))),
  );
}

/**
 * Of a value that was chosen and those that differ from it by a slip of the pen, the one that more speaks for: how many records
 * write it so, the mailboxes, and how common the name is in the book. The chosen one where nothing speaks against it; a name that is
 * another one altogether is never a slip.
 */
export function rightlySpelled(
  field: string,
  chosen: MemberValue,
  values: readonly MemberValue[],
  members: readonly MergeMember[],
  shareOf: ShareOf,
): MemberValue {
  const own = textOf(chosen.value);
  if (!SPELLED.has(field) || !own) return chosen;
  const near = values.filter(({ value }) => {
    const text = textOf(value);
    return text !== '' && text !== own && isSlip(own, text);
  });
  if (!near.length) return chosen;
  const mailboxes = mailboxesOf(members);
  const votesFor = (text: string, against: string): number => {
    const writers = values.filter(({ value }) => textOf(value) === text).length;
    const inMailbox =
      text.length >= TELLING_LETTERS && mailboxes.some((box) => box.includes(text) && !box.includes(against));
    const isCommoner = shareOf(field, text) > 0 && shareOf(field, text) >= COMMONER * shareOf(field, against);
    return writers + (inMailbox ? 2 : 0) + (isCommoner ? 1 : 0);
  };
  let best = chosen;
  for (const other of near) {
    const [text, now] = [textOf(other.value), textOf(best.value)];
    if (text !== now && votesFor(text, now) > votesFor(now, text)) best = other;
  }
  return best;
}
