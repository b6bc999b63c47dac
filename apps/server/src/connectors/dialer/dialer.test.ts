import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { startDialer, type Dialer } from '../../../../stand-ins/src/dialer/server';
import { GuardedRequester } from '../guarded-request';
import { connectorContract } from '../testing/contract';
import { contractOfParts } from '../testing/contract-parts';
import { findDialer } from './find-dialer';
import { signatureOf } from '../../../../stand-ins/src/dialer/hook';
import { readDialerCall } from './hook';
import { DialerTool } from './tool';

const KEY = 'key of the dialer';
let dialer: Dialer;
let requester: GuardedRequester;
beforeAll(async () => {
  dialer = await startDialer({ port: 0, file: null, key: KEY });
  dialer.setFaults({ perSecond: 0 });
  requester = new GuardedRequester([`http://127.0.0.1:${dialer.port}`]);
});
afterAll(async () => {
  requester.close();
  await dialer.stop();
});

const open = (today?: () => string) => new DialerTool(requester, dialer.url, KEY, today ? { today } : {});
const byRef = (ref: string) => dialer.store.byRef(ref);
const ADA = { name: [{ v: 'Ada Reis' }], tel: [{ v: '+44 7700 900321' }] };

connectorContract('a dialer', async () => {
  for (const { id } of dialer.store.list()) dialer.store.remove(id);
  return {
    person: { name: [{ v: 'ANA REIS' }], tel: [{ v: '+44 7700 900123' }], email: [{ v: 'ana@example.org' }] },
    otherName: { name: [{ v: 'ANA OKORO' }] },
    more: { 'field.town': [{ v: 'Falmouth' }] },
    tellsRemoved: false,
    open,
    loseAnswers: (isLost) => dialer.setFaults({ lostAnswer: isLost ? 1 : 0 }),
    // A stop of one number is nothing that the connector has a field for.
    changeBehind: async (id) => {
      dialer.store.put(
        byRef(id)?.id ?? 0,
        { phones: [{ number: '+44 7700 900123', doNotCall: true }] },
        new Date().toISOString(),
      );
    },
    isKept: async (id) => byRef(id)?.phones[0]?.doNotCall === true,
    putOff: (isOn) => dialer.setFaults({ busy: isOn ? 0.3 : 0, retryAfterS: 0 }),
    forgetCursors: (isForgotten) => dialer.setFaults({ tokenLost: isForgotten ? 1 : 0 }),
  };
});

contractOfParts('a dialer', ['results', 'stops', 'lists', 'makeField', 'callNext'], async () => {
  for (const { id } of dialer.store.list()) dialer.store.remove(id);
  const call = {
    direction: 'out',
    dialled: '',
    outcome: 'reached',
    minutes: 3,
    at: new Date().toISOString(),
    caller: '',
  } as const;
  const person = (name: string, number: string) => ({ name: [{ v: name }], tel: [{ v: number }] });
  return {
    open,
    person: person('ANA REIS', '+44 7700 900123'),
    another: person('TOM OKORO', '+44 7700 900124'),
    happens: (id) => dialer.store.addCall({ ...call, number: id ? '+44 7700 900123' : '+44 7700 900999' }),
    says: (number) =>
      dialer.store.put(null, { name: 'A', phones: [{ number, doNotCall: true }] }, new Date().toISOString()),
  };
});

