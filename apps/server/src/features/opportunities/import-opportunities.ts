import { foldText, type Catalogue } from '@gray-loom/core/fields';
import { Repeats, type Mapping } from '@gray-loom/core/mapping';
import { keyHash } from '@gray-loom/core/matching';
import { firstText, KIND, type ContactRecord, type Operation } from '@gray-loom/core/model';
import { planWrite, recordFrom, type Candidate } from '@gray-loom/core/writing';
import type pg from 'pg';
import type { Tx } from '../../db/connect';
import { opportunityIdKey, opportunityKey } from '../../book/contact-rows';
import { applyChanges, insertContacts } from '../../book/write-contacts';
import { opportunitiesByKeys, type Known } from './statements/import-opportunities';

/** An opportunity that a row brings, with its contact; in a trial a contact that is new has no id yet. */
export interface RowOpportunity {
  row: number;
  contactId: number | null;
  /** First row of the contact in this file. */
  contactRow: number;
  candidate: Candidate;
}

export type OpportunityCounts = Record<
  'opportunitiesNew' | 'opportunitiesChanged' | 'opportunitiesSame' | 'opportunitiesLeft',
  number
>;

const NO_OPPORTUNITIES: OpportunityCounts = {
  opportunitiesNew: 0,
  opportunitiesChanged: 0,
  opportunitiesSame: 0,
  opportunitiesLeft: 0,
};

/** Counts of a file's run before its first row; those of opportunities only where it can have any. */
export function countsOf(mapping: Mapping): Record<string, number> {
  const rows = { new: 0, fill: 0, replace: 0, same: 0, fold: 0, held: 0 };
  return new Repeats(mapping).on ? { ...rows, ...NO_OPPORTUNITIES } : rows;
}

/** Adds counts to others, key by key. */
export function addCounts(into: Record<string, number>, counts: Readonly<Record<string, number>>): void {
  for (const [key, n] of Object.entries(counts)) if (n) into[key] = (into[key] ?? 0) + n;
}

/** What becomes of the opportunities of a file: by outside id, else by name with the same contact, new or changed. Once per run. */
export class OpportunityPlanner {
  /** Opportunities without an outside id that this run has seen, by contact and name. */
  private readonly seen = new Set<string>();
  /** Those among them that are not written for good yet. */
  private unwritten: string[] = [];

  constructor(
    private readonly mapping: Mapping,
    private readonly catalogue: Catalogue,
    private readonly runId: number,
    private readonly ruleOf: (field: string) => 'replace' | 'fill',
  ) {}

  /** Forgets what was planned since `keep`: the transaction that would write it is done anew. */
  begin(): void {
    for (const key of this.unwritten) this.seen.delete(key);
    this.unwritten = [];
  }

  /** Keeps what was planned, once its transaction came through. */
  keep(): void {
    this.unwritten = [];
  }

  /** Plans a batch. Everything it looks up is asked of `client`, so that in a transaction nothing moves under it. */
  async plan(
    client: pg.Pool | pg.PoolClient,
    rows: readonly RowOpportunity[],
  ): Promise<{
    counts: OpportunityCounts;
    fresh: { row: number; record: ContactRecord }[];
    changes: { id: number; row: number; operations: Operation[] }[];
  }> {
    const counts = { ...NO_OPPORTUNITIES };
    const fresh: { row: number; record: ContactRecord }[] = [];
    const changes = new Map<number, { id: number; row: number; operations: Operation[] }>();
    if (!rows.length) return { counts, fresh, changes: [] };
    const known = await this.lookUp(client, rows);
    const { allowNew, allowChange } = this.mapping.opportunities ?? { allowNew: true, allowChange: true };
    for (const one of rows) {
      const here = known(one);
      if (here) {
        const { operations } = planWrite(here.id, here.record, one.candidate, this.ruleOf, this.catalogue, {
          run: this.runId,
          row: one.row,
        });
        if (!operations.length || changes.has(here.id)) counts.opportunitiesSame++;
        else if (!allowChange) counts.opportunitiesLeft++;
        else {
          changes.set(here.id, { id: here.id, row: one.row, operations });
          counts.opportunitiesChanged++;
        }
        continue;
      }
      if (!allowNew) {
        counts.opportunitiesLeft++;
        continue;
      }
      const key = `${one.contactRow}\n${nameOf(one.candidate)}`;
      if (!one.candidate.externalId) {
        if (this.seen.has(key)) {
          counts.opportunitiesSame++;
          continue;
        }
        this.seen.add(key);
        this.unwritten.push(key);
      }
      counts.opportunitiesNew++;
      const candidate: Candidate = {
        [KIND]: [{ v: 'opportunity' }],
        opportunityContact: [{ v: { relation: 'contact', to: one.contactId } }],
        ...one.candidate,
      };
      fresh.push({ row: one.row, record: recordFrom(candidate, this.catalogue, { run: this.runId, row: one.row }) });
    }
    return { counts, fresh, changes: [...changes.values()] };
  }

  private async lookUp(
    client: pg.Pool | pg.PoolClient,
    rows: readonly RowOpportunity[],
  ): Promise<(one: RowOpportunity) => Known | null> {
    const keyOf = ({ candidate, contactId }: RowOpportunity): number | null => {
      const id = candidate.externalId?.[0]?.v;
      if (id !== undefined) return keyHash(opportunityIdKey(String(id)));
      return contactId === null ? null : keyHash(opportunityKey(contactId));
    };
    const keys = [...new Set(rows.flatMap((one) => keyOf(one) ?? []))].map(String);
    const found = await opportunitiesByKeys(client, keys);
    const byKey = new Map<number, Known[]>();
    for (const { key, ...one } of found) byKey.set(Number(key), [...(byKey.get(Number(key)) ?? []), one]);
    return (one) => {
      const key = keyOf(one);
      const list = key === null ? [] : (byKey.get(key) ?? []);
      if (one.candidate.externalId) return list[0] ?? null;
      return (
        list.find(({ record }) => foldText(firstText(record, 'opportunityName')) === nameOf(one.candidate)) ?? null
      );
    };
  }
}

function nameOf(candidate: Candidate): string {
  return foldText(String(candidate.opportunityName?.[0]?.v ?? ''));
}

/** Writes the opportunities of a chunk in its transaction. */
export async function writeOpportunities(
  tx: Tx,
  runId: number,
  planner: OpportunityPlanner,
  rows: readonly RowOpportunity[],
): Promise<OpportunityCounts> {
  const { counts, fresh, changes } = await planner.plan(tx.client, rows);
  if (fresh.length)
    await insertContacts(
      tx,
      runId,
      fresh.map(({ row, record }) => ({ record, sourceRow: row })),
    );
  if (changes.length)
    await applyChanges(
      tx,
      runId,
      changes.map(({ id, row, operations }) => ({ contactId: id, operations, sourceRow: row })),
    );
  return counts;
}
