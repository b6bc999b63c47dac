import { outcomeOf, type Pipeline } from '@gray-loom/core/fields';
import { keyHash } from '@gray-loom/core/matching';
import {
  firstText,
  firstValue,
  isMoney,
  isRelation,
  KIND,
  sameContent,
  type ContactRecord,
  type MoneyValue,
  type Operation,
  type ValueContent,
} from '@gray-loom/core/model';
import { recordFrom, type Candidate } from '@gray-loom/core/writing';
import type { Opportunity, OpportunityPage, OpportunityQuery, OpportunityRequest, StageTotal } from '@gray-loom/wire';
import { findFragments } from '@gray-loom/core/segments';
import { searchTexts } from '../../book/statements/conditions';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { refuse } from './refusals';
import { opportunityKey } from '../../book/contact-rows';
import { requireLive } from '../../book/require-live';
import { loadCatalogue } from '../../book/picks';
import { listPipelines } from './pipelines';
import { handThread, startRun } from '../../runs/runs';
import { applyChanges, insertContacts } from '../../book/write-contacts';
import {
  takersOf,
  pageOfOpportunities,
  totalsOfPipelines,
  everybodyMergedInto,
  opportunitiesByContactKeys,
  SHOWN,
  PIPELINE,
  type Row,
} from './statements/opportunities';
const CONTACT = `(o.record->'f'->'opportunityContact'->0->'v'->>'to')::bigint`;

/** The contact that stands for each id now: itself, or the one it was merged into, however often. */
async function standIns({ pool }: Pick<Database, 'pool'>, ids: readonly number[]) {
  const { rows } = await takersOf(pool, [...new Set(ids)]);
  return new Map(rows.map(({ asked, id, name }) => [asked, { id, name }]));
}

function contactIdOf(record: ContactRecord): number {
  const v = firstValue(record, 'opportunityContact')?.v;
  return isRelation(v) ? (v.to ?? 0) : 0;
}

async function toOpportunities(
  database: Pick<Database, 'pool'>,
  pipelines: readonly Pipeline[],
  rows: readonly Row[],
): Promise<Opportunity[]> {
  const contacts = await standIns(
    database,
    rows.map(({ record }) => contactIdOf(record)),
  );
  return rows.map(({ id, version, record, touched_at, thread }) => {
    const value = firstValue(record, 'opportunityValue')?.v;
    const [pipeline, stage] = [firstText(record, 'opportunityPipeline'), firstText(record, 'opportunityStage')];
    return {
      id,
      version,
      name: firstText(record, 'opportunityName'),
      contact: contacts.get(contactIdOf(record)) ?? null,
      pipeline,
      stage,
      outcome: outcomeOf(pipelines, pipeline, stage),
      value: isMoney(value) ? value : null,
      closeDate: firstText(record, 'opportunityCloseDate') || null,
      owner: firstText(record, 'owner'),
      note: firstText(record, 'note'),
      outsideId: firstText(record, 'externalId'),
      lastThread: thread,
      touchedAt: touched_at.toISOString(),
    };
  });
}

/** Opportunities with how many there are at each stage and what they come to. Ordered by the day they are expected on. */
export async function opportunityPage(database: Database, query: OpportunityQuery): Promise<OpportunityPage> {
  const pipelines = await listPipelines(database);
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const where = [
    query.pipeline ? `${PIPELINE} = ${add(query.pipeline)}` : '',
    query.stage ? `o.stage = ${add(query.stage)}` : '',
    query.owner ? `o.owner = ${add(query.owner)}` : '',
    ...findFragments(query.find).map((fragment) => {
      const like = add(`%${fragment.replace(/[\\%_]/g, (c) => `\\${c}`)}%`);
      return `(exists (select 1 from ${searchTexts('o.id')} s where s.text like ${like})
        or exists (select 1 from ${searchTexts(CONTACT)} s where s.text like ${like}))`;
    }),
  ]
    .filter(Boolean)
    .map((condition) => ` and ${condition}`)
    .join('');
  const [rows, totals] = await Promise.all([
    pageOfOpportunities(database.pool, values, where),
    totalsOfPipelines(database.pool, values, where),
  ]);
  return {
    pipelines,
    totals: totalsOf(totals.rows),
    rows: await toOpportunities(database, pipelines, rows.slice(0, SHOWN)),
    more: rows.length > SHOWN,
  };
}

function totalsOf(
  rows: readonly { pipeline: string; stage: string; currency: string | null; count: number; amount: number }[],
): StageTotal[] {
  const totals = new Map<string, StageTotal>();
  for (const { pipeline, stage, currency, count, amount } of rows) {
    const key = `${pipeline}\n${stage}`;
    const total = totals.get(key) ?? { pipeline, stage, count: 0, sums: [] };
    total.count += count;
    if (currency) total.sums.push({ currency, amount });
    totals.set(key, total);
  }
  return [...totals.values()];
}

