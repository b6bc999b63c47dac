import { showValue } from '@gray-loom/core/fields';
import type { Value } from '@gray-loom/core/model';
import type pg from 'pg';
import type { ContactFilter, ContactListRow, ContactPage, ContactPageRequest } from '@gray-loom/wire';
import { contactConditions, ORDER } from './contact-filter';
import { stopsOf } from '../../use-cases/permissions';
import type { PlaceMarks } from './place-marks';

interface Row {
  id: number;
  display_name: string;
  family: string | null;
  given: string | null;
  email: string;
  tel: string;
  organization: string;
  stage: string;
  source: string;
  owner: string;
  area: string;
  tags: string[];
  completeness: number;
  kind: ContactListRow['lastThread'];
  touched_at: Date;
  extra: (Value[] | null)[];
}

/** Further fields of a row: at most so many columns of them can be looked at side by side. */
const EXTRA_LIMIT = 12;

function showAll(field: string, values: Value[] | null): string {
  return [...(values ?? [])]
    .sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0) || a.slot - b.slot)
    .map((value) => showValue(field, value))
    .join('; ');
}

function familyFirst(row: Row): string {
  return row.family ? [row.family, row.given].filter(Boolean).join(', ') : row.display_name;
}

/** Rows passed over one by one where no place mark is nearer. */
const NEAR = 1000;
/** Where counting all that fit would cost too much, counting ends here. */
const COUNT_LIMIT = 10_000;

/** How many fit a filter: kept counts where there are some, else counted up to a limit. */
async function countOf(pool: pg.Pool, filter: ContactFilter): Promise<{ total: number; totalIsLeast: boolean }> {
  const kept = keptCountOf(filter);
  if (kept) {
    const { rows } = await pool.query<{ n: number }>(
      'select coalesce(sum(n), 0)::int as n from tally where kind = $1 and label = $2',
      kept,
    );
    return { total: rows[0]?.n ?? 0, totalIsLeast: false };
  }
  const { where, values } = contactConditions(filter);
  const { rows } = await pool.query<{ n: number }>(
    `select count(*)::int as n from (select 1 from contact c where ${where} limit ${COUNT_LIMIT + 1}) fits`,
    values,
  );
  const n = rows[0]?.n ?? 0;
  return { total: n, totalIsLeast: n > COUNT_LIMIT };
}

/** The kept count that answers a filter, where one does: everybody of a kind, or one condition on people when there are no organizations with it. */
function keptCountOf(filter: ContactFilter): [string, string] | null {
  const { find, deleted, run, tag, stage, source, area, owner, kind } = filter;
  return find || deleted || run || tag || stage || source || area || owner ? null : ['live', kind ?? 'person'];
}

/** Beyond so many that fit, walking the list until a page is full costs less than sorting all that fit. */
const FIND_LIMIT = 4000;

/**
 * The ids of a page near the beginning of what is found, and how many fit. Few are fetched by the index of the search and
 * sorted, counted in passing; of many, the list is walked in its order.
 */
async function findFirst(
  pool: pg.Pool,
  request: ContactPageRequest,
): Promise<{ ids: number[]; total: number; totalIsLeast: boolean }> {
  const { column, direction } = ORDER[request.sort];
  const few = contactConditions(request);
  const fits = await pool.query<{ id: number; n: number }>(
    `with fits as materialized (select c.id, ${column} as position from contact c where ${few.where} limit ${FIND_LIMIT + 1})
     select id, (select count(*)::int from fits) as n from fits order by position ${direction}, id ${direction} limit ${request.limit} offset ${request.at}`,
    few.values,
  );
  const n = fits.rows[0]?.n ?? 0;
  if (n <= FIND_LIMIT && (n > 0 || request.at === 0))
    return { ids: fits.rows.map((row) => row.id), total: n, totalIsLeast: false };
  if (n === 0) return { ids: [], ...(await countOf(pool, request)) };
  const many = contactConditions(request, { walking: true });
  const walked = await pool.query<{ id: number }>(
    `select c.id from contact c where ${many.where} order by ${column} ${direction}, c.id ${direction} limit ${request.limit} offset ${request.at}`,
    many.values,
  );
  return { ids: walked.rows.map((row) => row.id), total: FIND_LIMIT, totalIsLeast: true };
}

/** One page of contacts from any place in the list: the nearest place mark leads there, so depth costs next to nothing. */
export async function contactPage(pool: pg.Pool, marks: PlaceMarks, request: ContactPageRequest): Promise<ContactPage> {
  const { where, values } = contactConditions(request);
  const order = ORDER[request.sort];
  const near = request.at < NEAR ? null : await marks.before(pool, request, request.at);
  const found = request.find && !near && request.sort !== 'touched' ? await findFirst(pool, request) : null;
  const pageValues: unknown[] = found ? [] : [...values];
  const add = (value: unknown) => `$${pageValues.push(value)}`;
  const compare = order.direction === 'asc' ? '>=' : '<=';
  const keyset = near
    ? ` and (${order.column}, c.id) ${compare} (${add(near.position)}::${order.cast}, ${add(near.id)})`
    : '';
  const extra = request.fields.split(',').filter(Boolean).slice(0, EXTRA_LIMIT);
  const extraColumns = extra.map((field) => `c.record->'f'->${add(field)}::text`).join(', ');
  const skip = request.at - (near?.place ?? 0);
  const source = found
    ? `(select unnest(${add(found.ids)}::bigint[]) as id)`
    : `(select c.id from contact c where ${where}${keyset}
        order by ${order.column} ${order.direction}, c.id ${order.direction} limit ${add(request.limit)} offset ${add(skip)})`;
  const [page, count] = await Promise.all([
    pool.query<Row>(
      `select c.id, c.display_name, c.record->'f'->'familyName'->0->>'v' as family, c.record->'f'->'givenName'->0->>'v' as given,
         c.email, c.tel, c.organization, c.stage, c.source, c.owner, c.area, c.tags, c.completeness, t.kind, c.touched_at, json_build_array(${extraColumns}) as extra
       from ${source} found
         join contact c on c.id = found.id join run r on r.id = c.last_run join thread t on t.id = r.thread_id
       order by ${order.column} ${order.direction}, c.id ${order.direction}`,
      pageValues,
    ),
    found ?? countOf(pool, request),
  ]);
  const stops = await stopsOf({ pool }, page.rows);
  const end = request.at + page.rows.length;
  const whole = page.rows.length === request.limit;
  return {
    at: request.at,
    rows: page.rows.map((row) => ({
      id: row.id,
      name: familyFirst(row),
      givenFirst: row.display_name,
      email: row.email,
      tel: row.tel,
      organization: row.organization,
      stage: row.stage,
      source: row.source,
      owner: row.owner,
      area: row.area,
      tags: row.tags,
      completeness: row.completeness,
      stops: stops.get(row.id) ?? [],
      extra: Object.fromEntries(extra.map((field, i) => [field, showAll(field, row.extra[i] ?? null)])),
      lastThread: row.kind,
      touchedAt: row.touched_at.toISOString(),
    })),
    total: whole ? Math.max(count.total, end) : count.totalIsLeast ? end : count.total,
    totalIsLeast: count.totalIsLeast && whole,
  };
}