describe('a dialer', () => {
  const make = async (tool: DialerTool, nonce: string, fields = ADA) => {
    const id = tool.newId(7, nonce);
    const [made] = await tool.write([{ kind: 'create', id, fields, labels: ['Regatta'], stopped: [] }]);
    if (!made?.ok || !made.record) throw new Error('it was not made');
    return made.record;
  };

  test('says what it does to a name, and gives records back as it keeps them', async () => {
    const tool = open();
    const { fields } = await tool.capabilities();
    expect(fields.slice(0, 3)).toMatchObject([
      { key: 'name', longest: 40, capitals: true },
      { key: 'tel', most: 3 },
      { key: 'email', most: 1 },
    ]);
    const long = { ...ADA, name: [{ v: 'Ada Reis of the very long name that no box holds' }] };
    const made = await make(tool, 'long', long);
    expect(made.fields.name).toEqual([{ v: 'ADA REIS OF THE VERY LONG NAME THAT NO B' }]);
    expect((await open().read([made.id]))[0]).toEqual(made);
  });

  test('lists everybody anew on another day, so that whoever was removed is missed', async () => {
    let today = '2026-12-01';
    const tool = open(() => today);
    const made = await make(tool, 'day');
    const { cursor } = await tool.changes(null);
    dialer.store.remove(byRef(made.id)?.id ?? 0);
    const sameDay = await tool.changes(cursor);
    expect([sameDay.full, sameDay.changed, sameDay.gone]).toEqual([false, [], []]);
    today = '2026-12-02';
    const next = await tool.changes(sameDay.cursor);
    expect([next.full, next.changed.some(({ id }) => id === made.id)]).toEqual([true, false]);
    expect((await tool.changes(next.cursor)).full).toBe(false);
  });

  test('tells who wants no calls, and stops are made and never taken back', async () => {
    const tool = open();
    const made = await make(tool, 'stop');
    const [first] = await tool.write([
      { kind: 'update', id: made.id, version: made.version, fields: null, labels: null, stop: ['call'], seen: made },
    ]);
    if (!first?.ok || !first.record) throw new Error('it was not written');
    expect(first.record.stopped).toEqual(['call']);
    const email = { email: [{ v: 'ada@example.org' }] };
    await tool.write([
      {
        kind: 'update',
        id: made.id,
        version: first.record.version,
        fields: email,
        labels: null,
        stop: [],
        seen: first.record,
      },
    ]);
    expect((await open().read([made.id]))[0]).toMatchObject({ stopped: ['call'], fields: email });
  });

  test('people that were made over there are known by their number, and keep it', async () => {
    const { id } = dialer.store.put(null, { name: 'Tom', phones: [] }, new Date().toISOString());
    const tool = open();
    const [read] = await tool.read([`#${id}`]);
    if (!read) throw new Error('nobody is there');
    expect(read.fields.name).toEqual([{ v: 'TOM' }]);
    const [written] = await tool.write([
      {
        kind: 'update',
        id: read.id,
        version: read.version,
        fields: ADA,
        labels: ['Regatta', 'Crew'],
        stop: [],
        seen: read,
      },
    ]);
    expect(written).toMatchObject({ ok: true, record: { id: `#${id}`, labels: ['Regatta', 'Crew'] } });
  });

  test.each([
    ['a wrong key', '', 'wrong', 'does not take the key', 'key'],
    ['no address', 'dialer', KEY, 'is no web address', 'address'],
    ['an address inside', 'http://10.0.0.7/', KEY, 'is an address inside', 'address'],
    ['another place of the same server', '/nowhere', KEY, '', 'key'],
  ])('%s is said at its step', async (_, address, key, words, setting) => {
    const at = address.startsWith('/') ? `${dialer.url}${address}` : address || dialer.url;
    const { steps, place } = await findDialer(requester, at, key);
    expect(place).toBeNull();
    expect(steps.at(-1)).toMatchObject({ ok: false, setting });
    expect(steps.at(-1)?.text).toContain(words);
  });

  test.each([
    ['a page instead of an answer', { garbage: true }, 'no JSON'],
    ['an answer without an end', { endless: true }, 'MB and was broken off'],
  ])('%s', async (_, faults, words) => {
    dialer.setFaults(faults);
    expect((await findDialer(requester, dialer.url, KEY)).steps.at(-1)?.text).toContain(words);
    dialer.setFaults({ garbage: false, endless: false });
  });
});

