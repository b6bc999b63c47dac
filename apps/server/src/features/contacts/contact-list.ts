import { showValue } from '@gray-loom/core/fields';
import type { Value } from '@gray-loom/core/model';
import { findsNearly, fragmentsWithRoom, matchOf } from '@gray-loom/core/segments';
import { loadCatalogue } from '../../book/picks';
import { touchesOf } from '../../book/statements/touch';
import { touchSettings } from '../../book/touch-settings';
import { seesPart } from '../../db/actor';
import type { Database } from '../../db/connect';
import type { ContactListRow, ContactPage, ContactPageRequest, PermissionChannel } from '@gray-loom/wire';
import { BY_FAMILY, orderOf } from './contact-order';
import { stopsOf } from './permissions';
import { recordsByIds } from './statements/filtered-contacts';
import {
  countOf,
  extraOf,
  FIND_LIMIT,
  likelyTexts,
  namedSource,
  NEAR,
  rowsOf,
  sortedSource,
  textsToLookAt,
  walkedSource,
  type Count,
  type ReadyPage,
  type Row,
} from './statements/contact-list';
import type { PlaceMarks } from './place-marks';
import { OF_TOUCH, readyFilter, today } from './ready-filter';

const MAY_BE_STOPPED_AT = 14;
/** Rows passed over one by one within a remit, where each stands for many of others. */
const NEAR_WITHIN = 100;

function showAll(field: string, values: Value[] | null): string {
  return [...(values ?? [])]
    .sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0) || a.slot - b.slot)
    .map((value) => showValue(field, value))
    .join('; ');
}

function toListRow(
  row: Row,
  extra: readonly string[],
  stops: ReadonlyMap<number, PermissionChannel[]>,
): ContactListRow {
  const [id, name, givenFirst, email, tel, organization, stage, source, owner, area, tags, completeness, ...more] = row;
  const [lastThread, touchedAt, , photo, extraValues] = more;
  return {
    id,
    name,
    givenFirst,
    email,
    tel,
    organization,
    stage,
    source,
    owner,
    area,
    tags,
    completeness,
    stops: stops.get(id) ?? [],
    photo: photo ?? '',
    match: '',
    extra: Object.fromEntries(extra.map((field, i) => [field, showAll(field, extraValues?.[i] ?? null)])),
    lastThread,
    touchedAt: new Date(touchedAt).toISOString(),
  };
}

/** Says by what each was found, where that is not the name. */
async function withMatches(
  { pool, db }: Pick<Database, 'pool' | 'db'>,
  find: string,
  rows: ContactListRow[],
): Promise<ContactListRow[]> {
  if (!find || !rows.length) return rows;
  const records = new Map(
    (
      await recordsByIds(
        pool,
        rows.map(({ id }) => id),
      )
    ).map((one) => [one.id, one.record]),
  );
  const catalogue = await loadCatalogue(db);
  return rows.map((row) => {
    const record = records.get(row.id);
    const match = record && matchOf(find, record);
    return match ? { ...row, match: `${catalogue.nameOf(match.field)}: ${match.text}` } : row;
  });
}

/** Puts beside them how they stand with keeping in touch, where that is asked for. */
async function withTouches(
  { pool }: Pick<Database, 'pool'>,
  { fields }: Pick<ContactPageRequest, 'fields'>,
  rows: ContactListRow[],
): Promise<ContactListRow[]> {
  if (!rows.length || !fields.split(',').some((field) => OF_TOUCH.has(field))) return rows;
  const ids = rows.map(({ id }) => id);
  const found = await touchesOf(pool, ids, await touchSettings(pool), today());
  const byId = new Map(found.rows.map((row) => [row.id, row]));
  return rows.map((row) => {
    const { day, who, overdue } = byId.get(row.id) ?? {};
    const extra = {
      ...row.extra,
      '@touch': day ? showValue('', { v: day }) : '',
      '@touchBy': who ?? '',
      '@overdue': typeof overdue === 'number' && overdue >= 0 ? String(overdue) : '',
    };
    return { ...row, extra };
  });
}

