import { afterEach, describe, expect, test } from '@jest/globals';
import { isOneOf } from '@gray-loom/core/segments';
import type { ConflictList, ContactDetail, ContactSync } from '@gray-loom/wire';
import { startDueSyncs } from './start-sync';
import { cardOf, startSyncedApp, type SyncedApp } from '../../testing/run-sync';

const DAY_MS = 86_400_000;
const ANA = { UID: 'u-ana', FN: 'Ana Reis', N: 'Reis;Ana;;;', EMAIL: 'ana@example.org', NOTE: 'First' };
const TOM = { UID: 'u-tom', FN: 'Tom Okoro', N: 'Okoro;Tom;;;', EMAIL: 'tom@example.org' };
const crew = (n: number, more: Record<string, string> = {}): [string, Record<string, string>][] =>
  Array.from({ length: n }, (_, i) => {
    const letter = 'abcdefghijklmnopqrst'[i] ?? '';
    return [
      `c${i}.vcf`,
      {
        UID: `u${i}`,
        FN: `Ada Pen${letter}ose`,
        N: `Pen${letter}ose;Ada${letter};;;`,
        EMAIL: `p${i}@example.org`,
        ...more,
      },
    ];
  });

let synced: SyncedApp;
afterEach(() => synced.end());

const begin = async (...cards: [string, Record<string, string>][]) => {
  synced = await startSyncedApp(cards.map(([name, lines]) => ({ name, text: cardOf(lines) })));
  await synced.run({ trial: true });
};
const setUp = async (change: Parameters<SyncedApp['setup']>[0]) => {
  await synced.setup(change);
  await synced.run({ trial: true });
};
const idOf = async (find: string) => {
  const { rows } = await synced.app.json<{ rows: { id: number }[] }>(`/contacts?find=${encodeURIComponent(find)}`);
  return rows[0]?.id ?? 0;
};
const record = async (id: number) => (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record;
const note = async (id: number) => (await record(id)).f.note?.[0];
const edit = async (id: number, text: string) =>
  synced.app.edit(id, { field: 'note', slot: 0, before: (await note(id)) ?? null, text });
const rewrite = (name: string, from: RegExp | string, to: string) =>
  synced.book.book.put(name, synced.card(name).replace(from, to), Date.now() + synced.book.faults.clockMs);

describe('what goes wrong over there', () => {
  test('credentials that expire in the middle are said, nothing is lost, and the next run goes on', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    synced.book.setFaults({ expired: true });
    await edit(await idOf('Ana'), 'Later');
    const failed = await synced.run();
    expect(failed).toMatchObject({ state: 'failed' });
    expect(failed.error).toContain('does not take the name and password');
    expect((await synced.detail()).trouble).toContain('does not take the name and password');
    expect(await synced.app.json('/worklist')).toMatchObject({
      syncs: { troubled: [{ connectionId: synced.connectionId }] },
    });
    synced.book.setFaults({ expired: false });
    await synced.run();
    expect(synced.card('ana.vcf')).toContain('NOTE:Later');
    expect((await synced.detail()).trouble).toBeNull();
  });

  test('a clock that is a day ahead does not make its values newer', async () => {
    await begin(['ana.vcf', ANA]);
    synced.book.setFaults({ clockMs: DAY_MS });
    await synced.run();
    const id = await idOf('Ana');
    rewrite('ana.vcf', 'NOTE:First', 'NOTE:There');
    // What is here is changed two minutes after what is there.
    await edit(id, 'Here');
    await synced.app.database.pool.query(
      `update run set created_at = created_at + interval '2 minutes' where id = (select max(id) from run where kind = 'edit')`,
    );
    await synced.run();
    expect((await note(id))?.v).toBe('Here');
    expect(synced.card('ana.vcf')).toContain('NOTE:Here');
  });

  test('where the clocks cannot tell who was later, a person is asked', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    rewrite('ana.vcf', 'NOTE:First', 'NOTE:There');
    await edit(id, 'Here');
    expect((await synced.run()).counts).toMatchObject({ conflicts: 1 });
    expect((await note(id))?.v).toBe('Here');
    expect(synced.card('ana.vcf')).toContain('NOTE:There');
  });

  test('a book that is full is said before, and what has no room waits', async () => {
    await begin(['ana.vcf', ANA]);
    await setUp((setup) => ({ ...setup, newThere: true }));
    for (let i = 0; i < 3; i++)
      await synced.app.enter({
        givenName: `Ed${'abc'[i]}`,
        familyName: `Nan${'abc'[i]}ce`,
        email: `e${i}@example.org`,
      });
    synced.book.setFaults({ mostCards: 2 });
    const trial = await synced.run({ trial: true });
    expect((await synced.detail()).trial?.reasons.join()).toContain('has room for 2');
    expect(trial.counts.madeThere).toBe(3);
    const held = await synced.run();
    expect(held.state).toBe('paused');
    await synced.app.json(`/sync-runs/${held.id}/release`, 'POST');
    await synced.work(held.id);
    expect(synced.book.book.size).toBe(2);
    expect((await synced.detail()).trouble).toContain('full');
    synced.book.setFaults({ mostCards: 0 });
    await synced.run();
    expect(synced.book.book.size).toBe(4);
    expect((await synced.run()).counts).toMatchObject({ madeThere: 0, left: 0 });
  });

  test('a card without a name or anything to tell it by is left there, and looked at when it changes', async () => {
    await begin(['blank.vcf', { UID: 'u-b', FN: '' }], ['ana.vcf', ANA]);
    expect((await synced.run()).counts).toMatchObject({ madeHere: 1, failed: 1 });
    synced.put('blank.vcf', { UID: 'u-b', FN: 'Ines Lund', N: 'Lund;Ines;;;' });
    expect((await synced.run()).counts).toMatchObject({ madeHere: 1 });
  });

  test('two cards with one UID are two cards; the second is refused when it is written, and that is said', async () => {
    await begin(['a.vcf', ANA], ['b.vcf', { ...TOM, UID: 'u-ana' }]);
    expect((await synced.run()).counts).toMatchObject({ madeHere: 2 });
    await edit(await idOf('Ana'), 'Hello');
    expect(await synced.run()).toMatchObject({ state: 'done', counts: { failed: 1 } });
    const [sync] = await synced.app.json<ContactSync[]>(`/contacts/${await idOf('Ana')}/syncs`);
    expect(sync?.story[0]?.kind).toBe('refused');
    expect((await synced.run()).counts).toMatchObject({ changedHere: 0 });
  });

  test('a label that was renamed for everybody is held by the brake', async () => {
    await begin(...crew(5, { CATEGORIES: 'Enquiry' }));
    await synced.run();
    for (const [name] of crew(5)) rewrite(name, 'CATEGORIES:Enquiry', 'CATEGORIES:Enquiries');
    const held = await synced.run();
    expect(held.state).toBe('paused');
    expect((await synced.detail()).braked?.reasons.join()).toContain('"Enquiry"');
    await synced.app.json(`/runs/${held.id}/stop`, 'POST');
    await synced.work(held.id);
    expect((await record(await idOf('Adaa'))).f.stage?.[0]?.v).toBe('Enquiry');
  });

  test('answers in drips and a cursor that was forgotten change nothing of the outcome', async () => {
    await begin(...crew(4));
    await synced.run();
    synced.book.setFaults({ drip: true, tokenLost: 1 });
    rewrite('c1.vcf', 'END:VCARD', 'NOTE:Drip\r\nEND:VCARD');
    expect((await synced.run()).counts).toMatchObject({ changedHere: 1, madeHere: 0 });
  });
});

