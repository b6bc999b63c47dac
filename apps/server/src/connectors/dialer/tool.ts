import {
  NEW_FIELD_TYPES,
  ToolTrouble,
  type Capabilities,
  type Changes,
  type NewOutsideField,
  type OutsideField,
  type OutsidePage,
  type OutsideRecord,
  type OutsideResult,
  type OutsideStop,
  type OutsideWrite,
  type OutsideWritten,
  type Tool,
} from '@gray-loom/core/syncing';
import { NoAnswer, type GuardedRequester } from '../guarded-request';
import { JsonClient } from '../json-client';
import { queryOf, resultOf, stopsOf, type DialerCall, type DialerStop } from './calls';
import {
  idOf,
  madeField,
  outsideFields,
  partsOf,
  recordOf,
  type DialerField,
  type DialerList,
  type DialerPerson,
} from './people';

/** People asked for, and written, at a time. */
const AT_ONCE = 100;
const PAGE = 500;
/** Characters that fields made from here hold. */
const TEXT_LENGTH = 200;
const SHORT_LENGTH = 60;

interface Cursor {
  place: string;
  /** The day on which everybody was last listed: whoever is removed is just missing, which only a whole list shows. */
  listedOn: string;
}

interface DialerOptions {
  today?: () => string;
  forStops?: boolean;
}

type Sent = { ok: true; person: DialerPerson } | { ok: false; error: string; message: string };

/**
 * The client side of a dialer that speaks JSON over HTTP with a key in a header. It has no tombstones and no conditional writes: once a
 * day everybody is listed, and a record is read before it is written. Its ids are its own; what we make is known by its ref.
 */
export class DialerTool implements Tool {
  private readonly client: JsonClient;
  /** People as `changes` has just seen them, for the reading that follows. */
  private readonly seen = new Map<string, DialerPerson>();
  private lists: DialerList[] | null = null;

  private readonly today: () => string;

  /** @param base address of its interface, without a slash at its end */
  constructor(
    requester: GuardedRequester,
    base: string,
    key: string,
    { today = () => new Date().toISOString().slice(0, 10), forStops = false }: DialerOptions = {},
  ) {
    this.today = today;
    const quota = { perDay: 'x-quota', left: 'x-quota-left' };
    this.client = new JsonClient(requester, base, {
      credentials: { 'X-Api-Key': key },
      tool: 'a dialer',
      quota,
      forStops,
    });
  }

  get clock(): Changes['clock'] {
    return this.client.clock;
  }
  get requests(): number {
    return this.client.requests;
  }

  /** The lists there are; asked anew where one of these people is in a list that came meanwhile. */
  private async knownLists(people: Iterable<DialerPerson> = []): Promise<DialerList[]> {
    const known = new Set(this.lists?.map(({ id }) => id));
    const isNew = [...people].some((person) => person.lists.some((id) => !known.has(id)));
    if (!this.lists || isNew) ({ lists: this.lists } = await this.client.get<{ lists: DialerList[] }>('/lists'));
    return this.lists;
  }

