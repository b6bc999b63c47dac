import { foldText, foldWords, formatAddress } from '../fields';
import { isAddress, valuesOf, type ContactRecord, type Value } from '../model';
import { slips } from '../quality';
import { findFragments } from './evaluate';

/** Fields that somebody is found by beside their name, in the order in which they are told. */
const FOUND_BY = [
  'email',
  'tel',
  'organization',
  'nickname',
  'additionalNames',
  'legalName',
  'title',
  'adr',
  'note',
] as const;
const NAME = ['givenName', 'familyName', 'fullName', 'prefix', 'suffix'] as const;
/** Characters told of a long text, on either side of what matched. */
const AROUND = 24;

/** By what somebody was found, where that is not their name: the field and what of it. */
export interface Match {
  field: string;
  text: string;
}

function textOf(field: string, { v, norm }: Value): string {
  if (isAddress(v)) return formatAddress(v);
  return field === 'tel' ? (norm ?? String(v)) : String(v);
}

function holds(field: string, text: string, fragment: string): boolean {
  if (field === 'email')
    return text.toLowerCase().includes(fragment) || foldWords(text).some((word) => word.includes(fragment));
  if (field === 'tel') return text.replace(/\D/g, '').includes(fragment);
  return foldText(text).includes(fragment);
}

/** A long text around what matched. */
function snippet(text: string, fragment: string): string {
  const plain = text.replace(/\s+/g, ' ');
  if (plain.length <= 2 * AROUND) return plain;
  const at = Math.max(0, plain.toLowerCase().indexOf(fragment));
  const from = Math.max(0, at - AROUND);
  const to = Math.min(plain.length, at + fragment.length + AROUND);
  return `${from ? '…' : ''}${plain.slice(from, to)}${to < plain.length ? '…' : ''}`;
}

/** By what somebody was found for what was typed; null where the name says it all. */
export function matchOf(find: string, record: ContactRecord): Match | null {
  const name = foldText(NAME.flatMap((field) => valuesOf(record, field).map(({ v }) => String(v))).join(' '));
  const asked = findFragments(find).filter((fragment) => !name.includes(fragment));
  for (const fragment of asked)
    for (const field of FOUND_BY)
      for (const value of valuesOf(record, field)) {
        const text = textOf(field, value);
        if (holds(field, text, fragment)) return { field, text: snippet(text, fragment) };
      }
  return null;
}

/** Words shorter than this have no room for a slip. */
const LEAST = 4;

/** Whether a fragment is a word, or the beginning of one, but for one slip. */
function isNear(fragment: string, word: string): boolean {
  if (word.includes(fragment)) return true;
  if (fragment.length < LEAST) return false;
  for (const length of [fragment.length - 1, fragment.length, fragment.length + 1])
    if (length <= word.length && slips(fragment, word.slice(0, length), 1) <= 1) return true;
  return word.length < fragment.length && slips(fragment, word, 1) <= 1;
}

/** Whether a search text holds everything that was typed, each word with at most one slip. */
export function findsNearly(find: string, searchText: string): boolean {
  // A name that a mailbox holds stands there alone: "abara.abigail66@" is two words and a number.
  const words = searchText.split(/[^\p{L}\p{N}]+|(?<=\p{L})(?=\p{N})/u);
  return findFragments(find).every(
    (fragment) => searchText.includes(fragment) || words.some((word) => isNear(fragment, word)),
  );
}

/** Fragments of what was typed that may hold a slip; numbers and mailboxes are taken as they are. */
export const fragmentsWithRoom = (find: string): string[] =>
  findFragments(find).filter((fragment) => fragment.length >= LEAST && /^[a-z]+$/.test(fragment));
