import { emailKey } from '../fields';
import { planMerge } from '../merging';
import { applyOperations, invertOperations, lifecycleOf, valuesOf, type ContactRecord, type Operation } from '../model';
import type { Catalogue } from '../fields';
import { factsOf, meets, NOTHING_ELSE } from '../segments';
import type { Channel } from '../writing';
import type {
  Identity,
  Link,
  OurPerson,
  OutsideRecord,
  PairWrite,
  PlannedConflict,
  Scope,
  SecondTake,
  SyncStore,
  WriteResult,
} from '../syncing';

interface Kept {
  record: ContactRecord;
  version: number;
  stopped: Channel[];
}

const isInStep = ({ state }: Link) => state === 'linked' || state === 'making';

/** Our book in memory: contacts with versions and a log of changes, shared by the connections. */
export class SimulatedBook {
  readonly contacts = new Map<number, Kept>();
  readonly log: number[] = [];
  readonly runs = new Map<number, number>();
  readonly removedAt = new Map<string, number>();
  private nextId = 1;
  private nextRun = 1;

  constructor(
    readonly catalogue: Catalogue,
    readonly now: () => number,
  ) {}

  startRun(): number {
    this.runs.set(this.nextRun, this.now());
    return this.nextRun++;
  }

  insert(record: ContactRecord): number {
    const id = this.nextId++;
    this.contacts.set(id, { record, version: 1, stopped: [] });
    this.log.push(id);
    return id;
  }

  write(id: number, operations: readonly Operation[]): boolean {
    const kept = this.contacts.get(id);
    if (!kept) return false;
    const applied = applyOperations(kept.record, operations);
    if (!applied.ok) return false;
    for (const { field, after } of operations) if (!after) this.removedAt.set(`${id}:${field}`, this.now());
    this.contacts.set(id, { ...kept, record: applied.value, version: kept.version + 1 });
    this.log.push(id);
    return true;
  }

  stop(id: number, channels: readonly Channel[]): void {
    const kept = this.contacts.get(id);
    if (!kept || channels.every((channel) => kept.stopped.includes(channel))) return;
    kept.stopped = [...new Set([...kept.stopped, ...channels])];
    this.log.push(id);
  }

  rootOf(id: number): number {
    for (let at = id; ;) {
      const kept = this.contacts.get(at);
      const into = kept ? lifecycleOf(kept.record)?.into : undefined;
      if (into === undefined) return at;
      at = into;
    }
  }

  /** Merges b into a; gives what takes it back. */
  merge(a: number, b: number): Operation[] | null {
    const [x, y] = [this.contacts.get(a), this.contacts.get(b)];
    if (!x || !y || lifecycleOf(x.record) || lifecycleOf(y.record)) return null;
    const plan = planMerge({
      members: [
        { id: a, record: x.record },
        { id: b, record: y.record },
      ],
      keepId: a,
      choices: {},
      catalogue: this.catalogue,
      timeOf: (value) => value.atMs ?? this.runs.get(value.run) ?? 0,
      run: this.startRun(),
    });
    for (const id of [a, b])
      this.write(
        id,
        plan.operations.filter(({ target }) => target === id),
      );
    this.stop(a, y.stopped);
    return invertOperations(plan.operations);
  }

  changedAtMs(id: number, field: string): number {
    const values = this.contacts.get(id)?.record.f[field] ?? [];
    return Math.max(
      0,
      this.removedAt.get(`${id}:${field}`) ?? 0,
      ...values.map((value) => value.atMs ?? this.runs.get(value.run) ?? 0),
    );
  }

  /** @param scopes those of the connection for which the person is looked at */
  person(id: number, scopes: readonly Scope[] = []): OurPerson | null {
    const root = this.rootOf(id);
    const kept = this.contacts.get(root);
    if (!kept) return null;
    return {
      id: root,
      version: kept.version,
      record: kept.record,
      stopped: kept.stopped,
      choice: null,
      meets: new Set(
        scopes.flatMap(({ id: scope, who }) =>
          who.kind === 'condition' &&
          meets(who.condition, { ...NOTHING_ELSE, facts: factsOf(kept.record) }, '2026-07-01')
            ? [scope]
            : [],
        ),
      ),
      segments: segmentsOf(kept.record),
      changedAtMs: (field) => this.changedAtMs(root, field),
    };
  }
}

/** Segments of the simulated book: the stage that makes somebody a member. */
export const SEGMENT_STAGES: ReadonlyMap<number, string> = new Map([
  [1, 'Student'],
  [2, 'Alumni'],
]);
const segmentsOf = (record: ContactRecord): Set<number> => {
  const stage = String(valuesOf(record, 'stage')[0]?.v ?? '');
  return new Set([...SEGMENT_STAGES].flatMap(([id, member]) => (member === stage && !lifecycleOf(record) ? [id] : [])));
};

/** What one connection keeps, over the book. */
export class SimulatedStore implements SyncStore {
  readonly byId = new Map<string, Link>();
  readonly conflicts = new Map<string, PlannedConflict[]>();
  /** What was said of the records of merged contacts. */
  readonly said = new Map<number, SecondTake>();
  private at: { theirs: string | null; ours: string | null } = { theirs: null, ours: null };
  writes = 0;

