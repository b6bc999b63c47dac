import { recountRemits } from '../../book/statements/remits';
import { renameInRemits, restoreRemits } from '../../book/renamed-remits';
import { sql } from 'drizzle-orm';
import { CUSTOM_PREFIX } from '@gray-loom/core/fields';
import { convertValue } from '@gray-loom/core/mapping';
import { keyHash } from '@gray-loom/core/matching';
import { sameContent, type ContactRecord, type Operation, type Value } from '@gray-loom/core/model';
import type { Database, Tx } from '../../db/connect';
import { customField, pick, run } from '../../db/schema';
import { tell } from '../../feed/events';
import { contactRow, tagKey } from '../../book/contact-rows';
import { loadDerivation } from '../../book/derivation';
import { enqueueRun, finishRun } from '../../runs/runs';
import { dropFromSegments, dropStageFromSetups, renameReferences, restoreReferences } from '../../book/renamed-picks';
import { applyChanges, type ContactChange } from '../../book/write-contacts';
import {
  keepChange,
  countFew,
  updateDerived,
  insertKeys,
  deleteAreaTallies,
  insertAreaTallies,
  addChoiceTo,
  changeOfRun,
  INLINE_LIMIT,
  lockNext,
} from './statements/change-contacts';
import { forgetFormerName } from './statements/pick-setup';
import { planGiving, tellGiven } from './giving';
import type { ManyChange } from './many-change';
const BATCH = 1000;

/** Which contacts a change is about, as a condition with its values. */
function scopeOf(change: ManyChange): { where: string; values: unknown[] } {
  if (change.kind === 'derive') return { where: 'true', values: [] };
  if (change.kind === 'give')
    return change.ofRun === null
      ? { where: `c.id = any($1::bigint[]) and c.owner = '' and c.state = 'live'`, values: [change.ids] }
      : {
          where: `c.id in (select contact_id from operation where run_id = $1 and changes is null)
            and c.owner = '' and c.state = 'live' and c.kind <> 'opportunity'`,
          values: [change.ofRun],
        };
  if (change.kind === 'convert') return { where: `c.record->'f'->$1::text is not null`, values: [change.field] };
  switch (change.field) {
    case 'tags':
      return {
        where: 'c.id in (select contact_id from contact_key where key = $1)',
        values: [String(keyHash(tagKey(change.from)))],
      };
    case 'source':
    case 'stage':
    case 'owner':
      return { where: `c.${change.field} = $1`, values: [change.from] };
    default:
      return { where: `c.record->'f'->$1::text is not null`, values: [change.field] };
  }
}

/** What a change does to one record, as operations; none where it says nothing of it. */
export function planChange(change: ManyChange, contactId: number, record: ContactRecord, runId: number): Operation[] {
  if (change.kind === 'derive' || change.kind === 'give') return [];
  const values = record.f[change.field] ?? [];
  const one = (before: Value, after: Value | null): Operation => ({
    target: contactId,
    field: change.field,
    slot: before.slot,
    before,
    after,
  });
  const rewrite = (value: Value, v: Value['v']): Value => {
    const { norm: _norm, row: _row, atMs: _atMs, ...kept } = value;
    return { ...kept, v, run: runId };
  };
  if (change.kind === 'pick') {
    const there = values.some((value) => value.v === change.into);
    return values.flatMap((value) => {
      if (Array.isArray(value.v)) {
        if (!value.v.includes(change.from)) return [];
        const v = [...new Set(value.v.map((label) => (label === change.from ? change.into : label)))];
        return [one(value, rewrite(value, v))];
      }
      if (value.v !== change.from) return [];
      return [one(value, there ? null : rewrite(value, change.into))];
    });
  }
  const as = { type: change.type, choices: change.choices, ...(change.currency ? { currency: change.currency } : {}) };
  return values.flatMap((value) => {
    const converted = convertValue(value, change.field, as);
    if (converted && sameContent(converted.v, value.v)) return [];
    if (converted) return [one(value, rewrite(value, converted.v))];
    // What says nothing in the new type stays beside the field, to be seen and brought back.
    const beside: Operation = {
      target: contactId,
      field: `also.${change.field}`,
      slot: value.slot,
      before: record.f[`also.${change.field}`]?.find((other) => other.slot === value.slot) ?? null,
      after: value,
    };
    return [beside, one(value, null)];
  });
}

/** Starts the work of a run: at once where few contacts are touched, else as a job. */
export async function beginChange(tx: Tx, runId: number, change: ManyChange): Promise<boolean> {
  await keepChange(tx.client, runId, JSON.stringify(change));
  const { where, values } = scopeOf(change);
  const { rows } = await countFew(tx.client, values, where);
  if ((rows[0]?.n ?? 0) > INLINE_LIMIT) {
    await tx.db
      .update(run)
      .set({ state: 'queued', finishedAt: null })
      .where(sql`${run.id} = ${runId}`);
    await enqueueRun(tx, runId);
    return false;
  }
  const done = await changeBatch(tx, runId, change, 0);
  await endChange(tx, runId, change, { changed: done.changed });
  return true;
}

