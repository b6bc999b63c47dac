import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { startDialer, type Dialer } from '../../../../stand-ins/src/dialer/server';
import { GuardedRequester } from '../guarded-request';
import { connectorContract } from '../testing/contract';
import { findDialer } from './find-dialer';
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

const open = (today?: () => string) => new DialerTool(requester, dialer.url, KEY, today);
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
