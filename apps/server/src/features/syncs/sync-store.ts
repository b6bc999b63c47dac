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
import { tell } from '../../feed/events';
import { LeaseLost, type Lease } from '../../runs/lease';
import { closedChannels } from '../contacts';
import type { PickLists } from '../../book/picks';
import { writeChanges } from './sync-changes';
import { SyncIdentifier } from './sync-identifier';
import { writeStops } from './sync-stops';
import { applyChanges, insertContacts, lockContacts } from '../../book/write-contacts';

/** A contact and those that were merged into it, up and down. */
const ROOTS = `with recursive up(asked, id) as (
  select a, a from unnest($1::bigint[]) as w(a)
  union all select u.asked, c.merged_into from up u join contact c on c.id = u.id where c.merged_into is not null)`;
const MEMBERS = `with recursive down(root, id) as (
  select a, a from unnest($1::bigint[]) as w(a)
  union select d.root, c.id from contact c join down d on c.merged_into = d.id)`;

const LINK_COLUMNS =
  'outside_id, contact_id, state, apart, version, base, seen, intent, dirty, scope, candidates, asks_two';

interface LinkRow {
  outside_id: string;
  contact_id: number;
  state: Link['state'];
  apart: Link['apart'];
  version: string;
  base: Link['base'];
  seen: Link['seen'];
  intent: Link['intent'];
  dirty: boolean;
  scope: string | null;
  candidates: number[];
  asks_two: boolean;
}

