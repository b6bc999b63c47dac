import { eq, sql } from 'drizzle-orm';
import { activityKindOf, meantCells, RowReader, rowsOfTwo, showReading, type Mapping } from '@gray-loom/core/mapping';
import { holdsRow, wordIssue, type Issue } from '@gray-loom/core/model';
import type { HeldList, HeldRow, MendPreview } from '@gray-loom/wire';
import { inTransaction, wholeBook, type Database, type Tx } from '../../../db/connect';
import { importRow, intake, run, type RowOutcome } from '../../../db/schema';
import { tell } from '../../../feed/events';
import { refuseRow } from '../refusals';
import { Refusal, refuseIssue } from '../../../http/refusal';
import { keepConsent } from '../file-consent';
import { keepSaid } from '../../contacts';
import { writeActivities, type ActivityCounts } from '../../activity';
import { writeOpportunities } from '../../opportunities';
import { ImportPlanner } from './import-plan';
import { ownedByWhoBrings, RowRemit } from './row-remit';
import { RowValues } from './row-values';
import { loadCatalogue, PickLists } from '../../../book/picks';
import type { RowChoice, RowPlan } from './row-plan';
import { FitNames, fitsOf } from './row-fits';
import { startRun } from '../../../runs/runs';
import { lockKeys, makePeople } from '../../../book/statements/locks';
import { requireContact, requireLive } from '../../../book/require-live';
import type { DataRow } from '../files/read-file';
import { applyChanges, insertContacts } from '../../../book/write-contacts';
import { countHeld, heldRows, mappingsOfFiles, threadOfRun, moreOfPeople } from './statements/held-rows';

/** Rows that were not let in and wait for a person, of one import or of all; those of undone imports wait for nobody. */
export async function listHeld(database: Database, runId: number | null, limit: number): Promise<HeldList> {
  const { rows } = await heldRows(database.pool, runId, limit);
  const total = await countHeld(database.pool, runId);
  const names = await FitNames.load(
    database,
    rows.flatMap(({ issues }) => fitsOf(issues ?? [])),
  );
  const mappings = await mappingsOf(
    database,
    rows.flatMap((row) => (row.issues?.some(({ code }) => code === 'twoPeople') ? [row.intake_id] : [])),
  );
  const twoOf = ({ intake_id, cells, issues }: (typeof rows)[number]) => {
    const mapping = mappings.get(intake_id);
    return mapping ? rowsOfTwo(cells ?? [], mapping, issues ?? []) : null;
  };
  const list = rows.map((row): HeldRow => ({
    runId: row.run_id,
    row: row.row,
    fileName: row.name,
    intakeId: row.intake_id,
    headers: row.headers,
    cells: row.cells ?? [],
    fits: names.of(fitsOf(row.issues ?? [])),
    asks: (row.issues ?? []).find((issue) => issue.code === 'wouldReplace')?.contactId ?? null,
    two: twoOf(row),
    meant: meantCells(row.cells ?? [], row.issues ?? []),
    issues: (row.issues ?? []).map((issue) => ({
      text: wordIssue({ ...issue, path: { name: issue.path.name } }, 'unsaid'),
      column: issue.path.column ?? null,
    })),
  }));
  const more = await moreOfPeople(database.pool, runId);
  return {
    rows: list,
    total: total.rows[0]?.n ?? 0,
    more: more.rows.map(({ run_id, name, n, headers }) => ({
      runId: run_id,
      fileName: name,
      count: n,
      kind: activityKindOf(headers),
    })),
  };
}

/** How files are read, each once. */
async function mappingsOf({ pool }: Database, intakeIds: readonly number[]): Promise<Map<number, Mapping>> {
  const { rows } = await mappingsOfFiles(pool, [...new Set(intakeIds)]);
  return new Map(rows.map(({ id, mapping }) => [id, mapping]));
}

export async function requireHeld(database: Database, runId: number, row: number) {
  const [held] = await database.db
    .select()
    .from(importRow)
    .where(sql`${importRow.runId} = ${runId} and ${importRow.row} = ${row}`);
  const [file] = await database.db.select().from(intake).where(eq(intake.importRun, runId));
  if (!held || !file || held.outcome !== 'held') throw refuseRow.noSuchHeldRow();
  if (held.settled) throw refuseRow.settled({ how: held.settled });
  // Whoever lets rows in may be another than who brought the file.
  const mapping = ownedByWhoBrings(file.mapping, database);
  return { held, file: { ...file, mapping, remit: await RowRemit.load(database) } };
}

export type HeldFile = Awaited<ReturnType<typeof requireHeld>>['file'];

/** The run that lets a held row in. */
export async function startMending(tx: Tx, held: { runId: number; row: number }, title: string): Promise<number> {
  const { rows } = await threadOfRun(tx.client, held.runId);
  return startRun(tx, {
    kind: 'import',
    state: 'done',
    threadId: rows[0]?.thread_id ?? 0,
    title,
    detail: { mendedRow: held.row, ofRun: held.runId },
  });
}