  constructor(
    private readonly book: SimulatedBook,
    private readonly scopes: () => readonly Scope[] = () => [],
  ) {}

  cursors() {
    return Promise.resolve(this.at);
  }

  changedHere(cursor: string | null) {
    const ids = cursor === null ? [...this.book.contacts.keys()] : this.book.log.slice(Number(cursor));
    return Promise.resolve({ ids: [...new Set(ids)], cursor: String(this.book.log.length) });
  }

  unfinished() {
    return Promise.resolve(
      [...this.byId.values()]
        .filter(({ dirty, intent, state }) => dirty || intent !== null || state === 'making' || state === 'fresh')
        .map(({ outsideId }) => outsideId),
    );
  }

  askedAbout() {
    const asked = new Map<number, string[]>();
    for (const { state, candidates, outsideId } of this.byId.values())
      if (state === 'asking') for (const id of candidates) asked.set(id, [...(asked.get(id) ?? []), outsideId]);
    return Promise.resolve(asked);
  }

  strangers() {
    return Promise.resolve([...this.byId.values()].filter(({ state }) => state === 'stranger'));
  }

  saidOfMerged(ids: readonly number[]) {
    return Promise.resolve(
      new Map(ids.flatMap((id) => (this.said.has(id) ? [[id, this.said.get(id) as SecondTake]] : []))),
    );
  }

  freeToTake() {
    const free = [...this.byId.values()].filter(({ waitsFor, contactId }) => {
      const there = waitsFor === null ? undefined : this.byId.get(waitsFor);
      return (
        waitsFor !== null && !(there && there.contactId !== contactId && (isInStep(there) || there.state === 'asking'))
      );
    });
    return Promise.resolve(free.map(({ outsideId }) => outsideId));
  }

  waitingFor(places: readonly string[]) {
    return Promise.resolve(
      [...this.byId.values()].filter(({ waitsFor }) => waitsFor !== null && places.includes(waitsFor)),
    );
  }

  versions() {
    return Promise.resolve(
      new Map([...this.byId].flatMap(([id, { version }]) => (version ? [[id, version] as const] : []))),
    );
  }

  links(ids: readonly string[]) {
    return Promise.resolve(
      new Map(
        ids.flatMap((id) => {
          const link = this.byId.get(id);
          return link ? [[id, structuredClone(link)] as const] : [];
        }),
      ),
    );
  }

  linksByUid(uids: readonly string[]) {
    return Promise.resolve(
      new Map(
        [...this.byId.values()].flatMap((link) => {
          const uid = link.seen?.uid;
          return uid && uids.includes(uid) ? [[uid, structuredClone(link)] as const] : [];
        }),
      ),
    );
  }

  linksOf(ids: readonly number[]) {
    return Promise.resolve(
      [...this.byId.values()]
        .filter(({ contactId }) => contactId > 0 && ids.includes(this.book.rootOf(contactId)))
        .map((link) => structuredClone(link)),
    );
  }

  people(ids: readonly number[]) {
    return Promise.resolve(
      new Map(
        ids.flatMap((id) => {
          const person = this.book.person(id, this.scopes());
          return person ? [[id, person] as const] : [];
        }),
      ),
    );
  }

  identify(records: readonly OutsideRecord[]): Promise<Identity[]> {
    const byEmail = new Map<string, number>();
    for (const [id, { record }] of this.book.contacts)
      if (lifecycleOf(record)?.state !== 'merged')
        for (const { v } of valuesOf(record, 'email')) {
          const key = emailKey(String(v));
          if (!byEmail.has(key) || !lifecycleOf(record)) byEmail.set(key, id);
        }
    return Promise.resolve(
      records.map((record): Identity => {
        const found = new Set(
          (record.fields.email ?? []).flatMap(({ v }) => byEmail.get(emailKey(String(v).toLowerCase())) ?? []),
        );
        const [one] = found;
        if (one === undefined) return { who: 'nobody' };
        return found.size > 1 ? { who: 'ask', contactIds: [...found], band: 'likely' } : { who: 'one', contactId: one };
      }),
    );
  }

  save(writes: readonly PairWrite[]): Promise<WriteResult[]> {
    return Promise.resolve(
      writes.map((write): WriteResult => {
        const link = structuredClone(write.link);
        if (write.create) {
          link.contactId = this.book.insert(write.create);
          this.writes++;
        } else if (write.operations.length) {
          const root = this.book.rootOf(link.contactId);
          if (this.book.contacts.get(root)?.version !== write.version || !this.book.write(root, write.operations))
            return { ok: false };
          this.writes++;
        }
        if (write.stop.length) {
          this.book.stop(this.book.rootOf(link.contactId), write.stop);
          this.writes++;
        }
        if (write.movedFrom) {
          this.byId.delete(write.movedFrom);
          const open = this.conflicts.get(write.movedFrom);
          this.conflicts.delete(write.movedFrom);
          if (open) this.conflicts.set(link.outsideId, open);
        }
        this.byId.set(link.outsideId, link);
        if (write.conflicts) this.conflicts.set(link.outsideId, write.conflicts);
        return { ok: true, contactId: link.contactId };
      }),
    );
  }

  finish(cursors: { theirs: string | null; ours: string }) {
    this.at = cursors;
    return Promise.resolve();
  }
}