const linkOf = (row: LinkRow): Link => ({
  outsideId: row.outside_id,
  contactId: row.contact_id,
  state: row.state,
  apart: row.apart,
  version: row.version,
  base: row.base,
  seen: row.seen,
  intent: row.intent,
  dirty: row.dirty,
  scope: row.scope,
  candidates: row.candidates.map(Number),
  asksTwo: row.asks_two,
});

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
    return this.select(`state = 'stranger'`, []);
  }

  async versions(): Promise<Map<string, string>> {
    const { rows } = await this.database.pool.query<{ outside_id: string; version: string }>(
      `select outside_id, version from sync_link where connection_id = $1`,
      [this.options.connectionId],
    );
    return new Map(rows.map((row) => [row.outside_id, row.version]));
  }

  async links(outsideIds: readonly string[]): Promise<Map<string, Link>> {
    const links = await this.select('outside_id = any($2::text[])', [outsideIds]);
    return new Map(links.map((link) => [link.outsideId, link]));
  }

  async linksOf(contactIds: readonly number[]): Promise<Link[]> {
    if (!contactIds.length) return [];
    const { rows } = await this.database.pool.query<{ id: number }>(`${MEMBERS} select id from down`, [contactIds]);
    return this.select('contact_id = any($2::bigint[])', [rows.map(({ id }) => id)]);
  }

  private async select(where: string, values: unknown[]): Promise<Link[]> {
    const { rows } = await this.database.pool.query<LinkRow>(
      `select ${LINK_COLUMNS} from sync_link where connection_id = $1 and ${where}`,
      [this.options.connectionId, ...values],
    );
    return rows.map(linkOf);
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
    const made: number[] = [];
    const results = await inTransaction(this.database, async (tx) => {
      await this.requireLease(tx);
      const { rows } = await tx.client.query<{ asked: number; id: number }>(
        `${ROOTS} select asked, id from up u where not exists (select 1 from contact c where c.id = u.id and c.merged_into is not null)`,
        [writes.map(({ link }) => link.contactId).filter((id) => id > 0)],
      );
      const rootOf = new Map(rows.map(({ asked, id }) => [asked, id]));
      const changed = writes.filter(({ operations }) => operations.length);
      const locked = await lockContacts(
        tx,
        changed.flatMap(({ link }) => rootOf.get(link.contactId) ?? []),
      );
      const refused = new Set(
        changed.filter(({ link, version }) => locked.get(rootOf.get(link.contactId) ?? 0)?.version !== version),
      );
      const kept = writes.filter((write) => !refused.has(write));
      const created = kept.filter(({ create }) => create);
      const ids = await insertContacts(
        tx,
        this.options.runId,
        created.map(({ create }) => ({ record: create as ContactRecord })),
      );
      made.push(...ids);
      const idOf = new Map(created.map((write, i) => [write, ids[i] ?? 0]));
      await applyChanges(
        tx,
        this.options.runId,
        kept
          .filter(({ operations, create }) => operations.length && !create)
          .map(({ link, operations }) => {
            const contactId = rootOf.get(link.contactId) ?? link.contactId;
            return { contactId, operations: operations.map((operation) => ({ ...operation, target: contactId })) };
          }),
      );
      await this.options.picks.save(tx);
      const contactOf = (write: PairWrite) => idOf.get(write) ?? write.link.contactId;
      await this.writeLinks(
        tx,
        kept.map((write) => ({ ...write.link, contactId: contactOf(write) })),
      );
      await writeStops(
        tx,
        this.options,
        kept.map((write) => ({ write, contactId: rootOf.get(contactOf(write)) ?? contactOf(write) })),
      );
      await this.writeConflicts(tx, kept, contactOf);
      await writeChanges(
        tx,
        this.options,
        kept.map((write) => ({ write, contactId: contactOf(write) })),
      );
      return writes.map((write): WriteResult =>
        refused.has(write) ? { ok: false } : { ok: true, contactId: contactOf(write) },
      );
    });
    return results;
  }

  private async requireLease(tx: Tx): Promise<void> {
    const { runId, holder } = this.options.lease;
    const { rowCount } = await tx.client.query(
      `select 1 from run where id = $1 and lease_by = $2 and state = 'running' for share`,
      [runId, holder],
    );
    if (!rowCount) throw new LeaseLost(`run ${runId} was taken over`);
  }

  private async writeLinks(tx: Tx, links: readonly Link[]): Promise<void> {
    if (!links.length) return;
    const last = new Map(links.map((link) => [link.outsideId, link]));
    const rows = [...last.values()].map((link) => ({
      outside_id: link.outsideId,
      contact_id: link.contactId,
      state: link.state,
      apart: link.apart,
      version: link.version,
      base: link.base,
      seen: link.seen,
      intent: link.intent,
      dirty: link.dirty,
      scope: link.scope,
      candidates: link.candidates,
      asks_two: link.asksTwo,
    }));
    const names = LINK_COLUMNS.split(', ');
    // Read as text, JSON null would be a value of its own.
    await tx.client.query(
      `insert into sync_link (connection_id, ${LINK_COLUMNS}, updated_at)
       select $1, ${names.map((name) => (['base', 'seen', 'intent'].includes(name) ? `nullif(l.${name}::text, 'null')::json` : `l.${name}`)).join(', ')}, now()
       from json_to_recordset($2::json) as l(outside_id text, contact_id bigint, state text, apart text, version text, base json, seen json,
         intent json, dirty boolean, scope text, candidates bigint[], asks_two boolean)
       on conflict (connection_id, outside_id) do update set ${names
         .slice(1)
         .map((name) => `${name} = excluded.${name}`)
         .join(', ')}, updated_at = now()`,
      [this.options.connectionId, JSON.stringify(rows)],
    );
  }

  private async writeConflicts(
    tx: Tx,
    writes: readonly PairWrite[],
    contactOf: (write: PairWrite) => number,
  ): Promise<void> {
    const told = writes.filter(({ conflicts }) => conflicts);
    if (!told.length) return;
    const rows = told.flatMap((write) =>
      (write.conflicts ?? []).map((conflict) => ({
        outside_id: write.link.outsideId,
        contact_id: contactOf(write),
        ...conflict,
      })),
    );
    const { connectionId, runId } = this.options;
    await tx.client.query(
      `delete from sync_conflict c where c.connection_id = $1 and c.outside_id = any($2::text[])
         and not exists (select 1 from json_to_recordset($3::json) as n(outside_id text, line text) where n.outside_id = c.outside_id and n.line = c.line)`,
      [connectionId, told.map(({ link }) => link.outsideId), JSON.stringify(rows)],
    );
    if (rows.length)
      await tx.client.query(
        `insert into sync_conflict (connection_id, outside_id, contact_id, line, why, ours, theirs, run_id)
         select $1, outside_id, contact_id, line, why, ours, theirs, $2
         from json_to_recordset($3::json) as n(outside_id text, contact_id bigint, line text, why text, ours jsonb, theirs jsonb)
         on conflict (connection_id, outside_id, line) do update set why = excluded.why, ours = excluded.ours, theirs = excluded.theirs,
            contact_id = excluded.contact_id`,
        [connectionId, runId, JSON.stringify(rows)],
      );
    await tell(tx.client, { topic: 'syncs' });
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
