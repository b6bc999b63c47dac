import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { summarise } from '@gray-loom/core/fields';
import { emptyRecord, type ContactRecord } from '@gray-loom/core/model';
import { findFragments } from '@gray-loom/core/segments';

const recordOf = (fields: Record<string, string>): ContactRecord => ({
  ...emptyRecord(),
  f: Object.fromEntries(Object.entries(fields).map(([field, v]) => [field, [{ slot: 0, v, run: 1 }]])),
});
const found = (fields: Record<string, string>, typed: string) => {
  const { searchText } = summarise(recordOf(fields));
  return findFragments(typed).every((fragment) => searchText.includes(fragment));
};

test.each([
  ['Jan-Willem', { givenName: 'Jan-Willem', familyName: 'de Wit', email: 'janwillem50@example.org' }],
  ['de Wit, Jan-Willem', { givenName: 'Jan-Willem', familyName: 'de Wit', email: 'janwillem50@example.org' }],
  ["O'Neil", { givenName: 'Mary', familyName: "O'Neil", email: 'neil.mary@example.org' }],
  ['ana.reis', { givenName: 'Ana', familyName: 'Reis', email: 'ana.reis@example.org' }],
  ['ana.reis@example', { givenName: 'Ana', familyName: 'Reis', email: 'ana.reis@example.org' }],
  ['St. John', { givenName: 'Ida', familyName: 'St John' }],
  ['(01632) 960-111', { givenName: 'Ida', tel: '+441632960111' }],
  ['0044 1632 960111', { givenName: 'Ida', tel: '+441632960111' }],
])('"%s" finds who has it', (typed, fields) => expect(found(fields, typed)).toBe(true));

test('somebody is not found by another name', () =>
  expect(found({ givenName: 'Jan', familyName: 'Wit' }, 'Jan-Willem')).toBe(false));

test('whatever a name is made of, and whatever the mailbox repeats of it, its own spelling finds it', () => {
  const piece = fc.stringMatching(/^[A-Za-zÀ-ž'’.-]{1,8}$/);
  const name = fc.array(piece, { minLength: 1, maxLength: 3 }).map((pieces) => pieces.join(' '));
  fc.assert(
    fc.property(name, name, fc.boolean(), (givenName, familyName, repeats) => {
      const box = `${givenName}${familyName}`.toLowerCase().replace(/[^a-z]/g, '');
      const email: Record<string, string> = repeats && box ? { email: `${box}@example.org` } : {};
      expect(found({ givenName, familyName, ...email }, `${givenName} ${familyName}`)).toBe(true);
      expect(found({ givenName, familyName, ...email }, givenName)).toBe(true);
    }),
  );
});
