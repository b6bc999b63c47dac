import type { Value } from '@gray-loom/core/model';
import { createHash } from 'node:crypto';
import type pg from 'pg';
import type { ContactListRow, ContactPageRequest } from '@gray-loom/wire';
import type { Queryable } from '../../../db/connect';
import { contactConditions, countConditions, keptCountOf } from '../contact-filter';
import type { Order } from '../contact-order';
import { MAY_BE_STOPPED } from '../permissions';
import type { PlaceMark } from '../place-marks';
import { asksNothing, type ReadyFilter } from '../ready-filter';

/** Columns of a row in the order in which `rowsOf` reads them. */
const COLUMNS = [
  'c.id',
  'c.list_name',
  'c.display_name',
  'c.email',
  'c.tel',
  'c.organization',
  'c.stage',
  'c.source',
  'c.owner',
  'c.area',
  'c.tags',
  'c.completeness',
  't.kind',
  'c.touched_at',
  MAY_BE_STOPPED,
  `c.record->'f'->'photo'->0->>'v'`,
];

export type Row = [
  id: number,
  listName: string,
  displayName: string,
  email: string,
  tel: string,
  organization: string,
  stage: string,
  source: string,
  owner: string,
  area: string,
  tags: string[],
  completeness: number,
  kind: ContactListRow['lastThread'],
  touchedAt: string,
  mayBeStopped: boolean,
  photo: string | null,
  /** Values of further fields, in the order they were asked for. */
  extra: (Value[] | null)[] | null,
];

export interface Count {
  total: number;
  totalIsLeast: boolean;
}

/** Rows passed over one by one where no place mark is nearer. */
export const NEAR = 1000;
/** Where counting all that fit would cost too much, counting ends here. */
const COUNT_LIMIT = 10_000;

type Texts = 'both' | 'placed';

/** A page that was asked for, with its filter made ready. */
export type ReadyPage = Omit<ContactPageRequest, 'where'> & ReadyFilter & { order: Order };

/** The search texts to look at: those that wait only where there are some, which is seldom. */
export async function textsToLookAt(pool: pg.Pool, { find }: Pick<ReadyFilter, 'find'>): Promise<Texts> {
  if (!find) return 'placed';
  const { rows } = await pool.query<{ waiting: boolean }>({
    name: 'texts-waiting',
    text: 'select exists (select 1 from contact_search_fresh) as waiting',
  });
  return rows[0]?.waiting ? 'both' : 'placed';
}

/** How many fit a filter: kept counts where there are some, else counted up to a limit. */
export async function countOf(pool: pg.Pool, filter: ReadyFilter, texts: Texts): Promise<Count> {
  const kept = keptCountOf(filter);
  if (kept) {
    const { rows } = await pool.query<{ n: number }>(
      'select coalesce(sum(n), 0)::int as n from tally where kind = $1 and label = $2 and who = $3',
      kept,
    );
    return { total: rows[0]?.n ?? 0, totalIsLeast: false };
  }
  if (!filter.find && !asksNothing(filter)) return { total: await countAll(pool, filter), totalIsLeast: false };
  const { where, values } = contactConditions(filter, { texts });
  const { rows } = await pool.query<{ n: number }>(
    `select count(*)::int as n from (select 1 from contact c where ${where} limit ${COUNT_LIMIT + 1}) fits`,
    values,
  );
  const n = rows[0]?.n ?? 0;
  return { total: n, totalIsLeast: n > COUNT_LIMIT };
}

/** How many meet a condition, exactly: one look over the narrow table, or by an index where a part of it has one. */
export async function countAll(pool: Queryable, filter: ReadyFilter): Promise<number> {
  const values: unknown[] = [];
  const { sql, from, who } = countConditions(filter, (value) => `$${values.push(value)}`);
  const { rows } = await pool.query<{ n: number }>(
    `select count(*)::int as n from ${from} where ${who} and (${sql})`,
    values,
  );
  return rows[0]?.n ?? 0;
}

/** Beyond so many that fit, walking the list until a page is full costs less than sorting all that fit. */
export const FIND_LIMIT = 4000;

interface Source {
  /** Statement parts before the select, and what it selects the ids of the page from. */
  ctes: string;
  from: string;
  /** How many fit, as SQL; null where it is counted apart. */
  total: string | null;
  values: unknown[];
}

/** Few that are found are fetched by the index of the search, sorted, and counted in passing. */
export function sortedSource(request: ReadyPage, texts: Texts): Source {
  const { column, direction } = request.order;
  const { where, values } = contactConditions(request, { texts: 'placed' });
  const fitting = (conditions: string) => `select c.id, ${column} as position from contact c where ${conditions}`;
  // Of those that wait there are few; looked at apart, they leave the others to the index.
  const waiting =
    texts === 'both' ? ` union all ${fitting(contactConditions(request, { texts: 'waiting' }).where)}` : '';
  return {
    ctes: `with fits as materialized (${fitting(where)}${waiting} limit ${FIND_LIMIT + 1}) `,
    from: `(select id from fits order by position ${direction}, id ${direction} limit ${request.limit} offset ${request.at})`,
    total: '(select count(*)::int from fits)',
    values,
  };
}

