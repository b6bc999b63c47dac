import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ContactListRow, ContactPage } from '@gray-loom/wire';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { where } from '../../testing/where';

/** More than are sorted when something is found; fewer than are counted. */
const PEOPLE = 4300;
const SORTED = 4000;
const TAGS = ['regatta', 'bursary', 'press'];

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
  const lines = ['Given name,Family name,E-mail,Tags'];
  for (let i = 0; i < PEOPLE; i++) {
    // Names in no order, some of them the same.
    const letter = String.fromCharCode(97 + ((i * 7) % 26));
    lines.push(`Given${(i * 31) % 97},${letter}family${(i * 13) % 50},p${i}@example.org,${TAGS[i % 3]}`);
  }
  await runImport(
    app,
    await bringFile(app, 'people.csv', lines.join('\n'), (mapping) => ({ ...mapping, recognise: ['email'] })),
  );
});
afterAll(() => app.end());

const page = (query: string) => app.json<ContactPage>(`/contacts?${query}`);

async function wholeList(query: string): Promise<ContactListRow[]> {
  const rows: ContactListRow[] = [];
  for (;;) {
    const next = await page(`${query}&at=${rows.length}&limit=500`);
    rows.push(...next.rows);
    if (next.rows.length < 500) return rows;
  }
}

describe('lists deeper than a place mark', () => {
  test.each(['family', 'given', 'touched'])(
    'ordered by %s, pages from anywhere are parts of the whole',
    async (sort) => {
      const whole = await wholeList(`sort=${sort}`);
      expect(whole).toHaveLength(PEOPLE);
      expect(new Set(whole.map((row) => row.id)).size).toBe(PEOPLE);
      for (const at of [0, 499, 500, 501, 999, 1000, 1337, 1999, 2290]) {
        const part = await page(`sort=${sort}&at=${at}&limit=20`);
        expect(part.at).toBe(at);
        expect(part.rows.map((row) => row.id)).toEqual(whole.slice(at, at + 20).map((row) => row.id));
        expect(part.total).toBe(PEOPLE);
      }
      expect((await page(`sort=${sort}&at=9000&limit=20`)).rows).toEqual([]);
    },
  );

  test('a condition has marks of its own', async () => {
    const whole = await wholeList(`sort=family&${where({ tags: 'regatta' })}`);
    expect(whole.every((row) => row.tags.includes('regatta'))).toBe(true);
    expect(whole).toHaveLength(Math.ceil(PEOPLE / 3));
    const part = await page(`sort=family&${where({ tags: 'regatta' })}&at=700&limit=30`);
    expect(part.rows.map((row) => row.id)).toEqual(whole.slice(700, 730).map((row) => row.id));
  });

  test.each(['example.org', 'given1', 'family4', 'p22'])(
    'what "%s" finds is the same part by part, few or many',
    async (find) => {
      const whole = (await wholeList('sort=family')).filter((row) =>
        `${row.givenFirst} ${row.email}`.toLowerCase().includes(find),
      );
      for (const at of [0, 7, 300, 900]) {
        const part = await page(`sort=family&find=${find}&at=${at}&limit=40`);
        expect(part.rows.map((row) => row.id)).toEqual(whole.slice(at, at + 40).map((row) => row.id));
        // Of many that fit it is told that there are at least so many, and never more than there are.
        if (whole.length <= SORTED) expect([part.total, part.totalIsLeast]).toEqual([whole.length, false]);
        else expect(part.total >= SORTED && part.total <= whole.length).toBe(true);
      }
    },
  );

  test.each(['a', 'k', 'm', 'z'])('the first name with %s is where the list says', async (letter) => {
    const whole = await wholeList('sort=family');
    const { at } = await app.json<{ at: number }>(`/contacts/place?sort=family&letter=${letter}`);
    const first = (row: ContactListRow | undefined) => row?.name[0]?.toLowerCase() ?? '';
    expect(first(whole[at]) >= letter).toBe(true);
    if (at > 0) expect(first(whole[at - 1]) < letter).toBe(true);
  });

  test('what is deleted leaves the list, and comes back to its place', async () => {
    const before = await page('sort=family&at=1200&limit=3');
    const gone = before.rows[1]?.id ?? 0;
    await app.json(`/contacts/${gone}`, 'DELETE');
    expect((await page('sort=family&at=0&limit=1')).total).toBe(PEOPLE - 1);
    expect((await page('sort=family&find=nobody-at-all&limit=5')).total).toBe(0);
    await app.json(`/contacts/${gone}/restore`, 'POST');
    expect((await page('sort=family&at=1200&limit=3')).rows.map((row) => row.id)).toEqual(
      before.rows.map((row) => row.id),
    );
  });
});
