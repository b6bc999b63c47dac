import type { Channel } from '../writing';
import {
  ToolTrouble,
  type BulkAnswers,
  type BulkWriter,
  type Capabilities,
  type Changes,
  type OutsideField,
  type OutsideFields,
  type OutsideRecord,
  type OutsideWrite,
  type OutsideWritten,
  type Tool,
} from '../syncing';

export type Fault =
  'lostAnswer' | 'notWritten' | 'repeated' | 'busy' | 'failing' | 'credentials' | 'cursorLost' | 'disorder' | 'dies';

/** The process ended: nothing after this happens. */
export class Died extends Error {}

export interface ToolKind {
  name: string;
  fields: OutsideField[];
  keepsStops: readonly Channel[];
  tellsTimes: boolean;
  aheadMs: number;
  /** Whether a record has a name that it keeps wherever it is. */
  keepsUid?: boolean;
  /** Whether a record is found by its address: another address is another id, and no two have the same. */
  byAddress?: boolean;
  /** Fewest writes that are done by a job; absent where there are no jobs. */
  bulkFrom?: number;
}

const text = (key: string, more: Partial<OutsideField> = {}): OutsideField => ({
  key,
  name: key,
  type: 'text',
  most: 1,
  ...more,
});

export const TOOL_KINDS: readonly ToolKind[] = [
  {
    name: 'address book',
    fields: [
      text('given'),
      text('family'),
      text('email', { type: 'email', most: 20, labelled: true }),
      text('tel', { type: 'tel', most: 20, labelled: true }),
      text('note', { type: 'longText' }),
      text('org'),
    ],
    keepsStops: [],
    tellsTimes: true,
    aheadMs: 0,
    keepsUid: true,
  },
  {
    name: 'dialer',
    // Capitals, one box for the name, three phones, 40 characters.
    fields: [
      text('name', { type: 'name', capitals: true, longest: 40 }),
      text('tel', { type: 'tel', most: 3 }),
      text('email', { type: 'email', most: 1 }),
      text('note', { capitals: true, longest: 40 }),
    ],
    keepsStops: ['call'],
    tellsTimes: true,
    aheadMs: 86_400_000,
  },
  {
    name: 'mailer',
    fields: [text('given'), text('family'), text('email', { type: 'email', most: 1 }), text('org', { longest: 40 })],
    keepsStops: ['email'],
    tellsTimes: false,
    aheadMs: -3_000,
    keepsUid: true,
    byAddress: true,
    bulkFrom: 2,
  },
];

/** An outside tool in memory, with faults that are used up one by one as it is asked. */
export class SimulatedTool implements Tool {
  readonly records = new Map<string, OutsideRecord>();
  /** Every change by its number; a cursor is such a number. */
  private readonly log: string[] = [];
  private readonly removed: OutsideRecord[] = [];
  faults: Fault[] = [];
  writes = 0;
  reads = 0;

  constructor(
    readonly kind: ToolKind,
    protected readonly now: () => number,
  ) {}

  private next(): Fault | null {
    return this.faults.shift() ?? null;
  }

  private trip(fault: Fault | null): void {
    if (fault === 'dies') throw new Died();
    if (fault === 'busy') throw new ToolTrouble('busy', 'too many requests', 10);
    if (fault === 'failing') throw new ToolTrouble('unreachable', 'it answers with 503');
    if (fault === 'credentials') throw new ToolTrouble('credentials', 'the key has expired');
  }

  capabilities(): Promise<Capabilities> {
    return Promise.resolve({
      name: this.kind.name,
      fields: this.kind.fields,
      labels: true,
      knownLabels: [],
      ...(this.kind.byAddress ? { listsInside: ' / ' } : {}),
      canRemove: true,
      tellsTimes: this.kind.tellsTimes,
      keepsStops: this.kind.keepsStops,
      mostRecords: null,
      records: this.records.size,
    });
  }

