import { eq, sql } from 'drizzle-orm';
import {
  CUSTOM_PREFIX,
  CUSTOM_TYPES,
  foldText,
  showValue,
  TYPE_NAMES,
  UNIQUE_TYPES,
  type FieldDefinition,
  type FieldType,
} from '@gray-loom/core/fields';
import { convertValue } from '@gray-loom/core/mapping';
import { keyHash } from '@gray-loom/core/matching';
import { valuesOf } from '@gray-loom/core/model';
import { nearMisses } from '@gray-loom/core/quality';
import type { ConversionTrial, CountedChoice, FieldChange, NewFieldRequest } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { customField, fieldRule } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse, refuseField } from './refusals';
import { beginChange } from './change-contacts';
import { uniqueKey } from '../../book/contact-rows';
import { loadCatalogue } from '../../book/picks';
import { handThread, startRun } from '../../runs/runs';
import { writeKeys } from '../../book/write-contacts';
import { peopleWithField, valueCounts, valuesOfField, lockRuns, runningImport } from './statements/field-setup';

const own = (key: string) => sql`${customField.id} = ${Number(key.slice(CUSTOM_PREFIX.length))}`;

async function requireFreeName(tx: Tx, name: string, exceptKey: string | null): Promise<void> {
  const catalogue = await loadCatalogue(tx.db);
  const taken = catalogue.fields.find((field) => field.key !== exceptKey && foldText(field.name) === foldText(name));
  if (taken) throw refuseField.nameTaken({ field: 'name', name: taken.name, retired: taken.retired });
}

/** Asks once before there are two of what may be one. */
async function refuseNearMiss(tx: Tx, name: string): Promise<void> {
  const { fields } = await loadCatalogue(tx.db);
  const [near] = nearMisses(
    name,
    fields.map((field) => field.name),
  );
  if (near) throw refuseField.nearMiss({ field: 'name', name, like: near.label });
}

async function requireField(db: Database['db'], key: string): Promise<FieldDefinition> {
  const field = (await loadCatalogue(db)).find(key);
  if (!field) throw refuse.noSuchField();
  return field;
}

function checkChoices(type: FieldType, choices: readonly string[]): void {
  if ((type === 'choice' || type === 'choices') && choices.length === 0)
    throw refuseField.noChoices({ field: 'choices' });
}

/** A choice that somebody has does not go by itself, and one that is much like another is asked about once. */
async function checkChoiceChange(
  tx: Tx,
  field: FieldDefinition,
  choices: readonly string[],
  despite: boolean,
): Promise<void> {
  const before = field.choices ?? [];
  const gone = new Set(before.filter((choice) => !choices.includes(choice)));
  if (gone.size) {
    const { rows } = await valueCounts(tx.client, field.key);
    const used = rows.find(({ label }) => gone.has(label));
    if (used) throw refuseField.choiceInUse({ field: 'choices', name: used.label, count: used.count });
  }
  if (despite) return;
  for (const name of choices) {
    if (before.includes(name)) continue;
    const [near] = nearMisses(name, before);
    if (near) throw refuseField.nearChoice({ field: 'choices', name, like: near.label });
  }
}

/** The choices of a field in their order with how many contacts have each, and behind them what contacts have beside the list. */
export async function countedChoices(database: Database, key: string): Promise<CountedChoice[]> {
  const { choices = [] } = await requireField(database.db, key);
  const { rows } = await valueCounts(database.pool, key);
  const counts = new Map(rows.map(({ label, count }) => [label, count]));
  return [
    ...choices.map((label) => ({ label, count: counts.get(label) ?? 0, listed: true })),
    ...rows.filter(({ label }) => !choices.includes(label)).map((row) => ({ ...row, listed: false })),
  ];
}

/** Makes a field. A name that is taken is refused, also by a retired field. */
export async function createField(database: Database, request: NewFieldRequest): Promise<{ key: string }> {
  return inTransaction(database, async (tx) => {
    await requireFreeName(tx, request.name, null);
    if (!request.despite) await refuseNearMiss(tx, request.name);
    checkChoices(request.type, request.choices);
    const [last] = await tx.db
      .select({ n: sql<number>`coalesce(max(${customField.ordinal}), 0)::int` })
      .from(customField);
    const [made] = await tx.db
      .insert(customField)
      .values({
        name: request.name,
        type: request.type,
        choices: request.choices,
        heading: request.heading,
        currency: request.type === 'money' ? (request.currency ?? 'EUR') : null,
        ordinal: (last?.n ?? 0) + 1,
      })
      .returning({ id: customField.id });
    await noteSetup(tx, `New field ${request.name}`);
    return { key: `${CUSTOM_PREFIX}${made?.id}` };
  });
}

async function noteSetup(tx: Tx, title: string): Promise<number> {
  const runId = await startRun(tx, { kind: 'setup', state: 'done', threadId: await handThread(tx), title });
  await tell(tx.client, { topic: 'setup' });
  return runId;
}

/** Makes the look-up keys of values that are here in the transaction that puts the rule in force, so that it holds from then on. */
async function lookUpNow(tx: Tx, field: FieldDefinition): Promise<void> {
  const rows = await peopleWithField(tx.client, field.key);
  const keys = rows.flatMap(({ id, record }) =>
    valuesOf(record, field.key).map((value): [number, number] => [
      keyHash(uniqueKey(field.key, field.type, value)),
      id,
    ]),
  );
  await writeKeys(tx, [], keys);
}

