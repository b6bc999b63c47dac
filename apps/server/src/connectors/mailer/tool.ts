import { randomUUID } from 'node:crypto';
import {
  NEW_FIELD_TYPES,
  ToolTrouble,
  type BulkAnswers,
  type BulkWriter,
  type Capabilities,
  type Changes,
  type NewOutsideField,
  type OutsideField,
  type OutsideFields,
  type OutsideList,
  type OutsideLists,
  type OutsidePage,
  type OutsideRecord,
  type OutsideResult,
  type OutsideStop,
  type OutsideWrite,
  type OutsideWritten,
  type Tool,
} from '@gray-loom/core/syncing';
import { clientToken } from '../client-token';
import { NoAnswer, type GuardedRequester } from '../guarded-request';
import { JsonClient } from '../json-client';
import { ListLabels } from '../list-labels';
import { against, unsure } from '../read-before-write';
import { entriesSince, type EntryPage } from './changes';
import {
  addressOf,
  isRef,
  keptIn,
  keyOf,
  LISTS_INSIDE,
  listsIn,
  listsOf,
  madeField,
  outsideFields,
  partName,
  placeIn,
  recordOf,
  sentOf,
  versionOf,
  type MailerColumn,
  type MailerEntry,
  type MailerList,
} from './entries';
import { renameAll } from './renames';
import { resultOf, stopsOf, type MailerEvent, type Mailing } from './events';

const NOT_TAKEN = 'It was not taken.';
const PAGE = 500;
/** Entries asked for, written by a job, and put into a list at a time. */
const AT_ONCE = 500;
/** Fewer writes than this are sent one by one: a job is asked after at least once. */
const LEAST_IN_JOB = 5;

type Answered = { ok: true; entry?: MailerEntry } | { ok: false; error: string; message: string };
type JobAnswer = Answered & { address: string };

/** A job that runs: what was answered before it began, and whose answers are awaited, by the address that each was sent with. */
interface Job {
  before: BulkAnswers['answers'];
  sent: Map<string, OutsideWrite>;
}

/**
 * The client side of a mailer that speaks JSON over HTTP with tokens that end. There is one entry for each address, so that an entry is
 * found by it; another address is the same entry under another id. It has no conditional writes: an entry is read before it is written.
 */
export class MailerTool implements Tool {
  private readonly client: JsonClient;
  private readonly labels: ListLabels;
  private readonly jobs = new Map<string, Job>();
  /** Entries as `changes` has just seen them, for the reading that follows. */
  private readonly seen = new Map<string, MailerEntry>();
  private columnLength = 0;

