import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { OutsideFields, OutsideWrite, OutsideWritten } from '@gray-loom/core/syncing';
import { NO_FAULTS } from '../../../../stand-ins/src/faults';
import { startMailer, type Mailer } from '../../../../stand-ins/src/mailer/server';
import { GuardedRequester } from '../guarded-request';
import { connectorContract } from '../testing/contract';
import { contractOfParts } from '../testing/contract-parts';
import { findMailer } from './find-mailer';
import { MailerTool } from './tool';

const CLIENT = { id: 'gray-loom', secret: 'a secret of the mail room' };
let mailer: Mailer;
let requester: GuardedRequester;
beforeAll(async () => {
  mailer = await startMailer({ port: 0, file: null, client: CLIENT });
  requester = new GuardedRequester([`http://127.0.0.1:${mailer.port}`]);
});
beforeEach(() => mailer.setFaults(NO_FAULTS));
afterAll(async () => {
  requester.close();
  await mailer.stop();
});

const open = () => new MailerTool(requester, mailer.url, CLIENT);
const nowIso = () => new Date().toISOString();
const empty = () => {
  for (const { address } of mailer.store.list()) mailer.store.remove(address, nowIso());
};
const at = (address: string, more: OutsideFields = {}): OutsideFields => ({ email: [{ v: address }], ...more });
const ANA = at('ana@example.org', { given: [{ v: 'Ana' }], family: [{ v: 'Reis' }] });

connectorContract('a mailer', async () => {
  empty();
  return {
    person: ANA,
    otherName: { family: [{ v: 'Okoro' }] },
    more: { 'column.boat': [{ v: 'gig' }] },
    another: (n) => at(`ana${n}@example.org`),
    tellsRemoved: true,
    open,
    loseAnswers: (isLost) => mailer.setFaults({ lostAnswer: isLost ? 1 : 0 }),
    // What somebody said of one list is nothing that the connector writes.
    changeBehind: async () => {
      const list = mailer.store.addList('Open days');
      mailer.store.place('ana@example.org', list.id, [], nowIso());
      mailer.store.say('ana@example.org', null, 'undeliverable', nowIso());
    },
    isKept: async () => mailer.store.find('ana@example.org')?.state === 'undeliverable',
    putOff: (isOn) => mailer.setFaults({ busy: isOn ? 0.3 : 0, retryAfterS: 0 }),
    forgetCursors: (isForgotten) => mailer.setFaults({ tokenLost: isForgotten ? 1 : 0 }),
  };
});

contractOfParts('a mailer', ['results', 'stops', 'lists', 'bulk', 'makeField', 'newUid'], async () => {
  empty();
  const { id: list } = mailer.store.addList('Newsletter');
  const { id: mailing } = mailer.store.send('Spring', list, nowIso());
  const happen = (address: string, event: 'opened' | 'off') =>
    mailer.store.happen({ mailing, address, event, link: '', at: nowIso() });
  return {
    open,
    person: ANA,
    another: at('tom@example.org'),
    happens: (id) => happen(id ?? 'nobody@example.org', 'opened'),
    says: (address) => happen(address, 'off'),
    moves: (id) => mailer.store.rename(id, 'ana.okoro@example.org', nowIso())?.address ?? '',
  };
});

