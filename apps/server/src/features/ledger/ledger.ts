import { hasRole, seesPart, type Actor } from '../../db/actor';
import type { RunContact, RunPage, RunSummary, TapeState } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { eq } from 'drizzle-orm';
import { run } from '../../db/schema';
import { refuse } from './refusals';
import { loadCatalogue } from '../../book/picks';
import { SLOTS, type RunKinds } from '../../runs/kind';
import { hasWorker } from '../../runs/worker-sign';
import {
  countElsewhere,
  runsBefore,
  runById,
  openRuns,
  endedRuns,
  contactsOfRun,
  runsAtWork,
  type Row,
} from './statements/ledger';

type AtWork = Awaited<ReturnType<typeof runsAtWork>>['rows'][number];

const secondsUntil = (iso: string) => Math.max(1, Math.round((Date.parse(iso) - Date.now()) / 1000));

/** What a queued run waits for, in words. `atWork` are the runs that have slots. */
function waitsInWords(kinds: RunKinds, row: Row, atWork: readonly AtWork[]): string {
  if (row.state !== 'queued') return '';
  const { waits } = row;
  if (waits && 'until' in waits) return `tries again in ${secondsUntil(waits.until)} s, since ${waits.because}`;
  if (waits && row.waits_for) return `waits for ${row.waits_for}`;
  const size = kinds.sizeOf(row);
  const before = atWork.filter((run) => kinds.find(run.kind)?.work && kinds.sizeOf(run) === size);
  return before.length >= SLOTS[size]
    ? `waits for ${before.map(({ title }) => title).join(' and ')}`
    : 'waits its turn';
}

function summaryOf(
  kinds: RunKinds,
  actor: Actor,
  row: Row,
  atWork: readonly AtWork[] = [],
  elsewhere: number | null = null,
): RunSummary {
  // What somebody may not do is not offered.
  const mayAct = hasRole(actor, 'editor');
  const mayControl = mayAct && (!seesPart(actor) || row.actor_id === actor.accountId);
  const kind = kinds.find(row.kind);
  const isOpen = ['queued', 'running', 'paused'].includes(row.state);
  return {
    id: row.id,
    kind: row.kind,
    state: row.state,
    title: row.title,
    thread: { kind: row.thread_kind, name: row.thread_name },
    actor: row.actor,
    contactId: row.contact_id,
    contactName: row.contact_name,
    progress: row.progress,
    counts: row.counts,
    error: row.error,
    undoOf: row.undo_of,
    undoneBy: row.undone_by,
    undoable:
      mayAct &&
      // Uncounted, whoever sees a part is offered what is theirs alone; all is looked at before it goes back.
      (elsewhere === 0 ||
        (elsewhere === null && mayControl) ||
        mayTakeBack(actor, { kind: row.kind, actorId: row.actor_id })) &&
      row.undone_by === null &&
      !!kind?.undo &&
      !row.is_trial &&
      (row.connection_id === null || (row.counts.madeHere ?? 0) + (row.counts.changedHere ?? 0) > 0) &&
      !isOpen,
    // What the brake holds is decided where its plan is shown.
    pausable: mayControl && kind?.work?.pauses === true && !row.is_braked && isOpen,
    stoppable: mayControl && isOpen && kind?.work?.stops !== 'never',
    braked: row.is_braked,
    words: kinds.sentence(row),
    doing: kind?.doing ?? '',
    waits: waitsInWords(kinds, row, atWork),
    // A file is read by whoever brought it, and whoever sees everybody.
    intakeId: seesPart(actor) && row.actor_id !== actor.accountId ? null : row.intake_id,
    connectionId: row.connection_id,
    elsewhere: elsewhere ?? 0,
    createdAt: row.created_at.toISOString(),
    finishedAt: row.finished_at?.toISOString() ?? null,
  };
}

/** The ledger, newest first. What wrote nothing is left out unless its kind is asked for. */
export async function listRuns(
  { pool, actor }: Database,
  kinds: RunKinds,
  before: number | null,
  kind: string,
  limit: number,
): Promise<RunPage> {
  const { rows } = await runsBefore(pool, before, kind, limit + 1);
  const shown = rows.slice(0, limit);
  return {
    runs: shown.map((row) => summaryOf(kinds, actor, row)),
    next: rows.length > limit ? (shown[shown.length - 1]?.id ?? null) : null,
  };
}

export async function runSummary({ pool, actor }: Database, kinds: RunKinds, id: number): Promise<RunSummary> {
  const { rows } = await runById(pool, id);
  if (!rows[0]) throw refuse.noSuchRun();
  const atWork = rows[0].state === 'queued' ? (await runsAtWork(pool)).rows : [];
  const elsewhere = seesPart(actor) ? ((await countElsewhere(pool, id)).rows[0]?.n ?? 0) : 0;
  return summaryOf(kinds, actor, rows[0], atWork, elsewhere);
}

/** Refuses to stop or hold the run of somebody else to whoever sees only some of what it touches. */
export async function requireOwnRun({ db, actor }: Database, id: number): Promise<void> {
  if (!seesPart(actor)) return;
  const [found] = await db.select({ actorId: run.actorId }).from(run).where(eq(run.id, id));
  if (!found) throw refuse.noSuchRun();
  if (found.actorId !== actor.accountId) throw refuse.notYourRun();
}

/** Whoever handed contacts over that are outside their remit since may take that back: nothing of them is shown by it. */
export function mayTakeBack(actor: Actor, { kind, actorId }: { kind: string; actorId: number | null }): boolean {
  return !seesPart(actor) || (kind === 'handOver' && actorId === actor.accountId);
}

/** What the tape shows: work in progress, and the latest finished run that changed something. */
export async function tapeState({ pool, actor }: Database, kinds: RunKinds): Promise<TapeState> {
  const running = await openRuns(pool);
  const atWork = running.rows.some(({ state }) => state === 'queued') ? (await runsAtWork(pool)).rows : [];
  const latest = await endedRuns(
    pool,
    kinds.which(({ quiet }) => quiet === true),
  );
  return {
    running: running.rows.map((row) => summaryOf(kinds, actor, row, atWork)),
    latest: latest.rows[0] ? summaryOf(kinds, actor, latest.rows[0]) : null,
    hasWorker: await hasWorker({ pool }),
  };
}

/** The contacts a run touched, a page of them. */
export async function runContacts(database: Database, id: number, after: number, limit: number): Promise<RunContact[]> {
  const catalogue = await loadCatalogue(database.db);
  const { rows } = await contactsOfRun(database.pool, id, after, limit);
  return rows.map((row) => ({
    contactId: row.contact_id,
    kind: row.kind,
    name: row.name,
    created: row.created,
    fields: (row.fields ?? []).map((field) => catalogue.nameOf(field.replace(/^also\./, ''))),
  }));
}
