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
  type SecondTake,
  type SyncContext,
  type SyncSetup,
  type SyncStore,
  type WriteResult,
} from '@gray-loom/core/syncing';
import { movesByItself } from '@gray-loom/core/segments';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { contactConditions, contactsMeeting, readyCondition } from '../contacts';
import { decodeRecord } from '../../db/record-codec';
import { LeaseLost, type Lease } from '../../runs/lease';
import { closedChannels } from '../contacts';
import type { PickLists } from '../../book/picks';
import { SyncIdentifier } from './sync-identifier';
import { selectLinks } from './statements/sync-links';
import { writePairs } from './write-pairs';
import {
  theirCursor,
  peopleAmong,
  unfinishedLinks,
  candidatesAsked,
  versionsOfLinks,
  waitingForFree,
  saidOfMerged,
  membersOf,
  contactsWithChoice,
  timesOfRuns,
  leaseStands,
  keepTheirCursor,
  mayTakePart,
  keepListsFrom,
  listsFrom,
  movedInSegments,
  oldestWrite,
  scopeMoves,
  segmentsOfPeople,
} from './statements/sync-store';

const ANYBODY = { find: '', kind: 'person', deleted: false } as const;

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
  /** Whoever moved in a segment after this is looked at by the next pass. */
  private listsAt: Date | null = null;

  constructor(
    private readonly database: Database,
    private readonly options: SyncStoreOptions,
  ) {}

  async cursors(): Promise<{ theirs: string | null; ours: string | null }> {
    const { rows } = await theirCursor(this.database.pool, this.options.connectionId);
    const ours = await findPosition(this.database.pool, consumerOf(this.options.connectionId));
    return { theirs: rows[0]?.theirs ?? null, ours: ours && JSON.stringify(ours) };
  }

  async changedHere(cursor: string | null): Promise<{ ids: number[]; cursor: string }> {
    const { pool } = this.database;
    // The place to go on from is taken first: whatever is not over by then is looked at again the next time.
    const at = JSON.stringify(await endOfFeed(pool));
    this.listsAt = (await oldestWrite(pool)).rows[0]?.at ?? null;
    if (cursor === null) {
      const { rows } = await mayTakePart(pool, this.options.connectionId, this.mayBeAnybody());
      return { ids: rows.map(({ id }) => id), cursor: at };
    }
    const changed = await contactsChangedSince(pool, JSON.parse(cursor) as Cursor, {
      exceptThread: this.options.threadId,
      kinds: this.options.capabilities.keepsStops.length ? ['values', 'permission'] : ['values'],
    });
    const { rows } = await peopleAmong(
      pool,
      [...changed, ...(await this.movedByScopes()), ...(await this.movedByLists())],
      this.options.connectionId,
    );
    return { ids: rows.map(({ id }) => id), cursor: at };
  }

  /** Whoever takes part by a scope and does not any more, or could by now, though nobody changed them: a day passed, a segment moved. */
  private async movedByScopes(): Promise<number[]> {
    const { pool } = this.database;
    const moved: number[] = [];
    for (const { id, who } of this.options.setup.scopes) {
      if (who.kind !== 'condition' || !movesByItself(who.condition)) continue;
      const ready = { ...ANYBODY, ...(await readyCondition(pool, who.condition)) };
      const { rows } = await scopeMoves(pool, contactConditions(ready), this.options.connectionId, id);
      moved.push(...rows.map((row) => row.id));
    }
    return moved;
  }

  /** Segments that are lists over there. */
  private get listed(): number[] {
    return (this.options.setup.lists ?? []).flatMap(({ direction, segment }) => (direction === 'out' ? [segment] : []));
  }

  /** Whoever entered or left a segment that is a list over there since the last pass, also where nobody changed them. */
  private async movedByLists(): Promise<number[]> {
    const { pool } = this.database;
    if (!this.listed.length) return [];
    const { rows } = await listsFrom(pool, this.options.connectionId);
    const from = rows[0]?.at ?? null;
    if (from === null) return [];
    return (await movedInSegments(pool, this.listed, from)).rows.map(({ id }) => id);
  }

  /** Whether somebody without a link or a choice may take part by what is known here; who has a label over there is found from there. */
  private mayBeAnybody(): boolean {
    return this.options.setup.scopes.some(({ who }) => who.kind !== 'labelThere' && who.kind !== 'byHand');
  }

  async unfinished(): Promise<string[]> {
    const { rows } = await unfinishedLinks(this.database.pool, this.options.connectionId);
    return rows.map((row) => row.outside_id);
  }

  async askedAbout(): Promise<Map<number, string[]>> {
    const { rows } = await candidatesAsked(this.database.pool, this.options.connectionId);
    return new Map(rows.map(({ id, there }) => [Number(id), there]));
  }

  async saidOfMerged(contactIds: readonly number[]): Promise<Map<number, SecondTake>> {
    const { rows } = await saidOfMerged(this.database.pool, contactIds);
    return new Map(rows.map(({ id, take }) => [id, take]));
  }

  async freeToTake(): Promise<string[]> {
    const { rows } = await waitingForFree(this.database.pool, this.options.connectionId);
    return rows.map((row) => row.outside_id);
  }

  async waitingFor(places: readonly string[]): Promise<Link[]> {
    return selectLinks(this.database.pool, this.options.connectionId, 'waits_for = any($2::text[])', [places]);
  }

  async strangers(): Promise<Link[]> {
    return selectLinks(this.database.pool, this.options.connectionId, `state = 'stranger'`);
  }

  async versions(): Promise<Map<string, string>> {
    const { rows } = await versionsOfLinks(this.database.pool, this.options.connectionId);
    return new Map(rows.map((row) => [row.outside_id, row.version]));
  }

  async links(outsideIds: readonly string[]): Promise<Map<string, Link>> {
    const links = await selectLinks(this.database.pool, this.options.connectionId, 'outside_id = any($2::text[])', [
      outsideIds,
    ]);
    return new Map(links.map((link) => [link.outsideId, link]));
  }

  async linksByUid(uids: readonly string[]): Promise<Map<string, Link>> {
    const links = await selectLinks(this.database.pool, this.options.connectionId, `seen->>'uid' = any($2::text[])`, [
      uids,
    ]);
    return new Map(links.flatMap((link) => (link.seen?.uid ? [[link.seen.uid, link] as const] : [])));
  }

  async linksOf(contactIds: readonly number[]): Promise<Link[]> {
    if (!contactIds.length) return [];
    const { rows } = await membersOf(this.database.pool, contactIds);
    return selectLinks(this.database.pool, this.options.connectionId, 'contact_id = any($2::bigint[])', [
      rows.map(({ id }) => id),
    ]);
  }

  async people(ids: readonly number[]): Promise<Map<number, OurPerson>> {
    if (!ids.length) return new Map();
    const { pool } = this.database;
    const { connectionId, setup } = this.options;
    const { rows } = await contactsWithChoice(pool, [...new Set(ids)], connectionId);
    const records = new Map(rows.map((row) => [row.id, decodeRecord(row.record)]));
    await this.learnTimes([...records.values()]);
    const meets = new Map<number, Set<string>>();
    for (const { id: scopeId, who } of setup.scopes) {
      if (who.kind !== 'condition') continue;
      const ready = { ...ANYBODY, ...(await readyCondition(pool, who.condition)) };
      const met = await contactsMeeting(pool, contactConditions(ready), [...records.keys()]);
      for (const { id } of met.rows) meets.set(id, (meets.get(id) ?? new Set()).add(scopeId));
    }
    const segments = new Map<number, Set<number>>();
    if (this.listed.length)
      for (const row of (await segmentsOfPeople(pool, this.listed, [...records.keys()])).rows)
        segments.set(row.id, (segments.get(row.id) ?? new Set()).add(row.segment));
    const closed = this.options.capabilities.keepsStops.length
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
            meets: meets.get(row.id) ?? new Set(),
            segments: segments.get(row.id) ?? new Set(),
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
    const { rows } = await timesOfRuns(this.database.pool, [...unknown]);
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
    const { rowCount } = await leaseStands(tx.client, runId, holder);
    if (!rowCount) throw new LeaseLost(`run ${runId} was taken over`);
  }

  async finish({ theirs, ours }: { theirs: string | null; ours: string }): Promise<void> {
    await inTransaction(this.database, async (tx) => {
      await this.requireLease(tx);
      await keepTheirCursor(tx.client, this.options.connectionId, theirs);
      await keepPosition(tx.client, consumerOf(this.options.connectionId), JSON.parse(ours) as Cursor);
      await keepListsFrom(tx.client, this.options.connectionId, this.listsAt);
    });
  }
}