/** What plans the rows of such a run; a person's word on who a row is stands in `choices`. */
export async function plannerFor(
  tx: Tx,
  { mapping, shape, remit }: HeldFile,
  newRun: number,
  choices?: ReadonlyMap<number, RowChoice>,
): Promise<ImportPlanner> {
  return ImportPlanner.load(
    { db: tx.db, pool: tx.client },
    { mapping: { ...mapping, allowNew: true, allowChange: true }, shape },
    newRun,
    choices && { choices, settled: null },
    { few: true, remit },
  );
}

/** Keeps everybody else from making, meanwhile, whoever rows are about. */
export async function lockFor(tx: Tx, planner: ImportPlanner, rows: readonly DataRow[]): Promise<void> {
  await makePeople(tx.client);
  await lockKeys(tx.client, planner.keysOf(rows));
}

/** What the values of such a row become. */
export function valuesFor(tx: Tx, { mapping }: HeldFile, newRun: number, choice?: readonly [number, RowChoice]) {
  return RowValues.load({ db: tx.db, pool: tx.client }, mapping, newRun, {
    choices: new Map(choice ? [choice] : []),
    settled: null,
  });
}

/** Brings in who a planned row is. What stands against it is said, and nothing is written. */
export async function bringIn(
  tx: Tx,
  newRun: number,
  values: RowValues,
  plan: RowPlan | undefined,
  row: number,
): Promise<Brought> {
  if (!plan || plan.decision.kind === 'held' || plan.decision.kind === 'fold') {
    const wrong = plan?.issues.find(holdsRow);
    const at = { column: wrong?.path.column ?? null };
    throw wrong ? refuseIssue({ ...wrong, path: { name: wrong.path.name } }, 'unsaid', at) : refuseRow.held(at);
  }
  let contactId: number;
  let became: RowOutcome = 'new';
  if (plan.decision.kind === 'new') {
    [contactId = 0] = await insertContacts(tx, newRun, [
      { record: values.recordOf(plan.candidate, row), sourceRow: row },
    ]);
  } else {
    contactId = plan.decision.contactId;
    const { record } = values.bringsBack(row) ? await requireContact(tx, contactId) : await requireLive(tx, contactId);
    const { operations, issues, outcome } = values.into(contactId, record, plan.candidate, row);
    became = outcome;
    if (issues[0]) throw refuseIssue(issues[0], 'unsaid', { column: null });
    await applyChanges(tx, newRun, [{ contactId, operations, sourceRow: row }]);
  }
  await keepSaid(tx, newRun, [{ contactId, candidate: plan.candidate }], false);
  if (plan.opportunity)
    await writeOpportunities(tx, newRun, values.opportunityPlanner(), [
      { row, contactId, contactRow: row, candidate: plan.opportunity },
    ]);
  const activities = plan.activities.length
    ? await writeActivities(
        tx,
        newRun,
        plan.activities.map((told) => ({ ...told, row, contactId, contactRow: row })),
      )
    : {};
  return { contactId, became, activities };
}

/** Whom a row came to, and what of it. */
export interface Brought {
  contactId: number;
  became: RowOutcome;
  activities: ActivityCounts;
}

/** What came in, as a run counts it. */
export function countBrought(brought: readonly Brought[]): Record<string, number> {
  const counts: Record<string, number> = {};
  const add = (key: string, n: number) => (counts[key] = (counts[key] ?? 0) + n);
  for (const { became, activities } of brought) {
    add(became, 1);
    for (const [key, n] of Object.entries(activities)) add(key, n);
  }
  return counts;
}

/** Ends a run that let a held row in: its counts, consent for whom it brought, and the row as settled. */
export async function settleRow(
  tx: Tx,
  file: HeldFile,
  held: { runId: number; row: number },
  newRun: number,
  planner: ImportPlanner,
  brought: readonly Brought[],
): Promise<void> {
  await tx.db
    .update(run)
    .set({ counts: countBrought(brought) })
    .where(eq(run.id, newRun));
  await planner.picks.save(tx);
  for (const { contactId } of brought) await keepConsent(tx, newRun, file.mapping.wholeFile.consent, contactId);
  // Of two who let it in at the same time one is the second.
  const settled = await tx.db
    .update(importRow)
    .set({ settled: 'letIn', settledBy: newRun, contactId: brought[0]?.contactId ?? null })
    .where(sql`${importRow.runId} = ${held.runId} and ${importRow.row} = ${held.row} and ${importRow.settled} is null`)
    .returning({ row: importRow.row });
  if (!settled.length) throw refuseRow.settled({ how: 'letIn' });
  await tell(tx.client, { topic: 'held' });
}