  changes(cursor: string | null): Promise<Changes> {
    this.reads++;
    const fault = this.next();
    if (fault === 'cursorLost' && cursor !== null) throw new ToolTrouble('cursorLost', 'gone');
    this.trip(fault);
    const ids = cursor === null ? [...this.records.keys()] : [...new Set(this.log.slice(Number(cursor)))];
    const changed = ids.flatMap((id) => {
      const record = this.records.get(id);
      return record ? [{ id, version: record.version }] : [];
    });
    if (fault === 'disorder') changed.reverse();
    if (fault === 'repeated') changed.push(...changed);
    return Promise.resolve({
      changed,
      gone: cursor === null ? [] : ids.filter((id) => !this.records.has(id)),
      cursor: String(this.log.length),
      full: cursor === null,
      clock: { aheadMs: this.kind.aheadMs, errorMs: 2 },
    });
  }

  read(ids: readonly string[]): Promise<OutsideRecord[]> {
    this.reads++;
    const fault = this.next();
    this.trip(fault);
    const found = ids.flatMap((id) => {
      const record = this.records.get(id);
      return record ? [structuredClone(record)] : [];
    });
    return Promise.resolve(fault === 'disorder' ? found.reverse() : found);
  }

  write(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]> {
    const answers: OutsideWritten[] = [];
    for (const write of writes) {
      const fault = this.next();
      if (fault === 'notWritten') {
        answers.push({ ok: false, why: 'unknown', text: 'no answer' });
        continue;
      }
      this.trip(fault === 'dies' ? null : fault);
      const answer = this.writeOne(write);
      if (fault === 'repeated') this.writeOne(write);
      if (fault === 'dies') throw new Died();
      answers.push(fault === 'lostAnswer' ? { ok: false, why: 'unknown', text: 'no answer' } : answer);
    }
    return Promise.resolve(answers);
  }

  newId(contactId: number, nonce: string): string {
    return `${contactId}-${nonce}`;
  }

  newUid(id: string): string {
    return `uid-${id}`;
  }

  get placeOf(): Tool['placeOf'] {
    return this.kind.byAddress ? (fields) => this.keptAt('', fields) || null : undefined;
  }

  /** Jobs that were begun, with what they answer: nothing for one whose answers are lost, too much for one that repeats itself. */
  private readonly jobs = new Map<string, BulkAnswers>();

  get bulk(): BulkWriter | undefined {
    const { bulkFrom } = this.kind;
    if (bulkFrom === undefined) return undefined;
    return {
      from: bulkFrom,
      start: (writes) => {
        const fault = this.next();
        this.trip(fault === 'dies' ? null : fault);
        if (fault === 'notWritten') return Promise.resolve(null);
        const answers = writes.map((write) => ({ id: write.id, written: this.writeOne(write) }));
        if (fault === 'dies') throw new Died();
        const stray = { id: 'somebody else', written: { ok: true as const, record: null } };
        if (fault === 'repeated') answers.push(...answers, stray);
        if (fault === 'disorder') answers.reverse();
        const job = `job ${this.jobs.size}`;
        this.jobs.set(job, fault === 'lostAnswer' ? { done: false, answers: [] } : { done: true, answers });
        return Promise.resolve(job);
      },
      look: (job) => {
        this.reads++;
        this.trip(this.next());
        return Promise.resolve(this.jobs.get(job) ?? { done: true, answers: [] });
      },
    };
  }

  /** Where a record with these fields is kept, that was at this place. */
  private keptAt(id: string, fields: OutsideFields): string {
    const address = this.kind.byAddress ? fields.email?.[0]?.v : undefined;
    return address === undefined ? id : String(address).toLowerCase();
  }

  /** Writes that were refused are tried with every pass, and change nothing. */
  private writeOne(write: OutsideWrite): OutsideWritten {
    const written = this.written(write);
    if (written.ok || written.why !== 'refused') this.writes++;
    return written;
  }

