import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';

/** Phones that one person has at most, and characters of a name. */
export const MOST_PHONES = 3;
export const NAME_LENGTH = 40;

export interface Phone {
  number: string;
  doNotCall: boolean;
}

export interface Person {
  id: number;
  /** A name that whoever made the record gave it; no two records have the same. */
  ref: string;
  name: string;
  phones: Phone[];
  email: string;
  doNotCall: boolean;
  /** Values of fields, by their keys. */
  fields: Record<string, string>;
  /** Ids of the calling lists that the person is in. */
  lists: number[];
  /** When it was last written (ISO 8601), by the clock of the tool. */
  changedAt: string;
}

export const FIELD_TYPES = ['text', 'number', 'date', 'choice'] as const;
export interface Field {
  key: string;
  label: string;
  type: (typeof FIELD_TYPES)[number];
  options: string[];
  /** Characters at most. */
  length: number;
}

export interface CallingList {
  id: number;
  name: string;
}

export const OUTCOMES = ['reached', 'noAnswer', 'busy', 'voicemail', 'callBack', 'refused'] as const;
export interface Call {
  id: number;
  /** Null where nobody with that number is known. */
  personId: number | null;
  direction: 'out' | 'in';
  /** The other's number, and the published one that was dialled. */
  number: string;
  dialled: string;
  outcome: (typeof OUTCOMES)[number];
  minutes: number;
  at: string;
  /** Who of the office called or took the call. */
  caller: string;
}

/** Somebody said stop: for a person or for one number of theirs, or took it back. */
export interface Stop {
  personId: number;
  number: string | null;
  stopped: boolean;
  at: string;
}

interface Kept {
  people: Person[];
  fields: Field[];
  lists: CallingList[];
  calls: Call[];
  stops: Stop[];
  /** Ids of people in the order of their last change. */
  log: number[];
  next: { id: number; at: string }[];
  hook: { url: string; secret: string } | null;
  nextId: number;
}

const EMPTY: Kept = {
  people: [],
  fields: [{ key: 'town', label: 'Town', type: 'text', options: [], length: 60 }],
  lists: [],
  calls: [],
  stops: [],
  log: [],
  next: [],
  hook: null,
  nextId: 1,
};

/** What a person is made or changed by; what is left out stays. */
export type PersonParts = Partial<Omit<Person, 'id' | 'changedAt'>>;

const KEEP_MS = 2000;

/** The store of the stand-in, kept in one file where there is one. A removed person leaves nothing behind. */
export class DialerStore {
  private readonly kept: Kept;
  private readonly people = new Map<number, Person>();
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly file: string | null) {
    this.kept = file && existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Kept) : structuredClone(EMPTY);
    for (const person of this.kept.people) this.people.set(person.id, person);
  }

  get isEmpty(): boolean {
    return this.kept.nextId === 1;
  }
  get fields(): readonly Field[] {
    return this.kept.fields;
  }
  get lists(): readonly CallingList[] {
    return this.kept.lists;
  }
  get calls(): readonly Call[] {
    return this.kept.calls;
  }
  get stops(): readonly Stop[] {
    return this.kept.stops;
  }
  /** Who is to be called next, the first first. */
  get next(): readonly { id: number; at: string }[] {
    return this.kept.next;
  }
  get hook(): Kept['hook'] {
    return this.kept.hook;
  }
  set hook(hook: Kept['hook']) {
    this.kept.hook = hook;
    this.keep();
  }

  list(): Person[] {
    return [...this.people.values()];
  }
  find(id: number): Person | undefined {
    return this.people.get(id);
  }
  byRef(ref: string): Person | undefined {
    return ref ? this.list().find((person) => person.ref === ref) : undefined;
  }

  /** People changed after a place in the log, each once, in the order of their last change; and the place behind the last of them. */
  changedSince(place: number, limit: number): { people: Person[]; place: number } {
    const last = new Map(this.kept.log.map((id, at) => [id, at]));
    const people: Person[] = [];
    let at = Math.max(0, place);
    for (; at < this.kept.log.length && people.length < limit; at++) {
      const person = this.people.get(this.kept.log[at] ?? 0);
      if (person && last.get(person.id) === at) people.push(person);
    }
    return { people, place: at };
  }

  /** Makes or changes a person. A name is kept in capitals and cut; a stop that is new is noted with its time. */
  put(id: number | null, parts: PersonParts, nowIso: string): Person {
    const before = id === null ? null : this.people.get(id);
    const person: Person = {
      ...(before ?? {
        id: this.kept.nextId++,
        ref: '',
        name: '',
        phones: [],
        email: '',
        doNotCall: false,
        fields: {},
        lists: [],
      }),
      ...parts,
      fields: { ...before?.fields, ...parts.fields },
      changedAt: nowIso,
    };
    person.name = person.name.toUpperCase().slice(0, NAME_LENGTH);
    if (person.doNotCall !== (before?.doNotCall ?? false))
      this.kept.stops.push({ personId: person.id, number: null, stopped: person.doNotCall, at: nowIso });
    for (const { number, doNotCall } of person.phones)
      if (doNotCall !== (before?.phones.find((phone) => phone.number === number)?.doNotCall ?? false))
        this.kept.stops.push({ personId: person.id, number, stopped: doNotCall, at: nowIso });
    this.people.set(person.id, person);
    this.kept.log.push(person.id);
    this.keep();
    return person;
  }

  remove(id: number): boolean {
    const isThere = this.people.delete(id);
    this.kept.next = this.kept.next.filter((one) => one.id !== id);
    this.keep();
    return isThere;
  }

  addField(field: Field): void {
    this.kept.fields.push(field);
    this.keep();
  }

  /** Gives a field another name, or takes it away with what stands in it ('' as a name). */
  changeField(key: string, label: string): void {
    this.kept.fields = this.kept.fields.flatMap((one) => (one.key !== key ? one : label ? { ...one, label } : []));
    if (!label) for (const person of this.list()) delete person.fields[key];
    this.keep();
  }

  addList(name: string): CallingList {
    const list = { id: this.kept.lists.length + 1, name };
    this.kept.lists.push(list);
    this.keep();
    return list;
  }

  addCall(call: Omit<Call, 'id' | 'personId'> & { personId?: number | null }): Call {
    const known = this.list().find(({ phones }) => phones.some(({ number }) => number === call.number));
    const made = { ...call, id: this.kept.calls.length + 1, personId: call.personId ?? known?.id ?? null };
    this.kept.calls.push(made);
    this.kept.next = this.kept.next.filter(({ id }) => id !== made.personId);
    this.keep();
    return made;
  }

  /** Puts somebody at the head of those who are called. */
  callNext(id: number, nowIso: string): void {
    this.kept.next = [{ id, at: nowIso }, ...this.kept.next.filter((one) => one.id !== id)];
    this.keep();
  }

  private keep(): void {
    if (!this.file || this.timer) return;
    this.timer = setTimeout(() => this.keepNow(), KEEP_MS);
    this.timer.unref();
  }

  keepNow(): void {
    if (!this.file) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    // In one move, so that a stand-in that is killed finds a whole file again.
    writeFileSync(`${this.file}.new`, JSON.stringify({ ...this.kept, people: this.list() }));
    renameSync(`${this.file}.new`, this.file);
  }
}
