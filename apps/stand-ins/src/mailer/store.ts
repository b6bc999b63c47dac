import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';

/** Characters that an extra column holds. */
export const COLUMN_LENGTH = 50;

/** Whether an entry of a list may be written to: not any more by their own word, or not since mail came back. */
export const STATES = ['reachable', 'off', 'undeliverable'] as const;
export type EntryState = (typeof STATES)[number];

/** An entry in a list: its state there, and the strands of the list that it is in. */
export interface Membership {
  list: number;
  strands: number[];
  state: EntryState;
  /** When the state was last said (ISO 8601), by the clock of the tool. */
  saidAt: string;
}

/** An entry. There is one for each address: another address is the same entry under another name. */
export interface Entry {
  address: string;
  /** A name that whoever made the entry gave it; no two have the same. */
  ref: string;
  given: string;
  family: string;
  /** Values of extra columns, by their keys. */
  columns: Record<string, string>;
  lists: Membership[];
  /** Of every list, whatever its own state there is. */
  state: EntryState;
  changedAt: string;
}

export const COLUMN_TYPES = ['text', 'number', 'date', 'choice'] as const;
export interface Column {
  key: string;
  name: string;
  type: (typeof COLUMN_TYPES)[number];
  options: string[];
}

/** A part of a list that has a name of its own. */
export interface Strand {
  id: number;
  name: string;
}

export interface MailList {
  id: number;
  name: string;
  strands: Strand[];
}

export const EVENTS = ['sent', 'opened', 'clicked', 'undeliverable', 'off'] as const;
/** What became of a mailing with one entry. */
export interface MailEvent {
  id: number;
  mailing: number;
  address: string;
  event: (typeof EVENTS)[number];
  /** The link that was clicked; '' otherwise. */
  link: string;
  at: string;
}

export interface Mailing {
  id: number;
  subject: string;
  list: number;
  sentAt: string;
}

interface Gone {
  address: string;
  at: string;
}

interface Kept {
  entries: Entry[];
  columns: Column[];
  lists: MailList[];
  mailings: Mailing[];
  events: MailEvent[];
  gone: Gone[];
  nextId: number;
}

const EMPTY: Kept = {
  entries: [],
  columns: [{ key: 'boat', name: 'Boat', type: 'text', options: [] }],
  lists: [],
  mailings: [],
  events: [],
  gone: [],
  nextId: 1,
};

/** What an entry is made or changed by; what is left out stays. */
export type EntryParts = Partial<Pick<Entry, 'ref' | 'given' | 'family' | 'columns' | 'lists' | 'state'>>;

const KEEP_MS = 2000;
const keyOf = (address: string): string => address.trim().toLowerCase();
/** Changes are dated by whole seconds, so that many are of one moment. */
const secondOf = (iso: string): string => `${iso.slice(0, 19)}Z`;

