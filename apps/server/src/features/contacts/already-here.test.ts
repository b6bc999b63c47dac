import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { EntryCheck } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
beforeEach(() => app.database.pool.query('truncate contact, contact_key, contact_search cascade'));
afterAll(() => app.end());

const ANA = { givenName: 'Ana', familyName: 'Reis', email: 'ana.reis@quillhaven.example' };

async function countLive(): Promise<number> {
  const { rows } = await app.database.pool.query<{ n: number }>(
    `select count(*)::int as n from contact where state = 'live'`,
  );
  return rows[0]?.n ?? 0;
}

test.each<[string, Record<string, string>, Record<string, unknown>]>([
  ['a person', ANA, {}],
  ['a person of whom only the name is known', { givenName: 'Ana', familyName: 'Reis' }, {}],
  ['an organization', { organization: 'Quillhaven Rope Works' }, { kind: 'organization' }],
])('%s entered six times in one instant is here once, and five are told', async (_name, values, more) => {
  const tries = await Promise.allSettled(Array.from({ length: 6 }, () => app.enter(values, more)));
  expect(tries.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  for (const one of tries)
    if (one.status === 'rejected') expect(one.reason).toMatchObject({ status: 409, problem: { code: 'alreadyHere' } });
  expect(await countLive()).toBe(1);
});

test('twenty people entered in one instant are all taken, whatever they share', async () => {
  const given = ['Ana', 'Tom', 'Kerra', 'Jory', 'Ngozi', 'Piran', 'Wenna', 'Bram', 'Odile', 'Siv'];
  const family = ['Reis', 'Okoro', 'Lund', 'Penrose', 'Amundsen', 'Carlyon', 'Brandt', 'Nance', 'Hughes', 'Trelawny'];
  const people = given.flatMap((givenName, i) =>
    [i, i + 3].map((n) => ({ givenName, familyName: family[n % 10] ?? '', tel: `+44 1632 9601${n % 2}0` })),
  );
  await Promise.all(people.map((values) => app.enter(values)));
  expect(await countLive()).toBe(20);
});

test('whoever was shown the one who is here, or says so, may enter another one', async () => {
  const { contactId } = await app.enter(ANA);
  const told = await refusal(app.enter(ANA));
  expect(told).toMatchObject({
    status: 409,
    code: 'alreadyHere',
    facts: { name: 'Ana Reis', contactIds: [contactId] },
  });
  expect(told.detail).toContain('Ana Reis is here already');
  await app.enter(ANA, { seen: [contactId] });
  await app.enter(ANA, { despite: true });
  expect(await countLive()).toBe(3);
});

test('somebody of the same name with an address of their own is nobody to be told of', async () => {
  await app.enter(ANA);
  await app.enter({ ...ANA, email: 'a.reis@elsewhere.example' });
  expect(await countLive()).toBe(2);
});

test.each<[string, Record<string, string>]>([
  ['turned round', { givenName: 'Ødegård', familyName: 'Ingrid' }],
  ['transcribed', { givenName: 'Ingrid', familyName: 'Oedegaard' }],
  ['with a slip in each', { givenName: 'Ingird', familyName: 'Odegarrd' }],
  ['under another name, with the same phone', { givenName: 'Zora', familyName: 'Lund', tel: '+44 1632 960142' }],
])('somebody who is here is shown while one types them %s, and may be entered all the same', async (_how, values) => {
  const { contactId } = await app.enter({ givenName: 'Ingrid', familyName: 'Ødegård', tel: '+44 1632 960142' });
  await app.enter({ givenName: 'Tom', familyName: 'Reis', tel: '+44 1632 960143' });
  const { matches } = await app.json<EntryCheck>('/contacts/check', 'POST', {
    values: Object.entries(values).map(([field, text]) => ({ field, text })),
  });
  expect(matches.map((match) => [match.contactId, match.band])).toEqual([[contactId, 'possible']]);
  await app.enter(values);
  expect(await countLive()).toBe(3);
});
