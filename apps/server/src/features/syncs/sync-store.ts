import { consumerOf } from './feed-place';
import { findPosition, keepPosition } from '../../feed/positions';
import { contactsChangedSince, endOfFeed, type Cursor } from '../../feed/read-changes';
import type { Catalogue } from '@gray-loom/core/fields';
import { emptyRecord, type ContactRecord } from '@gray-loom/core/model';
import {
  type Capabilities,
  type Identity,
  type Link,
  type OurPerson,
  type OutsideRecord,
  type PairWrite,
  type SyncContext,
  type SyncSetup,
  type SyncStore,
  type WriteResult,
} from '@gray-loom/core/syncing';
import type { ContactFilter } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { contactConditions } from '../contacts';
import { decodeRecord } from '../../db/record-codec';
import { LeaseLost, type Lease } from '../../runs/lease';
import { closedChannels } from '../contacts';
import type { PickLists } from '../../book/picks';
import { SyncIdentifier } from './sync-identifier';
import { ROOTS, selectLinks } from './sync-links';
import { writePairs } from './write-pairs';

/** Contacts and everybody who was merged into them. */
const MEMBERS = `with recursive down(root, id) as (
  select a, a from unnest($1::bigint[]) as w(a)
  union select d.root, c.id from contact c join down d on c.merged_into = d.id)`;

const ANYBODY = { find: '', kind: 'person', deleted: false };

export interface SyncStoreOptions {
  connectionId: number;
  connectionName: string;
  threadId: number;
  setup: SyncSetup;
  capabilities: Capabilities;
  catalogue: Catalogue;
  picks: PickLists;
  context: SyncContext;
  runId: number;
  lease: Lease;
}

/** The book of one connection in the database. Writes nothing once the run was taken over by another worker. */
export class DatabaseSyncStore implements SyncStore {
  private readonly runTimes = new Map<number, number>();
  private identifier: SyncIdentifier | null = null;

  constructor(
    private readonly database: Database,
    private readonly options: SyncStoreOptions,
  ) {}

  async cursors(): Promise<{ theirs: string | null; ours: string | null }> {
    const { rows } = await this.database.pool.query<{ theirs: string | null }>(
      'select their_cursor as theirs from connection where id = $1',
      [this.options.connectionId],
    );
    const ours = await findPosition(this.database.pool, consumerOf(this.options.connectionId));
    return { theirs: rows[0]?.theirs ?? null, ours: ours && JSON.stringify(ours) };
  }

  async changedHere(cursor: string | null): Promise<{ ids: number[]; cursor: string }> {
    const { pool } = this.database;
    // The place to go on from is taken first: whatever is not over by then is looked at again the next time.
    const at = JSON.stringify(await endOfFeed(pool));
    if (cursor === null) {
      const { rows } = await pool.query<{ id: number }>(this.everybody());
      return { ids: rows.map(({ id }) => id), cursor: at };
    }
    const changed = await contactsChangedSince(pool, JSON.parse(cursor) as Cursor, {
      exceptThread: this.options.threadId,
      kinds: this.options.capabilities.keepsStops ? ['values', 'permission'] : ['values'],
    });
    const { rows } = await pool.query<{ id: number }>(
      `select id from contact where id = any($1::bigint[]) and kind = 'person'
       union select s.contact_id from sync_choice s where s.connection_id = $2 and s.choice = 'send'
         and not exists (select 1 from sync_link l where l.connection_id = $2 and l.contact_id = s.contact_id)`,
      [changed, this.options.connectionId],
    );
    return { ids: rows.map(({ id }) => id), cursor: at };
  }

  /** Everybody who may take part by what is known here; who has a label over there is found from there. */
  private everybody(): string {
    const { scopes } = this.options.setup;
    const everybody = `select id from contact where state = 'live' and kind = 'person'`;
    if (scopes.some(({ who }) => who.kind !== 'labelThere' && who.kind !== 'byHand')) return everybody;
    return `${everybody} and (id in (select contact_id from sync_choice where connection_id = ${this.options.connectionId})
      or id in (select contact_id from sync_link where connection_id = ${this.options.connectionId}))`;
  }

  async unfinished(): Promise<string[]> {
    const { rows } = await this.database.pool.query<{ outside_id: string }>(
      `select outside_id from sync_link where connection_id = $1 and (dirty or intent is not null or state in ('making', 'fresh'))`,
      [this.options.connectionId],
    );
    return rows.map((row) => row.outside_id);
  }

  async askedAbout(): Promise<Map<number, string[]>> {
    const { rows } = await this.database.pool.query<{ id: number; there: string[] }>(
      `select c.id, array_agg(outside_id) as there from sync_link, unnest(candidates) as c(id)
       where connection_id = $1 and state = 'asking' group by c.id`,
      [this.options.connectionId],
    );
    return new Map(rows.map(({ id, there }) => [Number(id), there]));
  }

  async strangers(): Promise<Link[]> {
    return selectLinks(this.database.pool, this.options.connectionId, `state = 'stranger'`);
  }

  async versions(): Promise<Map<string, string>> {
    const { rows } = await this.database.pool.query<{ outside_id: string; version: string }>(
      `select outside_id, version from sync_link where connection_id = $1`,
      [this.options.connectionId],
    );
    return new Map(rows.map((row) => [row.outside_id, row.version]));
  }