/** The store of the stand-in, kept in one file where there is one. */
export class MailerStore {
  private readonly kept: Kept;
  private readonly entries = new Map<string, Entry>();
  private readonly refs = new Map<string, string>();
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly file: string | null) {
    this.kept = file && existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Kept) : structuredClone(EMPTY);
    for (const entry of this.kept.entries) this.hold(entry);
  }

  private hold(entry: Entry): void {
    this.entries.set(keyOf(entry.address), entry);
    if (entry.ref) this.refs.set(entry.ref, keyOf(entry.address));
  }

  get isEmpty(): boolean {
    return this.entries.size === 0 && this.kept.lists.length === 0;
  }
  get columns(): readonly Column[] {
    return this.kept.columns;
  }
  get lists(): readonly MailList[] {
    return this.kept.lists;
  }
  get mailings(): readonly Mailing[] {
    return this.kept.mailings;
  }
  get events(): readonly MailEvent[] {
    return this.kept.events;
  }

  list(): Entry[] {
    return [...this.entries.values()];
  }
  find(address: string): Entry | undefined {
    return this.entries.get(keyOf(address));
  }
  byRef(ref: string): Entry | undefined {
    const key = this.refs.get(ref);
    return key === undefined ? undefined : this.entries.get(key);
  }

  /** Entries changed at a second or later, and addresses that are gone since, in the order of their last change. */
  changedSince(since: string): { entries: Entry[]; gone: Gone[] } {
    const from = since && secondOf(since);
    const entries = this.list().filter(({ changedAt }) => changedAt >= from);
    entries.sort((a, b) =>
      a.changedAt === b.changedAt ? (a.address < b.address ? -1 : 1) : a.changedAt < b.changedAt ? -1 : 1,
    );
    return {
      entries,
      gone: since ? this.kept.gone.filter(({ at, address }) => at >= from && !this.find(address)) : [],
    };
  }

  /** Makes an entry, or changes the one that has the address. Values of columns are cut. */
  put(address: string, parts: EntryParts, nowIso: string): Entry {
    const before = this.find(address);
    const columns = { ...before?.columns, ...parts.columns };
    for (const key of Object.keys(columns)) columns[key] = (columns[key] ?? '').slice(0, COLUMN_LENGTH);
    const entry: Entry = {
      ...(before ?? { address: address.trim(), ref: '', given: '', family: '', lists: [], state: 'reachable' }),
      ...parts,
      columns,
      changedAt: secondOf(nowIso),
    };
    this.hold(entry);
    this.keep();
    return entry;
  }

  /** Gives an entry another address; null where another one has that. The old address is gone then. */
  rename(from: string, to: string, nowIso: string): Entry | null {
    const entry = this.find(from);
    if (!entry) return null;
    if (keyOf(from) !== keyOf(to)) {
      if (this.find(to)) return null;
      this.entries.delete(keyOf(from));
      this.kept.gone.push({ address: entry.address, at: secondOf(nowIso) });
    }
    const renamed = { ...entry, address: to.trim(), changedAt: secondOf(nowIso) };
    this.hold(renamed);
    this.keep();
    return renamed;
  }

  remove(address: string, nowIso: string): boolean {
    const entry = this.find(address);
    if (!entry) return false;
    this.entries.delete(keyOf(address));
    if (entry.ref) this.refs.delete(entry.ref);
    this.kept.gone.push({ address: entry.address, at: secondOf(nowIso) });
    this.keep();
    return true;
  }

  /** Puts an entry into a list with these strands, or takes it out (null). Whoever is off, or cannot be reached, stays so. */
  place(address: string, list: number, strands: readonly number[] | null, nowIso: string): Entry | null {
    const entry = this.find(address);
    if (!entry) return null;
    const before = entry.lists.find((one) => one.list === list);
    const others = entry.lists.filter((one) => one.list !== list);
    const place: Membership[] = strands
      ? [
          {
            ...(before ?? { list, state: 'reachable', saidAt: secondOf(nowIso) }),
            strands: [...new Set(strands)].sort((a, b) => a - b),
          },
        ]
      : [];
    return this.put(address, { lists: [...others, ...place] }, nowIso);
  }

  /** Says of an entry in a list whether it may be written to; at all where none is named. */
  say(address: string, list: number | null, state: EntryState, nowIso: string): Entry | null {
    const entry = this.find(address);
    if (!entry) return null;
    if (list === null) return this.put(address, { state }, nowIso);
    const lists = entry.lists.map((one) => (one.list === list ? { ...one, state, saidAt: secondOf(nowIso) } : one));
    return this.put(address, { lists }, nowIso);
  }

  addColumn(column: Column): void {
    this.kept.columns.push(column);
    this.keep();
  }

  /** Gives a column another name, or takes it away with what stands in it ('' as a name). */
  changeColumn(key: string, name: string): void {
    this.kept.columns = this.kept.columns.flatMap((one) => (one.key !== key ? one : name ? { ...one, name } : []));
    if (!name) for (const entry of this.entries.values()) delete entry.columns[key];
    this.keep();
  }

  addList(name: string): MailList {
    const list = { id: this.kept.nextId++, name, strands: [] };
    this.kept.lists.push(list);
    this.keep();
    return list;
  }

  addStrand(list: MailList, name: string): Strand {
    const strand = { id: this.kept.nextId++, name };
    list.strands.push(strand);
    this.keep();
    return strand;
  }

  /** Takes a list away, and everybody out of it. */
  removeList(id: number, nowIso: string): void {
    this.kept.lists = this.kept.lists.filter((one) => one.id !== id);
    for (const entry of this.list())
      if (entry.lists.some(({ list }) => list === id)) this.place(entry.address, id, null, nowIso);
    this.keep();
  }

  /** Sends a mailing to everybody in a list who may be written to. */
  send(subject: string, list: number, nowIso: string): Mailing {
    const mailing = { id: this.kept.nextId++, subject, list, sentAt: nowIso };
    this.kept.mailings.push(mailing);
    for (const { address, lists, state } of this.list())
      if (state === 'reachable' && lists.some((one) => one.list === list && one.state === 'reachable'))
        this.happen({ mailing: mailing.id, address, event: 'sent', link: '', at: nowIso });
    return mailing;
  }

  /** Something became of a mailing. Whoever wants no more, or whose mail came back, is no longer written to in its list. */
  happen(event: Omit<MailEvent, 'id'>): MailEvent {
    const made = { ...event, id: this.kept.events.length + 1 };
    this.kept.events.push(made);
    const list = this.kept.mailings.find(({ id }) => id === event.mailing)?.list ?? null;
    // Mail that came back comes back whatever list it was for.
    if (event.event === 'undeliverable') this.say(event.address, null, event.event, event.at);
    else if (event.event === 'off' && list !== null) this.say(event.address, list, event.event, event.at);
    this.keep();
    return made;
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
    writeFileSync(`${this.file}.new`, JSON.stringify({ ...this.kept, entries: this.list() }));
    renameSync(`${this.file}.new`, this.file);
  }
}
