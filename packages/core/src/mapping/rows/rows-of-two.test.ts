import { expect, test } from '@jest/globals';
import { Catalogue } from '../../fields';
import { defaultMapping } from '../columns/default-mapping';
import { guessColumns } from '../columns/guess-columns';
import type { ReadingContext } from './read-cell';
import { RowReader } from './read-row';
import { rowsOfTwo } from './rows-of-two';

const context: ReadingContext = { country: 'GB', stages: [], settle: (_kind, text) => text };

/** The rows of both of the first row of a table, each joined; what was wrong with it where it is not two. */
function two(headers: string, ...rows: string[]): string[] {
  const cells = rows.map((row) => row.split('|'));
  const names = headers.split('|');
  const mapping = defaultMapping(guessColumns(names, cells), 'GB');
  const reader = new RowReader(mapping, new Catalogue(), context, { columnCount: names.length, headers: names });
  const [first = []] = cells;
  const { issues, held } = reader.read(first, 1);
  const found = rowsOfTwo(first, mapping, issues);
  expect(held || !found).toBe(true);
  return found ? found.map((row) => row.join('|')) : issues.map(({ code }) => code);
}
const MORE = ['Eva|Brandt|eva@example.org', 'Ana|Reis|ana@example.org'];

test('two given names in one cell are two people, with the family name of both', () => {
  expect(two('First name|Last name|Email', 'Sam & Maya|Okafor|maya.o@example.org', ...MORE)).toEqual([
    'Sam|Okafor|',
    'Maya|Okafor|maya.o@example.org',
  ]);
  expect(two('First name|Last name|Email', 'Anna Maria|Okafor|maya.o@example.org', ...MORE)).toEqual([]);
});

test('two titles go with them, one mailbox of two with each', () => {
  expect(
    two(
      'Title|First name|Last name|Email|Birthday',
      'Mr & Mrs|Sam & Maya|Okafor|maya@example.org; sam@example.org; okafors@example.org|1980-02-03',
      'Ms|Eva|Brandt|eva@example.org|1970-02-03',
    ),
  ).toEqual([
    'Mr|Sam|Okafor|sam@example.org; okafors@example.org|1980-02-03',
    'Mrs|Maya|Okafor|maya@example.org; okafors@example.org|',
  ]);
});

test('names in the order of their list', () => {
  const others = ['Nagy Éva|eva@example.org', 'Kovács János|j@example.org', 'Tóth István|i@example.org'];
  expect(two('Név|E-mail', 'Szabó Anna és Péter|peter@example.org', ...others)).toEqual([
    'Szabó Anna|',
    'Szabó Péter|peter@example.org',
  ]);
});

test('a family, or what is no name, is not two people', () => {
  expect(two('Name|Email', 'The Okafors|o@example.org', 'Eva Brandt|eva@example.org')).toEqual(['twoPeople']);
  expect(two('Name|Email', 'Eva Brandt|Sam <s@example.org>; Maya <m@example.org>', 'Ana Reis|a@example.org')).toEqual([
    'twoPeople',
  ]);
});