describe('who takes part', () => {
  const byLabel = (label: string) => [
    {
      id: 'crew',
      who: { kind: 'labelThere' as const, label },
      give: { tags: ['crew'], source: '', owner: '', stage: 'Donor' },
    },
  ];

  test('whoever has a label, with what they are given; taking it off parts the two and loses nobody', async () => {
    await begin(['ana.vcf', { ...ANA, CATEGORIES: 'crew list' }], ['tom.vcf', TOM]);
    await setUp((setup) => ({ ...setup, scopes: byLabel('crew list') }));
    expect((await synced.run()).counts).toMatchObject({ madeHere: 1 });
    const ana = await idOf('Ana');
    expect((await record(ana)).f).toMatchObject({ tags: [{ v: 'crew' }], stage: [{ v: 'Donor' }] });
    expect(await idOf('Tom')).toBe(0);
    rewrite('ana.vcf', /CATEGORIES:.*\r\n/, '');
    await synced.run();
    rewrite('ana.vcf', 'NOTE:First', 'NOTE:Apart');
    await synced.run();
    expect((await note(ana))?.v).toBe('First');
    const [sync] = await synced.app.json<ContactSync[]>(`/contacts/${ana}/syncs`);
    expect(sync).toMatchObject({ takesPart: false });
    rewrite('ana.vcf', 'NOTE:Apart', 'CATEGORIES:crew list\r\nNOTE:Apart');
    await synced.run();
    expect((await synced.app.json<ContactSync[]>(`/contacts/${ana}/syncs`))[0]).toMatchObject({ takesPart: true });
  });

  test('whoever meets a filter here, and whoever has a tag', async () => {
    await begin();
    const give = { tags: [], source: '', owner: '', stage: '' };
    await setUp((setup) => ({
      ...setup,
      newThere: true,
      scopes: [
        {
          id: 'f',
          who: { kind: 'condition', condition: isOneOf('source', 'Website'), words: 'source is Website' },
          give,
        },
        { id: 't', who: { kind: 'condition', condition: isOneOf('tags', 'regatta'), words: 'tag is regatta' }, give },
      ],
    }));
    await synced.app.enter({ givenName: 'Ana', familyName: 'Reis', email: 'ana@example.org', source: 'Website' });
    await synced.app.enter({ givenName: 'Tom', familyName: 'Okoro', email: 'tom@example.org', tags: 'Regatta' });
    await synced.app.enter({ givenName: 'Ines', familyName: 'Lund', email: 'ines@example.org', source: 'Fair' });
    expect((await synced.run()).counts).toMatchObject({ madeThere: 2 });
    expect(
      synced.book.book
        .list()
        .map(({ text }) => /FN:(.*)\r/.exec(text)?.[1])
        .sort(),
    ).toEqual(['Ana Reis', 'Tom Okoro']);
  });

  test('whoever is in a segment: when that means others, the next pass sends and lets go without anybody being changed', async () => {
    await begin();
    const inSegment = (source: string) => ({ condition: isOneOf('source', source) });
    const { id } = await synced.app.json<{ id: number }>('/segments', 'POST', {
      name: 'Sent',
      ...inSegment('Website'),
    });
    await setUp((setup) => ({
      ...setup,
      newThere: true,
      whenLeaving: 'remove',
      scopes: [
        {
          id: 's',
          who: { kind: 'condition', condition: isOneOf('@segment', String(id)), words: 'in Sent' },
          give: { tags: [], source: '', owner: '', stage: '' },
        },
      ],
    }));
    await synced.app.enter({ givenName: 'Ana', familyName: 'Reis', email: 'ana@example.org', source: 'Website' });
    await synced.app.enter({ givenName: 'Tom', familyName: 'Okoro', email: 'tom@example.org', source: 'Fair' });
    const there = () => synced.book.book.list().map(({ text }) => /FN:(.*)\r/.exec(text)?.[1]);
    await synced.run();
    expect(there()).toEqual(['Ana Reis']);
    await synced.app.json(`/segments/${id}`, 'PATCH', inSegment('Fair'));
    expect((await synced.run()).counts).toMatchObject({ madeThere: 1, removedThere: 1 });
    expect(there()).toEqual(['Tom Okoro']);
    expect((await synced.run()).counts).toMatchObject({ madeThere: 0, removedThere: 0 });
  });

  test('one person now, one never', async () => {
    await begin();
    await setUp((setup) => ({
      ...setup,
      scopes: [{ id: 'hand', who: { kind: 'byHand' }, give: { tags: [], source: '', owner: '', stage: '' } }],
    }));
    await synced.run();
    const { contactId: ana } = await synced.app.enter({
      givenName: 'Ana',
      familyName: 'Reis',
      email: 'ana@example.org',
    });
    const { contactId: tom } = await synced.app.enter({
      givenName: 'Tom',
      familyName: 'Okoro',
      email: 'tom@example.org',
    });
    await synced.run();
    expect(synced.book.book.size).toBe(0);
    expect((await synced.app.json<ContactSync[]>(`/contacts/${ana}/syncs`))[0]?.why).toContain(
      'Nothing of what decides',
    );
    const { runId } = await synced.app.json<{ runId: number }>(
      `/contacts/${ana}/syncs/${synced.connectionId}/send`,
      'POST',
    );
    await synced.work(runId);
    expect(synced.book.book.list().map(({ text }) => /FN:(.*)\r/.exec(text)?.[1])).toEqual(['Ana Reis']);
    await synced.app.json(`/contacts/${ana}/syncs/${synced.connectionId}`, 'PUT', { choice: 'never' });
    await edit(ana, 'Not for them');
    await synced.run();
    expect(synced.book.book.list()[0]?.text).not.toContain('Not for them');
    expect((await synced.app.json<ContactSync[]>(`/contacts/${tom}/syncs`))[0]?.takesPart).toBe(false);
  });

  test('who is deleted here is removed there where that was set, and comes back when brought back', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    await setUp((setup) => ({ ...setup, whenGoneHere: 'remove', newThere: true }));
    await synced.run();
    const ana = await idOf('Ana');
    await synced.app.json(`/contacts/${ana}`, 'DELETE');
    await synced.run();
    expect(synced.book.book.list().map(({ name }) => name)).toEqual(['tom.vcf']);
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 1 });
    await synced.app.json(`/contacts/${ana}/restore`, 'POST');
    await synced.run();
    expect(synced.book.book.size).toBe(2);
    expect((await synced.run()).counts).toMatchObject({ madeHere: 0, madeThere: 0 });
  });

  test('who was deleted here is not brought back from over there', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const ana = await idOf('Ana');
    await synced.app.json(`/contacts/${ana}`, 'DELETE');
    await synced.run();
    rewrite('ana.vcf', 'NOTE:First', 'NOTE:Second');
    await synced.run();
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 0 });
  });
});