  async capabilities(): Promise<Capabilities> {
    const account = await this.client.get<{ name?: string; limits?: { phones?: number; perDay?: number } }>('/account');
    const { fields } = await this.client.get<{ fields: DialerField[] }>('/fields');
    this.lists = null;
    return {
      name: account.name ?? this.client.host,
      fields: outsideFields(fields, account.limits?.phones ?? 1),
      labels: true,
      knownLabels: (await this.knownLists()).map(({ name }) => name),
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
      const lists = await this.knownLists(page.entries);
      for (const person of page.entries) {
        const { id, version } = recordOf(person, lists);
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
    const lists = await this.knownLists(people);
    return people.map((person) => recordOf(person, lists));
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
    const { answer, json } = await this.client.ask<{ message?: string }>('/next', 'POST', { id: person.id });
    if (answer.status >= 300) throw new ToolTrouble('refusedThere', json?.message ?? 'The dialer does not take it.');
  }

  async makeField({ name, type, options }: NewOutsideField): Promise<OutsideField> {
    const asked = { label: name, type, options, length: type === 'text' ? TEXT_LENGTH : SHORT_LENGTH };
    const { answer, json } = await this.client.ask<DialerField & { message?: string }>('/fields', 'POST', asked);
    if (answer.status >= 300) throw new ToolTrouble('refusedThere', json.message ?? 'The dialer does not take it.');
    return madeField(json);
  }

  async setHook(hook: { url: string; secret: string } | null): Promise<void> {
    const { answer, json } = await this.client.ask<{ message?: string }>(
      '/hook',
      hook ? 'PUT' : 'DELETE',
      hook ?? undefined,
    );
    if (answer.status >= 300) throw new ToolTrouble('refusedThere', json?.message ?? 'The dialer does not take it.');
  }

  newId(contactId: number, nonce: string): string {
    return `gray-loom-${contactId}-${nonce}`;
  }

  async write(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]> {
    const written: OutsideWritten[] = [];
    for (let from = 0; from < writes.length; from += AT_ONCE)
      written.push(...(await this.writeSome(writes.slice(from, from + AT_ONCE))));
    return written;
  }

  private async writeSome(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]> {
    const before = await this.people(writes.map(({ id }) => id));
    for (const { id } of writes) this.seen.delete(id);
    const lists = await this.knownLists(before.values());
    const results = new Map<OutsideWrite, OutsideWritten>();
    const sending: OutsideWrite[] = [];
    for (const one of writes) {
      const wrong = this.against(one, before.get(one.id), lists);
      if (wrong) results.set(one, wrong);
      else sending.push(one);
    }
    const unsure = (error: unknown): OutsideWritten => {
      if (!(error instanceof NoAnswer)) throw error;
      return { ok: false, why: 'unknown', text: error.message };
    };
    const removing = sending.filter((one) => one.kind === 'remove');
    for (const one of removing) results.set(one, await this.remove(before.get(one.id)).catch(unsure));
    const putting = sending.filter((one) => one.kind !== 'remove');
    if (putting.length) {
      const sent = await this.put(putting, before).catch(unsure);
      for (const [i, one] of putting.entries()) {
        const answer = Array.isArray(sent) ? sent[i] : undefined;
        if (!Array.isArray(sent)) results.set(one, sent);
        else if (!answer?.ok)
          results.set(one, { ok: false, why: 'refused', text: answer?.message ?? 'It was not taken.' });
        else results.set(one, await this.putIntoLists(answer.person, one.labels).catch(unsure));
      }
    }
    // Each as it is kept over there: in capitals, cut, and with the version that it has by now.
    return writes.map((one) => results.get(one) as OutsideWritten);
  }

  /** What stands against a write, by the record as it is. */
  private against(write: OutsideWrite, now: DialerPerson | undefined, lists: DialerList[]): OutsideWritten | null {
    if (write.kind === 'create') return now ? { ok: false, why: 'clash', text: 'It is there already.' } : null;
    if (!now)
      return write.kind === 'remove' ? { ok: true, record: null } : { ok: false, why: 'gone', text: 'It is gone.' };
    return recordOf(now, lists).version === write.version
      ? null
      : { ok: false, why: 'clash', text: 'It was changed meanwhile.' };
  }

  private async remove(person: DialerPerson | undefined): Promise<OutsideWritten> {
    const { answer, json } = await this.client.ask<{ message?: string }>(`/people/${person?.id}`, 'DELETE');
    if (answer.status < 300 || answer.status === 404) return { ok: true, record: null };
    return { ok: false, why: 'refused', text: json?.message ?? 'It was not taken.' };
  }

  private async put(
    writes: readonly Exclude<OutsideWrite, { kind: 'remove' }>[],
    before: ReadonlyMap<string, DialerPerson>,
  ): Promise<Sent[]> {
    const people = writes.map((one) => {
      const now = before.get(one.id) ?? null;
      return one.kind === 'create'
        ? { ref: one.id, ...partsOf(one.fields, one.stopped, null) }
        : { id: now?.id, ...partsOf(one.fields, one.stop, now) };
    });
    const { answer, json } = await this.client.ask<{ results?: Sent[] }>('/people/batch', 'POST', { people });
    if (answer.status >= 300 || !json.results)
      throw new ToolTrouble('protocol', `${this.client.host} answers with ${answer.status}.`);
    return json.results;
  }

  /** Puts a person into the lists of these names and takes them out of the others; null leaves them. */
  private async putIntoLists(person: DialerPerson, labels: readonly string[] | null): Promise<OutsideWritten> {
    let now = person;
    const wanted = new Set<number>();
    for (const name of labels ?? []) wanted.add(await this.listNamed(name));
    const moves = labels
      ? [
          ...[...wanted].filter((id) => !person.lists.includes(id)).map((id) => ['PUT', id] as const),
          ...person.lists.filter((id) => !wanted.has(id)).map((id) => ['DELETE', id] as const),
        ]
      : [];
    for (const [method, list] of moves) {
      const { answer, json } = await this.client.ask<DialerPerson>(`/lists/${list}/people/${person.id}`, method);
      if (answer.status >= 300) return { ok: false, why: 'refused', text: 'A calling list is gone over there.' };
      now = json;
    }
    return { ok: true, record: recordOf(now, await this.knownLists([now])) };
  }

  private async listNamed(name: string): Promise<number> {
    const lists = await this.knownLists();
    const there = lists.find((list) => list.name === name);
    if (there) return there.id;
    const { json } = await this.client.ask<DialerList>('/lists', 'POST', { name });
    lists.push(json);
    return json.id;
  }
}
