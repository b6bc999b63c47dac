import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createHmac } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { NO_FAULTS } from '../faults';
import { startDialer, type Dialer } from './server';
import type { Call, Person, Stop } from './store';

const KEY = 'a key of the phone bank';
let dialer: Dialer;
beforeAll(async () => {
  dialer = await startDialer({ port: 0, file: null, key: KEY });
});
beforeEach(() => dialer.setFaults(NO_FAULTS));
afterAll(() => dialer.stop());

async function ask(path: string, method = 'GET', body?: unknown, key = KEY): Promise<{ status: number; body: never }> {
  const answer = await fetch(dialer.url + path, {
    method,
    headers: { 'X-Api-Key': key, 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: (/^[[{]/.test(text) ? JSON.parse(text) : null) as never };
}
const make = async (parts: object): Promise<Person> => (await ask('/people', 'POST', parts)).body;
const form = (path: string, parts: Record<string, string>) =>
  fetch(dialer.url.replace('/v1', path), { method: 'POST', body: new URLSearchParams(parts), redirect: 'manual' });

describe('people', () => {
  test('have a name in capitals that is cut, and at most three phones', async () => {
    const { id, name } = await make({ name: 'Maximiliane von und zu Quellenbrunn-Larchwald', phones: [] });
    expect(name).toBe('MAXIMILIANE VON UND ZU QUELLENBRUNN-LARC');
    const four = [1, 2, 3, 4].map((n) => ({ number: `+44163296011${n}` }));
    expect((await ask(`/people/${id}`, 'PATCH', { phones: four })).status).toBe(422);
    const kept = (await ask(`/people/${id}`, 'PATCH', { phones: four.slice(1) })).body as Person;
    expect(kept.phones.map(({ number }) => number)).toEqual(four.slice(1).map(({ number }) => number));
  });
  test.each([
    ['no name', { phones: [] }, 422],
    ['no such field', { name: 'A', fields: { boat: 'x' } }, 422],
    ['no such part', { name: 'A', birthday: 'x' }, 422],
    ['no number', { name: 'A', phones: [{ number: 'soon' }] }, 422],
    ['no object', [1], 400],
  ])('are refused with %s', async (_, parts, status) =>
    expect((await ask('/people', 'POST', parts)).status).toBe(status),
  );
  test('have a ref of their own: the same twice is one person, and another one may not take it', async () => {
    const a = await make({ name: 'Ana', ref: 'gl-1' });
    expect((await make({ name: 'Ana', ref: 'gl-2' })).id).not.toBe(a.id);
    expect((await ask('/people', 'POST', { name: 'Ana', ref: 'gl-1' })).status).toBe(409);
    expect((await ask(`/people/${a.id}`, 'PATCH', { ref: 'gl-2' })).status).toBe(409);
  });
  test('are told in pages by their last change, each once; whoever is removed is just missing', async () => {
    const people = [];
    for (const name of ['Bo', 'Cy', 'Di']) people.push(await make({ name }));
    const start = ((await ask('/people?limit=500')).body as { cursor: string }).cursor;
    await ask(`/people/${people[0]?.id}`, 'PATCH', { email: 'bo@example.org' });
    await ask(`/people/${people[1]?.id}`, 'PATCH', { email: 'cy@example.org' });
    await ask(`/people/${people[0]?.id}`, 'PATCH', { email: 'bo@example.net' });
    await ask(`/people/${people[2]?.id}`, 'DELETE');
    const first = (await ask(`/people?limit=1&cursor=${start}`)).body as {
      people: Person[];
      cursor: string;
      more: boolean;
    };
    const second = (await ask(`/people?limit=1&cursor=${first.cursor}`)).body as typeof first;
    expect([first.people[0]?.name, first.more, second.people[0]?.name, second.people[0]?.email, second.more]).toEqual([
      'CY',
      true,
      'BO',
      'bo@example.net',
      false,
    ]);
    expect((await ask('/people?cursor=unknown')).status).toBe(410);
  });
  test('are written many at once, with an answer for each', async () => {
    const { body } = await ask('/people/batch', 'POST', {
      people: [{ name: 'Ed' }, { name: '' }, { id: 999_999, name: 'X' }],
    });
    expect(
      (body as { results: { ok: boolean; error?: string }[] }).results.map(({ ok, error }) => [ok, error]),
    ).toEqual([
      [true, undefined],
      [false, 'name'],
      [false, 'id'],
    ]);
  });
});

test('fields and calling lists are listed and made; people go in and out', async () => {
  expect(
    (await ask('/fields', 'POST', { label: 'Boat, feet', type: 'choice', options: ['12', '14'] })).body,
  ).toMatchObject({
    key: 'boat_feet',
  });
  expect((await ask('/fields', 'POST', { label: 'Boat feet' })).status).toBe(409);
  const person = await make({ name: 'Flo', fields: { boat_feet: '14' } });
  expect((await ask(`/people/${person.id}`, 'PATCH', { fields: { boat_feet: '13' } })).status).toBe(422);
  const { id: list } = (await ask('/lists', 'POST', { name: 'Bursary' })).body as { id: number };
  expect(((await ask(`/lists/${list}/people/${person.id}`, 'PUT')).body as Person).lists).toEqual([list]);
  expect(((await ask(`/lists/${list}/people/${person.id}`, 'DELETE')).body as Person).lists).toEqual([]);
});

test('a stop is noted with its time, for a person and for a number, and taken back', async () => {
  const { id } = await make({ name: 'Gus', phones: [{ number: '+441632960222' }] });
  const { cursor } = (await ask('/stops?limit=500')).body as { cursor: string };
  await ask(`/people/${id}`, 'PATCH', { phones: [{ number: '+441632960222', doNotCall: true }] });
  await ask(`/people/${id}`, 'PATCH', { doNotCall: true });
  await ask(`/people/${id}`, 'PATCH', { doNotCall: false });
  const { stops } = (await ask(`/stops?cursor=${cursor}`)).body as { stops: Stop[] };
  expect(stops.map(({ personId, number, stopped }) => [personId, number, stopped])).toEqual([
    [id, '+441632960222', true],
    [id, null, true],
    [id, null, false],
  ]);
  await ask(`/people/${id}`, 'PATCH', { doNotCall: true });
  expect((await ask('/next', 'POST', { id })).status).toBe(409);
});

test('calls are told with whom they were, where that is known; whoever was called is not next any more', async () => {
  const { id } = await make({ name: 'Hal', phones: [{ number: '+441632960333' }] });
  await ask('/next', 'POST', { id });
  expect(dialer.store.next.map((one) => one.id)).toEqual([id]);
  await form('/call', { direction: 'out', number: '+441632960333', outcome: 'reached', minutes: '4', caller: 'Kari' });
  await form('/call', { direction: 'in', number: '+441632960999', dialled: '+441632960000', outcome: 'voicemail' });
  const { calls } = (await ask('/calls')).body as { calls: Call[] };
  expect(
    calls.map(({ personId, direction, outcome, minutes, dialled }) => [personId, direction, outcome, minutes, dialled]),
  ).toEqual([
    [id, 'out', 'reached', 4, ''],
    [null, 'in', 'voicemail', 0, '+441632960000'],
  ]);
  expect(dialer.store.next).toEqual([]);
});

describe('whoever listens', () => {
  let heard: { body: string; signature: string }[] = [];
  let listener: Server;
  beforeAll(async () => {
    listener = createServer((request, answer) => {
      let body = '';
      request.on('data', (piece: Buffer) => (body += piece.toString()));
      request.on('end', () => {
        heard.push({ body, signature: String(request.headers['x-signature']) });
        answer.writeHead(204).end();
      });
    });
    await new Promise<void>((done) => listener.listen(0, '127.0.0.1', done));
  });
  afterAll(() => {
    listener.close();
  });

  test('is told by a signed call, twice where that is a fault; somebody can be pushed over', async () => {
    const secret = 'a secret of sixteen';
    const { port } = listener.address() as AddressInfo;
    await ask('/hook', 'PUT', { url: `http://127.0.0.1:${port}/hook`, secret });
    expect(await dialer.tell({ kind: 'push', ids: [7] })).toBe(true);
    const [{ body, signature } = { body: '', signature: '' }] = heard;
    expect(JSON.parse(body)).toMatchObject({ kind: 'push', ids: [7] });
    const [, seconds, sum] = /^t=(\d+),v1=([0-9a-f]{64})$/.exec(signature) ?? [];
    expect(createHmac('sha256', secret).update(`${seconds}.${body}`).digest('hex')).toBe(sum);
    heard = [];
    dialer.setFaults({ repeated: 1 });
    await dialer.tell({ kind: 'people', ids: [1] });
    expect(heard).toHaveLength(2);
    await ask('/hook', 'DELETE');
    expect(await dialer.tell({ kind: 'people', ids: [1] })).toBe(false);
  });
});

describe('what goes wrong on purpose', () => {
  test('a wrong key, too many in a second, the quota of a day, a cursor that is forgotten', async () => {
    expect((await ask('/account', 'GET', undefined, 'wrong')).status).toBe(401);
    dialer.setFaults({ perSecond: 2 });
    const busy = await Promise.all(Array.from({ length: 6 }, () => ask('/account')));
    expect(busy.some(({ status }) => status === 429)).toBe(true);
    dialer.setFaults({ ...NO_FAULTS, perDay: 1 });
    const answer = await fetch(`${dialer.url}/account`, { headers: { 'X-Api-Key': KEY } });
    expect([answer.status, Number(answer.headers.get('retry-after')) > 0]).toEqual([429, true]);
    dialer.setFaults({ ...NO_FAULTS, tokenLost: 1 });
    expect((await ask('/people?cursor=p1')).status).toBe(410);
  });
  test('an answer that is lost, after the write was done', async () => {
    dialer.setFaults({ lostAnswer: 1 });
    await expect(ask('/people', 'POST', { name: 'Ida', ref: 'lost-1' })).rejects.toThrow();
    expect(dialer.store.byRef('lost-1')?.name).toBe('IDA');
  });
});

test('its page shows people, takes changes and removes them', async () => {
  await form('/person', { name: 'Jo Quay', phone0: '+441632960444', stop0: 'on', email: 'jo@example.org' });
  const page = await (await fetch(dialer.url.replace('/v1', '/?find=jo%20quay'))).text();
  expect(page).toContain('JO QUAY');
  expect(page).toContain('+441632960444 (stop)');
  const id = dialer.store.list().find(({ name }) => name === 'JO QUAY')?.id ?? 0;
  expect(await (await fetch(dialer.url.replace('/v1', `/person?id=${id}`))).text()).toContain('jo@example.org');
  await form('/person', { id: String(id), remove: '1' });
  expect(dialer.store.find(id)).toBeUndefined();
});