  async links(outsideIds: readonly string[]): Promise<Map<string, Link>> {
    const links = await selectLinks(this.database.pool, this.options.connectionId, 'outside_id = any($2::text[])', [
      outsideIds,
    ]);
    return new Map(links.map((link) => [link.outsideId, link]));
  }

  async linksOf(contactIds: readonly number[]): Promise<Link[]> {
    if (!contactIds.length) return [];
    const { rows } = await this.database.pool.query<{ id: number }>(`${MEMBERS} select id from down`, [contactIds]);
    return selectLinks(this.database.pool, this.options.connectionId, 'contact_id = any($2::bigint[])', [
      rows.map(({ id }) => id),
    ]);
  }

  async people(ids: readonly number[]): Promise<Map<number, OurPerson>> {
    if (!ids.length) return new Map();
    const { pool } = this.database;
    const { connectionId, setup } = this.options;
    const { rows } = await pool.query<{
      asked: number;
      id: number;
      version: number;
      record: Parameters<typeof decodeRecord>[0];
      touched_at: Date;
      choice: OurPerson['choice'];
    }>(
      `${ROOTS}
       select u.asked, c.id, c.version, c.record, c.touched_at, s.choice from up u join contact c on c.id = u.id
       left join sync_choice s on s.connection_id = $2 and s.contact_id = c.id where c.merged_into is null`,
      [[...new Set(ids)], connectionId],
    );
    const records = new Map(rows.map((row) => [row.id, decodeRecord(row.record)]));
    await this.learnTimes([...records.values()]);
    const filters = new Map<number, Set<string>>();
    for (const { id: scopeId, who } of setup.scopes) {
      if (who.kind !== 'filter') continue;
      const { where, values } = contactConditions({ ...ANYBODY, ...who.filter } as ContactFilter);
      const met = await pool.query<{ id: number }>(
        `select c.id from contact c where ${where} and c.id = any($${values.length + 1}::bigint[])`,
        [...values, [...records.keys()]],
      );
      for (const { id } of met.rows) filters.set(id, (filters.get(id) ?? new Set()).add(scopeId));
    }
    const closed = this.options.capabilities.keepsStops
      ? await closedChannels(
          this.database,
          [...records].map(([id, record]) => ({ id, record })),
        )
      : null;
    return new Map(
      rows.map((row) => {
        const record = records.get(row.id) ?? emptyRecord();
        return [
          row.asked,
          {
            id: row.id,
            version: row.version,
            record,
            stopped: closed?.get(row.id) ?? [],
            choice: row.choice,
            filters: filters.get(row.id) ?? new Set(),
            changedAtMs: (field) => this.changedAtMs(record, field, row.touched_at.getTime()),
          },
        ];
      }),
    );
  }

  /** When a field was last changed; of one that is blank only that it was no later than the contact was. */
  private changedAtMs(record: ContactRecord, field: string, touchedMs: number): number {
    const fields = field === 'name' ? ['prefix', 'givenName', 'additionalNames', 'familyName', 'suffix'] : [field];
    const times = fields.flatMap((key) =>
      (record.f[key] ?? []).map((value) => value.atMs ?? this.runTimes.get(value.run) ?? 0),
    );
    return times.length ? Math.max(...times) : touchedMs;
  }

  private async learnTimes(records: readonly ContactRecord[]): Promise<void> {
    const unknown = new Set<number>();
    for (const record of records)
      for (const values of Object.values(record.f))
        for (const { run } of values) if (!this.runTimes.has(run)) unknown.add(run);
    if (!unknown.size) return;
    const { rows } = await this.database.pool.query<{ id: number; at: Date }>(
      'select id, created_at as at from run where id = any($1::int[])',
      [[...unknown]],
    );
    for (const id of unknown) this.runTimes.set(id, 0);
    for (const { id, at } of rows) this.runTimes.set(id, at.getTime());
  }

  async identify(records: readonly OutsideRecord[]): Promise<Identity[]> {
    this.identifier ??= await SyncIdentifier.under(this.database, this.options);
    return this.identifier.identify(records);
  }

  async save(writes: readonly PairWrite[]): Promise<WriteResult[]> {
    if (!writes.length) return [];
    return inTransaction(this.database, async (tx) => {
      await this.requireLease(tx);
      return writePairs(tx, this.options, writes);
    });
  }

  private async requireLease(tx: Tx): Promise<void> {
    const { runId, holder } = this.options.lease;
    const { rowCount } = await tx.client.query(
      `select 1 from run where id = $1 and lease_by = $2 and state = 'running' for share`,
      [runId, holder],
    );
    if (!rowCount) throw new LeaseLost(`run ${runId} was taken over`);
  }

  async finish({ theirs, ours }: { theirs: string | null; ours: string }): Promise<void> {
    await inTransaction(this.database, async (tx) => {
      await this.requireLease(tx);
      await tx.client.query('update connection set their_cursor = $2 where id = $1', [
        this.options.connectionId,
        theirs,
      ]);
      await keepPosition(tx.client, consumerOf(this.options.connectionId), JSON.parse(ours) as Cursor);
    });
  }
}
