import {
  workRun,
  actingAs,
  type Database,
  firstAdministrator,
  connection,
  run,
  syncLink,
  connectorsFor,
  contactDetail,
  settingsOf,
  makeConnection,
  requireConnection,
  runConnection,
  editContact,
  failRun,
  changeConnection,
  changeResults,
  takeResultsNow,
} from '@gray-loom/server';
import { sql } from 'drizzle-orm';
import { allOf, isOneOf } from '@gray-loom/core/segments';
import type { ListLine } from '@gray-loom/core/syncing';
import { PUBLISHED } from './phone-bank';

const COUNTRY = 'GB';
/** People whose phone is changed on both sides. */
const CONFLICTS = 3;

interface StandIn {
  port: number;
  user: string;
  password: string;
  dialer: { port: number; key: string };
  mailer: { port: number; client: string; secret: string };
}

interface Services {
  database: Database;
  secretKey: Buffer;
  standIns: string[];
  country: string;
}

/** The stand-ins connected, tried and run for the first time; then a few phones change on both sides. */
export async function seedConnections(
  unnamed: Database,
  databaseUrl: string,
  standIn: StandIn,
  secretKey: Buffer,
  say: (text: string) => void,
): Promise<void> {
  const administrator = await firstAdministrator(unnamed);
  const database = administrator ? actingAs(unnamed, administrator) : unnamed;
  const book = `http://127.0.0.1:${standIn.port}`;
  const dialer = `http://127.0.0.1:${standIn.dialer.port}`;
  const mailer = `http://127.0.0.1:${standIn.mailer.port}`;
  const services: Services = { database, secretKey, standIns: [book, dialer, mailer], country: COUNTRY };
  const settings = { databaseUrl, secretKey, standIns: services.standIns, country: COUNTRY };
  const workOut = async (runId: number) => {
    await workRun(database, runId, settings).catch(async (error: unknown) => {
      await failRun(database, runId, String(error));
      throw error;
    });
    await database.db
      .update(run)
      .set({ detail: sql`${run.detail} || '{"released": true}'` })
      .where(sql`${run.id} = ${runId} and ${run.state} = 'paused'`);
    const held = await database.pool.query(`update run set state = 'queued' where id = $1 and state = 'paused'`, [
      runId,
    ]);
    if (held.rowCount) await workRun(database, runId, settings);
  };
  const work = async (id: number, trial: boolean) =>
    workOut((await runConnection(database, id, { trial, only: null })).runId);

  say('Connecting the office address book.');
  const office = await makeConnection(services, {
    name: 'Office address book',
    kind: 'addressBook',
    settings: { address: `${book}/`, user: standIn.user, password: standIn.password },
    from: null,
    despite: false,
  });
  await work(office.id, true);
  await work(office.id, false);
  await changeBothSides(services, office.id, 40);
  await work(office.id, false);

  say('Connecting the phone bank.');
  const phones = await makeConnection(services, {
    name: 'Phone bank',
    kind: 'dialer',
    settings: { address: `${dialer}/v1`, key: standIn.dialer.key },
    from: null,
    despite: false,
  });
  // Its calling lists are its own: they come in as tags, and are not made of ours.
  const { setup } = await requireConnection(database, phones.id);
  const lines = setup.lines
    .filter(({ field }) => field !== 'stage')
    .map((line) => (line.field === 'tags' ? { ...line, direction: 'in' as const } : line));
  await changeConnection(services, phones.id, { setup: { ...setup, lines } });
  await work(phones.id, true);
  await work(phones.id, false);
  await changeResults(database, phones.id, { sources: { [PUBLISHED[0]]: 'Boat fair', [PUBLISHED[1]]: 'Website' } });
  await workOut((await takeResultsNow(database, phones.id)).runId);
  await changeBothSides(services, phones.id, 60);
  await work(phones.id, false);

  say('Connecting the mail room.');
  const mail = await makeConnection(services, {
    name: 'Mail room',
    kind: 'mailer',
    settings: { address: `${mailer}/`, client: standIn.mailer.client, secret: standIn.mailer.secret },
    from: null,
    despite: false,
  });
  await keepLists(services, mail.id);
  await work(mail.id, true);
  await work(mail.id, false);
  await workOut((await takeResultsNow(database, mail.id)).runId);
  await database.db.update(connection).set({ state: 'paused' });
}

/** Segments that the mail room keeps as lists, by their names, and what becomes of a change by hand. */
const KEPT: readonly [segment: string, list: string, byHand: ListLine['byHand']][] = [
  ['Newsletter', 'Newsletter', 'leave'],
  ['Donors, six months untouched', 'Newsletter / Donors', 'putRight'],
  ['Enquiries that can be reached', 'Enquiries', 'ask'],
];

async function keepLists(services: Services, id: number): Promise<void> {
  const { database } = services;
  const { setup } = await requireConnection(database, id);
  const { rows } = await database.pool.query<{ id: number; name: string }>('select id, name from segment');
  const segmentOf = new Map(rows.map((row) => [row.name, row.id]));
  const lists: ListLine[] = [
    ...KEPT.map(([segment, label, byHand], i) => ({
      id: `list-${i + 1}`,
      direction: 'out' as const,
      segment: segmentOf.get(segment) ?? 0,
      tag: '',
      label,
      byHand,
    })),
    {
      id: 'list-9',
      direction: 'in',
      segment: 0,
      tag: 'friend of the yard',
      label: 'Friends of the yard',
      byHand: 'ask',
    },
  ];
  // Only whoever is to have mail has an entry there.
  const scopes = [
    {
      id: 'mail',
      who: {
        kind: 'condition' as const,
        words: '',
        condition: allOf({ field: 'email', op: 'present' }, isOneOf('tags', 'newsletter')),
      },
      give: { tags: [], source: '', owner: '', stage: '' },
    },
  ];
  await changeConnection(services, id, { setup: { ...setup, lists, scopes, newThere: true } });
}

async function changeBothSides(services: Services, id: number, from: number): Promise<void> {
  const { database, standIns, secretKey } = services;
  const row = await requireConnection(database, id);
  const tool = connectorsFor(standIns)[row.kind].open(row.place, settingsOf(row, secretKey));
  const links = await database.db
    .select()
    .from(syncLink)
    .where(
      sql`${syncLink.connectionId} = ${id} and ${syncLink.state} = 'linked'
        and ${syncLink.seen}->'fields'->'tel'->1 is null and ${syncLink.seen}->'fields'->'tel' is not null`,
    )
    .orderBy(syncLink.outsideId)
    .limit(CONFLICTS * 6);
  let n = 0;
  for (const link of links) {
    const { record } = await contactDetail(database, link.contactId);
    const before = record.f.tel?.[0];
    if (!before || record.f.tel?.length !== 1 || !link.seen || n >= CONFLICTS) continue;
    const label = link.seen.fields.tel?.[0]?.label;
    const place = String(from + n);
    await editContact(
      database,
      link.contactId,
      [{ field: 'tel', slot: before.slot, before, text: `07700 9005${place}`, label: label ?? null }] as never,
      COUNTRY,
      true,
    );
    const v = `+44 7700 9006${place}`;
    await tool.write([
      {
        kind: 'update',
        id: link.outsideId,
        version: link.version,
        fields: { tel: [{ v, ...(label ? { label } : {}) }] },
        labels: null,
        stop: [],
        seen: link.seen,
      },
    ]);
    n++;
  }
}
