import {
  findSegment,
  workRun,
  readConfig,
  firstAdministrator,
  actingAs,
  connect,
  type Database,
  migrateDatabase,
  intake,
  run,
  savedMapping,
  createLogger,
  Refusal as ServerRefusal,
  exportCards,
  type CardVersion,
  exportActivities,
  exportLines,
  exportTable,
  dropIntake,
  saveMapping,
  startImport,
  startTrial,
  trialRows,
  loadCatalogue,
  takePackedFile,
} from '@gray-loom/server';
import { allOf, isOneOf, type Condition } from '@gray-loom/core/segments';
import { createReadStream, createWriteStream, statSync } from 'node:fs';
import { basename, join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { sql } from 'drizzle-orm';
import { fitMapping, mappingTargets } from '@gray-loom/core/mapping';
import { ROW_OUTCOMES, type ContactFilter, type RowOutcome } from '@gray-loom/wire';
import { openCluster } from '../../../scripts/postgres';
import { Refusal } from './refusal';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
export const LEASE_MS = 120_000;
const POLL_MS = 300;

/** Opens the database that the app works with: DATABASE_URL where it is set, else the cluster below the data folder. */
export async function withBook<T>(
  data: string | undefined,
  work: (database: Database, url: string) => Promise<T>,
): Promise<T> {
  const given = process.env.DATABASE_URL;
  const cluster = given
    ? { url: given, stop: () => undefined }
    : await openCluster(resolve(data ?? join(ROOT, '.data'))).catch((error: unknown) => {
        throw new Refusal(
          `${error instanceof Error ? error.message : String(error)}; run ./start once, name the folder with --data, or set DATABASE_URL.`,
        );
      });
  const database = connect(cluster.url, createLogger('loom', 'silent'), 6);
  try {
    await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
    return await work(database, cluster.url);
  } catch (error) {
    if (error instanceof ServerRefusal) throw new Refusal(error.words);
    throw error;
  } finally {
    await database.pool.end();
    cluster.stop();
  }
}

/** The database in the name of the administrator who was there first. */
export async function asAdministrator(database: Database): Promise<Database> {
  const found = await firstAdministrator(database);
  if (!found) throw new Refusal('Nobody has an account yet; run ./start once.');
  return actingAs(database, found);
}

interface FileOptions {
  country: string;
  /** Name of a saved mapping; without it the file is read as the last of its kind, or by guesses. */
  mapping?: string | undefined;
}

/** Puts a file into Intake, with the mapping that was asked for. */
async function bring(database: Database, path: string, { country, mapping }: FileOptions): Promise<number> {
  const config = readConfig({ ...process.env, DATABASE_URL: 'unused' });
  const id = await takePackedFile(database, {
    name: basename(path),
    body: createReadStream(path),
    declaredBytes: statSync(path).size,
    limitBytes: config.fileLimitBytes,
    country,
  });
  if (mapping === undefined) return id;
  try {
    const [saved] = await database.db
      .select()
      .from(savedMapping)
      .where(sql`lower(${savedMapping.name}) = lower(${mapping})`)
      .limit(1);
    if (!saved) throw new Refusal(`There is no saved mapping '${mapping}'; Setup lists them.`);
    const [file] = await database.db
      .select()
      .from(intake)
      .where(sql`${intake.id} = ${id}`);
    if (!file) throw new Refusal('The file is not in Intake any more.');
    const catalogue = await loadCatalogue(database.db);
    const known = new Set(
      mappingTargets(catalogue.fields.filter(({ key }) => key.startsWith('custom.'))).map(({ key }) => key),
    );
    const fit = fitMapping(saved, file.guesses, file.mapping, known);
    await saveMapping(database, id, fit.mapping);
  } catch (error) {
    await dropIntake(database, id);
    throw error;
  }
  return id;
}

/** Works on a run here where no worker has it, and waits for its end. */
export async function finish(
  database: Database,
  runId: number,
  settings: Parameters<typeof workRun>[2],
): Promise<{ state: string; counts: Record<string, number> }> {
  await workRun(database, runId, { ...settings, leaseMs: LEASE_MS });
  for (;;) {
    const [found] = await database.db
      .select({ state: run.state, counts: run.counts, error: run.error })
      .from(run)
      .where(sql`${run.id} = ${runId}`);
    if (!found) throw new Refusal('The run is gone.');
    if (found.state === 'failed') throw new Refusal(found.error ?? 'The run failed.');
    if (found.state !== 'queued' && found.state !== 'running') return found;
    await new Promise((done) => setTimeout(done, POLL_MS));
  }
}

/** Tries a file against the people who are here; nothing is written, and the file does not stay in Intake. */
export async function trialInBook(
  unnamed: Database,
  url: string,
  path: string,
  options: FileOptions,
): Promise<Record<string, unknown>> {
  const database = await asAdministrator(unnamed);
  const id = await bring(database, path, options);
  try {
    const { runId } = await startTrial(database, id, { keepAll: true });
    const { counts } = await finish(database, runId, { databaseUrl: url });
    const rows = await trialRows(database, id, null, 2_000_000);
    return {
      counts,
      rows: rows.map(({ row, outcome, issues, contactId, contactName, changes, values }) => ({
        row,
        outcome,
        issues: issues.map((message) => ({ message })),
        contactId,
        contact: contactId ? { name: contactName, changes } : values,
      })),
    };
  } finally {
    // What went wrong before is what is told; a file that stays can be dropped in Intake.
    const [dropped] = await Promise.allSettled([dropIntake(database, id)]);
    if (dropped.status === 'rejected')
      process.stderr.write('The file stays in Intake, since it could not be dropped.\n');
  }
}

/** Brings a file in, as the screen does: the same runs, the same held rows, the same undo. */
export async function importIntoBook(
  unnamed: Database,
  url: string,
  path: string,
  options: FileOptions,
): Promise<Record<string, unknown>> {
  const database = await asAdministrator(unnamed);
  const id = await bring(database, path, options);
  const { runId } = await startImport(database, id).catch(async (error: unknown) => {
    await dropIntake(database, id);
    throw error;
  });
  const { state, counts } = await finish(database, runId, { databaseUrl: url });
  return { runId, intakeId: id, state, counts };
}

/** Counts of rows in words, for people. */
export function countsInWords(counts: Record<string, number>): string {
  const said = ROW_OUTCOMES.flatMap((outcome: RowOutcome) =>
    counts[outcome] ? [`${counts[outcome]} ${outcome}`] : [],
  );
  return said.join(', ') || 'no rows';
}

/** The filter of an export: everybody, or a segment by its name, narrowed by further tests. */
export async function filterOf(
  database: Database,
  which: string,
  { find, kind, tests }: { find: string; kind: 'person' | 'organization'; tests: Condition[] },
): Promise<ContactFilter> {
  const segment = which === 'all' ? null : await findSegment(database, which);
  if (which !== 'all' && !segment)
    throw new Refusal(`There is no segment '${which}'. Its name stands in the list of segments.`);
  const where = JSON.stringify(allOf(...(segment ? [isOneOf('@segment', String(segment.id))] : []), ...tests));
  return { find, where, kind: segment?.kind ?? kind, deleted: false };
}

/** Writes contacts to a file; its ending says in what form. Gives the number of bytes. */
export async function exportFromBook(
  database: Database,
  out: string,
  filter: ContactFilter,
  { fields, version, activity = false }: { fields: readonly string[]; version: CardVersion; activity?: boolean },
): Promise<number> {
  const ending = /\.([a-z]+)$/i.exec(out)?.[1]?.toLowerCase();
  if (activity && ending !== 'csv') throw new Refusal(`${out}: activity goes out as a table; let the name end in csv.`);
  const body = activity
    ? await exportActivities(database, filter)
    : ending === 'csv' || ending === 'tsv'
      ? await exportTable(database, filter, ending === 'csv' ? ',' : '\t', fields)
      : ending === 'jsonl'
        ? await exportLines(database, filter)
        : ending === 'vcf'
          ? await exportCards(database, filter, version)
          : null;
  if (!body) throw new Refusal(`${out}: the ending says the form; it can be csv, tsv, jsonl or vcf.`);
  await pipeline(Readable.fromWeb(body as unknown as NodeStream), createWriteStream(out));
  return statSync(out).size;
}