  /** @param base address of its interface, without a slash at its end */
  constructor(
    requester: GuardedRequester,
    base: string,
    client: { id: string; secret: string },
    { forStops = false }: { forStops?: boolean } = {},
  ) {
    this.client = new JsonClient(requester, `${base}/v1`, {
      credentials: clientToken(requester, `${base}/oauth/token`, client),
      tool: 'a mailer',
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

  private recordOf(entry: MailerEntry): Promise<OutsideRecord> {
    return this.labels.known(listsOf(entry)).then((lists) => recordOf(entry, lists));
  }

  async capabilities(): Promise<Capabilities> {
    const account = await this.client.get<{ name?: string; limits?: { columnLength?: number } }>('/account');
    const { columns } = await this.client.get<{ columns: MailerColumn[] }>('/columns');
    this.columnLength = account.limits?.columnLength ?? 50;
    this.labels.forget();
    return {
      name: account.name ?? this.client.host,
      fields: outsideFields(columns, this.columnLength),
      labels: true,
      listsInside: LISTS_INSIDE,
      needs: 'email',
      oneFor: 'email',
      knownLabels: (await this.labels.known()).map(({ name }) => name),
      canRemove: true,
      tellsTimes: true,
      keepsStops: ['email'],
      results: ['result'],
      newFieldTypes: NEW_FIELD_TYPES,
      mostRecords: null,
      records: null,
    };
  }

  async changes(cursor: string | null): Promise<Changes> {
    const found = await entriesSince(
      (since, from) => this.client.get<EntryPage>(`/entries?limit=${PAGE}&since=${since}&from=${from}`),
      cursor,
    );
    this.seen.clear();
    for (const entry of found.entries) this.seen.set(keyOf(entry.address), entry);
    return {
      changed: found.entries.map((entry) => ({ id: keyOf(entry.address), version: versionOf(entry) })),
      gone: cursor === null ? [] : found.gone,
      cursor: found.since,
      full: cursor === null,
      clock: this.client.clock,
    };
  }

  /** Entries as they are now, by the ids that they were asked for by. */
  private async entries(ids: readonly string[]): Promise<Map<string, MailerEntry>> {
    const found = new Map<string, MailerEntry>();
    for (let from = 0; from < ids.length; from += AT_ONCE) {
      const some = ids.slice(from, from + AT_ONCE);
      const asked = { addresses: some.filter((id) => !isRef(id)), refs: some.filter(isRef) };
      const { json } = await this.ask<{ entries: MailerEntry[] }>('/entries/some', 'POST', asked);
      const [addresses, refs] = [new Set(asked.addresses), new Set(asked.refs)];
      for (const entry of json.entries) {
        if (addresses.has(keyOf(entry.address))) found.set(keyOf(entry.address), entry);
        if (refs.has(entry.ref)) found.set(entry.ref, entry);
      }
    }
    return found;
  }

  /** Asks where any other answer than a good one is trouble of the tool as a whole. */
  private async ask<T>(path: string, method: string, body: unknown): Promise<{ json: T }> {
    const asked = await this.client.ask<T>(path, method, body);
    if (asked.answer.status >= 300)
      throw new ToolTrouble('protocol', `${this.client.host} answers with ${asked.answer.status}.`);
    return asked;
  }

  async read(ids: readonly string[]): Promise<OutsideRecord[]> {
    const known = ids.flatMap((id) => this.seen.get(id) ?? []);
    const missing = ids.filter((id) => !this.seen.has(id));
    // What was seen once is old the next time.
    for (const id of ids) this.seen.delete(id);
    const entries = [...known, ...(missing.length ? (await this.entries(missing)).values() : [])];
    return Promise.all([...new Set(entries)].map((entry) => this.recordOf(entry)));
  }

  newId(contactId: number, nonce: string): string {
    return `gray-loom-${contactId}-${nonce}`;
  }
  placeOf({ email }: OutsideFields): string | null {
    return keyOf(String(email?.[0]?.v ?? '')) || null;
  }
  /** An entry keeps the ref that it was made with. */
  newUid(id: string): string {
    return id;
  }

  /** What is against a write before it is sent: it clashes, or another entry has the address. */
  private async refusedBefore(
    writes: readonly OutsideWrite[],
  ): Promise<{ answers: Map<OutsideWrite, OutsideWritten>; before: Map<string, MailerEntry> }> {
    const addresses = writes.flatMap((write) => (write.kind === 'remove' ? [] : keyOf(addressOf(write)) || []));
    const before = await this.entries([...new Set([...writes.map(({ id }) => id), ...addresses])]);
    const answers = new Map<OutsideWrite, OutsideWritten>();
    const taken = new Set<string>();
    // Entries that go away from their address by this: whoever wants it waits for them.
    const leaving = new Set(writes.flatMap((write) => (isRename(write) ? (before.get(write.id) ?? []) : [])));
    for (const write of writes) {
      this.seen.delete(write.id);
      const now = before.get(write.id);
      let wrong = against(write, now && versionOf(now));
      if (!wrong && write.kind !== 'remove') {
        const address = keyOf(addressOf(write) || (keptIn(write)?.address ?? ''));
        const other = before.get(address);
        if (!address) wrong = NO_ADDRESS;
        else if (taken.has(address) || (other && other !== now && !leaving.has(other))) wrong = takenBy(address);
        else taken.add(address);
      }
      if (wrong) answers.set(write, wrong);
    }
    return { answers, before };
  }

  async write(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]> {
    const answers = new Map<OutsideWrite, OutsideWritten>();
    for (let from = 0; from < writes.length; from += AT_ONCE) {
      const some = writes.slice(from, from + AT_ONCE);
      const { answers: refused, before } = await this.refusedBefore(some);
      for (const [write, answer] of [...refused, ...(await this.rename(some, refused, before))])
        answers.set(write, answer);
      for (const write of some)
        if (!answers.has(write))
          answers.set(write, await this.writeOne(write, before.get(write.id) ?? null).catch(unsure));
    }
    await this.putIntoLists(answers);
    return writes.map((write) => answers.get(write) as OutsideWritten);
  }

  /** Does those writes that give an entry another address. */
  private async rename(
    writes: readonly OutsideWrite[],
    refused: ReadonlyMap<OutsideWrite, OutsideWritten>,
    before: ReadonlyMap<string, MailerEntry>,
  ): Promise<Map<OutsideWrite, OutsideWritten>> {
    const renames = writes.flatMap((write) => {
      const entry = before.get(write.id);
      return isRename(write) && entry && !refused.has(write)
        ? [{ write, entry, from: entry.address, to: addressOf(write) }]
        : [];
    });
    const answers = await renameAll(
      renames,
      ({ write, entry }, from) => this.writeOne(write, { ...entry, address: from }).catch(unsure),
      async ({ entry }, to) => {
        const named = entry.ref ? {} : { ref: `gray-loom-${randomUUID()}` };
        const { answer } = await this.client.ask(pathOf(entry.address), 'PATCH', { newAddress: to, ...named });
        return answer.status < 300 ? { ok: true, record: null } : { ok: false, why: 'refused', text: NOT_TAKEN };
      },
      () => `moving-${randomUUID()}@gray-loom.invalid`,
    );
    return new Map([...answers].map(([{ write }, written]) => [write, written]));
  }

  private async writeOne(write: OutsideWrite, before: MailerEntry | null): Promise<OutsideWritten> {
    if (write.kind === 'remove') {
      const { answer, json } = await this.client.ask<{ message?: string }>(pathOf(write.id), 'DELETE');
      return answer.status < 300 || answer.status === 404
        ? removed(before)
        : { ok: false, why: 'refused', text: json?.message ?? NOT_TAKEN };
    }
    const { op: _, address, ...parts } = sentOf(write, before);
    const { answer, json } =
      write.kind === 'create'
        ? await this.client.ask<MailerEntry & Answered>('/entries', 'POST', { address, ...parts })
        : await this.client.ask<MailerEntry & Answered>(pathOf(String(address)), 'PATCH', parts);
    return answer.status < 300
      ? { ok: true, record: await this.recordOf(json) }
      : failed(json as unknown as Answered & { ok: false });
  }

  /** Puts what was written into the lists of its labels and out of the others, a list at a time; it is read anew then. */
  private async putIntoLists(answers: Map<OutsideWrite, OutsideWritten>): Promise<void> {
    const moves = new Map<string, { in: string[]; out: string[] }>();
    const moved = new Map<string, OutsideWrite>();
    for (const [write, answer] of answers) {
      if (!answer.ok || !answer.record || write.kind === 'remove') continue;
      const labels = write.labels ?? (keptIn(write) ? await this.namesOf(keptIn(write)) : null);
      const all = await this.labels.known();
      const now = all.filter(({ name }) => answer.record?.labels.includes(name)).map(({ id }) => id);
      const own = await this.labels.moves(now, labels);
      const isIn = new Set([...now.filter((id) => !own.out.includes(id)), ...own.in]);
      // Whoever is in a strand is in its list.
      own.out = own.out.filter((id) => ![...isIn].some((other) => other.startsWith(`${id}/`)));
      for (const list of [...own.in, ...own.out]) {
        const one = moves.get(list) ?? { in: [], out: [] };
        (own.in.includes(list) ? one.in : one.out).push(answer.record.id);
        moves.set(list, one);
        moved.set(answer.record.id, write);
      }
    }
    if (!moved.size) return;
    try {
      for (const [list, one] of moves)
        for (const { id, text } of await this.lists.move(list, one)) {
          const write = moved.get(id);
          if (write) answers.set(write, { ok: false, why: 'refused', text });
        }
      const now = await this.entries([...moved.keys()]);
      for (const [id, write] of moved) {
        const entry = now.get(id);
        if (answers.get(write)?.ok && entry) answers.set(write, { ok: true, record: await this.recordOf(entry) });
      }
    } catch (error) {
      // They are written, and nobody knows in which lists: reading finds out.
      for (const write of moved.values()) answers.set(write, unsure(error));
    }
  }

  private async namesOf(entry: MailerEntry | null): Promise<string[]> {
    const ids = new Set(entry ? listsOf(entry) : []);
    return (await this.labels.known(ids)).flatMap(({ id, name }) => (ids.has(id) ? [name] : []));
  }

  readonly bulk: BulkWriter = {
    from: LEAST_IN_JOB,
    most: AT_ONCE,
    start: async (writes) => {
      // A job says itself where an address is taken: what is new is not looked for before.
      const others = writes.filter((write) => !isNew(write));
      const { answers, before } = others.length
        ? await this.refusedBefore(others)
        : { answers: new Map<OutsideWrite, OutsideWritten>(), before: new Map<string, MailerEntry>() };
      for (const write of writes) if (isNew(write) && !keyOf(addressOf(write))) answers.set(write, NO_ADDRESS);
      // An order among them is kept by nothing but one after the other.
      const renamed = await this.rename(writes, answers, before);
      await this.putIntoLists(renamed);
      for (const [write, answer] of renamed) answers.set(write, answer);
      const sent = new Map<string, OutsideWrite>();
      const entries: Record<string, unknown>[] = [];
      for (const write of writes) {
        if (answers.has(write)) continue;
        const now = before.get(write.id) ?? null;
        const op = write.kind === 'remove' ? { op: 'remove', address: now?.address ?? write.id } : sentOf(write, now);
        const key = keyOf(String(op.address));
        if (sent.has(key)) {
          answers.set(write, takenBy(key));
          continue;
        }
        sent.set(key, write);
        entries.push(op);
      }
      const known = [...answers].map(([{ id }, written]) => ({ id, written }));
      // An entry that goes away is told whole, for its return.
      for (const write of sent.values())
        if (write.kind === 'remove') this.leaving.set(write, before.get(write.id) ?? null);
      if (!entries.length) return this.keep('', { before: known, sent });
      try {
        const { json } = await this.ask<{ id: string }>('/jobs', 'POST', { entries });
        return this.keep(json.id, { before: known, sent });
      } catch (error) {
        if (error instanceof NoAnswer) return null;
        throw error;
      }
    },
    look: async (id) => {
      const job = this.jobs.get(id);
      if (!job) throw new ToolTrouble('protocol', 'This job was not begun by us.');
      const { state, results } = job.sent.size
        ? await this.client.get<{ state: string; results: JobAnswer[] }>(`/jobs/${encodeURIComponent(id)}`)
        : { state: 'done', results: [] };
      if (state !== 'done') return { done: false, answers: job.before };
      const answers = new Map<OutsideWrite, OutsideWritten>();
      for (const result of results) {
        const write = job.sent.get(keyOf(result.address));
        if (!write || answers.has(write)) continue;
        if (!result.ok) answers.set(write, failed(result));
        else if (write.kind === 'remove') answers.set(write, removed(this.leaving.get(write) ?? null));
        else answers.set(write, { ok: true, record: result.entry ? await this.recordOf(result.entry) : null });
      }
      await this.findOwn(answers);
      await this.putIntoLists(answers);
      this.jobs.delete(id);
      for (const write of job.sent.values()) this.leaving.delete(write);
      return {
        done: true,
        answers: [...job.before, ...[...answers].map(([one, written]) => ({ id: one.id, written }))],
      };
    },
  };
  /** Of what was to be made and was not: an entry that has our name was made before, by a job whose answer was lost. */
  private async findOwn(answers: Map<OutsideWrite, OutsideWritten>): Promise<void> {
    const refused = [...answers].flatMap(([write, { ok }]) => (!ok && isNew(write) ? [write] : []));
    if (!refused.length) return;
    const own = await this.entries(refused.map(({ id }) => id));
    for (const write of refused) {
      const wrong = against(write, own.has(write.id) ? '' : undefined);
      if (wrong) answers.set(write, wrong);
    }
  }
  private readonly leaving = new Map<OutsideWrite, MailerEntry | null>();

  private keep(id: string, job: Job): string {
    this.jobs.set(id, job);
    return id;
  }

  readonly lists: OutsideLists = {
    all: async () => (await this.client.get<{ lists: MailerList[] }>('/lists')).lists.flatMap(listsIn),
    make: async (name) => {
      const part = partName(name);
      const list = await this.client.tell<MailerList>('/lists', 'POST', {
        name: part.strand === null ? name : part.list,
      });
      if (part.strand === null) return listsIn(list)[0] as OutsideList;
      const strand = await this.client.tell<{ id: number }>(`/lists/${list.id}/strands`, 'POST', { name: part.strand });
      return { id: `${list.id}/${strand.id}`, name };
    },
    members: async (id, cursor) => {
      const { list, strand } = placeIn(id);
      const query = new URLSearchParams({ limit: String(PAGE), after: cursor ?? '' });
      if (strand !== null) query.set('strand', String(strand));
      const { answer, json } = await this.client.ask<{ entries: MailerEntry[]; cursor: string; more: boolean }>(
        `/lists/${encodeURIComponent(list)}/members?${query.toString()}`,
      );
      if (answer.status >= 300) throw new ToolTrouble('notFound', 'This list is gone over there.');
      return { entries: json.entries.map(({ address }) => keyOf(address)), cursor: json.cursor, more: json.more };
    },
    move: async (id, moves) => {
      const { list, strand } = placeIn(id);
      const wrong: { id: string; text: string }[] = [];
      for (const [key, ids] of [
        ['add', moves.in],
        ['remove', moves.out],
      ] as const)
        for (let from = 0; from < ids.length; from += AT_ONCE) {
          const some = ids.slice(from, from + AT_ONCE);
          const path = `/lists/${encodeURIComponent(list)}/members`;
          // One that is gone is passed over.
          const { answer } = await this.client.ask(path, 'POST', { [key]: some, strand });
          if (answer.status >= 300) wrong.push(...some.map((one) => ({ id: one, text: 'A list is gone over there.' })));
        }
      return wrong;
    },
  };

  async makeField({ name, type, options }: NewOutsideField): Promise<OutsideField> {
    const made = await this.client.tell<MailerColumn>('/columns', 'POST', { name, type, options });
    if (!this.columnLength) await this.capabilities();
    return madeField(made, this.columnLength);
  }

  private async mailings(): Promise<Map<number, Mailing>> {
    const { mailings } = await this.client.get<{ mailings: Mailing[] }>('/mailings');
    return new Map(mailings.map((mailing) => [mailing.id, mailing]));
  }

  async results(cursor: string | null): Promise<OutsidePage<OutsideResult>> {
    const page = await this.client.page<MailerEvent, 'events'>('/events', 'events', cursor ?? '', PAGE);
    if (!page.entries.length) return { ...page, entries: [] };
    const mailings = await this.mailings();
    const there = new Set((await this.entries([...new Set(page.entries.map(({ address }) => keyOf(address)))])).keys());
    return { ...page, entries: page.entries.map((event) => resultOf(event, mailings, there)) };
  }

  async stops(cursor: string | null): Promise<OutsidePage<OutsideStop>> {
    const page = await this.client.page<MailerEvent, 'events'>('/events', 'events', cursor ?? '', PAGE);
    const lists = new Map((await this.lists.all()).map(({ id, name }) => [Number(id), name]));
    return { ...page, entries: stopsOf(page.entries, await this.mailings(), lists) };
  }
}

const isRename = (write: OutsideWrite): write is Extract<OutsideWrite, { kind: 'update' }> =>
  write.kind === 'update' && write.fields?.email !== undefined && keyOf(addressOf(write)) !== write.id;

/** A record that is to be made, and is none that is put back. */
const isNew = (write: OutsideWrite): write is Extract<OutsideWrite, { kind: 'create' }> =>
  write.kind === 'create' && write.from === undefined;

const NO_ADDRESS: OutsideWritten = { ok: false, why: 'refused', text: 'An entry needs an address.' };
const takenBy = (address: string): OutsideWritten => ({
  ok: false,
  why: 'refused',
  text: `Another entry has the address ${address}.`,
});

const pathOf = (address: string): string => `/entries/${encodeURIComponent(address)}`;

const removed = (entry: MailerEntry | null): OutsideWritten => ({
  ok: true,
  record: null,
  ...(entry ? { kept: JSON.stringify(entry) } : {}),
});

/** Why an entry was not taken: changed by somebody in between, gone, or not what it takes. */
function failed({ error, message }: { error: string; message: string }): OutsideWritten {
  if (error === 'address' && message.includes('no such entry')) return { ok: false, why: 'gone', text: message };
  return { ok: false, why: 'refused', text: message || NOT_TAKEN };
}
