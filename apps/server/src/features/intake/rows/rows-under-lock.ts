import { setImmediate } from 'node:timers/promises';
import { lifecycleOf, type Issue } from '@gray-loom/core/model';
import type { ToldActivity } from '../../../book/row-activity';
import type { Candidate } from '@gray-loom/core/writing';
import { lockKeys } from '../../../book/statements/locks';
import { rootsOf } from '../../../book/statements/merged-into';
import {
  applyChanges,
  insertContacts,
  lockContacts,
  type ContactChange,
  type LoadedContact,
} from '../../../book/write-contacts';
import type { Tx } from '../../../db/connect';
import { copyCell, copyLines } from '../../../db/copy';
import type { RowOutcome } from '../../../db/schema';
import type { ImportPlanner } from './import-plan';
import { RowContacts } from './row-contacts';
import type { RowPlan } from './row-plan';
import type { RowValues } from './row-values';

export const ROW_COLUMNS = 'run_id, row, outcome, contact_id, issues, cells';

/** A row that is written against the book as it is under lock: of somebody who is here, or who may have come meanwhile. */
export interface TouchingRow {
  row: number;
  /** Who it is for; null where that is decided under lock. */
  contactId: number | null;
  /** Version of the contact by which that was decided; null where it does not depend on what the contact says. */
  seen: number | null;
  /** The first row of the person, where this is a further one. */
  intoRow: number | null;
  candidate: Candidate;
  issues: RowPlan['issues'];
  cells: string[];
  opportunity: Candidate | null;
  activities: ToldActivity[];
  /** Look-up keys of values that no two contacts should share. */
  unique: number[];
}

/** What became of a row. */
export interface SettledRow {
  row: TouchingRow;
  outcome: RowOutcome;
  contactId: number | null;
}

interface Parts {
  runId: number;
  /** Rows of the file. */
  rows: number;
  values: RowValues;
  /** Something that plans rows anew by what a transaction sees. */
  plannerIn: (tx: Tx) => Promise<ImportPlanner>;
  textsLater: boolean;
}

/** Rows planned before others get a turn. */
const AT_ONCE = 100;
/** Chunks planned ahead of the one that is written, with some to spare. */
const CHUNKS_AHEAD = 5;

/**
 * Writes the rows of an import whose contacts have to be looked at under lock. A row whose contact moved since it was planned
 * (was deleted, merged away or changed) is planned again by what is there now; what then cannot be written is held with its reason.
 */
export class RowsUnderLock {
  /** Versions at which this run left contacts, a map a chunk: what it wrote itself has not moved. */
  private readonly left: Map<number, number>[] = [];
  /** Contacts of rows that were decided here and not when they were planned. */
  private readonly decided: RowContacts;

  constructor(private readonly parts: Parts) {
    this.decided = new RowContacts(parts.rows);
  }

  /** Takes the locks of a chunk, keys before contacts. Has to come before anything else that the transaction writes. */
  async lock(tx: Tx, rows: readonly TouchingRow[]): Promise<ChunkUnderLock> {
    const keys = rows.flatMap(({ unique }) => unique);
    if (keys.length) await lockKeys(tx.client, keys);
    const chunk = new ChunkUnderLock(tx, this.parts, {
      decided: (row) => this.decided.get(row),
      leftAt: (contactId) => this.left.find((versions) => versions.has(contactId))?.get(contactId),
    });
    await chunk.begin(rows);
    return chunk;
  }

  /** Keeps what a chunk decided, once its transaction came through. */
  keep({ versions, contactOf }: ChunkUnderLock): void {
    this.left.unshift(versions);
    this.left.length = Math.min(this.left.length, CHUNKS_AHEAD);
    for (const [row, contactId] of contactOf) this.decided.set(row, contactId);
  }
}

interface Before {
  decided: (row: number) => number | null | undefined;
  leftAt: (contactId: number) => number | undefined;
}

/** A row with what was decided of it under lock. */
interface PlannedAgain {
  row: TouchingRow;
  decision: RowPlan['decision'];
  /** The row as it reads now. */
  again: TouchingRow;
}

/** One chunk of them, in its transaction. */
export class ChunkUnderLock {
  /** Contacts of rows that were decided here. */
  readonly contactOf = new Map<number, number | null>();
  /** Contacts as they were when they were locked. */
  private readonly before = new Map<number, LoadedContact>();
  /** The same with what the chunk writes. */
  private readonly now = new Map<number, LoadedContact>();
  private readonly changes: ContactChange[] = [];
  private readonly lines: string[] = [];
  private readonly settled = new Map<TouchingRow, SettledRow>();
  private rows: readonly TouchingRow[] = [];
  /** First rows of people of whom it has to be decided anew who they are. */
  private readonly undecided = new Set<number>();