/** The opportunities of a contact and of those that were merged into it. */
export async function opportunitiesOf(database: Database, contactId: number): Promise<Opportunity[]> {
  const { rows } = await everybodyMergedInto(database.pool, contactId);
  const found = await opportunitiesByContactKeys(
    database.pool,
    rows.map(({ id }) => String(keyHash(opportunityKey(id)))),
  );
  return toOpportunities(database, await listPipelines(database), found);
}

/** An opportunity as it was written down, checked against the pipelines there are. */
async function contentOf(tx: Tx, request: OpportunityRequest): Promise<Map<string, ValueContent | null>> {
  const found = (await listPipelines(tx)).find(({ name }) => name === request.pipeline);
  if (!found) throw refuse.noSuchPipeline({ pipeline: request.pipeline });
  if (!found.stages.some(({ label }) => label === request.stage))
    throw refuse.unknownStage({
      pipeline: request.pipeline,
      stage: request.stage,
      stages: found.stages.map(({ label }) => label),
    });
  const value: MoneyValue | null =
    request.amount === null ? null : { amount: request.amount, currency: request.currency };
  return new Map<string, ValueContent | null>([
    ['opportunityName', request.name],
    ['opportunityPipeline', request.pipeline],
    ['opportunityStage', request.stage],
    ['opportunityValue', value],
    ['opportunityCloseDate', request.closeDate],
    ['owner', request.owner || null],
    ['note', request.note || null],
  ]);
}

/** Makes an opportunity of a contact. */
export async function makeOpportunity(
  database: Database,
  request: OpportunityRequest,
): Promise<{ id: number; runId: number }> {
  const catalogue = await loadCatalogue(database.db);
  return inTransaction(database, async (tx) => {
    await requireLive(tx, request.contactId);
    const candidate: Candidate = {
      [KIND]: [{ v: 'opportunity' }],
      opportunityContact: [{ v: { relation: 'contact', to: request.contactId } }],
    };
    for (const [field, v] of await contentOf(tx, request)) if (v !== null) candidate[field] = [{ v }];
    const runId = await startRun(tx, {
      kind: 'create',
      state: 'done',
      threadId: await handThread(tx),
      title: `New opportunity ${request.name}`,
      contactId: request.contactId,
    });
    const [id = 0] = await insertContacts(tx, runId, [{ record: recordFrom(candidate, catalogue, { run: runId }) }]);
    return { id, runId };
  });
}

async function requireOpportunity(tx: Tx, id: number, version: number) {
  const found = await requireLive(tx, id);
  if (found.record.f[KIND]?.[0]?.v !== 'opportunity') throw refuse.noSuchOpportunity();
  if (found.version !== version)
    throw refuse.valueChanged({ name: firstText(found.record, 'opportunityName'), version: found.version });
  return found.record;
}

async function write(
  tx: Tx,
  id: number,
  record: ContactRecord,
  content: ReadonlyMap<string, ValueContent | null>,
): Promise<{ runId: number | null }> {
  const changed = [...content].filter(([field, v]) => !sameContent(record.f[field]?.[0]?.v ?? null, v));
  if (!changed.length) return { runId: null };
  const runId = await startRun(tx, {
    kind: 'edit',
    state: 'done',
    threadId: await handThread(tx),
    title: `opportunity ${firstText(record, 'opportunityName')}`,
    contactId: contactIdOf(record) || null,
  });
  const operations = changed.map(([field, v]): Operation => ({
    target: id,
    field,
    slot: 0,
    before: record.f[field]?.[0] ?? null,
    after: v === null ? null : { slot: 0, v, run: runId },
  }));
  await applyChanges(tx, runId, [{ contactId: id, operations }]);
  return { runId };
}

/** Changes an opportunity; the contact it belongs to stays. */
export async function changeOpportunity(
  database: Database,
  id: number,
  request: OpportunityRequest,
): Promise<{ runId: number | null }> {
  return inTransaction(database, async (tx) => {
    const record = await requireOpportunity(tx, id, request.version ?? 0);
    return write(tx, id, record, await contentOf(tx, request));
  });
}

/** Moves an opportunity to another stage of its pipeline. */
export async function moveOpportunity(
  database: Database,
  id: number,
  { stage, version }: { stage: string; version: number },
): Promise<{ runId: number | null }> {
  return inTransaction(database, async (tx) => {
    const record = await requireOpportunity(tx, id, version);
    const name = firstText(record, 'opportunityPipeline');
    const stages = (await listPipelines(tx)).find((one) => one.name === name)?.stages ?? [];
    if (!stages.some(({ label }) => label === stage)) throw refuse.unknownStage({ pipeline: name, stage, stages: [] });
    return write(tx, id, record, new Map([['opportunityStage', stage]]));
  });
}