describe('a mailer', () => {
  beforeEach(empty);
  const create = (tool: MailerTool, nonce: string, fields: OutsideFields, labels: string[] = []): OutsideWrite => ({
    kind: 'create',
    id: tool.newId(7, nonce),
    fields,
    labels,
    stopped: [],
  });
  const made = async (tool: MailerTool, nonce: string, fields: OutsideFields, labels: string[] = []) => {
    const [written] = await tool.write([create(tool, nonce, fields, labels)]);
    if (!written?.ok || !written.record) throw new Error(`it was not made: ${JSON.stringify(written)}`);
    return written.record;
  };
  const change = (seen: Awaited<ReturnType<typeof made>>, fields: OutsideFields): OutsideWrite => ({
    kind: 'update',
    id: seen.id,
    version: seen.version,
    fields,
    labels: null,
    stop: [],
    seen,
  });
  const ids = (written: readonly OutsideWritten[]) => written.map((one) => (one.ok ? one.record?.id : one.why));

  test('a token that ends between two requests is renewed, and nothing is done twice', async () => {
    const tool = open();
    await tool.capabilities();
    mailer.setFaults({ tokenEnds: 0.3 });
    for (let i = 0; i < 20; i++) await made(tool, `t${i}`, at(`t${i}@example.org`));
    mailer.setFaults({ tokenEnds: 0 });
    expect(mailer.store.list()).toHaveLength(20);
    mailer.setFaults({ expired: true, tokenEnds: 1 });
    await expect(tool.capabilities()).rejects.toMatchObject({ kind: 'credentials' });
  });

  test('a token is renewed before it ends', async () => {
    mailer.setFaults({ tokenS: 1 });
    const tool = open();
    const before = mailer.counts.POST ?? 0;
    await tool.capabilities();
    // It holds for less than what is kept in hand: each request has its own.
    expect((mailer.counts.POST ?? 0) - before).toBe(3);
  });

  test('another address is the same entry, and an address that another entry has is refused', async () => {
    const tool = open();
    const [ana, tom] = [await made(tool, 'a', ANA), await made(tool, 'b', at('tom@example.org'))];
    expect(await tool.write([change(ana, at('tom@example.org'))])).toMatchObject([{ ok: false, why: 'refused' }]);
    const [moved] = await tool.write([change(ana, at('Ana.Okoro@example.org'))]);
    expect(moved).toMatchObject({ ok: true, record: { id: 'ana.okoro@example.org', uid: ana.uid } });
    expect((await tool.read([ana.id, tom.id])).map(({ id }) => id)).toEqual(['tom@example.org']);
    expect(mailer.store.list()).toHaveLength(2);
  });

  test.each([
    ['one by one', 0],
    ['by a job', 4],
  ])('people swap their addresses, and others follow each other: %s', async (_, more) => {
    const tool = open();
    const entries = await Promise.all(
      ['a', 'b', 'c', 'd'].map((name) => made(tool, name, at(`${name}@example.org`, { given: [{ v: name }] }))),
    );
    const to = ['b', 'a', 'd', 'e'];
    const written = await (async () => {
      const writes = [
        ...entries.map((entry, i) => change(entry, at(`${to[i] ?? ''}@example.org`))),
        ...Array.from({ length: more }, (__, i) => create(tool, `m${i}`, at(`m${i}@example.org`))),
      ];
      if (!more) return tool.write(writes);
      const job = (await tool.bulk.start(writes)) ?? '';
      const { answers } = await tool.bulk.look(job);
      return writes.map(({ id }) => answers.find((one) => one.id === id)?.written as OutsideWritten);
    })();
    expect(ids(written).slice(0, 4)).toEqual(to.map((name) => `${name}@example.org`));
    const names = new Map(mailer.store.list().map(({ address, given }) => [given, address[0]]));
    expect(['a', 'b', 'c', 'd'].map((name) => names.get(name))).toEqual(to);
    expect(mailer.store.list()).toHaveLength(4 + more);
  });

  test('one who cannot move holds up whoever wants that place, and nobody else', async () => {
    const tool = open();
    const entries = [];
    for (const name of ['a', 'b', 'c']) entries.push(await made(tool, name, at(`${name}@example.org`)));
    const [a, b] = entries;
    if (!a || !b) throw new Error('they were not made');
    const written = await tool.write([change(a, at('b@example.org')), change(b, at('c@example.org'))]);
    expect(ids(written)).toEqual(['refused', 'refused']);
    expect(mailer.store.list().map(({ address }) => address[0])).toEqual(['a', 'b', 'c']);
  });

  test('an entry without an address is refused, one that is there is not written over', async () => {
    const tool = open();
    await made(tool, 'a', ANA);
    const written = await tool.write([
      create(tool, 'b', { given: [{ v: 'Tom' }] }),
      create(tool, 'c', at('ANA@example.org')),
    ]);
    expect(ids(written)).toEqual(['refused', 'refused']);
    expect(mailer.store.find('ana@example.org')).toMatchObject({ given: 'Ana' });
  });

  test('columns are cut as the tool says, and those of a choice take what they take', async () => {
    const tool = open();
    const field = await tool.makeField({ name: 'Sail size', type: 'choice', options: ['small'] });
    expect(field).toMatchObject({ key: 'column.sail_size', longest: 50, options: ['small'] });
    const boat = { 'column.boat': [{ v: 'x'.repeat(60) }] };
    expect((await made(tool, 'a', { ...ANA, ...boat })).fields['column.boat']).toEqual([{ v: 'x'.repeat(50) }]);
    const sail = { [field.key]: [{ v: 'huge' }] };
    expect(await tool.write([create(tool, 'b', at('b@example.org', sail))])).toMatchObject([
      { ok: false, why: 'refused', text: "'huge' is no option of 'sail_size'." },
    ]);
    mailer.store.changeColumn('sail_size', '');
    expect(await tool.write([create(tool, 'c', at('c@example.org', sail))])).toMatchObject([
      { ok: false, why: 'refused', text: "There is no column 'sail_size'." },
    ]);
  });

  test('an entry that was removed comes back with what it had, off where it was off', async () => {
    const tool = open();
    const ana = await made(tool, 'a', { ...ANA, 'column.boat': [{ v: 'gig' }] }, ['Crew / Gigs']);
    const list = mailer.store.lists.find(({ name }) => name === 'Crew')?.id ?? 0;
    mailer.store.say('ana@example.org', list, 'off', nowIso());
    const [seen] = await tool.read([ana.id]);
    const [gone] = await tool.write([{ kind: 'remove', id: ana.id, version: seen?.version ?? '' }]);
    const from = gone?.ok ? gone.kept : undefined;
    expect(mailer.store.list()).toEqual([]);
    const back = { kind: 'create' as const, id: ana.id, fields: {}, labels: null, stopped: [], from: from ?? '' };
    expect(await tool.write([back])).toMatchObject([
      { ok: true, record: { id: ana.id, uid: ana.uid, fields: seen?.fields, labels: ['Crew', 'Crew / Gigs'] } },
    ]);
    expect(mailer.store.find('ana@example.org')?.state).toBe('off');
  });

  test('strands are made inside their list; whoever is in one is in the list', async () => {
    const tool = open();
    const list = await tool.lists.make('Alumni / Spring');
    expect((await tool.lists.make('Alumni / Spring')).id).toBe(list.id);
    const ana = await made(tool, 'a', ANA, ['Alumni / Spring']);
    expect(ana.labels.sort()).toEqual(['Alumni', 'Alumni / Spring']);
    await tool.lists.move(list.id, { in: [], out: [ana.id] });
    expect((await tool.read([ana.id]))[0]?.labels).toEqual(['Alumni']);
  });
});