  constructor(
    private readonly tx: Tx,
    private readonly parts: Parts,
    private readonly earlier: Before,
  ) {}

  /** Versions at which the chunk leaves contacts. */
  get versions(): Map<number, number> {
    const versions = new Map<number, number>();
    for (const { contactId } of this.changes)
      versions.set(contactId, (versions.get(contactId) ?? this.before.get(contactId)?.version ?? 0) + 1);
    return versions;
  }

  async begin(rows: readonly TouchingRow[]): Promise<void> {
    this.rows = rows;
    await this.lockThese(rows.flatMap((row) => this.contactFor(row) ?? []));
  }

  /**
   * Writes the rows. Who is not locked yet is new in this chunk, and there once `writingNew` is done; what becomes of the others is
   * worked out meanwhile. What became of each, in the order of the rows.
   */
  async write(writingNew: Promise<void>): Promise<SettledRow[]> {
    try {
      await this.writeThoseHere();
    } finally {
      // Nothing may be under way when the transaction ends, whichever way it does.
      await Promise.allSettled([writingNew]);
    }
    await writingNew;
    await this.writeThoseMade();
    await this.decideAgain();
    const { runId, textsLater } = this.parts;
    await applyChanges(this.tx, runId, this.changes, { locked: this.before, textsLater });
    await copyLines(this.tx.client, 'import_row', ROW_COLUMNS, this.lines);
    return this.rows.flatMap((row) => this.settled.get(row) ?? []);
  }

  private async writeThoseHere(): Promise<void> {
    let done = 0;
    for (const row of this.rows) {
      const contact = this.now.get(this.contactFor(row) ?? 0);
      const isOpen = row.intoRow !== null && this.undecided.has(row.intoRow);
      if (isOpen || !contact || !this.stands(row, contact)) {
        if (row.intoRow === null) this.undecided.add(row.row);
        continue;
      }
      this.into(row, contact);
      if (++done % AT_ONCE === 0) await setImmediate();
    }
  }

  /** Rows for contacts that the chunk has made, and for those that were merged into others. */
  private async writeThoseMade(): Promise<void> {
    const open = this.rows.filter((row) => !this.settled.has(row) && row.seen === null && row.unique.length === 0);
    const live = await this.lockLive(open.flatMap((row) => this.contactFor(row) ?? []));
    for (const row of open) {
      const contactId = this.contactFor(row);
      if (!contactId || (row.intoRow !== null && this.undecided.has(row.intoRow))) continue;
      this.undecided.delete(row.row);
      this.intoIfLive(row, live, contactId, row);
    }
  }

  /** Plans rows by what is there now: those of somebody who moved, and those that are only decided under lock. */
  private async decideAgain(): Promise<void> {
    const open = this.rows.filter((row) => !this.settled.has(row));
    const first = open.filter(({ intoRow }) => intoRow === null);
    if (first.length) {
      const planner = await this.parts.plannerIn(this.tx);
      const plans = await planner.plan(first.map(({ row, cells }) => ({ row, cells })));
      await this.settleAgain(first, plans);
      await planner.picks.save(this.tx);
    }
    await this.writeFurther(open.filter(({ intoRow }) => intoRow !== null));
  }

  /** Settles rows by plans that were made under lock. */
  private async settleAgain(rows: readonly TouchingRow[], plans: readonly RowPlan[]): Promise<void> {
    const { runId, values } = this.parts;
    const planned = rows.flatMap((row, i): PlannedAgain[] => {
      const plan = plans[i];
      if (!plan) return [];
      const { decision, issues, candidate, opportunity } = plan;
      return [{ row, decision, again: { ...row, issues, candidate, opportunity } }];
    });
    const fresh = planned.filter(({ decision }) => decision.kind === 'new');
    const ids = await insertContacts(
      this.tx,
      runId,
      fresh.map(({ row: { row }, again }) => ({ record: values.recordOf(again.candidate, row), sourceRow: row })),
    );
    for (const [i, { row, again }] of fresh.entries()) {
      this.contactOf.set(row.row, ids[i] ?? 0);
      this.note(row, again, 'new', ids[i] ?? 0);
    }
    const live = await this.lockLive(
      planned.flatMap(({ decision }) => (decision.kind === 'known' ? [decision.contactId] : [])),
    );
    for (const { row, decision, again } of planned) {
      if (decision.kind === 'known') this.intoIfLive(row, live, decision.contactId, again);
      if (decision.kind === 'held') {
        this.contactOf.set(row.row, null);
        this.note(row, again, 'held', null);
      }
    }
    // Rows that were two people when they were planned, and are one by what is said of them now.
    const folded = planned.flatMap(({ row, decision, again }) =>
      decision.kind === 'fold' ? [{ row, again: { ...again, intoRow: decision.intoRow } }] : [],
    );
    await this.writeFurther(
      folded.map(({ again }) => again),
      folded.map(({ row }) => row),
    );
  }

