import {
  applyOperations,
  invertOperations,
  LIFECYCLE,
  lifecycleOf,
  type ContactRecord,
  type Issue,
  type Operation,
} from '@gray-loom/core/model';
import { selectRecords } from '../db/record-codec';
import type { TestApp } from './start-test-app';

interface Row {
  run_id: number;
  row: number;
  outcome: 'new' | 'fill' | 'replace' | 'same' | 'fold' | 'held';
  contact_id: number | null;
  issues: Issue[] | null;
  cells: string[] | null;
}

interface Step {
  run_id: number;
  kind: string;
  version: number;
  source_row: number | null;
  changes: Omit<Operation, 'target'>[] | null;
}

/** Runs that may change a contact that is gone: what is taken back, and what keeps all records in one form. */
const CHANGE_WHAT_IS_GONE = new Set(['undo', 'pickMerge', 'convert']);

/** Everything that is not true of imports and of the histories of contacts, in words; none where all is. */
export async function untruths(app: Pick<TestApp, 'database'>, importRuns: readonly number[]): Promise<string[]> {
  const { pool } = app.database;
  const histories = await historiesOf(app);
  const wrong = [...histories].flatMap(([id, history]) => brokenHistory(id, history));
  for (const runId of importRuns) {
    const { rows } = await pool.query<Row>(
      'select run_id, row, outcome, contact_id, issues, cells from import_row where run_id = $1 order by row',
      [runId],
    );
    const { rows: runs } = await pool.query<{ counts: Record<string, number>; total: number; state: string }>(
      `select counts, (progress->>'total')::int as total, state from run where id = $1`,
      [runId],
    );
    const [run] = runs;
    if (run?.state !== 'done') wrong.push(`run ${runId} is ${run?.state}`);
    if (rows.length !== run?.total || rows.some(({ row }, i) => row !== i + 1))
      wrong.push(`run ${runId} has ${rows.length} of ${run?.total} rows`);
    for (const outcome of ['new', 'fill', 'replace', 'same', 'fold', 'held'] as const) {
      const n = rows.filter((row) => row.outcome === outcome).length;
      if ((run?.counts[outcome] ?? 0) !== n)
        wrong.push(`run ${runId} counts ${run?.counts[outcome]} ${outcome}, not ${n}`);
    }
    for (const row of rows) {
      const untrue = untruthOf(row, histories);
      if (untrue) wrong.push(`run ${runId}, row ${row.row}, ${row.outcome}: ${untrue}`);
    }
  }
  return wrong;
}

interface History {
  record: ContactRecord;
  version: number;
  steps: Step[];
}

async function historiesOf({ database: { pool } }: Pick<TestApp, 'database'>): Promise<Map<number, History>> {
  const records = await selectRecords<{ id: number; version: number; record: ContactRecord }>(
    pool,
    'select id, version, record from contact',
    [],
  );
  const histories = new Map<number, History>(records.map(({ id, ...rest }) => [id, { ...rest, steps: [] }]));
  const { rows } = await pool.query<Step & { contact_id: number }>(
    `select o.run_id, r.kind, o.contact_id, o.version, o.source_row, o.changes from operation o join run r on r.id = o.run_id
     order by o.contact_id, o.version`,
  );
  for (const { contact_id: id, ...step } of rows) histories.get(id)?.steps.push(step);
  return histories;
}

/** The steps of a contact lead to what it is, without a gap, and nobody wrote into it while it was gone. */
function brokenHistory(id: number, { record, version, steps }: History): string[] {
  const wrong: string[] = [];
  if (steps.length !== version || steps.some((step, i) => step.version !== i + 1))
    wrong.push(`contact ${id} has ${steps.length} steps for ${version} versions`);
  let now = record;
  for (const { kind, run_id: runId, version: at, changes } of [...steps].reverse()) {
    const operations = (changes ?? []).map((change) => ({ ...change, target: id }));
    const before = applyOperations(now, invertOperations(operations));
    if (!before.ok) {
      wrong.push(`contact ${id} is not what its steps say at version ${at}`);
      break;
    }
    const movesState = operations.some(({ field }) => field === LIFECYCLE);
    if (operations.length && lifecycleOf(before.value) && !movesState && !CHANGE_WHAT_IS_GONE.has(kind))
      wrong.push(`run ${runId} (${kind}) wrote into contact ${id}, which was gone`);
    now = before.value;
  }
  return wrong;
}

function untruthOf(
  { run_id: runId, row, outcome, contact_id: contactId, issues, cells }: Row,
  histories: Map<number, History>,
) {
  const wrote = [...histories].filter(([, { steps }]) =>
    steps.some((step) => step.run_id === runId && step.source_row === row),
  );
  if (outcome === 'held') {
    if (wrote.length) return 'wrote all the same';
    if (contactId !== null) return 'has a contact';
    if (!cells?.length) return 'has lost its cells';
    return issues?.length ? null : 'does not say why';
  }
  const history = histories.get(contactId ?? 0);
  if (!history) return 'has no contact';
  if (wrote.some(([id]) => id !== contactId)) return 'wrote into another contact';
  const steps = history.steps.filter((step) => step.run_id === runId && step.source_row === row);
  switch (outcome) {
    case 'new':
      return steps.length === 1 && steps[0]?.version === 1 ? null : 'made no contact';
    case 'fill':
    case 'replace':
      return steps.length === 1 && steps[0]?.changes?.length ? null : 'wrote nothing';
    case 'same':
      return steps.length ? 'wrote something' : null;
    case 'fold':
      return null;
  }
}
