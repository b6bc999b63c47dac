import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ContactPage } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let length = '';
beforeAll(async () => {
  app = await startTestApp();
  ({ key: length } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Boat length', type: 'number' }));
  const people: Record<string, string>[] = [
    { givenName: 'Susan', familyName: 'Coldwell', email: 'susan@example.org', stage: 'Donor' },
    { givenName: 'Ruth', familyName: 'Anstey', email: 'coldwell.ruth@example.org', title: 'Master rigger' },
    { givenName: 'Coldwell', familyName: 'Ashe', tel: '01632 960123' },
    {
      givenName: 'Mary',
      familyName: "O'Neil-Coldwell",
      note: 'Asked for the yard that builds in larch and oak, twice, by the harbour wall',
    },
    { givenName: 'Åse', familyName: 'Fjeldstad', organization: 'Marl Ropeworks' },
  ];
  for (const one of people) await app.enter(one);
});
afterAll(() => app.end());

const page = (query: string) => app.json<ContactPage>(`/contacts?${query}`);
const names = async (query: string) => (await page(query)).rows.map(({ name }) => name);
const find = (text: string, sort = 'best') => `find=${encodeURIComponent(text)}&sort=${sort}`;

describe('finding', () => {
  test('puts whole names first, then beginnings, parts, mailboxes', async () =>
    expect(await names(find('coldwell'))).toEqual([
      'Ashe, Coldwell',
      'Coldwell, Susan',
      "O'Neil-Coldwell, Mary",
      'Anstey, Ruth',
    ]));
  test.each([
    ['coldwell', 3, 'E-mail: coldwell.ruth@example.org'],
    ['rigger', 0, 'Job title: Master rigger'],
    ['+44 1632 960 123', 0, 'Phone: +441632960123'],
    ['larch', 0, 'Note: …the yard that builds in larch and oak, twice, by the …'],
    ['marl', 0, 'Organization: Marl Ropeworks'],
    ['ase fjeldstad', 0, ''],
  ])('"%s" says by what each was found', async (text, at, match) =>
    expect((await page(find(text))).rows[at]?.match).toBe(match),
  );
  test.each([
    ['coldwel', 'a letter left out is found as a part', false],
    ['coldewll', 'two swapped', true],
    ['suxan', 'another letter in the middle of a short one', true],
    ['colwdell', 'two swapped in the middle', true],
    ['coldwekl', 'another letter', true],
    ['fjelstad', 'a letter left out in the middle', true],
    ['ropewroks', 'of an organization', true],
    ['susna coldwell', 'in one of two words', true],
  ])('"%s": %s', async (text, _why, isNear) => {
    const found = await page(find(text));
    expect([found.isNear, found.rows.length > 0, found.total === found.rows.length]).toEqual([isNear, true, true]);
  });
  test('two slips, and short words with one, find nobody', async () => {
    expect((await page(find('kolbwell'))).total).toBe(0);
    expect((await page(find('asx'))).total).toBe(0);
  });
});

describe('order', () => {
  test('by any column, either way, with what is empty last', async () => {
    expect((await names('sort=email')).slice(0, 3)).toEqual(['Anstey, Ruth', 'Coldwell, Susan', 'Ashe, Coldwell']);
    expect((await names('sort=email:back'))[0]).toBe('Coldwell, Susan');
    expect((await names('sort=stage'))[0]).toBe('Coldwell, Susan');
    expect((await names('sort=family:back'))[0]).toBe("O'Neil-Coldwell, Mary");
    expect((await names('sort=title'))[0]).toBe('Anstey, Ruth');
  });
  test('by an own field, as numbers', async () => {
    const ids = (await page('sort=family')).rows.map(({ id }) => id);
    for (const [i, text] of ['14', '9', '100'].entries())
      await app.json(`/contacts/${ids[i]}`, 'PATCH', { edits: [{ field: length, text }] });
    const ordered = async (sort: string) =>
      (await page(`sort=${sort}&fields=${length}`)).rows.map(({ extra }) => extra[length]);
    expect((await ordered(length)).slice(0, 4)).toEqual(['9', '14', '100', '']);
    expect((await ordered(`${length}:back`)).slice(0, 4)).toEqual(['100', '14', '9', '']);
  });
  test('pages go on where the one before ended', async () => {
    const all = await names('sort=tel');
    const parts = await Promise.all([0, 2, 4].map((at) => names(`sort=tel&at=${at}&limit=2`)));
    expect(parts.flat()).toEqual(all);
  });
  test('by what is no column is refused', async () => {
    // The last two are names that every object of the language knows.
    for (const sort of ['custom.99', 'toString', 'constructor:back'])
      expect((await refusal(page(`sort=${sort}`))).code).toBe('noSuchOrder');
    expect((await refusal(page("sort=x'%20desc"))).status).toBe(422);
  });
});
