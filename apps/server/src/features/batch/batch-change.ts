import type { Catalogue, FieldDefinition } from '@gray-loom/core/fields';
import type { ContactRecord } from '@gray-loom/core/model';
import {
  planBatch,
  type BatchChange,
  type BatchPlan,
  type BatchRefusal,
  type CandidateValue,
} from '@gray-loom/core/writing';
import type { BatchRequestChange, BatchWhat } from '@gray-loom/wire';
import type { PickLists } from '../../book/picks';
import { readTyped, type TypedContext } from '../../book/typed-values';
import { lockContacts, applyChanges, type ContactChange } from '../../book/write-contacts';
import type { Database, Queryable, Tx } from '../../db/connect';
import { appendChange } from '../../feed/append-change';
import { channelStates, contactConditions, readyFilter } from '../contacts';
import { refuse } from './refusals';
import { choicesOf, insertEvidence, isAccount, isConnection, keepChoices } from './statements/batch';

/** Made from other fields, or of parts that belong to one person. */
const ONE_BY_ONE = new Set(['fullName', 'letterLine', 'salutation', 'photo', 'related', 'externalId', 'kind']);

interface Reading extends Pick<TypedContext, 'catalogue' | 'country' | 'client'> {
  picks: PickLists;
}

function fieldOf(catalogue: Catalogue, key: string): FieldDefinition {
  const field = catalogue.find(key);
  if (!field || field.group === 'opportunity') throw refuse.noSuchField();
  if (ONE_BY_ONE.has(key)) throw refuse.notInBatch({ name: field.name });
  return field;
}

/** Reads a change with the readers that everything typed goes through. Errors: a refusal that says what is missing. */
export async function readChange(asked: BatchRequestChange, reading: Reading): Promise<BatchChange> {
  const context = { ...reading, contactId: null };
  switch (asked.kind) {
    case 'tags': {
      if (!asked.add.length && !asked.remove.length && !asked.only) throw refuse.noTags();
      const add: CandidateValue[] = [];
      for (const text of asked.add) add.push(...(await readTyped({ field: 'tags', text }, context)));
      return { kind: 'tags', add, remove: asked.remove, only: asked.only };
    }
    case 'set': {
      const field = fieldOf(reading.catalogue, asked.field);
      if (field.unique === 'refuse') throw refuse.uniqueField({ name: field.name });
      const [value] = await readTyped(asked, context);
      if (!value) throw refuse.noValue();
      if (field.key === 'owner' && !(await isAccount(reading.client, String(value.v))).rowCount)
        throw refuse.noSuchAccount();
      return { kind: 'set', field: field.key, value, how: asked.how };
    }
    case 'clear':
      return { kind: 'clear', field: fieldOf(reading.catalogue, asked.field).key };
    case 'permission':
      if (asked.state === 'allowed' && !asked.how) throw refuse.noEvidence();
      return { ...asked, how: asked.how || 'Said to us, and noted for many at once' };
    case 'sync':
      if (!(await isConnection(reading.client, asked.connectionId)).rowCount) throw refuse.noSuchConnection();
      return asked;
    default:
      return asked;
  }
}

/** Whom a batch is about, as a condition over contact `c`; null where they are named. */
export async function conditionOf(client: Queryable, { filter }: BatchWhat) {
  return filter ? contactConditions(await readyFilter(client, filter)) : null;
}

export interface Planned {
  id: number;
  record: ContactRecord;
  plan: BatchPlan;
}

/** What a change does to some contacts; trial and work go through here. */
export async function planFor(
  database: Pick<Database, 'pool'>,
  change: BatchChange,
  contacts: readonly { id: number; record: ContactRecord }[],
  runId: number,
  catalogue: Catalogue,
): Promise<Planned[]> {
  const field = 'field' in change ? catalogue.find(change.field) : undefined;
  const states = change.kind === 'permission' ? await channelStates(database, contacts) : null;
  const choices =
    change.kind === 'sync'
      ? new Map(
          (
            await choicesOf(
              database.pool,
              change.connectionId,
              contacts.map(({ id }) => id),
            )
          ).rows.map((row) => [row.id, row.choice]),
        )
      : null;
  return contacts.map(({ id, record }) => {
    const permission = change.kind === 'permission' ? (states?.get(id)?.[change.channel] ?? 'unknown') : undefined;
    const about = {
      id,
      record,
      ...(permission ? { permission } : {}),
      ...(choices ? { choice: choices.get(id) ?? null } : {}),
    };
    return { id, record, plan: planBatch(change, about, runId, field) };
  });
}

/** How many changed, were so already, and were left, by reason (`refused.REASON`). */
export type BatchCounts = Record<string, number>;

export function addCounts(counts: BatchCounts, planned: readonly Planned[]): BatchCounts {
  for (const { plan } of planned) {
    const key =
      plan.outcome === 'change'
        ? 'changed'
        : plan.outcome === 'same'
          ? 'same'
          : (`refused.${plan.why}` satisfies `refused.${BatchRefusal}`);
    counts[key] = (counts[key] ?? 0) + 1;
  }
  return counts;
}

/** Changes some contacts under lock, in the caller's transaction. Gives what became of each. */
export async function changeSome(
  tx: Tx,
  runId: number,
  change: BatchChange,
  ids: readonly number[],
  catalogue: Catalogue,
): Promise<Planned[]> {
  const locked = await lockContacts(tx, ids);
  const planned = await planFor({ pool: tx.client as never }, change, [...locked.values()], runId, catalogue);
  const changed = planned.filter(({ plan }) => plan.outcome === 'change');
  const changedIds = changed.map(({ id }) => id);
  if (change.kind === 'permission') {
    if (changedIds.length) await insertEvidence(tx.client, runId, change, changedIds);
    await appendChange(tx, { kind: 'permission', runId, contacts: changedIds });
  } else if (change.kind === 'sync') {
    if (changedIds.length) await keepChoices(tx.client, runId, change.connectionId, change.choice, changedIds);
  } else
    await applyChanges(
      tx,
      runId,
      changed.flatMap(({ id, plan }): ContactChange[] =>
        plan.outcome === 'change' ? [{ contactId: id, operations: plan.operations }] : [],
      ),
      { locked, evenGone: change.kind === 'restore' },
    );
  return planned;
}
