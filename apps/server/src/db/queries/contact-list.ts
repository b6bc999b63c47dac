import type pg from 'pg';
import { foldText } from '@gray-loom/core/fields';
import { keyHash } from '@gray-loom/core/matching';
import type { ContactFilter, ContactListRow, ContactPage, ContactPageRequest, ContactSort } from '@gray-loom/wire';
import { tagKey } from '../../use-cases/contact-rows';

interface Conditions {
  where: string;
  values: unknown[];
}

/** The words of what was typed, as fragments that search text may hold; digits of a phone are run together. */
export function findFragments(find: string): string[] {
  const plain = find.trim();
  if (/^[+\d\s().-]+$/.test(plain) && plain.replace(/\D/g, '').length >= 3)
    return [plain.replace(/^\+|^00|^0/, '').replace(/\D/g, '')];
  if (plain.includes('@')) return [plain.toLowerCase()];
  return plain
    .split(/\s+/)
    .map((word) => (/[._-]/.test(word) ? word.toLowerCase() : foldText(word)))
    .filter(Boolean);
}

function escapeLike(text: string): string {
  return text.replace(/[\\%_]/g, (c) => `\\${c}`);
}

/** Turns a filter into conditions; list, count and export all go through here. */
export function contactConditions(filter: ContactFilter): Conditions {
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const where = [filter.deleted ? `c.state = 'deleted'` : `c.state = 'live'`];
  for (const fragment of findFragments(filter.find)) {
    where.push(
      `exists (select 1 from contact_search s where s.contact_id = c.id and s.text like ${add(`%${escapeLike(fragment)}%`)})`,
    );
  }
  if (filter.tag)
    where.push(`c.id in (select contact_id from contact_key where key = ${add(String(keyHash(tagKey(filter.tag))))})`);
  if (filter.stage) where.push(`c.stage = ${add(filter.stage)}`);
  if (filter.source) where.push(`c.source = ${add(filter.source)}`);
  if (filter.run) where.push(`c.id in (select contact_id from operation where run_id = ${add(filter.run)})`);
  return { where: where.join(' and '), values };
}

const ORDER: Record<ContactSort, { column: string; direction: 'asc' | 'desc'; cast: string }> = {
  family: { column: 'c.sort_family', direction: 'asc', cast: 'text' },
  given: { column: 'c.sort_given', direction: 'asc', cast: 'text' },
  touched: { column: 'c.touched_at', direction: 'desc', cast: 'timestamptz' },
};

interface Row {
  id: number;
  display_name: string;
  family: string | null;
  given: string | null;
  email: string;
  tel: string;
  organization: string;
  stage: string;
  tags: string[];
  kind: ContactListRow['lastThread'];
  touched_at: Date;
  position: string;
}

function familyFirst(row: Row): string {
  return row.family ? [row.family, row.given].filter(Boolean).join(', ') : row.display_name;
}

/** One page of contacts by keyset: the cursor is the sort value and id of the last row, so depth costs nothing. */
export async function contactPage(pool: pg.Pool, request: ContactPageRequest): Promise<ContactPage> {
  const { where, values } = contactConditions(request);
  const order = ORDER[request.sort];
  const pageValues = [...values];
  const add = (value: unknown) => `$${pageValues.push(value)}`;
  let keyset = '';
  if (request.after) {
    const [position, id] = JSON.parse(Buffer.from(request.after, 'base64url').toString('utf8')) as [string, number];
    const compare = order.direction === 'asc' ? '>' : '<';
    keyset = ` and (${order.column}, c.id) ${compare} (${add(position)}::${order.cast}, ${add(id)})`;
  } else if (request.from && request.sort !== 'touched') {
    keyset = ` and ${order.column} >= ${add(request.from.toLowerCase())}`;
  }
  const page = await pool.query<Row>(
    `select c.id, c.display_name, c.record->'f'->'familyName'->0->>'v' as family, c.record->'f'->'givenName'->0->>'v' as given,
       c.email, c.tel, c.organization, c.stage, c.tags, t.kind, c.touched_at, ${order.column}::text as position
     from contact c join run r on r.id = c.last_run join thread t on t.id = r.thread_id
     where ${where}${keyset} order by ${order.column} ${order.direction}, c.id ${order.direction} limit ${add(request.limit + 1)}`,
    pageValues,
  );
  const total = await pool.query<{ n: number }>(`select count(*)::int as n from contact c where ${where}`, values);
  const shown = page.rows.slice(0, request.limit);
  const last = shown[shown.length - 1];
  return {
    rows: shown.map((row) => ({
      id: row.id,
      name: familyFirst(row),
      givenFirst: row.display_name,
      email: row.email,
      tel: row.tel,
      organization: row.organization,
      stage: row.stage,
      tags: row.tags,
      lastThread: row.kind,
      touchedAt: row.touched_at.toISOString(),
    })),
    next:
      page.rows.length > request.limit && last
        ? Buffer.from(JSON.stringify([last.position, last.id])).toString('base64url')
        : null,
    total: total.rows[0]?.n ?? 0,
  };
}