  /** Further rows of people whose first row was decided here; `asked` are the rows as they came. */
  private async writeFurther(rows: readonly TouchingRow[], asked = rows): Promise<void> {
    const live = await this.lockLive(rows.flatMap((row) => this.contactFor(row) ?? []));
    for (const [i, row] of rows.entries()) {
      const came = asked[i] ?? row;
      const contactId = this.contactFor(row);
      if (contactId) this.intoIfLive(came, live, contactId, row);
      else this.hold(came, row, { code: 'repeatsHeldRow', row: row.intoRow ?? row.row, path: { row: row.row } });
    }
  }

  /** Who a row is for, as far as that is known: null for nobody, undefined where it has to be decided. */
  private contactFor({ intoRow, contactId }: TouchingRow): number | null | undefined {
    if (intoRow === null) return contactId ?? undefined;
    const decided = this.contactOf.get(intoRow);
    return decided !== undefined ? decided : (this.earlier.decided(intoRow) ?? contactId ?? undefined);
  }

  /** Whether a row may be written as it was planned. */
  private stands({ row, seen, unique }: TouchingRow, { id, record, version }: LoadedContact): boolean {
    const lifecycle = lifecycleOf(record);
    const comesBack = lifecycle?.state === 'deleted' && this.parts.values.bringsBack(row);
    if ((lifecycle && !comesBack) || unique.length) return false;
    return seen === null || seen === version || this.earlier.leftAt(id) === version;
  }

  private async lockThese(ids: readonly number[]): Promise<void> {
    const locked = await lockContacts(
      this.tx,
      ids.filter((id) => !this.before.has(id)),
    );
    for (const [id, contact] of locked) {
      this.before.set(id, contact);
      this.now.set(id, contact);
    }
  }

  /** Locks contacts, or those that they were merged into, where they are there; by the ids that were asked. */
  private async lockLive(ids: readonly number[]): Promise<Map<number, LoadedContact>> {
    if (!ids.length) return new Map();
    const { rows } = await rootsOf(this.tx.client, [...new Set(ids)]);
    await this.lockThese(rows.map(({ id }) => id));
    const live = new Map<number, LoadedContact>();
    for (const { asked, id } of rows) {
      const contact = this.now.get(id);
      if (contact && !lifecycleOf(contact.record)) live.set(asked, contact);
    }
    return live;
  }

  private intoIfLive(
    asked: TouchingRow,
    live: ReadonlyMap<number, LoadedContact>,
    contactId: number,
    row: TouchingRow,
  ): void {
    const contact = live.get(contactId);
    this.contactOf.set(row.row, contact?.id ?? null);
    if (contact) this.into(asked, contact, row);
    else this.hold(asked, row, { code: 'contactGone', contactId, path: { row: row.row } });
  }

  /** Works out what a row writes into a contact, and notes what becomes of it. `asked` is the row as it came. */
  private into(asked: TouchingRow, contact: LoadedContact, row: TouchingRow = asked): void {
    const folded = row.intoRow !== null;
    const { id: contactId, version } = contact;
    const record = this.now.get(contactId)?.record ?? contact.record;
    const planned = this.parts.values.into(contactId, record, row.candidate, row.row, { folded });
    if (planned.operations.length) {
      const { operations } = planned;
      this.changes.push({ contactId, operations, sourceRow: row.row, record: planned.record });
      this.now.set(contactId, { id: contactId, version, record: planned.record });
    }
    const told = { ...row, issues: [...row.issues, ...planned.issues] };
    this.note(asked, told, folded ? 'fold' : planned.outcome, contactId);
  }

  private hold(asked: TouchingRow, row: TouchingRow, issue: Issue): void {
    // It becomes one with nobody's row.
    const told = row.issues.filter(({ code }) => code !== 'foldedInto');
    this.note(asked, { ...row, issues: [...told, issue] }, 'held', null);
  }

  private note(asked: TouchingRow, row: TouchingRow, outcome: RowOutcome, contactId: number | null): void {
    const held = outcome === 'held';
    const settled = { row, outcome, contactId: held ? null : contactId };
    this.settled.set(asked, settled);
    this.lines.push(
      [
        this.parts.runId,
        row.row,
        outcome,
        settled.contactId,
        row.issues.length ? JSON.stringify(row.issues) : null,
        held ? JSON.stringify(row.cells) : null,
      ]
        .map(copyCell)
        .join('\t'),
    );
  }
}