/** Lets one held row in, with its cells mended; the same checks as at import. What still fails is said, and nothing is written. */
export async function letIn(
  database: Database,
  runId: number,
  row: number,
  cells: string[],
  as: 'check' | 'new' | number,
  asked: 'take' | 'keep',
): Promise<{ runId: number; contactId: number }> {
  const { file, held: asHeld } = await requireHeld(database, runId, row);
  const back = (asHeld.issues ?? []).some((issue) => issue.code === 'wasDeleted' && issue.contactId === as);
  const choice = as === 'check' ? undefined : as === 'new' ? as : { contactId: as, asked, back };
  return inTransaction(wholeBook(database), async (tx) => {
    const held = { runId, row };
    const newRun = await startMending(tx, held, `Row ${row} of ${file.name}, mended`);
    const planner = await plannerFor(tx, file, newRun, choice && new Map([[row, choice]]));
    await lockFor(tx, planner, [{ row, cells }]);
    const values = await valuesFor(tx, file, newRun, choice && [row, choice]);
    const [plan] = await planner.plan([{ row, cells }]);
    const brought = await bringIn(tx, newRun, values, plan, row);
    await settleRow(tx, file, held, newRun, planner, [brought]);
    return { runId: newRun, contactId: brought.contactId };
  });
}

/** The plans of two people of one row. What they share, a person has looked at: it makes the second nobody whom it would not alone. */
async function planTwo(
  tx: Tx,
  file: HeldFile,
  newRun: number,
  row: number,
  people: readonly string[][],
): Promise<{ planner: ImportPlanner; plans: RowPlan[] }> {
  // The second is planned as a row behind all others, so that what is said of a row is said of the right one.
  const rows = people.map((cells, i) => ({ row: i ? file.rowCount + row : row, cells }));
  const planner = await plannerFor(tx, file, newRun);
  await lockFor(tx, planner, rows);
  const plans = await planner.plan(rows);
  const [second] = rows.slice(1);
  if (!second || plans[1]?.issues.find(holdsRow)?.code !== 'sharedIdentifier') return { planner, plans };
  const [alone] = await (await plannerFor(tx, file, newRun)).plan([second]);
  if (alone?.decision.kind !== 'new') return { planner, plans };
  const told = await plannerFor(tx, file, newRun, new Map([[second.row, 'new']]));
  return { planner: told, plans: await told.plan(rows) };
}

/** Lets a held row in as the two people it names, each by cells of his or her own: both or neither, in one run. */
export async function letInTwo(
  database: Database,
  runId: number,
  row: number,
  people: readonly string[][],
): Promise<{ runId: number; contactIds: number[] }> {
  const { file } = await requireHeld(database, runId, row);
  return inTransaction(wholeBook(database), async (tx) => {
    const held = { runId, row };
    const newRun = await startMending(tx, held, `Row ${row} of ${file.name}, as two people`);
    const { planner, plans } = await planTwo(tx, file, newRun, row, people);
    const values = await valuesFor(tx, file, newRun);
    const brought = [];
    for (const [i, plan] of plans.entries()) {
      if (plan.decision.kind === 'fold') throw refuseRow.samePerson({ person: i });
      try {
        brought.push(await bringIn(tx, newRun, values, plan, row));
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        throw error.with({ person: i });
      }
    }
    const [first, second] = brought;
    if (first && first.contactId === second?.contactId) throw refuseRow.sameContact({ person: 1 });
    await settleRow(tx, file, held, newRun, planner, brought);
    return { runId: newRun, contactIds: brought.map(({ contactId }) => contactId) };
  });
}

/** Drops a held row: it stays in the download of all rows, and waits no longer. */
export async function dropHeld(database: Database, runId: number, row: number): Promise<void> {
  await requireHeld(database, runId, row);
  const dropped = await database.db
    .update(importRow)
    .set({ settled: 'dropped' })
    .where(sql`${importRow.runId} = ${runId} and ${importRow.row} = ${row} and ${importRow.settled} is null`)
    .returning({ row: importRow.row });
  // Somebody has let it in since it was looked at: that stands.
  if (!dropped.length) throw refuseRow.settled({ how: 'letIn' });
  await tell(database.pool, { topic: 'held' });
}

/** What a cell may say, where what is wrong tells that it is one of a few. */
function answersOf(issue: Issue): string[] {
  if (issue.code === 'unknownStage') return issue.stages;
  if (issue.code === 'unknownChoice') return issue.choices;
  return issue.code === 'invalidYesNo' || issue.code === 'unclearPermission' ? ['yes', 'no'] : [];
}

/** What a held row's cells would become, for the form in which it is mended. */
export async function previewHeld(
  database: Database,
  runId: number,
  row: number,
  cells: string[],
): Promise<MendPreview[]> {
  const { file } = await requireHeld(database, runId, row);
  const picks = await PickLists.load(database.db);
  const reader = new RowReader(
    file.mapping,
    await loadCatalogue(database.db),
    picks.context(file.mapping.country),
    file.shape,
  );
  return cells.map((_cell, column) => {
    const meant = file.mapping.columns.flatMap((entry, at) =>
      entry.column === column ? [{ target: entry.target, reading: reader.cell(at, cells, row) }] : [],
    );
    const wrong = meant.flatMap(({ reading }) => reading.issues).find(holdsRow);
    return {
      shown: meant
        .map(({ target, reading }) => showReading(target, reading))
        .filter(Boolean)
        .join(' | '),
      issue: wrong ? wordIssue({ ...wrong, path: {} }, 'unsaid') : null,
      answers: wrong ? answersOf(wrong) : [],
    };
  });
}
