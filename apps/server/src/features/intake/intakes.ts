import { accountIdOf } from '../../db/actor';
import { desc, eq, sql } from 'drizzle-orm';
import { CUSTOM_PREFIX, foldText, showValue, type Catalogue } from '@gray-loom/core/fields';
import { mappingTargets, NO_COLUMN, PERMISSIONS, RowReader, showReading, type Mapping } from '@gray-loom/core/mapping';
import { holdsRow, wordIssue, type Issue } from '@gray-loom/core/model';
import type {
  IntakeDetail,
  IntakeSummary,
  MappingPreview,
  OutcomeCounts,
  PreviewRow,
  RowOutcome,
  TrialRow,
} from '@gray-loom/wire';
import { inTransaction, type Database } from '../../db/connect';
import { importRow, intake, run } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse, requireContent } from './refusals';
import { dropMadeFields, fieldFor } from './made-fields';
import { loadCatalogue, PickLists } from '../../book/picks';
import { readRows } from './files/read-file';
import { loadChoices } from './rows/row-choices';
import { FitNames, fitsOf } from './rows/row-fits';
import { keepMapping } from './saved-mappings';
import { enqueueRun, handThread, newThread, startRun } from '../../runs/runs';
import { importRuns, decisionsSince, beginProgress, copyIntake, copyPieces } from './statements/intakes';

type IntakeRow = typeof intake.$inferSelect;

/** Rows of a long file that the counts of failing cells look at. */
const LOOK_AT = 5000;

async function requireIntake(db: Database['db'], id: number): Promise<IntakeRow> {
  const [found] = await db.select().from(intake).where(eq(intake.id, id));
  if (!found) throw refuse.noSuchFile();
  return found;
}

async function summaries({ pool }: Database, rows: readonly IntakeRow[]): Promise<IntakeSummary[]> {
  const runIds = rows.flatMap((row) => (row.importRun ? [row.importRun] : []));
  const runs = await importRuns(pool, runIds);
  const byRun = new Map(runs.rows.map((row) => [row.id, row]));
  return rows.map((row) => {
    const imported = row.importRun ? byRun.get(row.importRun) : undefined;
    return {
      id: row.id,
      name: row.name,
      bytes: row.bytes,
      state: row.state,
      rowCount: row.rowCount,
      columnCount: row.shape.columnCount,
      createdAt: row.createdAt.toISOString(),
      importRun: row.importRun,
      counts: imported?.counts ?? {},
      held: imported?.undone_by ? 0 : (imported?.held ?? 0),
      undone: imported?.undone_by !== null && imported?.undone_by !== undefined,
    };
  });
}

export async function listIntakes(database: Database): Promise<IntakeSummary[]> {
  return summaries(database, await database.db.select().from(intake).orderBy(desc(intake.id)).limit(200));
}

export async function intakeDetail(database: Database, id: number): Promise<IntakeDetail> {
  const row = await requireIntake(database.db, id);
  const [summary] = await summaries(database, [row]);
  const trial = row.trialRun
    ? (
        await database.db
          .select({ state: run.state, counts: run.counts, warnings: sql<string[] | null>`${run.detail}->'warnings'` })
          .from(run)
          .where(eq(run.id, row.trialRun))
      )[0]
    : undefined;
  const chosen = await decisionsSince(database.pool, id, row.trialRun);
  return {
    ...(summary as IntakeSummary),
    shape: row.shape,
    guesses: row.guesses,
    mapping: row.mapping,
    readAs: row.readAs && { ...row.readAs, savedId: row.readAs.savedId ?? null },
    issues: row.issues.map((issue) => ({ issue, text: wordIssue(issue) })),
    trialRun: row.trialRun,
    trialCounts: trial?.state === 'done' ? (trial.counts as OutcomeCounts) : null,
    trialStale: row.state === 'read' && row.trialRun !== null,
    mends: row.mends,
    warnings: trial?.state === 'done' ? (trial.warnings ?? []) : [],
    chosen: chosen.rows[0]?.n ?? 0,
    chosenSinceTrial: chosen.rows[0]?.since ?? 0,
  };
}

