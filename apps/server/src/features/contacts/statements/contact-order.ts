import type { TouchSettings } from '@gray-loom/core/activity';
import type { FieldType } from '@gray-loom/core/fields';
import { OF_C, touchSql } from '../../../book/statements/touch';

type Direction = 'asc' | 'desc';

const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`;
const escapeLike = (text: string): string => text.replace(/[\\%_]/g, (c) => `\\${c}`);

/** Text with what is empty last: behind every letter where the order rises, before all where it falls. */
const texts = (sql: string, direction: Direction) =>
  `coalesce(nullif(${sql}, ''), ${direction === 'asc' ? `U&'\\+10FFFD'` : `''`}) collate "C"`;
const numbers = (sql: string, direction: Direction) => `coalesce(${sql}, ${direction === 'asc' ? '1e308' : '-1e308'})`;

const TEXT_COLUMNS = new Map(
  Object.entries({
    email: 'lower(c.email)',
    tel: 'c.tel',
    organization: 'lower(c.organization)',
    stage: 'lower(c.stage)',
    source: 'lower(c.source)',
    owner: 'lower(c.owner)',
    area: 'lower(c.area)',
    tags: `lower(array_to_string(c.tags, ', '))`,
  }),
);

/** The order by a column of contact; null where the key is none. */
export function columnOf(key: string, direction: Direction): { column: string; cast: string } | null {
  const text = TEXT_COLUMNS.get(key);
  if (text) return { column: texts(text, direction), cast: 'text' };
  if (key === 'completeness') return { column: 'c.completeness', cast: 'int' };
  return key === '@created' ? { column: 'c.created_at', cast: 'timestamptz' } : null;
}

const NUMBERS: Partial<Record<FieldType, string>> = { number: '#', money: '#', yesNo: '#', range: '<' };

/** The order by any field, by what conditions look at. */
export function fieldPosition(key: string, type: FieldType, direction: Direction): { column: string; cast: string } {
  const of = (sql: string) => `(select ${sql} from public.contact_facts f where f.contact_id = c.id)`;
  const end = NUMBERS[type];
  if (end) return { column: numbers(of(`(f.facts->${quoted(key + end)})::float8`), direction), cast: 'float8' };
  const text = key === 'adr' ? `f.facts->>'adr.locality'` : `f.facts->>${quoted(key)}`;
  // Labels, which stand before the values, say nothing of an order.
  return { column: texts(of(`regexp_replace(${text}, '^\\^[^|^]*\\|', '')`), direction), cast: 'text' };
}

/** The order by how somebody stands with keeping in touch. */
export function touchPosition(
  key: string,
  settings: TouchSettings,
  today: string,
  direction: Direction,
): { column: string; cast: string } {
  const { at, who, overdue } = touchSql(OF_C, settings, today);
  if (key === '@overdue') return { column: numbers(`(${overdue})::float8`, direction), cast: 'float8' };
  const text =
    key === '@touch'
      ? `to_char(${at}, 'YYYY-MM-DD HH24:MI:SS')`
      : `(select lower(n.name) from public.account n where n.id = ${who})`;
  return { column: texts(text, direction), cast: 'text' };
}

/** How well somebody fits what is sought: a whole name, its beginning, the beginnings of its words, a part of it, a mailbox, the rest. */
export function bestPosition(fragments: readonly string[]): string {
  const whole = fragments.join(' ');
  const like = (sql: string, pattern: string) => `${sql} like ${quoted(pattern)}`;
  const all = (sql: string, before: string) =>
    fragments.map((one) => like(sql, `%${before}${escapeLike(one)}%`)).join(' and ');
  return `case when c.sort_family = ${quoted(whole)} or c.sort_given = ${quoted(whole)} then '0'
    when ${like('c.sort_family', `${escapeLike(whole)}%`)} or ${like('c.sort_given', `${escapeLike(whole)}%`)} then '1'
    when ${all(`(' ' || c.sort_family)`, ' ')} then '2' when ${all('c.sort_family', '')} then '3'
    when ${all('lower(c.email)', '')} then '4' else '5' end || c.sort_family`;
}