describe('two records over there for one contact', () => {
  test('are asked about after a merge here, and each contact has its own again when it is undone', async () => {
    await begin(
      ['a.vcf', ANA],
      ['b.vcf', { UID: 'u-b', FN: 'Anna Reis', N: 'Reis;Anna;;;', EMAIL: 'anna@example.net' }],
    );
    await synced.run();
    const [ana, anna] = [await idOf('ana@example.org'), await idOf('anna@example.net')];
    const { rows } = await synced.app.database.pool.query<{ id: number }>(
      `insert into match_group (member_key, member_ids, state, band, probability01, bits, name, model_version)
       values ($1, $2, 'open', 'likely', 0.9, 3, 'Ana', 1) returning id`,
      [[ana, anna].sort((x, y) => x - y).join(','), [ana, anna]],
    );
    const { runId } = await synced.app.json<{ runId: number }>(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
      memberIds: [ana, anna],
      keepId: ana,
      choices: {},
      versions: {},
    });
    await synced.run();
    const [question] = (await synced.app.json<ConflictList>('/conflicts')).entries;
    expect(question).toMatchObject({ kind: 'two', theirs: { text: expect.arrayContaining(['Anna Reis']) } });
    await synced.app.json(`/runs/${runId}/undo`, 'POST');
    await synced.run();
    expect((await synced.app.json<ConflictList>('/conflicts')).entries).toEqual([]);
    await edit(anna, 'Her own');
    await synced.run();
    expect(synced.card('b.vcf')).toContain('NOTE:Her own');
    expect(synced.card('a.vcf')).not.toContain('Her own');
  });
});