describe('who changed at a mailer', () => {
  beforeEach(empty);
  test('all of one second are told once, over many pages, while others change', async () => {
    const tool = open();
    const second = '2026-11-20T10:00:00Z';
    for (let i = 0; i < 1200; i++)
      mailer.store.put(`p${String(i).padStart(4, '0')}@example.org`, {}, i < 1100 ? second : '2026-11-20T10:00:01Z');
    const { cursor, changed } = await tool.changes(null);
    expect(new Set(changed.map(({ id }) => id)).size).toBe(1200);
    // Of the second in which it was asked, what was told is not told again, and what changed once more is.
    mailer.store.put('p0000@example.org', { given: 'Ana' }, nowIso());
    const next = await tool.changes(cursor);
    expect(next.changed.map(({ id }) => id)).toEqual(['p0000@example.org']);
    mailer.store.put('p0000@example.org', { given: 'Anna' }, nowIso());
    mailer.store.put('p0001@example.org', { given: 'Tom' }, nowIso());
    const third = await tool.changes(next.cursor);
    expect(third.changed.map(({ id }) => id).sort()).toEqual(['p0000@example.org', 'p0001@example.org']);
    const versions = new Map(third.changed.map(({ id, version }) => [id, version]));
    for (const { id, version } of (await tool.changes(third.cursor)).changed) expect(versions.get(id)).toBe(version);
  });

  test('who changes while the pages are read hides nobody', async () => {
    for (let i = 0; i < 1200; i++)
      mailer.store.put(`p${String(i).padStart(4, '0')}@example.org`, {}, '2026-11-20T10:00:00Z');
    const tool = open();
    const { get } = tool['client'];
    let pages = 0;
    // After the first page somebody of it changes, and moves to the end.
    tool['client'].get = async function moved<T>(this: (typeof tool)['client'], path: string): Promise<T> {
      const answer = await get.call(this, path);
      if (path.startsWith('/entries?') && ++pages === 1)
        mailer.store.put('p0003@example.org', { given: 'A' }, nowIso());
      return answer as T;
    };
    const { changed } = await tool.changes(null);
    expect(new Set(changed.map(({ id }) => id)).size).toBe(1200);
  });

  test('a clock that was put back is said, and everything is listed anew', async () => {
    const tool = open();
    const { cursor } = await tool.changes(null);
    mailer.setFaults({ clockMs: -86_400_000 });
    await expect(tool.changes(cursor)).rejects.toMatchObject({ kind: 'cursorLost' });
    expect((await tool.changes(null)).full).toBe(true);
  });
});

