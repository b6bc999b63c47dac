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
} from '@gray-loom/server';
import { sql } from 'drizzle-orm';

const COUNTRY = 'GB';
/** People whose phone is changed on both sides. */
const CONFLICTS = 3;

interface StandIn {
  port: number;
  user: string;
  password: string;
}

/** The office address book connected, tried and run for the first time; then a few phones change on both sides. */
export async function seedConnection(
  unnamed: Database,
  databaseUrl: string,
  standIn: StandIn,
  secretKey: Buffer,
  say: (text: string) => void,
): Promise<void> {
  say('Connecting the office address book.');
  const administrator = await firstAdministrator(unnamed);
  const database = administrator ? actingAs(unnamed, administrator) : unnamed;
  const origin = `http://127.0.0.1:${standIn.port}`;
  const services = { database, secretKey, standIns: [origin], country: COUNTRY };
  const { id } = await makeConnection(services, {
    name: 'Office address book',
    kind: 'addressBook',
    settings: { address: `${origin}/`, user: standIn.user, password: standIn.password },
    from: null,
    despite: false,
  });
  const work = async (trial: boolean) => {
    const { runId } = await runConnection(database, id, { trial, only: null });
    const settings = { databaseUrl, secretKey, standIns: services.standIns, country: COUNTRY };
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
    if (!held.rowCount) return;
    await workRun(database, runId, settings);
  };
  await work(true);
  await work(false);
  await changeBothSides(services, id);
  await work(false);
  await database.db
    .update(connection)
    .set({ state: 'paused' })
    .where(sql`${connection.id} = ${id}`);
}

async function changeBothSides(
  services: { database: Database; secretKey: Buffer; standIns: string[]; country: string },
  id: number,
): Promise<void> {
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
    const place = String(40 + n);
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
