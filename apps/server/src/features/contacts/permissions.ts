import { appendChange } from '../../feed/append-change';
import { and, asc, eq, inArray, isNull, or } from 'drizzle-orm';
import { displayNameOf } from '@gray-loom/core/fields';
import { keyHash, phoneBlock, preparePerson } from '@gray-loom/core/matching';
import { valuesOf, type ContactRecord } from '@gray-loom/core/model';
import {
  CHANNELS,
  permissionState,
  strictest,
  type Channel,
  type Evidence,
  type PermissionState,
} from '@gray-loom/core/writing';
import type { ContactPermissions, PermissionRequest } from '@gray-loom/wire';
import { inTransaction, type Database, type Queryable, type Tx } from '../../db/connect';
import { permissionEvidence, run } from '../../db/schema';
import { refuse } from './refusals';
import { mailboxKeyOf, numberKeyOf, type AddressKey } from '../../book/address-keys';
import { requireLive } from '../../book/require-live';
import { handThread, startRun } from '../../runs/runs';
import { returnedFrom } from '../../book/statements/returned-mail';
import { livePeople } from './statements/address-stops';
import {
  evidenceOf,
  everybodyMergedInto,
  contactsByKey,
  addressesWereStopped,
  latestEvidence,
} from './statements/permissions';

interface Address extends AddressKey {
  text: string;
}

/** Mailboxes and numbers of a record with the keys that evidence about them is kept under. */
export function addressesOf(record: ContactRecord): Address[] {
  const under = (field: string, keyOf: typeof mailboxKeyOf) =>
    valuesOf(record, field).flatMap(({ v, norm }) => {
      const key = keyOf(norm ?? String(v));
      return key ? [{ ...key, text: String(v) }] : [];
    });
  return [...under('email', mailboxKeyOf), ...under('tel', numberKeyOf)];
}

const closes = (addresses: readonly PermissionState[]): PermissionState =>
  // Where every address has said stop, the channel is closed; one open address leaves it open.
  addresses.length && addresses.every((state) => state === 'optedOut') ? 'optedOut' : 'unknown';

/** Where each channel stands for each contact: by the person's word, or since all its addresses have said stop. */
export async function channelStates(
  { pool }: Pick<Database, 'pool'>,
  people: readonly { id: number; record: ContactRecord }[],
): Promise<Map<number, Record<Channel, PermissionState>>> {
  const addresses = new Map(people.map(({ id, record }) => [id, addressesOf(record)]));
  const { rows } = await evidenceOf(
    pool,
    people.map(({ id }) => id),
    [...addresses.values()].flatMap((list) => list.map(({ key }) => String(key))),
  );
  const said = new Map<string, Evidence[]>();
  for (const { root, address_key: key, ...one } of rows) {
    const about = root === null ? `a${key}` : `c${root}`;
    said.set(about, [...(said.get(about) ?? []), { ...one, statedAtMs: Number(one.statedAtMs) }]);
  }
  const of = (key: string, channel: Channel) => permissionState(said.get(key) ?? [], channel);
  const stateOf = (id: number, channel: Channel): PermissionState => {
    const own = (addresses.get(id) ?? []).filter(({ channels }) => channels.includes(channel));
    return strictest(of(`c${id}`, channel), closes(own.map(({ key }) => of(`a${key}`, channel))));
  };
  return new Map(
    people.map(({ id }) => [
      id,
      Object.fromEntries(CHANNELS.map((channel) => [channel, stateOf(id, channel)])) as Record<
        Channel,
        PermissionState
      >,
    ]),
  );
}

/** When contacts said stop themselves who have not taken it back, by channel, in ms since 1970 UTC; addresses count by themselves. */
export async function stopsSaid(client: Queryable, ids: readonly number[]): Promise<Map<number, Map<Channel, number>>> {
  const unique = [...new Set(ids)];
  const { rows } = unique.length ? await evidenceOf(client, unique, []) : { rows: [] };
  const said = new Map<number, Evidence[]>();
  for (const { root, address_key: _, ...one } of rows)
    if (root !== null) said.set(root, [...(said.get(root) ?? []), { ...one, statedAtMs: Number(one.statedAtMs) }]);
  const stops = new Map<number, Map<Channel, number>>();
  for (const [id, evidence] of said)
    for (const channel of CHANNELS) {
      if (permissionState(evidence, channel) !== 'optedOut') continue;
      const last = Math.max(...evidence.filter((one) => one.channel === channel).map((one) => one.statedAtMs));
      stops.set(id, (stops.get(id) ?? new Map<Channel, number>()).set(channel, last));
    }
  return stops;
}

/** Channels that are closed for each contact. */
export async function closedChannels(
  database: Pick<Database, 'pool'>,
  people: readonly { id: number; record: ContactRecord }[],
): Promise<Map<number, Channel[]>> {
  const states = await channelStates(database, people);
  return new Map([...states].map(([id, of]) => [id, CHANNELS.filter((channel) => of[channel] === 'optedOut')]));
}

/** Channels that are closed for those of these contacts that are there. */
export async function closedOf(database: Database, ids: readonly number[]): Promise<Map<number, Channel[]>> {
  const unique = [...new Set(ids)];
  return closedChannels(database, await livePeople(database.pool, unique, unique.length));
}

/** Of these addresses, those from which the last mail came back, by their keys. */
export async function returnedMailOf(
  client: Queryable,
  keys: readonly number[],
): Promise<ContactPermissions['returned']> {
  if (!keys.length) return [];
  const { rows } = await returnedFrom(client, keys.map(String));
  return rows.map(({ address, how, at, run_id: runId }) => ({ address, how, at: at.toISOString(), runId }));
}

