import {
  NEW_FIELD_TYPES,
  ToolTrouble,
  type Capabilities,
  type Changes,
  type NewOutsideField,
  type OutsideField,
  type OutsideLists,
  type OutsidePage,
  type OutsideRecord,
  type OutsideResult,
  type OutsideStop,
  type OutsideWrite,
  type OutsideWritten,
  type Tool,
} from '@gray-loom/core/syncing';
import type { GuardedRequester } from '../guarded-request';
import { JsonClient } from '../json-client';
import { ListLabels } from '../list-labels';
import { readBeforeWrite, unsure, type PlainWriter } from '../read-before-write';
import { queryOf, resultOf, stopsOf, type DialerCall, type DialerStop } from './calls';
import {
  idOf,
  listOf,
  listsOf,
  madeField,
  outsideFields,
  recordOf,
  sentOf,
  versionOf,
  type DialerField,
  type DialerList,
  type DialerPerson,
} from './people';

const NOT_TAKEN = 'It was not taken.';
/** People asked for, and written, at a time. */
const AT_ONCE = 100;
const PAGE = 500;
/** Characters that fields made from here hold. */
const LENGTHS = { text: 200, number: 60, date: 60, choice: 60 };

interface Cursor {
  place: string;
  /** The day on which everybody was last listed: whoever is removed is just missing, which only a whole list shows. */
  listedOn: string;
}

type Sent = { ok: true; person: DialerPerson } | { ok: false; message: string };

/**
 * The client side of a dialer that speaks JSON over HTTP with a key in a header. It has no tombstones and no conditional writes: once a
 * day everybody is listed, and a record is read before it is written. Its ids are its own; what we make is known by its ref.
 */
export class DialerTool implements Tool {
  private readonly client: JsonClient;
  /** People as `changes` has just seen them, for the reading that follows. */
  private readonly seen = new Map<string, DialerPerson>();
  private readonly labels: ListLabels;
  private readonly today: () => string;

  /** @param base address of its interface, without a slash at its end */
  constructor(
    requester: GuardedRequester,
    base: string,
    key: string,
    {
      today = () => new Date().toISOString().slice(0, 10),
      forStops = false,
    }: { today?: () => string; forStops?: boolean } = {},
  ) {
    this.today = today;
    this.client = new JsonClient(requester, base, {
      credentials: { 'X-Api-Key': key },
      tool: 'a dialer',
      quota: { perDay: 'x-quota', left: 'x-quota-left' },
      forStops,
    });
    this.labels = new ListLabels(this.lists);
  }

  get clock(): Changes['clock'] {
    return this.client.clock;
  }
  get requests(): number {
    return this.client.requests;
  }

  private recordOf(person: DialerPerson): Promise<OutsideRecord> {
    return this.labels.known(listsOf(person)).then((lists) => recordOf(person, lists));
  }

  async capabilities(): Promise<Capabilities> {
    const account = await this.client.get<{ name?: string; limits?: { phones?: number; perDay?: number } }>('/account');
    const { fields } = await this.client.get<{ fields: DialerField[] }>('/fields');
    this.labels.forget();
    return {
      name: account.name ?? this.client.host,
      fields: outsideFields(fields, account.limits?.phones ?? 1),
      labels: true,
      knownLabels: (await this.labels.known()).map(({ name }) => name),
      canRemove: true,
      tellsTimes: true,
      keepsStops: ['call'],
      results: ['call'],
      canCallNext: true,
      signsCalls: true,
      newFieldTypes: NEW_FIELD_TYPES,
      ...(account.limits?.perDay ? { perDay: account.limits.perDay } : {}),
      mostRecords: null,
      records: null,
    };
  }

  async changes(cursor: string | null): Promise<Changes> {
    const known = cursor === null ? null : (JSON.parse(cursor) as Cursor);
    const full = known?.listedOn !== this.today();
    let place = full ? '' : (known?.place ?? '');
    // A place that is lost is lost also on the day on which it is not needed.
    if (full && known) await this.client.get(`/people?limit=1&cursor=${encodeURIComponent(known.place)}`);
    const changed = new Map<string, string>();
    for (let more = true; more;) {
      const page = await this.client.page<DialerPerson, 'people'>('/people', 'people', place, PAGE);
      for (const person of page.entries) {
        const { id, version } = await this.recordOf(person);
        this.seen.set(id, person);
        changed.set(id, version);
      }
      ({ cursor: place, more } = page);
    }
    return {
      changed: [...changed].map(([id, version]) => ({ id, version })),
      gone: [],
      cursor: JSON.stringify({ place, listedOn: full ? this.today() : (known?.listedOn ?? '') } satisfies Cursor),
      full,
      clock: this.client.clock,
    };
  }

  /** People as they are now, by the ids of their records. */
  private async people(ids: readonly string[]): Promise<Map<string, DialerPerson>> {
    const found = new Map<string, DialerPerson>();
    for (let from = 0; from < ids.length; from += AT_ONCE) {
      const query = queryOf(ids.slice(from, from + AT_ONCE));
      const { people } = await this.client.get<{ people: DialerPerson[] }>(`/people/some?${query}`);
      for (const person of people) found.set(idOf(person), person);
    }
    return found;
  }

