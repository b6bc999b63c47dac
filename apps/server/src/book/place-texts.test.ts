import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Mapping } from '@gray-loom/core/mapping';
import type { ContactDetail, ContactPage } from '@gray-loom/wire';
import { bringFile, runImport } from '../testing/run-import';
import { startTestApp, type TestApp } from '../testing/start-test-app';
import { placeLeftTexts } from './place-texts';

/** More than a file whose texts are put under the index at once. */
const PEOPLE = 1200;

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
  const lines = ['Given name,Family name,E-mail'];
  for (let i = 0; i < PEOPLE; i++)
    lines.push(`${i % 2 ? 'Femke' : 'Oskar'},Quay${i},${i % 2 ? 'f' : 'o'}${i}@example.org`);
  await runImport(app, await bringFile(app, 'people.csv', lines.join('\n')));
});
afterAll(() => app.end());

const found = (find: string, sort = 'family') =>
  app.json<ContactPage>(`/contacts?limit=40&sort=${sort}&find=${encodeURIComponent(find)}`);
const texts = async () =>
  (
    await app.database.pool.query<{ waiting: number; placed: number }>(
      `select (select count(*)::int from contact_search_fresh) as waiting, (select count(*)::int from contact_search) as placed`,
    )
  ).rows[0];

async function rename(id: number, text: string): Promise<void> {
  const { record } = await app.json<ContactDetail>(`/contacts/${id}`);
  await app.edit(id, { field: 'familyName', slot: 0, before: record.f.familyName?.[0] ?? null, text });
}

describe('search texts of an import', () => {
  test('wait for the index and are found meanwhile, in every order', async () => {
    expect(await texts()).toEqual({ waiting: PEOPLE, placed: 0 });
    for (const sort of ['family', 'given', 'touched']) {
      const page = await found('femke', sort);
      expect(page.total).toBe(PEOPLE / 2);
      expect(page.rows.every(({ givenFirst }) => givenFirst.startsWith('Femke Quay'))).toBe(true);
    }
    expect((await found('femke quay117')).rows.map(({ givenFirst }) => givenFirst)).toEqual([
      'Femke Quay117',
      'Femke Quay1171',
      'Femke Quay1173',
      'Femke Quay1175',
      'Femke Quay1177',
      'Femke Quay1179',
    ]);
  });

  test('go with an edit while they wait, while they are put in place, and after', async () => {
    const [one, other, third] = (await found('femke quay117')).rows.map(({ id }) => id);
    await rename(one ?? 0, 'Wherry');
    expect((await found('femke wherry')).rows.map(({ id }) => id)).toEqual([one]);
    // An edit that comes while the texts are on their way waits for them, and finds them where they went.
    const placing = placeLeftTexts(app.database);
    await Promise.all([placing, rename(other ?? 0, 'Lugger')]);
    await rename(third ?? 0, 'Ketch');
    expect(await texts()).toEqual({ waiting: 0, placed: PEOPLE });
    for (const [name, id] of [
      ['wherry', one],
      ['lugger', other],
      ['ketch', third],
    ] as const)
      expect((await found(`femke ${name}`)).rows.map((row) => row.id)).toEqual([id]);
    expect((await found('femke quay117')).rows.map(({ id }) => id)).not.toContain(one);
    expect((await found('femke', 'touched')).total).toBe(PEOPLE / 2);
  });

  test('are put in place once, by however many workers', async () => {
    await app.database.pool.query(
      'with gone as (delete from contact_search returning *) insert into contact_search_fresh select * from gone',
    );
    await Promise.all([placeLeftTexts(app.database), placeLeftTexts(app.database), placeLeftTexts(app.database)]);
    expect(await texts()).toEqual({ waiting: 0, placed: PEOPLE });
  });

  test('wait on while an import runs, unless there are very many', async () => {
    const { rows } = await app.database.pool.query<{ id: number }>(
      `update run set state = 'running' where kind = 'import' returning id`,
    );
    await app.database.pool.query(
      'with gone as (delete from contact_search returning *) insert into contact_search_fresh select * from gone',
    );
    await placeLeftTexts(app.database);
    expect((await texts())?.waiting).toBe(PEOPLE);
    await app.database.pool.query(`update run set state = 'done' where id = $1`, [rows[0]?.id]);
    await placeLeftTexts(app.database);
    expect((await texts())?.waiting).toBe(0);
  });

  test('that an import changes wait again, each in one place, also while others are put there', async () => {
    const file = (firm: string, writeRule: Mapping['writeRule']) => {
      const lines = ['E-mail,Given name,Company'];
      for (let i = 0; i < PEOPLE; i++)
        lines.push(`${i % 2 ? 'f' : 'o'}${i}@example.org,${i % 2 ? 'Femke' : 'Oskar'},${firm}`);
      return bringFile(app, `${firm}.csv`, lines.join('\n'), (mapping) => ({ ...mapping, writeRule }));
    };
    await runImport(app, await file('Quay Timber', 'fill'));
    expect(await texts()).toEqual({ waiting: PEOPLE, placed: 0 });
    expect((await found('timber femke')).total).toBe(PEOPLE / 2);
    const second = await file('Slip Works', 'replace');
    await Promise.all([placeLeftTexts(app.database), runImport(app, second)]);
    const both = await app.database.pool.query<{ n: number; ids: number }>(
      `select count(*)::int as n, count(distinct contact_id)::int as ids from (
         select contact_id from contact_search_fresh union all select contact_id from contact_search) texts`,
    );
    expect(both.rows[0]).toEqual({ n: PEOPLE, ids: PEOPLE });
    expect((await found('timber')).total).toBe(0);
    expect((await found('slip works oskar')).total).toBe(PEOPLE / 2);
    await placeLeftTexts(app.database);
    expect(await texts()).toEqual({ waiting: 0, placed: PEOPLE });
    expect((await found('slip works oskar')).total).toBe(PEOPLE / 2);
  });
});
