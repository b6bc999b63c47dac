import { ToolTrouble } from '@gray-loom/core/syncing';
import { keyOf, type MailerEntry } from './entries';

/** A page of entries by the time of their last change, as the mailer gives it. */
export interface EntryPage {
  entries: MailerEntry[];
  gone: { address: string; at: string }[];
  more: boolean;
  /** Its clock. */
  now: string;
}

export interface EntriesSince {
  entries: MailerEntry[];
  gone: string[];
  /** The second to go on from. */
  since: string;
}

const secondOf = (iso: string): string => `${iso.slice(0, 19)}Z`;
const inOrder = (a: MailerEntry, b: MailerEntry): number =>
  a.changedAt === b.changedAt ? (a.address < b.address ? -1 : 1) : a.changedAt < b.changedAt ? -1 : 1;

/**
 * Entries changed since a place, of a list that is ordered by the second of the last change. Many are of one second, and whoever changes
 * while the pages are read moves to the end, so that others move up: each page begins with the last entry of the one before, and where
 * another one stands there the second is read anew. What changed in the second in which it was asked is told again the next time, since
 * it may have changed once more within it; whoever asks knows by the version that it is not news.
 *
 * @param ask gives a page of the entries changed in or after a second ('' for all), from a number on
 */
export async function entriesSince(
  ask: (since: string, from: number) => Promise<EntryPage>,
  begin: string | null,
): Promise<EntriesSince> {
  const found = new Map<string, MailerEntry>();
  const gone = new Set<string>();
  let since = begin ?? '';
  let from = 0;
  let last: MailerEntry | null = null;
  let began = '';
  for (let more = true; more;) {
    const page = await ask(since, from);
    if (begin !== null && secondOf(page.now) < begin)
      throw new ToolTrouble('cursorLost', 'Its clock was put back, so that nobody knows what changed since.');
    began ||= secondOf(page.now);
    const entries = [...page.entries].sort(inOrder);
    if (last && from > 0 && entries[0]?.address !== last.address) {
      // Somebody went away from before this place.
      [from, last] = [0, null];
      continue;
    }
    for (const entry of entries) found.set(keyOf(entry.address), entry);
    for (const { address } of page.gone) gone.add(keyOf(address));
    const end = entries.at(-1);
    more = page.more && end !== undefined;
    if (!end) break;
    const second = secondOf(end.changedAt);
    if (second !== since) {
      // The second begins within this page; what of it was seen is passed over.
      const seen = entries.filter(({ changedAt }) => secondOf(changedAt) === second).length;
      [since, from] = [second, Math.max(0, seen - 1)];
    } else from += Math.max(1, entries.length - 1);
    last = end;
  }
  for (const id of found.keys()) gone.delete(id);
  return { entries: [...found.values()], gone: [...gone], since: began };
}