  private written(write: OutsideWrite): OutsideWritten {
    const there = this.records.get(write.id);
    if (write.kind !== 'remove') {
      const from =
        write.kind === 'create' && write.from !== undefined ? (JSON.parse(write.from) as OutsideRecord) : there;
      const place = this.keptAt(write.id, { ...from?.fields, ...write.fields });
      if (place !== write.id && this.records.has(place)) {
        const isOwn = write.kind === 'create' && this.records.get(place)?.uid === this.newUid(write.id);
        return isOwn
          ? { ok: false, why: 'clash', text: 'there is one' }
          : { ok: false, why: 'refused', text: 'another entry has this address' };
      }
    }
    if (write.kind === 'create') {
      if (there) return { ok: false, why: 'clash', text: 'there is one' };
      const from = write.from === undefined ? null : (JSON.parse(write.from) as OutsideRecord);
      if (from)
        return {
          ok: true,
          record: this.put(
            write.id,
            { ...from.fields, ...write.fields },
            write.labels ?? from.labels,
            [...(from.stopped ?? []), ...write.stopped],
            from.uid,
          ),
        };
      return {
        ok: true,
        record: this.put(write.id, write.fields, write.labels ?? [], write.stopped, this.newUid(write.id)),
      };
    }
    if (!there) return { ok: false, why: 'gone', text: 'gone' };
    if (there.version !== write.version) return { ok: false, why: 'clash', text: 'changed' };
    if (write.kind === 'remove') {
      this.remove(write.id);
      return { ok: true, record: null, kept: JSON.stringify(there) };
    }
    return {
      ok: true,
      record: this.put(write.id, { ...there.fields, ...write.fields }, write.labels ?? there.labels, [
        ...(there.stopped ?? []),
        ...write.stop,
      ]),
    };
  }

  /** What the tool does to everything that is written into it, by whomever. */
  put(id: string, fields: OutsideFields, labels: string[], stopped: Channel[], uid?: string): OutsideRecord {
    const kept: OutsideFields = {};
    for (const field of this.kind.fields) {
      const values = (fields[field.key] ?? []).slice(0, field.most).map(({ v, label }) => {
        const cased = field.capitals ? String(v).toUpperCase() : String(v);
        return {
          v: field.longest ? cased.slice(0, field.longest) : cased,
          ...(field.labelled && label ? { label } : {}),
        };
      });
      if (values.length) kept[field.key] = values;
    }
    const place = this.keptAt(id, kept);
    const before = this.records.get(id);
    // Nobody takes the place of another.
    if (place !== id && this.records.has(place))
      return structuredClone(before ?? (this.records.get(place) as OutsideRecord));
    if (place !== id && this.records.delete(id)) this.log.push(id);
    this.log.push(place);
    const record: OutsideRecord = {
      id: place,
      version: `v${this.log.length}`,
      fields: kept,
      labels: [...new Set(labels)],
      ...(this.kind.tellsTimes ? { changedAtMs: this.now() + this.kind.aheadMs } : {}),
      ...(this.kind.keepsUid ? { uid: uid ?? before?.uid ?? `uid-${id}-${this.log.length}` } : {}),
      ...(this.kind.keepsStops.length
        ? { stopped: this.kind.keepsStops.filter((channel) => stopped.includes(channel)) }
        : {}),
    };
    this.records.set(place, record);
    return structuredClone(record);
  }

  remove(id: string): void {
    const record = this.records.get(id);
    if (record) this.removed.push(record);
    this.records.delete(id);
    this.log.push(id);
  }

  /** Moves a record to another place, as whoever sorts a book does. */
  move(id: string, to: string): void {
    const record = this.records.get(id);
    if (!record || this.records.has(to)) return;
    this.records.delete(id);
    this.log.push(id);
    this.put(to, record.fields, record.labels, record.stopped ?? [], record.uid);
  }

  /** Puts the record back that was removed last, where it was. */
  putBack(): void {
    const record = this.removed.pop();
    if (!record || this.records.has(record.id)) return;
    this.put(record.id, record.fields, record.labels, record.stopped ?? [], record.uid);
  }
}