/** Where each channel stands for a contact, with all evidence for the person and for each of the addresses. */
export async function permissionsOf(
  { db, pool }: Database,
  contactId: number,
  record: ContactRecord,
): Promise<ContactPermissions> {
  const addresses = addressesOf(record);
  const taken = await everybodyMergedInto(pool, [contactId]);
  const rows = await db
    .select({ evidence: permissionEvidence, title: run.title })
    .from(permissionEvidence)
    // What a run brought that was taken back counts no more; it stays to be looked up.
    .innerJoin(run, and(eq(run.id, permissionEvidence.runId), isNull(run.undoneBy)))
    .where(
      or(
        inArray(
          permissionEvidence.contactId,
          taken.rows.map(({ id }) => id),
        ),
        inArray(permissionEvidence.addressKey, addresses.length ? addresses.map(({ key }) => key) : [-1]),
      ),
    )
    .orderBy(asc(permissionEvidence.statedAt), asc(permissionEvidence.id));
  const evidence = rows.map(({ evidence: one }) => one);
  const returned = await returnedMailOf(
    pool,
    addresses.map(({ key }) => key),
  );
  const timed = (list: typeof evidence) => list.map((one) => ({ ...one, statedAtMs: one.statedAt.getTime() }));
  const ofPerson = timed(evidence.filter((one) => one.addressKey === null));
  return {
    channels: CHANNELS.map((channel) => {
      const person = permissionState(ofPerson, channel);
      const own = addresses
        .filter((address) => address.channels.includes(channel))
        .map((address) => ({
          address: address.text,
          state: permissionState(timed(evidence.filter((one) => one.addressKey === address.key)), channel),
        }));
      return {
        channel,
        state: strictest(person, closes(own.map(({ state }) => state))),
        addresses: own.filter(({ state }) => state !== 'unknown'),
      };
    }),
    returned,
    evidence: evidence
      .map((one) => ({
        channel: one.channel,
        state: one.state,
        how: one.how,
        address: one.addressKey === null ? null : one.address,
        statedAt: one.statedAt.toISOString(),
        runId: one.runId,
      }))
      .reverse(),
  };
}

/** Adds evidence: what somebody said of a channel, how and when, of the person or of one address. */
export async function recordPermission(
  database: Database,
  contactId: number,
  request: PermissionRequest,
): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const { record } = await requireLive(tx, contactId);
    const address = request.address
      ? addressesOf(record).find(({ text, channels }) => text === request.address && channels.includes(request.channel))
      : null;
    if (request.address && !address) throw refuse.noSuchAddress({ address: request.address });
    const statedAt = request.statedAt ? new Date(request.statedAt) : new Date();
    if (Number.isNaN(statedAt.getTime()) || statedAt.getTime() > Date.now() + 86_400_000) throw refuse.invalidDate();
    const runId = await startRun(tx, {
      kind: 'permission',
      state: 'done',
      threadId: await handThread(tx),
      title: `${displayNameOf(record)}: ${request.state === 'optedOut' ? 'stop' : 'allowed'}, ${request.channel}`,
      contactId,
    });
    await tx.db.insert(permissionEvidence).values({
      contactId: address ? null : contactId,
      addressKey: address?.key ?? null,
      address: address?.text ?? '',
      channel: request.channel,
      state: request.state,
      how: request.how,
      statedAt,
      runId,
    });
    await appendChange(tx, { kind: 'permission', runId, contacts: await saidOf(tx, contactId, address?.key ?? null) });
    return { runId };
  });
}

/** Everybody of whom something is said: the one it is said of, or all who have the address. */
async function saidOf(tx: Tx, contactId: number, addressKey: number | null): Promise<number[]> {
  if (addressKey === null) return [contactId];
  const { rows } = await contactsByKey(tx.client, String(addressKey));
  return rows.map(({ id }) => id);
}

/** Whether `stopsOf` need be asked about contact `c` at all: something was said of it, of one merged into it, or of any address. */
export const MAY_BE_STOPPED = `(exists (select 1 from permission_evidence e where e.address_key is not null)
  or exists (select 1 from permission_evidence e where e.contact_id = c.id) or exists (select 1 from contact m where m.merged_into = c.id))`;

/** Channels that are closed, for the glance in a list: by the person's word or that of the first mailbox or number. */
export async function stopsOf(
  { pool }: Pick<Database, 'pool'>,
  rows: readonly { id: number; email: string; tel: string }[],
): Promise<Map<number, Channel[]>> {
  if (!rows.length) return new Map();
  // Keys of addresses are worked out only where anything is said of addresses at all.
  const said = await addressesWereStopped(pool);
  const keysOf = rows.map(({ id, email, tel }) => {
    if (!said.rowCount) return { id, keys: [] };
    const person = preparePerson({ emails: email ? [email] : [], phones: tel ? [tel.replace(/ ext\..*$/, '')] : [] });
    return {
      id,
      keys: [
        ...person.emails.map((box) => keyHash(`e:${box.key}`)),
        ...person.phones.map((phone) => keyHash(`p:${phoneBlock(phone)}`)),
      ],
    };
  });
  const found = await latestEvidence(
    pool,
    rows.map(({ id }) => id),
    keysOf.flatMap(({ keys }) => keys.map(String)),
  );
  const stops = new Map<number, Channel[]>();
  if (!found.rows.length) return stops;
  for (const { id, keys } of keysOf) {
    const closed = found.rows.filter(
      (row) =>
        row.state === 'optedOut' &&
        (row.contact_id === id || (row.address_key !== null && keys.includes(row.address_key))),
    );
    if (closed.length) stops.set(id, [...new Set(closed.map(({ channel }) => channel))]);
  }
  return stops;
}