describe('when it runs', () => {
  test('by its timetable, and when the other side calls; not before it was tried', async () => {
    synced = await startSyncedApp([{ name: 'ana.vcf', text: cardOf(ANA) }]);
    const { app, connectionId } = synced;
    await expect(
      app.json(`/connections/${connectionId}`, 'PATCH', { everyMinutes: 5, state: 'on' }),
    ).rejects.toMatchObject({ status: 409 });
    await synced.run({ trial: true });
    await app.json(`/connections/${connectionId}`, 'PATCH', { everyMinutes: 5, state: 'on' });
    await startDueSyncs(app.database);
    expect((await synced.detail()).runs).toHaveLength(1);
    await app.database.pool.query(`update connection set next_run_at = now() - interval '1 second'`);
    await startDueSyncs(app.database);
    const [run] = (await synced.detail()).runs;
    await synced.work(run?.id ?? 0);
    expect(await idOf('Ana')).toBeGreaterThan(0);
    expect(new Date((await synced.detail()).nextRunAt ?? 0).getTime()).toBeGreaterThan(Date.now());
    const { hook } = await synced.detail();
    const call = (path: string) => app.anonymous(path.replace('/api', ''), { method: 'POST' });
    expect((await call(hook)).status).toBe(200);
    expect((await synced.detail()).runs).toHaveLength(3);
    // While one waits its turn a second call starts no other.
    expect((await call(hook)).status).toBe(200);
    expect((await synced.detail()).runs).toHaveLength(3);
    expect((await call('/api/hooks/unknown')).status).toBe(404);
  });

  test('a call while a run is at work starts another one right behind it', async () => {
    await begin(['ana.vcf', ANA]);
    const { app, connectionId } = synced;
    await app.json(`/connections/${connectionId}`, 'PATCH', { everyMinutes: null, state: 'on' });
    const { hook } = await synced.detail();
    const { runId } = await app.json<{ runId: number }>(`/connections/${connectionId}/run`, 'POST', { trial: false });
    await app.database.pool.query(`update run set state = 'running' where id = $1`, [runId]);
    expect((await app.anonymous(hook.replace('/api', ''), { method: 'POST' })).status).toBe(200);
    await app.database.pool.query(`update run set state = 'queued' where id = $1`, [runId]);
    await synced.work(runId);
    const [next, ended] = (await synced.detail()).runs;
    expect([ended?.id, ended?.state, next?.state]).toEqual([runId, 'done', 'queued']);
    await synced.work(next?.id ?? 0);
    // Nobody called meanwhile: it stays at that.
    expect((await synced.detail()).runs[0]?.id).toBe(next?.id);
  });

  test('a connection without a timetable runs when it is called, and one that is stopped asks nothing of anybody', async () => {
    await begin(['ana.vcf', ANA]);
    const { app, connectionId } = synced;
    const set = (change: object) => app.json(`/connections/${connectionId}`, 'PATCH', change);
    const { hook } = await synced.detail();
    const call = () => app.anonymous(hook.replace('/api', ''), { method: 'POST' });
    expect((await call()).status).toBe(404);
    await set({ everyMinutes: null, state: 'on' });
    expect((await synced.detail()).nextRunAt).toBeNull();
    expect((await call()).status).toBe(200);
    await synced.work((await synced.detail()).runs[0]?.id ?? 0);
    const ana = await idOf('Ana');
    const { contactId: tom } = await app.enter({ givenName: 'Tom', familyName: 'Okoro' });
    const stateOf = (id: number) => app.json<ContactSync[]>(`/contacts/${id}/syncs`);
    expect(await stateOf(tom)).toMatchObject([{ takesPart: false, stopped: false }]);
    await set({ state: 'stopped' });
    expect((await call()).status).toBe(404);
    expect(await stateOf(ana)).toMatchObject([{ takesPart: false, stopped: true }]);
    expect(await stateOf(tom)).toEqual([]);
  });

  test('a set-up that cannot be kept to is refused at its line', async () => {
    await begin(['ana.vcf', ANA]);
    await expect(
      synced.setup((setup) => ({
        ...setup,
        lines: [...setup.lines, { id: 'x', field: 'nickname', outside: 'note', direction: 'out', rule: 'ask' }],
      })),
    ).rejects.toMatchObject({ problem: { facts: { line: 'x' } } });
    await expect(
      synced.setup((setup) => ({
        ...setup,
        lines: [{ id: 'x', field: 'nickname', outside: 'shoe size', direction: 'out', rule: 'ask' }],
      })),
    ).rejects.toMatchObject({ problem: { code: 'noSuchOutsideField' } });
  });

  test('a field that goes back and forth between two connections is left alone, and the rest goes on', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const { app, connectionId } = synced;
    const ana = await idOf('Ana');
    const { id: other } = await app.json<{ id: number }>('/connections', 'POST', {
      name: 'Another book',
      settings: { address: synced.book.url, user: 'office', password: 'secret' },
      from: connectionId,
      despite: true,
    });
    await app.database.pool.query(
      `insert into sync_change (connection_id, run_id, outside_id, contact_id, name, side, field, kind, before, after)
       select case when n % 2 = 0 then $1::int else $2::int end, 1, 'ana.vcf', $3::bigint, 'Ana', 'here', 'Note', 'change', '[]', '[]'
          from generate_series(1, 6) n`,
      [connectionId, other, ana],
    );
    // As many edits of colleagues on both sides, each with a new value, are no fight.
    await app.database.pool.query(
      `insert into sync_change (connection_id, run_id, outside_id, contact_id, name, side, field, kind, before, after)
       select case when n % 2 = 0 then $1::int else $2::int end, 1, 'ana.vcf', $3::bigint, 'Ana', 'here', 'Job title', 'change', '[]',
          jsonb_build_array(jsonb_build_object('v', n::text)) from generate_series(1, 8) n`,
      [connectionId, other, ana],
    );
    rewrite('ana.vcf', 'NOTE:First', 'TITLE:Skipper\r\nNOTE:Second');
    await synced.run();
    expect((await record(ana)).f.title?.[0]?.v).toBe('Skipper');
    expect((await note(ana))?.v).toBe('First');
    expect((await synced.detail()).trouble).toContain('Note goes back and forth');
    await setUp((setup) => ({
      ...setup,
      lines: setup.lines.map((line) => (line.field === 'note' ? { ...line, rule: 'ask' } : line)),
    }));
    await synced.run();
    expect((await note(ana))?.v).toBe('Second');
  });

  test('the password is not in the database as it was typed', async () => {
    await begin();
    const { rows } = await synced.app.database.pool.query<{ all: string }>(
      'select connection::text as all from connection',
    );
    expect(rows[0]?.all).not.toContain('secret');
    expect(JSON.stringify(await synced.detail())).not.toContain('secret');
  });
});
