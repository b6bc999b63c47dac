import { type Database, connection, run, runConnection, syncChanges, valueText } from '@gray-loom/server';
import { join, resolve } from 'node:path';
import { asc, eq, sql } from 'drizzle-orm';
import { ToolTrouble } from '@gray-loom/core/syncing';
import { knownStandIn, secretKeyOf, standInOrigin } from '../../../scripts/surroundings';
import { asAdministrator, finish } from './book';
import { Refusal } from './refusal';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
/** Changes that are printed; the report has all. */
const SHOWN = 500;

interface SyncOptions {
  trial: boolean;
  country: string;
  data?: string | undefined;
}

/** Runs a connection as the screen does, or tries it: the same run in the ledger, the same report. */
export async function syncByName(
  unnamed: Database,
  url: string,
  name: string,
  { trial, country, data: folder }: SyncOptions,
): Promise<Record<string, unknown>> {
  const database = await asAdministrator(unnamed);
  const [row] = await database.db
    .select()
    .from(connection)
    .where(sql`lower(${connection.name}) = lower(${name})`);
  if (!row) {
    const all = await database.db.select({ name: connection.name }).from(connection).orderBy(asc(connection.id));
    throw new Refusal(
      all.length
        ? `There is no connection '${name}'; there are ${all.map((one) => `'${one.name}'`).join(', ')}.`
        : `There is no connection '${name}'. Connect a tool under Syncs first.`,
    );
  }
  const data = resolve(folder ?? join(ROOT, '.data'));
  const standIn = knownStandIn(data);
  const { runId } = await runConnection(database, row.id, { trial, only: null });
  const ended = await finish(database, runId, {
    databaseUrl: url,
    secretKey: process.env.GRAY_LOOM_KEY ? Buffer.from(process.env.GRAY_LOOM_KEY, 'base64') : secretKeyOf(data),
    standIns:
      process.env.GRAY_LOOM_STAND_INS?.split(',') ??
      (standIn ? [standIn, standIn.dialer, standIn.mailer].flatMap((one) => (one ? standInOrigin(one) : [])) : []),
    country,
  }).catch((error: unknown) => {
    if (error instanceof ToolTrouble) throw new Refusal(error.message);
    throw error;
  });
  const [kept] = await database.db.select({ detail: run.detail }).from(run).where(eq(run.id, runId));
  const { changes, total } = await syncChanges(database, runId, { after: 0, side: '', kind: '', limit: SHOWN });
  return {
    runId,
    connection: row.name,
    trial,
    state: ended.state,
    counts: ended.counts,
    heldBack: (kept?.detail.reasons as unknown[] | undefined) ?? [],
    changes: changes.map((one) => ({
      name: one.name,
      side: one.side,
      field: one.field,
      kind: one.kind,
      before: one.before.map(valueText),
      after: one.after.map(valueText),
    })),
    changesInAll: total,
  };
}
