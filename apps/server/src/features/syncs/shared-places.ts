import { displayNameOf } from '@gray-loom/core/fields';
import { chooseHolder, type Link } from '@gray-loom/core/syncing';
import type { SharedPlaces } from '@gray-loom/wire';
import { randomUUID } from 'node:crypto';
import { requireLive } from '../../book/require-live';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { requireConnection } from './connections';
import { refuseSettling } from './refusals';
import { countShared, sharersOf } from './statements/shared-places';
import { lockedLinks } from './statements/sync-links';
import { noteRun, rootOf, Settling, travelOn, type SettleServices } from './sync-settle';

/** Places that are shown. */
const SHOWN = 100;

/** Addresses over there that several people share, and whose the record of each is. */
export async function sharedPlaces({ pool }: Database, connectionId: number): Promise<SharedPlaces> {
  const [{ rows }, total] = await Promise.all([sharersOf(pool, connectionId, SHOWN), countShared(pool, connectionId)]);
  const places = new Map<string, SharedPlaces['places'][number]>();
  for (const { place, contact_id: contactId, name, has, asked } of rows) {
    const one = places.get(place) ?? { place, holder: null, asked, waiting: [] };
    if (has) one.holder = { contactId, name };
    else if (one.holder?.contactId !== contactId) one.waiting.push({ contactId, name });
    places.set(place, one);
  }
  return { total: total.rows[0]?.n ?? 0, places: [...places.values()] };
}

/** The one of these links whose contact stands for a person by now. */
async function ofPerson(tx: Tx, links: readonly Link[], contactId: number): Promise<Link | undefined> {
  for (const link of links) if ((await rootOf(tx, link.contactId)) === contactId) return link;
  return undefined;
}

/** Says whose the record at a shared place is; what is known here of that person goes there with the next run. */
export async function chooseSharer(
  services: SettleServices,
  connectionId: number,
  { place, contactId }: { place: string; contactId: number },
): Promise<void> {
  const row = await requireConnection(services.database, connectionId);
  const settling = await Settling.begin(services, row);
  await inTransaction(services.database, async (tx) => {
    const links = await lockedLinks(tx, connectionId, place);
    const rootId = await rootOf(tx, contactId);
    const { record } = await requireLive(tx, rootId);
    const waiting = await ofPerson(
      tx,
      links.filter(({ waitsFor }) => waitsFor === place),
      rootId,
    );
    if (!waiting) throw refuseSettling.waitsNoMore();
    const there = links.find(({ outsideId }) => outsideId === place);
    if (there?.state === 'asking') throw refuseSettling.whoFirst();
    const holder = there && (there.state === 'linked' || there.state === 'making') ? there : null;
    const writes = chooseHolder({ waiting, holder, newId: `waits-${randomUUID()}` }, row.setup);
    const title = `Gave the record of ${place} in ${row.name} to ${displayNameOf(record)}`;
    await settling.write(tx, await noteRun(tx, title, rootId), ...writes);
    await travelOn(tx, row, [rootId]);
  });
}