/** Of many that are found, and where nothing is sought, the list is walked in its order from the nearest place mark. */
export function walkedSource(request: ReadyPage, near: PlaceMark | null, texts: Texts): Source {
  const { column, direction, cast } = request.order;
  const { where, values } = contactConditions(request, { walking: !near && request.at < NEAR, texts });
  const add = (value: unknown) => `$${values.push(value)}`;
  const compare = direction === 'asc' ? '>=' : '<=';
  const keyset = near
    ? ` and (${column}, c.id) ${compare} (${add(near.position)}::${cast}, ${add(near.id)}::bigint)`
    : '';
  const kept = keptCountOf(request);
  return {
    ctes: '',
    from: `(select c.id from contact c where ${where}${keyset}
        order by ${column} ${direction}, c.id ${direction} limit ${request.limit} offset ${add(request.at - (near?.place ?? 0))}::bigint)`,
    total: kept
      ? `(select coalesce(sum(n), 0)::int from tally where kind = ${add(kept[0])} and label = ${add(kept[1])} and who = ${add(kept[2])})`
      : null,
    values,
  };
}

/**
 * The rows of a page and how many fit, in one statement that the database keeps planned. The rows come as one JSON text: for
 * sixty rows that takes a third of the time of reading them column by column.
 */
export async function rowsOf(
  pool: pg.Pool,
  request: ReadyPage,
  source: Source,
): Promise<{ rows: Row[]; total: number | null }> {
  const { column, direction } = request.order;
  const values = [...source.values];
  const further = extraOf(request);
  // As one list, since a function takes a hundred arguments at most.
  const extra = further.length
    ? `(select json_agg(c.record->'f'->key order by place) from unnest($${values.push(further)}::text[]) with ordinality asked(key, place))`
    : 'null';
  const order = `${column} ${direction}, c.id ${direction}`;
  const text = `${source.ctes}select ${source.total ?? 'null'} as total, (
      select json_agg(json_build_array(${[...COLUMNS, extra].join(', ')}) order by ${order})
      from ${source.from} found
        join public.contact c on c.id = found.id join public.run r on r.id = c.last_run join thread t on t.id = r.thread_id
    ) as rows`;
  const { rows } = await pool.query<{ rows: Row[] | null; total: number | null }>({
    // What is sought stands in the order by fit, so that statement is another one every time.
    ...(request.sort === 'best' ? {} : { name: createHash('md5').update(text).digest('hex') }),
    text,
    values,
  });
  return { rows: rows[0]?.rows ?? [], total: rows[0]?.total ?? null };
}

/** Fields of the record that a list shows beside its columns. */
export function extraOf(request: Pick<ContactPageRequest, 'fields'>): string[] {
  return request.fields.split(',').filter((field) => field !== '' && !field.startsWith('@'));
}

/** A page of contacts that are named. */
export const namedSource = (ids: readonly number[]): Source => ({
  ctes: '',
  from: '(select unnest($1::bigint[]) as id)',
  total: null,
  values: [ids],
});

/** How like a text has to be to be looked at: one slip in the middle of a short word leaves a third of its threes, in a longer one more. */
const likenessOf = (words: readonly string[]): number =>
  Math.min(...words.map(({ length }) => (length <= 6 ? 0.3 : length <= 8 ? 0.42 : 0.5)));

/** A word with two neighbours swapped, at each place: of all slips that one leaves fewest threes. */
const swapped = (word: string): string[] =>
  Array.from({ length: word.length - 1 }, (_, i) => word.slice(0, i) + word[i + 1] + word[i] + word.slice(i + 2));

/** Texts that are like some words, the likest first; of those that meet a filter. */
export async function likelyTexts(
  pool: pg.Pool,
  request: ReadyPage,
  words: readonly string[],
  limit: number,
): Promise<{ id: number; text: string }[]> {
  const { where, values } = contactConditions({ ...request, find: '' });
  const add = (value: unknown) => `$${values.push(value)}`;
  const asked = words.map((word) => ({
    word: add(word),
    swaps: swapped(word).map((one) => `s.text like ${add(`%${one}%`)}`),
  }));
  // Each way a condition of its own, so that the index is asked for each.
  const like = asked.map(({ word, swaps }) => `(${[`${word}::text <% s.text`, ...swaps].join(' or ')})`).join(' and ');
  const likeness = asked.map(({ word }) => `word_similarity(${word}::text, s.text)`).join(' + ');
  const of = (table: string) => `select s.contact_id, s.text, ${likeness} as likeness from ${table} s where ${like}`;
  const client = await pool.connect();
  try {
    await client.query('begin read only');
    await client.query(`select set_config('pg_trgm.word_similarity_threshold', $1, true)`, [String(likenessOf(words))]);
    const { rows } = await client.query<{ id: number; text: string }>(
      // Texts are looked at once: joined the other way round they would be looked at once for each contact.
      `with t as materialized (${of('contact_search')} union all ${of('contact_search_fresh')})
       select c.id, t.text from t join contact c on c.id = t.contact_id where ${where} order by t.likeness desc, c.id limit ${limit}`,
      values,
    );
    await client.query('commit');
    return rows;
  } catch (error) {
    await client.query('rollback');
    throw error;
  } finally {
    client.release();
  }
}
