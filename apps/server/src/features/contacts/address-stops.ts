import {
  contactPageSchema,
  type StopAnswer,
  type StopEvidence,
  type StopsAsked,
  type StopsRequest,
} from '@gray-loom/wire';
import { typedAddress } from '../../book/address-keys';
import { inTransaction, type Database } from '../../db/connect';
import { appendChange } from '../../feed/append-change';
import { handThread, startRun } from '../../runs/runs';
import { displayNameOf } from '@gray-loom/core/fields';
import { contactPage } from './contact-list';
import { addressesOf, closedChannels, returnedMailOf } from './permissions';
import type { PlaceMarks } from './place-marks';
import { refuse } from './refusals';
import {
  evidenceAbout,
  insertForAddresses,
  latestOfAddresses,
  livePeople,
  peopleWithKeys,
  stopsInTools,
  type EvidenceRow,
} from './statements/address-stops';

/** Evidence, and people, that one answer has at most. */
const SHOWN = 100;
const PEOPLE = 20;

/** Keeps that these addresses and numbers are not to be written to or called, whoever has them now or later; or that one may be again. */
export async function stopAddresses(
  database: Database,
  { addresses, channels, state, how, statedAt }: StopsRequest,
  country: string,
): Promise<{ runId: number }> {
  const at = statedAt ? new Date(statedAt) : new Date();
  if (Number.isNaN(at.getTime()) || at.getTime() > Date.now() + 86_400_000) throw refuse.invalidDate();
  const known = addresses.map((address) => ({ address, of: typedAddress(address, country) }));
  const wrong = known.filter(({ of }) => !of).map(({ address }) => address);
  if (wrong.length) throw refuse.noAddress({ addresses: wrong.slice(0, 5), count: wrong.length, field: 'addresses' });
  if (state === 'allowed' && addresses.length > 1) throw refuse.oneAtATime({ field: 'addresses' });
  const rows = known.flatMap(({ address, of }) =>
    channels.flatMap((channel) => (of?.channels.includes(channel) ? [{ key: of.key, address, channel }] : [])),
  );
  if (!rows.length) throw refuse.otherChannels({ field: 'channels' });
  return inTransaction(database, async (tx) => {
    const [first] = addresses;
    const runId = await startRun(tx, {
      kind: 'permission',
      state: 'done',
      threadId: await handThread(tx),
      title:
        state === 'allowed'
          ? `${first} may be used again`
          : addresses.length === 1
            ? `Stop of ${first}`
            : `Stop of ${addresses.length} addresses`,
    });
    await insertForAddresses(tx.client, runId, state, how, at.toISOString(), JSON.stringify(rows));
    const people = await peopleWithKeys(
      tx.client,
      rows.map(({ key }) => String(key)),
    );
    await appendChange(tx, { kind: 'permission', runId, contacts: people.rows.map(({ id }) => id) });
    return { runId };
  });
}

const evidenceOf = (row: EvidenceRow): StopEvidence => ({
  id: row.id,
  channel: row.channel,
  state: row.state,
  how: row.how,
  address: row.address_key === null ? null : row.address,
  statedAt: row.stated_at.toISOString(),
  runId: row.run_id,
  by: row.by,
});

/** Who said what of being written to or called, where, when and how: of an address, of a person, or of all addresses, the latest first. */
export async function askStops(
  database: Database,
  marks: PlaceMarks,
  { find, after }: StopsAsked,
  country: string,
): Promise<StopAnswer> {
  const { pool } = database;
  if (!find) {
    const { rows } = await latestOfAddresses(pool, after, SHOWN + 1);
    const shown = rows.slice(0, SHOWN);
    const next = rows.length > SHOWN ? (shown.at(-1)?.id ?? null) : null;
    return { isAddress: false, evidence: shown.map(evidenceOf), returned: [], people: [], next };
  }
  const typed = typedAddress(find, country);
  const ids = typed
    ? (await peopleWithKeys(pool, [String(typed.key)])).rows.map(({ id }) => id)
    : (await contactPage(database, marks, contactPageSchema.cast({ find, limit: PEOPLE }))).rows.map(({ id }) => id);
  const people = await livePeople(pool, ids, PEOPLE);
  const keys = new Map(people.map(({ id, record }) => [id, addressesOf(record).map(({ key }) => key)]));
  const all = [...keys.values()].flat();
  const { rows } = await evidenceAbout(
    pool,
    people.map(({ id }) => id),
    [...all, ...(typed ? [typed.key] : [])].map(String),
  );
  const closed = await closedChannels(database, people);
  const tools = await stopsInTools(
    pool,
    people.map(({ id }) => id),
  );
  return {
    isAddress: typed !== null,
    evidence: rows.filter((row) => typed && row.address_key === typed.key).map(evidenceOf),
    returned: await returnedMailOf(pool, [...new Set([...all, ...(typed ? [typed.key] : [])])]),
    people: people.map(({ id, record }) => ({
      id,
      name: displayNameOf(record),
      closed: closed.get(id) ?? [],
      evidence: rows
        .filter((row) => row.contact_id === id || (row.address_key !== null && keys.get(id)?.includes(row.address_key)))
        .map(evidenceOf),
      tools: tools.rows
        .filter((row) => row.contact_id === id)
        .map(({ connection_id, connection, channels, seen_at }) => ({
          connectionId: connection_id,
          connection,
          channels,
          seenAt: seen_at.toISOString(),
        })),
    })),
    next: null,
  };
}
