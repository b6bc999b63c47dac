import { foldWords } from '@gray-loom/core/fields';
import { keyHash } from '@gray-loom/core/matching';
import type { ContactFilter, ContactSort } from '@gray-loom/wire';
import { tagKey } from '../../book/contact-rows';

interface Conditions {
  where: string;
  values: unknown[];
}

/**
 * The words of what was typed, as fragments that search text may hold; digits of a phone are run together. Search text holds words
 * singly and mailboxes as they are: "Jan-Willem" is two words, and so is the beginning of "ana.reis@".
 */
export function findFragments(find: string): string[] {
  const plain = find.trim();
  if (/^[+\d\s().-]+$/.test(plain) && plain.replace(/\D/g, '').length >= 3)
    return [plain.replace(/\D/g, '').replace(/^00?/, '')];
  if (plain.includes('@')) return [plain.toLowerCase()];
  return [...new Set(foldWords(plain))];
}

function escapeLike(text: string): string {
  return text.replace(/[\\%_]/g, (c) => `\\${c}`);
}

/** The search text of a contact, wherever it is, as a relation with the column `text`. */
export const searchTexts = (id: string): string =>
  `(select text from contact_search where contact_id = ${id} union all select text from contact_search_fresh where contact_id = ${id})`;

/**
 * Turns a filter into conditions; list, count and export all go through here. With `walking` what is found is asked row
 * by row, in a form that cannot become a join: right where so many fit that walking the list in its order ends soon.
 * `texts` are the search texts that are looked at, where some of them wait for the index.
 */
export function contactConditions(
  filter: ContactFilter,
  { walking = false, texts = 'both' }: { walking?: boolean; texts?: 'both' | 'placed' | 'waiting' } = {},
): Conditions {
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const where = [
    filter.deleted ? `c.state = 'deleted'` : `c.state = 'live'`,
    `c.kind = '${filter.kind === 'organization' ? 'organization' : 'person'}'`,
  ];
  const fragments = findFragments(filter.find);
  if (fragments.length) {
    const like = fragments.map((fragment) => `s.text like ${add(`%${escapeLike(fragment)}%`)}`).join(' and ');
    const holds = (table: string) => `exists (select 1 from ${table} s where s.contact_id = c.id and ${like})`;
    where.push(
      walking
        ? `(select ${like} from ${searchTexts('c.id')} s)`
        : texts === 'both'
          ? `(${holds('contact_search')} or ${holds('contact_search_fresh')})`
          : holds(texts === 'placed' ? 'contact_search' : 'contact_search_fresh'),
    );
  }
  if (filter.tag)
    where.push(`c.id in (select contact_id from contact_key where key = ${add(String(keyHash(tagKey(filter.tag))))})`);
  if (filter.stage) where.push(`c.stage = ${add(filter.stage)}`);
  if (filter.source) where.push(`c.source = ${add(filter.source)}`);
  if (filter.area) where.push(`c.area = ${add(filter.area)}`);
  if (filter.owner) where.push(`c.owner = ${add(filter.owner)}`);
  if (filter.run) {
    // Rows that were let in later belong to their import.
    const id = add(filter.run);
    const runs = `select ${id}::int union all select id from run where kind = 'import' and (detail->>'ofRun')::int = ${id}::int`;
    where.push(`c.id in (select contact_id from operation where run_id in (${runs}))`);
  }
  return { where: where.join(' and '), values };
}

export const ORDER: Record<ContactSort, { column: string; direction: 'asc' | 'desc'; cast: string }> = {
  family: { column: 'c.sort_family', direction: 'asc', cast: 'text' },
  given: { column: 'c.sort_given', direction: 'asc', cast: 'text' },
  touched: { column: 'c.touched_at', direction: 'desc', cast: 'timestamptz' },
};