describe('jobs of a mailer', () => {
  beforeEach(empty);
  const writes = (tool: MailerTool) =>
    Array.from({ length: 6 }, (_, i) => ({
      kind: 'create' as const,
      id: tool.newId(i, 'job'),
      fields: at(`j${i}@example.org`),
      labels: ['Crew'],
      stopped: i === 0 ? (['email'] as const).slice() : [],
    }));

  test.each([
    ['twice', { jobTwice: 1 }],
    ['for others as well', { jobStray: 1 }],
    ['in another order', { disorder: 1 }],
  ])('answers that come %s count once, for whom they are', async (_, faults) => {
    const tool = open();
    mailer.setFaults(faults);
    const job = (await tool.bulk.start(writes(tool))) ?? '';
    const { done, answers } = await tool.bulk.look(job);
    expect([done, answers.length]).toEqual([true, 6]);
    expect(answers.every(({ written }) => written.ok && written.record?.labels[0] === 'Crew')).toBe(true);
    expect(mailer.store.find('j0@example.org')?.state).toBe('off');
  });

  test('a job that is not done yet, or never, says so', async () => {
    const tool = open();
    mailer.setFaults({ jobNever: 1 });
    const job = (await tool.bulk.start(writes(tool))) ?? '';
    expect(await tool.bulk.look(job)).toEqual({ done: false, answers: [] });
    expect(mailer.store.list()).toHaveLength(6);
  });

  test('a job whose answer is lost is not known to have begun', async () => {
    const tool = open();
    await tool.capabilities();
    mailer.setFaults({ lostAnswer: 1 });
    expect(await tool.bulk.start(writes(tool))).toBeNull();
    expect(mailer.store.list()).toHaveLength(6);
  });
});

describe('what comes back from a mailer', () => {
  beforeEach(empty);
  test('what became of a mailing comes with its subject and link, of an entry that is there', async () => {
    const tool = open();
    await tool.write([{ kind: 'create', id: 'r1', fields: ANA, labels: ['Alumni'], stopped: [] }]);
    const list = mailer.store.lists.find(({ name }) => name === 'Alumni')?.id ?? 0;
    const from = `p${mailer.store.events.length}`;
    const { id: mailing } = mailer.store.send('Summer camp', list, '2026-11-20T10:00:00.000Z');
    const happen = (event: 'clicked' | 'undeliverable' | 'off', link = '') =>
      mailer.store.happen({ mailing, address: 'Ana@example.org', event, link, at: '2026-11-20T11:00:00.000Z' });
    happen('clicked', 'https://camp.example/');
    happen('off');
    happen('undeliverable');
    expect((await tool.results(from)).entries).toMatchObject([
      { outcome: 'sent', recordId: 'ana@example.org', of: { subject: 'Summer camp' } },
      { outcome: 'clicked', link: 'https://camp.example/' },
      { outcome: 'off' },
      { outcome: 'undeliverable' },
    ]);
    expect((await tool.stops(from)).entries).toEqual([
      {
        channel: 'email',
        address: 'Ana@example.org',
        at: '2026-11-20T11:00:00.000Z',
        list: 'Alumni',
        how: 'taken off by the mailing "Summer camp"',
      },
      {
        channel: 'email',
        address: 'Ana@example.org',
        at: '2026-11-20T11:00:00.000Z',
        undeliverable: true,
        how: 'mail came back by the mailing "Summer camp"',
      },
    ]);
  });

  test.each([
    ['a wrong secret', '', { ...CLIENT, secret: 'wrong' }, 'does not take the name and secret', 'secret'],
    ['an address inside', 'http://10.0.0.7/', CLIENT, 'is an address inside', 'address'],
    ['another place of the same server', '/nowhere', CLIENT, 'No tokens are given out', 'secret'],
  ])('%s is said at its step', async (_, address, client, words, setting) => {
    const where = address.startsWith('/') ? mailer.url + address : address || mailer.url;
    const { steps, place } = await findMailer(requester, where, client);
    expect(place).toBeNull();
    expect(steps.at(-1)).toMatchObject({ ok: false, setting });
    expect(steps.at(-1)?.text).toContain(words);
  });
});