  async read(ids: readonly string[]): Promise<OutsideRecord[]> {
    const known = ids.flatMap((id) => this.seen.get(id) ?? []);
    const missing = ids.filter((id) => !this.seen.has(id));
    const people = [...known, ...(missing.length ? (await this.people(missing)).values() : [])];
    // What was seen once is old the next time.
    for (const id of ids) this.seen.delete(id);
    return Promise.all(people.map((person) => this.recordOf(person)));
  }

  async results(cursor: string | null): Promise<OutsidePage<OutsideResult>> {
    const page = await this.client.page<DialerCall, 'calls'>('/calls', 'calls', cursor ?? '', PAGE);
    const asked = [...new Set(page.entries.flatMap(({ personId }) => personId ?? []))].map((id) => `#${id}`);
    const people = [...(await this.people(asked)).values()];
    const ids = new Map(people.map((person) => [person.id, idOf(person)]));
    return { ...page, entries: page.entries.map((call) => resultOf(call, ids)) };
  }

  async stops(cursor: string | null): Promise<OutsidePage<OutsideStop>> {
    const page = await this.client.page<DialerStop, 'stops'>('/stops', 'stops', cursor ?? '', PAGE);
    return { ...page, entries: stopsOf(page.entries) };
  }

  async callNext(id: string): Promise<void> {
    const person = (await this.people([id])).get(id);
    if (!person) throw new ToolTrouble('refusedThere', 'This person is not at the dialer any more.');
    await this.client.tell('/next', 'POST', { id: person.id });
  }

  async makeField({ name, type, options }: NewOutsideField): Promise<OutsideField> {
    return madeField(await this.client.tell('/fields', 'POST', { label: name, type, options, length: LENGTHS[type] }));
  }

  async setHook(hook: { url: string; secret: string } | null): Promise<void> {
    await this.client.tell('/hook', hook ? 'PUT' : 'DELETE', hook ?? undefined);
  }

  readonly lists: OutsideLists = {
    all: async () => (await this.client.get<{ lists: DialerList[] }>('/lists')).lists.map(listOf),
    make: async (name) => listOf(await this.client.tell('/lists', 'POST', { name })),
    members: async (list, cursor) => {
      const path = `/lists/${encodeURIComponent(list)}/people`;
      const page = await this.client.page<DialerPerson, 'people'>(path, 'people', cursor ?? '', PAGE);
      return { ...page, entries: page.entries.map(idOf) };
    },
    move: async (list, moves) => {
      const failed: { id: string; text: string }[] = [];
      const people = await this.people([...moves.in, ...moves.out]);
      for (const [id, person] of people) {
        const fault = await this.moveOne(person, list, moves.in.includes(id) ? 'PUT' : 'DELETE');
        if (typeof fault === 'string') failed.push({ id, text: fault });
      }
      return failed;
    },
  };

  /** Puts somebody into a list or takes them out; gives how they are then, or why it was not done. */
  private async moveOne(person: DialerPerson, list: string, method: 'PUT' | 'DELETE'): Promise<DialerPerson | string> {
    const { answer, json } = await this.client.ask<DialerPerson>(`/lists/${list}/people/${person.id}`, method);
    return answer.status < 300 ? json : 'A calling list is gone over there.';
  }

  newId(contactId: number, nonce: string): string {
    return `gray-loom-${contactId}-${nonce}`;
  }

  async write(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]> {
    const written: OutsideWritten[] = [];
    for (let from = 0; from < writes.length; from += AT_ONCE) {
      const some = writes.slice(from, from + AT_ONCE);
      for (const { id } of some) this.seen.delete(id);
      written.push(...(await readBeforeWrite(some, this.writer)));
    }
    return written;
  }

  private readonly writer: PlainWriter<DialerPerson> = {
    find: (ids) => this.people(ids),
    versionOf,
    remove: async ({ id }) => {
      const { answer, json } = await this.client.ask<{ message?: string }>(`/people/${id}`, 'DELETE');
      if (answer.status < 300 || answer.status === 404) return { ok: true, record: null };
      return { ok: false, why: 'refused', text: json?.message ?? NOT_TAKEN };
    },
    put: async (writes, before) => {
      const people = writes.map((write) => sentOf(write, before.get(write.id) ?? null));
      const { answer, json } = await this.client.ask<{ results?: Sent[] }>('/people/batch', 'POST', { people });
      if (answer.status >= 300 || !json.results)
        throw new ToolTrouble('protocol', `${this.client.host} answers with ${answer.status}.`);
      const written: OutsideWritten[] = [];
      for (const [i, { labels }] of writes.entries()) {
        const sent = json.results[i];
        if (sent?.ok) written.push(await this.putIntoLists(sent.person, labels).catch(unsure));
        else written.push({ ok: false, why: 'refused', text: sent?.message ?? NOT_TAKEN });
      }
      // Each as it is kept over there: in capitals, cut, and with the version that it has by now.
      return written;
    },
  };

  /** Puts a person into the lists of these names and takes them out of the others; null leaves them. */
  private async putIntoLists(person: DialerPerson, labels: readonly string[] | null): Promise<OutsideWritten> {
    const moves = await this.labels.moves(listsOf(person), labels);
    let now = person;
    for (const [list, method] of [
      ...moves.in.map((list) => [list, 'PUT'] as const),
      ...moves.out.map((list) => [list, 'DELETE'] as const),
    ]) {
      const moved = await this.moveOne(person, list, method);
      if (typeof moved === 'string') return { ok: false, why: 'refused', text: moved };
      now = moved;
    }
    return { ok: true, record: await this.recordOf(now) };
  }
}