/** Keeps a mapping; a field that it makes on the spot is made now. */
export async function saveMapping(database: Database, id: number, mapping: Mapping): Promise<void> {
  await inTransaction(database, async (tx) => {
    const [row] = await tx.db.select().from(intake).where(eq(intake.id, id)).for('update');
    if (!row) throw refuse.noSuchFile();
    if (row.state === 'committing' || row.state === 'done' || row.state === 'stopped') {
      throw refuse.tooLate();
    }
    const stages = await PickLists.load(tx.db);
    const { stage } = mapping.wholeFile;
    if (stage && !stages.stages.some((known) => foldText(known) === foldText(stage))) {
      throw refuse.unknownStage({ stage, stages: stages.stages });
    }
    const own = (await loadCatalogue(tx.db)).fields.filter(({ key }) => key.startsWith(CUSTOM_PREFIX));
    const known = new Set(mappingTargets(own).map(({ key }) => key));
    for (const column of mapping.columns) {
      if (!column.newField) {
        const { target, header } = column;
        if (target !== null && !known.has(target))
          throw refuse.unknownMeaning({
            column: column.column,
            header: header ?? `Column ${column.column + 1}`,
            target,
          });
        continue;
      }
      column.target = await fieldFor(tx, id, column.column, column.newField);
      column.newField = null;
    }
    await tx.db.update(intake).set({ mapping, state: 'read' }).where(eq(intake.id, id));
    await dropMadeFields(tx, id);
    await tell(tx.client, { topic: 'intakes', id });
  });
}

/** What cells would become under a mapping, and how many fail, without keeping anything. */
export async function previewMapping(
  database: Database,
  id: number,
  from: number,
  count: number,
  failingColumn: number | null,
): Promise<MappingPreview> {
  const row = await requireIntake(database.db, id);
  requireContent(row);
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const reader = new RowReader(row.mapping, catalogue, picks.context(row.mapping.country), row.shape);
  const entries = row.mapping.columns;
  const columns = entries.map(() => ({ filled: 0, failing: 0 }));
  const rows: PreviewRow[] = [];
  let looked = 0;
  let matching = 0;
  for await (const batch of readRows(database, id, row.shape, 1000)) {
    for (const { row: number, cells } of batch) {
      if (looked >= LOOK_AT) break;
      looked++;
      let fails = false;
      const shown = columns.map((column, i) => {
        const raw = cells[entries[i]?.column ?? NO_COLUMN] ?? '';
        const reading = reader.cell(i, cells, number);
        const failing = reading.issues.some(holdsRow);
        if (raw.trim()) column.filled++;
        if (failing) column.failing++;
        if (failing && i === failingColumn) fails = true;
        return {
          raw,
          shown: showReading(entries[i]?.target ?? null, reading),
          issues: reading.issues.map((issue) => ({ text: cellWords(issue), holds: holdsRow(issue) })),
        };
      });
      if (failingColumn !== null && !fails) continue;
      if (matching++ < from || rows.length >= count) continue;
      const whole = reader.read(cells, number).issues.filter((issue) => issue.path.column === undefined);
      rows.push({ row: number, cells: shown, problem: whole[0] ? wordIssue({ ...whole[0], path: {} }) : null });
    }
    if (looked >= LOOK_AT) break;
  }
  return { looked, columns, rows };
}

/** An issue in the few words that fit a cell. */
function cellWords(issue: Issue): string {
  return wordIssue({ ...issue, path: {} })
    .replace(/^'[^']*'\s*/, '')
    .replace(/\s*The row is held.*$/, '')
    .replace(/\.$/, '');
}

/** Starts a trial of a file with its mapping as kept. */
export async function startTrial(database: Database, id: number, { keepAll = false } = {}): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const [row] = await tx.db.select().from(intake).where(eq(intake.id, id)).for('update');
    if (!row) throw refuse.noSuchFile();
    if (row.state !== 'read' && row.state !== 'tried') throw refuse.tooLate();
    requireMeaning(row.mapping);
    const runId = await startRun(tx, {
      kind: 'trial',
      state: 'queued',
      threadId: await handThread(tx),
      title: `Trial of ${row.name}`,
      detail: { intakeId: id, rows: row.rowCount, ...(keepAll ? { keepAll } : {}) },
    });
    await tx.db.update(intake).set({ state: 'trying', trialRun: runId }).where(eq(intake.id, id));
    await enqueueRun(tx, runId);
    await tell(tx.client, { topic: 'intakes', id });
    return { runId };
  });
}

function requireMeaning(mapping: Mapping): void {
  const identifying = new Set(['email', 'externalId', 'fullName', 'givenName', 'familyName', 'organization']);
  if (!mapping.columns.some((column) => column.target && identifying.has(column.target))) {
    throw refuse.noIdentityColumn();
  }
}

