import { cardOf, COMMON_KEY, type Hit, type IdentityKey } from '@gray-loom/core/mapping';
import { factsOf, preparePerson, type MatchPerson } from '@gray-loom/core/matching';
import type { ContactRecord } from '@gray-loom/core/model';
import type pg from 'pg';
import { selectRecords } from '../db/record-codec';

/** People looked at for one key; the plan of the query is fixed to index look-ups, whatever the statistics say. */
const HITS_PER_KEY = 50;
/** How often it is asked whether somebody else writes. */
const ASK_AGAIN_MS = 200;
/** Keys of some fifty thousand people; more are not worth loading. */
const SMALL_BOOK_KEYS = 300_000;

/** What of a row somebody who is here can be found by. */
export interface Sought {
  keys: readonly IdentityKey[];
  unique: readonly { hash: number }[];
  /** Key of an organization's name; null for a person. */
  organization: number | null;
}

/** Who was found. */
export interface Found {
  hits: Map<string, Hit<number>[]>;
  /** People by the keys of unique values, by number of the key. */
  holders: Map<number, { id: number; record: ContactRecord }[]>;
  /** Organizations by the key of their name. */
  organizations: Map<number, number>;
}

const NOTHING_FOUND: Found = { hits: new Map(), holders: new Map(), organizations: new Map() };

/** The contacts that were here before an import, as its rows look for them. */
export class KnownContacts {
  private askedMs = 0;
  private known: { keys: Set<number>; lastRun: number } | 'none' | null = null;
  private readonly pool: pg.Pool;
  private readonly runId: number;

  /** `runId` is the run that writes, whose own new people are found by folding and not by looking them up. */
  constructor(pool: pg.Pool, runId: number) {
    this.pool = pool;
    this.runId = runId;
  }

  /**
   * All look-up keys of a small book, so that rows of strangers need not be looked up (a tenth of a large import's cost).
   * Only while nobody else writes: as soon as another run has begun, every key is looked up again. Null when not to be used.
   */
  private async knownKeys(): Promise<ReadonlySet<number> | null> {
    if (this.known === 'none') return null;
    // Rows are planned well ahead of being written; asking oftener than that would find nobody sooner.
    if (this.known && performance.now() - this.askedMs < ASK_AGAIN_MS) return this.known.keys;
    this.askedMs = performance.now();
    const { rows } = await this.pool.query<{ last: number; busy: boolean }>(
      `select coalesce(max(id), 0)::int as last, coalesce(bool_or(state in ('queued', 'running')), false) as busy
       from run where id <> $1 and kind not in ('scan', 'trial')`,
      [this.runId],
    );
    const { last = 0, busy = true } = rows[0] ?? {};
    if (this.known === null) {
      const keys = busy
        ? []
        : (await this.pool.query<{ key: number }>(`select key from contact_key limit ${SMALL_BOOK_KEYS + 1}`)).rows;
      this.known =
        busy || keys.length > SMALL_BOOK_KEYS ? 'none' : { keys: new Set(keys.map(({ key }) => key)), lastRun: last };
    }
    if (this.known === 'none' || busy || last !== this.known.lastRun) {
      this.known = 'none';
      return null;
    }
    return this.known.keys;
  }

  /** Who of the book has the keys of these rows, in one question for all of them. */
  async lookUp(pending: readonly Sought[]): Promise<Found> {
    const organizations = await this.findOrganizations(pending);
    const known = await this.knownKeys();
    const numbers = new Map<string, IdentityKey>();
    const unique = new Set<number>();
    for (const one of pending) {
      for (const key of one.keys) if (!known || known.has(key.hash)) numbers.set(String(key.hash), key);
      for (const { hash } of one.unique) if (!known || known.has(hash)) unique.add(hash);
    }
    const asked = [...new Set([...numbers.keys(), ...[...unique].map(String)])];
    // A number that many share is no mark of anybody, so that nobody need be fetched for it.
    const lines = asked.map((key) => numbers.get(key)?.by === 'tel' && !unique.has(Number(key)));
    if (asked.length === 0) return { ...NOTHING_FOUND, organizations };
    const rows = await selectRecords<{ key: string; id: number; record: ContactRecord }>(
      this.pool,
      `select k.key::text as key, c.id, c.record
       from unnest($1::bigint[], $3::boolean[]) as w(key, is_line)
       cross join lateral (
         select contact_id, key, count(*) over () as sharing
         from (select contact_id, key from contact_key where contact_key.key = w.key limit ${HITS_PER_KEY}) having_it
         where (select state = 'live' and kind = 'person' and created_run <> $2 from contact where id = contact_id)) k
       cross join lateral (select id, record from contact where id = k.contact_id offset 0) c
       where not (w.is_line and k.sharing > ${COMMON_KEY})`,
      [`{${asked.join(',')}}`, this.runId, lines],
    );
    const hits = new Map<string, Hit<number>[]>();
    const holders: Found['holders'] = new Map();
    const people = new Map<number, MatchPerson>();
    for (const { key, id, record } of rows) {
      const hash = Number(key);
      if (unique.has(hash)) holders.set(hash, [...(holders.get(hash) ?? []), { id, record }]);
      const identity = numbers.get(key);
      if (!identity) continue;
      const person = people.get(id) ?? preparePerson(factsOf(record));
      people.set(id, person);
      const list = hits.get(identity.key) ?? [];
      list.push({ id, card: cardOf(person), person, by: identity.by, shown: identity.shown });
      hits.set(identity.key, list);
    }
    return { hits, holders, organizations };
  }

  /** Organizations that are here already, by the key of their name. */
  private async findOrganizations(pending: readonly Sought[]): Promise<Found['organizations']> {
    const keys = new Set(pending.flatMap(({ organization }) => (organization === null ? [] : [organization])));
    if (keys.size === 0) return NOTHING_FOUND.organizations;
    const { rows } = await this.pool.query<{ key: string; id: number }>(
      `select k.key::text as key, min(c.id) as id from contact_key k join contact c on c.id = k.contact_id
       where k.key = any($1::bigint[]) and c.state = 'live' and c.kind = 'organization' and c.created_run <> $2 group by k.key`,
      [[...keys].map(String), this.runId],
    );
    return new Map(rows.map(({ key, id }) => [Number(key), Number(id)]));
  }
}
