import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ContactDetail, ContactPage, IntakeDetail } from '@gray-loom/wire';
import { valuesOf } from '@gray-loom/core/model';
import { runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let from: TestApp;
let into: TestApp[] = [];
beforeAll(async () => {
  [from, ...into] = await Promise.all([startTestApp(), startTestApp(), startTestApp(), startTestApp(), startTestApp()]);
});
afterAll(() => Promise.all([from, ...into].map((app) => app.end())));

const OWN = [
  { name: 'Berth', type: 'text' },
  { name: 'Length', type: 'range' },
  { name: 'Fee', type: 'money', currency: 'GBP' },
  { name: 'Crew', type: 'choices', choices: ['deck, bow', 'galley', 'helm'] },
  { name: 'Sworn', type: 'yesNo' },
  { name: 'Joined', type: 'date' },
  { name: 'Boats', type: 'number' },
];

const word = fc.stringMatching(/^[A-Z][a-z]{2,7}$/);
const odd = fc.constantFrom(
  'O’Brien "Red"',
  'semi; colon, comma',
  '=SUM(A1)',
  '+plus',
  'Zoë Ωmega',
  '  spaced  out ',
  'a\tb',
  "'quoted",
);
const label = fc.constantFrom(undefined, 'home', 'work', 'boat shed', 'other');
const day = fc
  .date({ min: new Date('1930-01-01'), max: new Date('2020-01-01'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10))
  .filter((iso) => iso !== '1970-01-01');

function values(
  keys: string[],
  n: number,
): fc.Arbitrary<{ field: string; text?: string; value?: unknown; label?: string }[]> {
  const [berth = '', length = '', fee = '', crew = '', sworn = '', joined = '', boats = ''] = keys;
  const maybe = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined });
  return fc
    .record({
      familyName: word,
      nickname: maybe(odd),
      title: maybe(fc.oneof(word, odd)),
      note: maybe(fc.constantFrom('one line', 'two\nlines, and a "quote"', '- a list\n- of two')),
      bday: maybe(
        fc.oneof(
          day,
          day.map((iso) => `--${iso.slice(5)}`),
        ),
      ),
      emails: fc.array(fc.tuple(word, label), { maxLength: 4 }),
      tels: fc.array(fc.tuple(fc.integer({ min: 100, max: 999 }), label), { maxLength: 3 }),
      addresses: fc.array(fc.tuple(word, word, fc.constantFrom('GB', 'FR', 'PT'), label), { maxLength: 3 }),
      ids: fc.array(fc.stringMatching(/^[A-Z]{2}-00\d{3}$/), { maxLength: 2 }),
      tags: fc.subarray(['regatta', 'boat, fair', 'öl']),
      own: fc.tuple(
        maybe(odd),
        maybe(fc.constantFrom('12 to 16', 'from 3', 'up to 9.5', '7')),
        maybe(fc.constantFrom('1450.5 GBP', '12 EUR', '0 GBP')),
        maybe(fc.subarray(['deck, bow', 'galley', 'helm'], { minLength: 1 })),
        maybe(fc.constantFrom('yes', 'no')),
        maybe(day),
        maybe(fc.constantFrom('3', '-2.25', '1000000')),
      ),
    })
    .map((one) => {
      const many = <T>(list: T[], make: (item: T, i: number) => object) => list.map(make);
      const single = (field: string, text: string | undefined) => (text === undefined ? [] : [{ field, text }]);
      const labelled = (text: string | undefined) => (text ? { label: text } : {});
      return [
        { field: 'givenName', text: `Given${n}` },
        { field: 'familyName', text: one.familyName },
        ...single('nickname', one.nickname),
        ...single('title', one.title),
        ...single('note', one.note),
        ...single('bday', one.bday),
        ...many(one.emails, ([text, l], i) => ({
          field: 'email',
          text: `${text}.${n}.${i}@example.org`,
          ...labelled(l),
        })),
        ...many(one.tels, ([no, l], i) => ({ field: 'tel', text: `+44 1632 96${i}${no}`, ...labelled(l) })),
        ...many(one.addresses, ([street, locality, country, l], i) => ({
          field: 'adr',
          value: { street: `${i + 1} ${street} Lane`, locality, country },
          ...labelled(l),
        })),
        ...many([...new Set(one.ids)], (text) => ({ field: 'externalId', text: `${text}-${n}` })),
        ...many(one.tags, (text) => ({ field: 'tags', text })),
        ...[berth, length, fee, crew, sworn, joined, boats].flatMap((key, i) => {
          const text = one.own[i];
          return text === undefined ? [] : [{ field: key, text: Array.isArray(text) ? text.join('; ') : text }];
        }),
      ] as { field: string; text?: string; value?: unknown; label?: string }[];
    });
}

/** Contacts by given name, as what they say: values with labels in their order, without threads and slots. */
async function bookOf(app: TestApp): Promise<Record<string, unknown>> {
  const { rows } = await app.json<ContactPage>('/contacts?limit=500');
  const book: Record<string, unknown> = {};
  for (const { id } of rows) {
    const { record, name } = await app.json<ContactDetail>(`/contacts/${id}`);
    book[name] = Object.fromEntries(
      Object.keys(record.f)
        .sort()
        .map((field) => [field, valuesOf(record, field).map(({ v, norm, label: l }) => [norm ?? v, l ?? null])]),
    );
  }
  return book;
}

async function makeFields(app: TestApp): Promise<string[]> {
  const keys: string[] = [];
  for (const field of OWN) keys.push((await app.json<{ key: string }>('/fields', 'POST', field)).key);
  return keys;
}

test('what is taken out as CSV, by tabs, as a spreadsheet or as lines of JSON comes back into an empty book as it was', async () => {
  const keys = await makeFields(from);
  const seed = 20261126;
  const people = Array.from(
    { length: 30 },
    (_, n) => fc.sample(values(keys, n), { numRuns: 1, seed: seed + n })[0] ?? [],
  );
  for (const one of people) await from.json('/contacts', 'POST', { values: one, despite: true });
  const book = await bookOf(from);
  expect(Object.keys(book)).toHaveLength(30);
  for (const [i, ending] of ['csv', 'tsv', 'xlsx', 'jsonl'].entries()) {
    const app = into[i] as TestApp;
    await makeFields(app);
    const file = Buffer.from(await (await from.request(`/contacts.${ending}`)).arrayBuffer());
    const { id } = (await (await app.upload(`back.${ending}`, file)).json()) as { id: number };
    const intake = await app.json<IntakeDetail>(`/intakes/${id}`);
    await app.json(`/intakes/${id}/mapping`, 'PUT', { ...intake.mapping, recognise: [] });
    const { counts } = await runImport(app, id);
    expect([ending, counts]).toEqual([ending, expect.objectContaining({ new: 30, held: 0 })]);
    expect(await bookOf(app)).toEqual(book);
  }
});