/** Renames, groups, orders, retires or brings back a field, and says what is asked of it at entry. */
export async function changeField(database: Database, key: string, change: FieldChange): Promise<void> {
  const field = await requireField(database.db, key);
  const isOwn = key.startsWith(CUSTOM_PREFIX);
  const { name, heading, ordinal, retired, choices, despite, currency, required, unique } = change;
  const shape = { name, heading, ordinal, retired, choices, currency };
  const changesShape = Object.values(shape).some((value) => value !== undefined);
  if (changesShape && !isOwn) throw refuseField.standardField({ name: field.name });
  if (unique && unique !== 'no' && !UNIQUE_TYPES.includes(field.type) && key !== 'externalId')
    throw refuseField.notUnique({ type: TYPE_NAMES[field.type] });
  await inTransaction(database, async (tx) => {
    if (changesShape) {
      if (name !== undefined) await requireFreeName(tx, name, key);
      if (choices !== undefined) {
        checkChoices(field.type, choices);
        await checkChoiceChange(tx, field, choices, despite ?? false);
      }
      await tx.db.update(customField).set(shape).where(own(key));
    }
    if (required !== undefined || unique !== undefined) {
      const rule = { required: required ?? field.required ?? false, unique: unique ?? field.unique ?? 'no' };
      await tx.db
        .insert(fieldRule)
        .values({ field: key, ...rule })
        .onConflictDoUpdate({ target: fieldRule.field, set: rule });
    }
    const what =
      retired === true ? 'Retired' : retired === false ? 'Brought back' : name !== undefined ? 'Renamed' : 'Changed';
    await noteSetup(tx, `${what} field ${field.name}${name !== undefined && name !== field.name ? ` to ${name}` : ''}`);
    // Look-up keys of a field that is newly unique have to be made for everybody who is here.
    const lookedUpAnyway = field.type === 'email' || field.type === 'tel' || key === 'externalId';
    if (unique && unique !== 'no' && (field.unique ?? 'no') === 'no' && !lookedUpAnyway) {
      await lookUpNow(tx, field);
      await startDerivation(tx, `Look-up of ${field.name}`);
    }
  });
}

/** Starts the run that derives areas and keys anew for everybody. */
export async function startDerivation(tx: Tx, title: string): Promise<number> {
  const runId = await startRun(tx, {
    kind: 'recompute',
    state: 'running',
    threadId: await handThread(tx),
    title,
  });
  await beginChange(tx, runId, { kind: 'derive' });
  return runId;
}

const EXAMPLES = 12;

/** What changing a field's type would do, without doing it. Cost linear in the contacts that have the field. */
export async function tryConversion(
  database: Database,
  key: string,
  to: { type: FieldType; choices: string[]; currency: string | null },
): Promise<ConversionTrial> {
  await requireField(database.db, key);
  const { rows } = await valuesOfField(database.pool, key);
  const trial: ConversionTrial = { values: rows.length, converts: 0, fails: 0, examples: [], failing: [] };
  const as = { type: to.type, choices: to.choices, ...(to.currency ? { currency: to.currency } : {}) };
  for (const { id, name, value } of rows) {
    const converted = convertValue(value, key, as);
    if (converted) {
      trial.converts++;
      if (trial.examples.length < EXAMPLES)
        trial.examples.push({ contactId: id, name, before: showValue(key, value), after: showValue(key, converted) });
    } else {
      trial.fails++;
      if (trial.failing.length < EXAMPLES)
        trial.failing.push({ contactId: id, name, before: showValue(key, value), after: null });
    }
  }
  if (!key.startsWith(CUSTOM_PREFIX)) throw refuseField.standardType();
  return trial;
}

/** Changes a field's type: values that say something in the new type are read anew, the others stay beside the field. One run, undone as one. */
export async function convertField(
  database: Database,
  key: string,
  to: { type: FieldType; choices: string[]; currency: string | null },
): Promise<{ runId: number; finished: boolean }> {
  if (!key.startsWith(CUSTOM_PREFIX)) throw refuseField.standardType();
  if (!(CUSTOM_TYPES as readonly FieldType[]).includes(to.type)) throw refuseField.noSuchType();
  checkChoices(to.type, to.choices);
  return inTransaction(database, async (tx) => {
    // Held until the transaction ends, so that no import can begin with the old type.
    await lockRuns(tx.client);
    const busy = await runningImport(tx.client);
    if (busy.rows[0]) throw refuseField.importRunning({ title: busy.rows[0].title });
    const [before] = await tx.db.select().from(customField).where(own(key)).for('update');
    if (!before) throw refuse.noSuchField();
    const runId = await startRun(tx, {
      kind: 'convert',
      state: 'running',
      threadId: await handThread(tx),
      title: `${before.name} from ${TYPE_NAMES[before.type]} to ${TYPE_NAMES[to.type]}`,
    });
    const currency = to.type === 'money' ? (to.currency ?? 'EUR') : null;
    await tx.db
      .update(customField)
      .set({ type: to.type, choices: to.choices, currency })
      .where(eq(customField.id, before.id));
    const finished = await beginChange(tx, runId, {
      kind: 'convert',
      field: key,
      ...to,
      currency,
      before: { type: before.type, choices: before.choices, currency: before.currency },
    });
    return { runId, finished };
  });
}