describe('what comes back from a dialer', () => {
  test('calls are read on from where they were, with the ids that records have for us', async () => {
    const tool = open();
    const [made] = await tool.write([
      { kind: 'create', id: tool.newId(9, 'calls'), fields: ADA, labels: null, stopped: [] },
    ]);
    if (!made?.ok || !made.record) throw new Error('it was not made');
    const begin = dialer.store.calls.length;
    const at = '2026-11-20T10:00:00.000Z';
    const parts = {
      number: '+44 7700 900321',
      dialled: '',
      outcome: 'noAnswer',
      minutes: 0,
      at,
      caller: 'Ona',
    } as const;
    dialer.store.addCall({ ...parts, direction: 'out', personId: byRef(made.record.id)?.id ?? 0 });
    dialer.store.addCall({ ...parts, direction: 'in', number: '+44 7700 900999', personId: null });
    const { entries, cursor, more } = await tool.results(`p${begin}`);
    expect(more).toBe(false);
    expect(entries).toMatchObject([
      { kind: 'call', recordId: made.record.id, incoming: false, outcome: 'noAnswer', by: 'Ona', at },
      { recordId: null, incoming: true, number: '+44 7700 900999' },
    ]);
    expect((await tool.results(cursor)).entries).toEqual([]);
    await expect(tool.results('made up')).rejects.toMatchObject({ kind: 'cursorLost' });
  });

  test('stops of numbers come, those of people do not, and none is taken back', async () => {
    const from = `p${dialer.store.stops.length}`;
    const { id } = dialer.store.put(
      null,
      { name: 'A', phones: [{ number: '+44 7700 900801', doNotCall: true }] },
      '2026-11-20T10:00:00.000Z',
    );
    dialer.store.put(id, { doNotCall: true }, '2026-11-21T10:00:00.000Z');
    dialer.store.put(id, { phones: [{ number: '+44 7700 900801', doNotCall: false }] }, '2026-11-22T10:00:00.000Z');
    expect((await open().stops(from)).entries).toEqual([
      { channel: 'call', address: '+44 7700 900801', at: '2026-11-20T10:00:00.000Z' },
    ]);
  });

  test('makes fields with a type and options; one of a name that is taken is refused', async () => {
    const tool = open();
    const made = await tool.makeField({ name: 'Sail size', type: 'choice', options: ['small', 'large'] });
    expect(made).toMatchObject({ key: 'field.sail_size', name: 'Sail size', options: ['small', 'large'] });
    const { fields, newFieldTypes } = await open().capabilities();
    expect([fields.find(({ key }) => key === made.key), newFieldTypes?.includes('choice')]).toEqual([made, true]);
    const again = tool.makeField({ name: 'Sail size', type: 'text', options: [] });
    await expect(again).rejects.toMatchObject({ kind: 'refusedThere', message: expect.stringContaining('already') });
    const write = async (id: string, v: string) => {
      const fields = { ...ADA, [made.key]: [{ v }] };
      return (await tool.write([{ kind: 'create', id, fields, labels: [], stopped: [] }]))[0];
    };
    expect(await write(tool.newId(8, 'sail'), 'large')).toMatchObject({
      ok: true,
      record: { fields: { [made.key]: [{ v: 'large' }] } },
    });
    expect(await write(tool.newId(9, 'sail'), 'huge')).toMatchObject({ ok: false, why: 'refused' });
  });

  test('keeps a tenth of its quota for stops', async () => {
    dialer.setFaults({ perDay: 100_000 });
    const ordinary = open();
    expect((await ordinary.capabilities()).perDay).toBe(100_000);
    const left = Number(
      (await fetch(`${dialer.url}/account`, { headers: { 'X-Api-Key': KEY } })).headers.get('x-quota-left'),
    );
    const used = 100_000 - left;
    // Nine of ten are used up by now.
    dialer.setFaults({ perDay: Math.ceil(used / 0.9) });
    try {
      await ordinary.changes(null).catch(() => null);
      await expect(ordinary.changes(null)).rejects.toMatchObject({ kind: 'busy', waitMs: expect.any(Number) });
      await expect(ordinary.changes(null)).rejects.toThrow('They are kept for stops.');
      const forStops = new DialerTool(requester, dialer.url, KEY, { forStops: true });
      expect(await forStops.capabilities()).toMatchObject({ keepsStops: ['call'] });
    } finally {
      dialer.setFaults({ perDay: 0 });
    }
  });

  test('a call of it is believed by its signature, by the clock that is known', () => {
    const secret = 'a secret of the hook';
    const nowMs = Date.parse('2026-11-20T10:00:00.000Z');
    const read = (body: string, { signedAt = nowMs, aheadMs = 0, by = secret } = {}) =>
      readDialerCall({
        body,
        header: () => signatureOf(by, body, Math.floor(signedAt / 1000)),
        secret,
        nowMs,
        aheadMs,
      });
    const body = JSON.stringify({ kind: 'push', ids: [3, 'x', 4] });
    expect(read(body)).toEqual({ kind: 'pushed', ids: ['#3', '#4'] });
    const DAY_MS = 86_400_000;
    expect(read(body, { signedAt: nowMs + DAY_MS })).toEqual({ refused: 'It was signed long ago.' });
    expect(read(body, { signedAt: nowMs + DAY_MS, aheadMs: DAY_MS })).toMatchObject({ kind: 'pushed' });
    expect(read(body, { by: 'another secret' })).toEqual({ refused: 'The signature is false.' });
    for (const odd of ['', '[', 'null', '[]', '{"kind":"constructor","ids":[]}', '{"kind":"calls"}'])
      expect(read(odd)).toHaveProperty('refused');
    expect(readDialerCall({ body, header: () => undefined, secret, nowMs, aheadMs: 0 })).toHaveProperty('refused');
  });
});