/** Starts the import itself. */
export async function startImport(database: Database, id: number): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const [row] = await tx.db.select().from(intake).where(eq(intake.id, id)).for('update');
    if (!row) throw refuse.noSuchFile();
    if (row.importRun) throw refuse.alreadyIn();
    requireMeaning(row.mapping);
    const runId = await startRun(tx, {
      kind: 'import',
      state: 'queued',
      threadId: await newThread(tx, 'file', row.name),
      title: row.name,
      detail: { intakeId: id, rows: row.rowCount },
    });
    await beginProgress(tx.client, runId, row.rowCount);
    await tx.db.update(intake).set({ state: 'committing', importRun: runId }).where(eq(intake.id, id));
    await keepMapping(tx, row);
    await enqueueRun(tx, runId);
    await tell(tx.client, { topic: 'intakes', id });
    return { runId };
  });
}

/** Puts a file into Intake once more, to be brought in by another mapping; the first import stays as it is. */
export async function bringAgain(database: Database, id: number): Promise<{ id: number }> {
  return inTransaction(database, async (tx) => {
    requireContent(await requireIntake(tx.db, id));
    const { rows } = await copyIntake(tx.client, id, accountIdOf(tx.actor));
    const [made] = rows;
    if (!made) throw refuse.noSuchFile();
    await copyPieces(tx.client, id, made.id);
    await tell(tx.client, { topic: 'intakes', id: made.id });
    return made;
  });
}

/** Drops a file that was not brought in. */
export async function dropIntake(database: Database, id: number): Promise<void> {
  await inTransaction(database, async (tx) => {
    const row = await requireIntake(tx.db, id);
    if (row.importRun) throw refuse.isOrigin();
    await tx.db.delete(intake).where(eq(intake.id, id));
    await dropMadeFields(tx, id);
    await tell(tx.client, { topic: 'intakes', id });
  });
}

/** Rows of the last trial with one outcome, with before and after. */
export async function trialRows(
  database: Database,
  id: number,
  outcome: RowOutcome | null,
  limit: number,
): Promise<TrialRow[]> {
  const row = await requireIntake(database.db, id);
  if (!row.trialRun) return [];
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const reader = new RowReader(row.mapping, catalogue, picks.context(row.mapping.country), row.shape);
  const rows = await database.db
    .select()
    .from(importRow)
    .where(
      sql`${importRow.runId} = ${row.trialRun} and (${outcome}::text is null or ${importRow.outcome} = ${outcome})`,
    )
    .orderBy(importRow.row)
    .limit(limit);
  const choices = await loadChoices(database, id);
  const ids = rows.flatMap((one) => [...(one.contactId ? [one.contactId] : []), ...fitsOf(one.issues ?? [])]);
  const names = await FitNames.load(database, ids);
  return rows.map((one) => ({
    row: one.row,
    outcome: one.outcome,
    cells: one.cells ?? [],
    issues: (one.issues ?? []).map((issue) => wordIssue({ ...issue, path: { name: issue.path.name } })),
    contactId: one.contactId,
    contactName: one.contactId ? names.nameOf(one.contactId) : null,
    fits: names.of(fitsOf(one.issues ?? [])),
    unclear: one.outcome === 'held' && (one.issues ?? []).every((issue) => !holdsRow(issue) || UNCLEAR.has(issue.code)),
    asks: (one.issues ?? []).some((issue) => issue.code === 'wouldReplace'),
    byHand: choices.get(one.row) ?? null,
    changes: (one.changes ?? []).map((change) => ({
      field: change.field,
      name: catalogue.nameOf(change.field),
      before: change.before,
      after: change.after,
    })),
    values:
      one.outcome === 'new' || one.outcome === 'fold' ? valuesInWords(reader, catalogue, one.cells ?? [], one.row) : [],
  }));
}

/** Reasons to hold a row that a person's word on who it is settles. */
const UNCLEAR: ReadonlySet<Issue['code']> = new Set([
  'sharedIdentifier',
  'severalMatches',
  'likelyMatch',
  'wasDeleted',
  'repeatSaysMore',
  'newNotAllowed',
  'changeNotAllowed',
  'uniqueClash',
]);

function valuesInWords(
  reader: RowReader,
  catalogue: Catalogue,
  cells: string[],
  row: number,
): { name: string; text: string }[] {
  const { candidate } = reader.read(cells, row);
  return Object.entries(candidate).map(([field, values]) =>
    field === PERMISSIONS
      ? {
          name: 'Permissions',
          text: values.map(({ v, label }) => `${label} ${v === 'optedOut' ? 'stop' : 'allowed'}`).join(', '),
        }
      : { name: catalogue.nameOf(field), text: values.map((value) => showValue(field, value)).join('; ') },
  );
}