/** Changes the next contacts after `afterId`, in the caller's transaction. `lastId` is null when none was left. */
export async function changeBatch(
  tx: Tx,
  runId: number,
  change: ManyChange,
  afterId: number,
): Promise<{ lastId: number | null; looked: number; changed: number }> {
  const { where, values } = scopeOf(change);
  const rows = await lockNext(tx.client, values, where, afterId, BATCH);
  const changed = change.kind === 'derive' ? await deriveAnew(tx, rows) : await changeValues(tx, runId, change, rows);
  return { lastId: rows[rows.length - 1]?.id ?? null, looked: rows.length, changed };
}

async function changeValues(
  tx: Tx,
  runId: number,
  change: ManyChange,
  rows: readonly { id: number; record: ContactRecord }[],
): Promise<number> {
  const changes: ContactChange[] =
    change.kind === 'give'
      ? await planGiving(tx, runId, change, rows)
      : rows.map(({ id, record }) => ({ contactId: id, operations: planChange(change, id, record, runId) }));
  return (await applyChanges(tx, runId, changes, { evenGone: true })).size;
}

/** Areas, completeness and keys of unique fields by the definitions now in force. Nothing a person wrote changes, so no operations are kept. */
async function deriveAnew(
  tx: Tx,
  rows: readonly { id: number; area: string; completeness: number; record: ContactRecord }[],
): Promise<number> {
  const derivation = await loadDerivation(tx.client);
  const moved: [id: number, area: string, completeness: number][] = [];
  const keys: [number, number][] = [];
  for (const { id, area, completeness, record } of rows) {
    const row = contactRow(record, derivation);
    if (row.area !== area || row.summary.completeness !== completeness)
      moved.push([id, row.area, row.summary.completeness]);
    if (derivation.uniqueFields.length) for (const key of row.keys) keys.push([key, id]);
  }
  if (moved.length)
    await updateDerived(
      tx.client,
      moved.map(([id]) => id),
      moved.map(([, area]) => area),
      moved.map(([, , completeness]) => completeness),
    );
  if (keys.length)
    await insertKeys(
      tx.client,
      keys.map(([key]) => String(key)),
      keys.map(([, id]) => id),
    );
  return moved.length;
}

/** What ends a change once all contacts are done. */
export async function endChange(
  tx: Tx,
  runId: number,
  change: ManyChange,
  counts: Record<string, number>,
): Promise<void> {
  if (change.kind === 'pick' && change.dropped) {
    const { kind, foldKey, label } = change.dropped;
    await tx.db
      .delete(pick)
      .where(sql`${pick.kind} = ${kind} and ${pick.foldKey} = ${foldKey} and ${pick.label} = ${label}`);
  }
  if (change.kind === 'give') await tellGiven(tx, runId);
  if (change.kind === 'pick' && change.field === 'stage') await dropStageFromSetups(tx, change.from);
  if (change.kind === 'pick') await dropFromSegments(tx, change.field, change.from);
  if (change.kind === 'derive') {
    await deleteAreaTallies(tx.client);
    await insertAreaTallies(tx.client);
    await recountRemits(tx.client, null);
  }
  await finishRun(tx, runId, 'done', counts);
  await tell(tx.client, { topic: 'setup' });
}

/** What undoing such a run brings back beside the contacts' values. */
export async function undoChange(tx: Tx, change: ManyChange): Promise<void> {
  if (change.kind === 'pick') {
    const { field, from, into } = change;
    if (change.before) await restoreReferences(tx, { field, from, into }, change.before);
    else {
      await renameReferences(tx, { field, from: into, into: from });
      await renameInRemits(tx, { field, from: into, into: from });
    }
    if (change.remits) await restoreRemits(tx, { field, from, into }, change.remits);
    if (change.dropped) {
      await tx.db.insert(pick).values(change.dropped).onConflictDoNothing();
      await forgetFormerName(tx.client, change.dropped.kind, change.dropped.foldKey);
    } else if (change.field.startsWith(CUSTOM_PREFIX)) await addChoice(tx, change.field, change.from);
    else
      await tx.db
        .update(pick)
        .set({ label: change.from })
        .where(
          sql`${pick.kind} = ${change.field === 'tags' ? 'tag' : change.field} and ${pick.label} = ${change.into}`,
        );
  }
  if (change.kind === 'convert')
    await tx.db
      .update(customField)
      .set(change.before)
      .where(sql`${customField.id} = ${Number(change.field.slice(CUSTOM_PREFIX.length))}`);
}

async function addChoice(tx: Tx, field: string, label: string): Promise<void> {
  await addChoiceTo(tx.client, Number(field.slice(CUSTOM_PREFIX.length)), label);
}

/** The change a run was started with, for whoever goes on with it or takes it back. */
export async function changeOf(
  { pool }: { pool: Pick<Database['pool'] | Tx['client'], 'query'> },
  runId: number,
): Promise<ManyChange | null> {
  const { rows } = await changeOfRun(pool, runId);
  return rows[0]?.change ?? null;
}
