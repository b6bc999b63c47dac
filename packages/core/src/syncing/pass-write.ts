import { writeOver } from './bulk';
import type { PassItem } from './pass-item';
import { confirmation, firstWrite, outsideWrite } from './pair-writes';
import type { OutsideWrite, PairWrite, SyncStore, Tool } from './ports';

/** What did not come to rest and is looked at once more. */
export interface Again {
  outside: Set<string>;
  contacts: Set<number>;
}

export interface Outward {
  item: PassItem;
  contactId: number;
  write: OutsideWrite;
}

/** Step five of a pass, first half: writes one batch here, with what is about to be written over there. Gives what that is. */
export async function writeHere(store: SyncStore, items: readonly PassItem[], again: Again): Promise<Outward[]> {
  const results = await store.save(items.map((item) => firstWrite(item)));
  return items.flatMap((item, i): Outward[] => {
    const result = results[i];
    if (!result?.ok) {
      if (item.action === 'makeThere' && item.person) again.contacts.add(item.person.id);
      else again.outside.add(item.link.outsideId);
      return [];
    }
    const write = outsideWrite(item);
    return write ? [{ item, contactId: result.contactId, write }] : [];
  });
}

/** What was not taken over there, by what it would have counted as, and whether the book is full. */
export interface NotTaken {
  madeThere: number;
  changedThere: number;
  removedThere: number;
  full: boolean;
}

const COUNTED = { create: 'madeThere', update: 'changedThere', remove: 'removedThere' } as const;

/** Second half: writes a batch over there, and keeps what is agreed on then. Gives what was not taken. */
export async function writeThere(
  store: SyncStore,
  tool: Tool,
  outward: readonly Outward[],
  again: Again,
  pause?: (ms: number) => Promise<void>,
): Promise<NotTaken> {
  const told: NotTaken = { madeThere: 0, changedThere: 0, removedThere: 0, full: false };
  if (!outward.length) return told;
  const written = await writeOver(
    tool,
    outward.map(({ write }) => write),
    pause,
  );
  const second: PairWrite[] = [];
  outward.forEach(({ item, contactId, write }, i) => {
    const result = written[i] ?? { ok: false, why: 'unknown', text: 'no answer' };
    // Where nobody knows whether it was written, the intent stays until the record was read.
    const isOpen =
      !result.ok &&
      (result.why === 'unknown' || (item.action === 'makeThere' && result.why !== 'refused' && result.why !== 'full'));
    if (!isOpen) second.push(confirmation(item, contactId, result));
    if (result.ok) return;
    if (result.why === 'full') told.full = true;
    else if (result.why !== 'refused') again.outside.add(item.link.outsideId);
    if (result.why === 'refused' || result.why === 'full') told[COUNTED[write.kind]]++;
  });
  await store.save(second);
  return told;
}
