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

/** Where to go on from: a second of its clock, and what was told of it already, by ids. */
export interface ChangeCursor {
  since: string;
  versions: Record<string, string>;
  gone: string[];
}

export interface EntriesSince {
  entries: MailerEntry[];
  gone: string[];
  cursor: ChangeCursor;
}

const secondOf = (iso: string): string => `${iso.slice(0, 19)}Z`;
const inOrder = (a: MailerEntry, b: MailerEntry): number =>
  a.changedAt === b.changedAt ? (a.address < b.address ? -1 : 1) : a.changedAt < b.changedAt ? -1 : 1;

/**
 * Entries changed since a place, of a list that is ordered by the second of the last change. Many are of one second, and whoever changes
 * while the pages are read moves to the end, so that others move up: each page begins with the last entry of the one before, and where
 * another one stands there the second is read anew. What was told of the second of the cursor is not told again.
 *
 * @param ask gives a page of the entries changed in or after a second ('' for all), from a number on
 */
export async function entriesSince(
  ask: (since: string, from: number) => Promise<EntryPage>,
  versionOf: (entry: MailerEntry) => string,
  cursor: ChangeCursor | null,
): Promise<EntriesSince> {
  const found = new Map<string, MailerEntry>();
  const gone = new Set<string>();
  let since = cursor?.since ?? '';
  let from = 0;
  let last: MailerEntry | null = null;
  let began = '';
  for (let more = true; more;) {
    const page = await ask(since, from);
    if (cursor && secondOf(page.now) < cursor.since)
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
  const entries = [...found].flatMap(([id, entry]) => (cursor?.versions[id] === versionOf(entry) ? [] : entry));
  const told = [...found.values()].filter(({ changedAt }) => changedAt >= began);
  return {
    entries,
    gone: [...gone].filter((id) => !cursor?.gone.includes(id)),
    cursor: {
      since: began,
      versions: Object.fromEntries(told.map((entry) => [keyOf(entry.address), versionOf(entry)])),
      gone: [...gone],
    },
  };
}