/** People looked at for one slip, the likest first. */
const LIKE_LOOKED_AT = 400;

/** Where nobody is called just that: whoever is one slip away from it, the likest first. Null where there is no room for a slip. */
async function nearlyFound(
  database: Pick<Database, 'pool' | 'actor' | 'db'>,
  request: ReadyPage,
): Promise<ContactPage | null> {
  const words = fragmentsWithRoom(request.find);
  if (!words.length || request.deleted) return null;
  const { pool } = database;
  const likely = await likelyTexts(pool, request, words, LIKE_LOOKED_AT);
  const ids = likely.filter(({ text }) => findsNearly(request.find, text)).map(({ id }) => id);
  if (!ids.length) return null;
  const shown = ids.slice(0, request.limit);
  const page = await rowsOf(pool, request, namedSource(shown));
  const stops = await stopsOf(
    { pool },
    page.rows.filter((row) => row[MAY_BE_STOPPED_AT]).map(([id, , , email, tel]) => ({ id, email, tel })),
  );
  const byId = new Map(page.rows.map((row) => [row[0], toListRow(row, extraOf(request), stops)]));
  return {
    at: 0,
    rows: await withTouches(
      database,
      request,
      shown.flatMap((id) => byId.get(id) ?? []),
    ),
    total: ids.length,
    totalIsLeast: false,
    isNear: true,
  };
}

/** One page of contacts from any place in the list: the nearest place mark leads there, so depth costs next to nothing. */
export async function contactPage(
  database: Pick<Database, 'pool' | 'actor' | 'db'>,
  marks: PlaceMarks,
  asked: ContactPageRequest,
): Promise<ContactPage> {
  const { pool } = database;
  const filter = await readyFilter(pool, asked);
  const order = await orderOf(asked.sort, asked.find, database);
  const request = { ...asked, ...filter, order };
  const near =
    request.at < (seesPart(database.actor) ? NEAR_WITHIN : NEAR)
      ? null
      : await marks.before(database, request, request.at);
  const sought = request.find !== '' && !near && !request.sort.startsWith('touched');
  const texts = await textsToLookAt(pool, request);
  let page = sought ? await rowsOf(pool, request, sortedSource(request, texts)) : null;
  let count: Count | null = page ? { total: page.total ?? 0, totalIsLeast: false } : null;
  if (count && count.total > FIND_LIMIT) count = { total: FIND_LIMIT, totalIsLeast: true };
  if (!page || count?.totalIsLeast) {
    // Of so many that fit all fit alike.
    if (request.sort === 'best') request.order = BY_FAMILY;
    const source = walkedSource(request, near, texts);
    const [walked, counted] = await Promise.all([
      rowsOf(pool, request, source),
      count ?? (source.total ? null : countOf(pool, request, texts)),
    ]);
    page = walked;
    count = counted ?? { total: page.total ?? 0, totalIsLeast: false };
  }
  count ??= await countOf(pool, request, texts);
  if (count.total === 0 && request.at === 0) {
    const nearly = await nearlyFound(database, request);
    if (nearly) return nearly;
  }
  const { rows } = page;
  const stops = await stopsOf(
    { pool },
    rows.filter((row) => row[MAY_BE_STOPPED_AT]).map(([id, , , email, tel]) => ({ id, email, tel })),
  );
  const extra = extraOf(request);
  const end = request.at + rows.length;
  const whole = rows.length === request.limit;
  return {
    at: request.at,
    rows: await withMatches(
      database,
      request.find,
      await withTouches(
        database,
        request,
        rows.map((row) => toListRow(row, extra, stops)),
      ),
    ),
    total: whole ? Math.max(count.total, end) : count.totalIsLeast ? end : count.total,
    totalIsLeast: count.totalIsLeast && whole,
    isNear: false,
  };
}
