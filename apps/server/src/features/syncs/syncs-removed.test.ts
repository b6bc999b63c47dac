import { afterEach, describe, expect, test } from '@jest/globals';
import type { ConflictList, ConnectionDetail, ContactDetail, ContactSync, WhoSample, Worklist } from '@gray-loom/wire';
import { startDueSyncs } from './start-sync';
import { cardOf, startSyncedApp, type SyncedApp } from '../../testing/run-sync';

let synced: SyncedApp;
afterEach(() => synced.end());

const ANA = {
  UID: 'u-ana',
  FN: 'Ana Reis',
  N: 'Reis;Ana;;;',
  EMAIL: 'ana@example.org',
  'X-BERTH;X-SIDE=port': 'row 4\\, by the crane',
  GEO: '50.15;-5.07',
};
const begin = async (...cards: [string, Record<string, string | string[]>][]) => {
  synced = await startSyncedApp(cards.map(([name, lines]) => ({ name, text: cardOf(lines) })));
  await synced.run({ trial: true });
  await synced.run();
};
const idOf = async (find: string) => {
  const { rows } = await synced.app.json<{ rows: { id: number }[] }>(`/contacts?find=${encodeURIComponent(find)}`);
  return rows[0]?.id ?? 0;
};
const recordOf = async (id: number) => (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record;
const conflicts = () => synced.app.json<ConflictList>('/conflicts');
const setUp = async (change: Parameters<SyncedApp['setup']>[0]) => {
  await synced.setup(change);
  await synced.run({ trial: true });
};
const remove = (id: number) => synced.app.json(`/contacts/${id}`, 'DELETE');

describe('records that we remove over there', () => {
  test('come back with every line they had when the contact is brought back', async () => {
    await begin(['ana.vcf', ANA]);
    await setUp((setup) => ({ ...setup, whenGoneHere: 'remove' }));
    await synced.run();
    const card = synced.card('ana.vcf');
    const ana = await idOf('Ana');
    await remove(ana);
    await synced.run();
    expect(synced.card('ana.vcf')).toBe('');
    await synced.app.json(`/contacts/${ana}/restore`, 'POST', {});
    await synced.run();
    expect(synced.card('ana.vcf')).toBe(card);
  });

  test('stay, with a question, where they were edited over there; brought back, the contact has what was edited', async () => {
    await begin(['ana.vcf', ANA]);
    await setUp((setup) => ({ ...setup, whenGoneHere: 'remove' }));
    await synced.run();
    const ana = await idOf('Ana');
    await remove(ana);
    synced.put('ana.vcf', { ...ANA, NOTE: 'Moved to Falmouth' });
    expect(await synced.run()).toMatchObject({ counts: { conflicts: 1 } });
    expect(await synced.run()).toMatchObject({ counts: { conflicts: 0 } });
    expect(synced.card('ana.vcf')).toContain('Moved to Falmouth');
    const [question] = (await conflicts()).entries;
    expect(question).toMatchObject({ kind: 'removal', name: 'Ana Reis', theirs: { text: ['Moved to Falmouth'] } });
    const settle = (take: string) => synced.app.json(`/conflicts/${question?.key}/settle`, 'POST', { take });
    await expect(settle('ours')).rejects.toMatchObject({ status: 422 });
    await settle('bringBack');
    await synced.work((await synced.detail()).runs[0]?.id ?? 0);
    expect((await recordOf(ana)).f.note?.[0]?.v).toBe('Moved to Falmouth');
    expect(await conflicts()).toMatchObject({ total: 0, entries: [] });
  });

  test('go by the word of a person, and come back whole when the merge is undone', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', { UID: 'u-tom', FN: 'Tom Okoro', N: 'Okoro;Tom;;;', GEO: '1;2' }]);
    const [ana, tom] = [await idOf('Ana'), await idOf('Tom')];
    const card = synced.card('tom.vcf');
    const { rows } = await synced.app.database.pool.query<{ id: number }>(
      `insert into match_group (kind, member_key, member_ids, state, band, probability01, bits, name, model_version)
       values ('person', '1', $1, 'open', 'likely', 0.9, 4, 'Reis', 0) returning id`,
      [[ana, tom]],
    );
    const { runId } = await synced.app.json<{ runId: number }>(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
      memberIds: [ana, tom],
      keepId: ana,
      choices: {},
      versions: {},
    });
    await synced.run();
    const [question] = (await conflicts()).entries;
    expect(question?.kind).toBe('two');
    await synced.app.json(`/conflicts/${question?.key}/settle`, 'POST', { take: 'removeThere' });
    expect(synced.card('tom.vcf')).toBe('');
    await synced.app.json(`/runs/${runId}/undo`, 'POST', {});
    await synced.run();
    expect(synced.card('tom.vcf')).toBe(card);
  });
});

describe('records that cannot be read', () => {
  const BROKEN = ['BEGIN:VCARD', 'VERSION:3.0', 'UID:u-x', 'FN:Tom Okoro', 'this is no line', 'END:VCARD', ''].join(
    '\r\n',
  );

  test('are told with line and reason, take nothing away here, and are read once they are mended', async () => {
    await begin(['ana.vcf', ANA]);
    const ana = await idOf('Ana');
    synced.book.book.put('tom.vcf', BROKEN, Date.now());
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('FN:', 'what is this\r\nFN:'), Date.now());
    await synced.run();
    expect((await recordOf(ana)).f.email?.[0]?.v).toBe('ana@example.org');
    const { notTaken } = await synced.detail();
    expect(notTaken.total).toBe(2);
    expect(notTaken.records.map(({ outsideId, why, isUnreadable }) => [outsideId, why, isUnreadable])).toEqual([
      ['ana.vcf', expect.stringMatching(/line \d+ \("what is this"\)/), true],
      ['tom.vcf', 'The card cannot be read: line 5 ("this is no line") is no property, since it has no colon.', true],
    ]);
    const { syncs } = await synced.app.json<Worklist>('/worklist');
    expect(syncs.notTaken).toMatchObject([{ count: 2, isUnreadable: true }]);
    const [state] = await synced.app.json<ContactSync[]>(`/contacts/${ana}/syncs`);
    expect(state).toMatchObject({ takesPart: false, why: expect.stringContaining('cannot be read') as unknown });
    // What changes here meanwhile is not written over it.
    await synced.app.edit(ana, { field: 'title', slot: 0, before: null, text: 'Skipper' });
    await synced.run();
    expect(synced.card('ana.vcf')).toContain('what is this');
    synced.book.book.put('tom.vcf', BROKEN.replace('this is no line\r\n', ''), Date.now());
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('what is this\r\n', ''), Date.now());
    await synced.run();
    expect(await idOf('Okoro')).toBeGreaterThan(0);
    expect(synced.card('ana.vcf')).toContain('TITLE:Skipper');
    expect((await synced.detail()).notTaken.total).toBe(0);
  });
});

describe('questions who somebody is', () => {
  test('are answered together after a look at a sample; who has a record over there already stays a question', async () => {
    synced = await startSyncedApp();
    const people = ['Ada Penrose', 'Bea Trelawny', 'Cai Rosewarne', 'Dee Pascoe'];
    for (const [i, name] of people.entries()) {
      const [givenName = '', familyName = ''] = name.split(' ');
      for (let twice = 0; twice < 2; twice++)
        await synced.app.enter({ givenName, familyName, email: `p${i}@quillhaven.example` }, { despite: true });
      synced.put(`p${i}.vcf`, {
        UID: `u${i}`,
        FN: name,
        N: `${familyName};${givenName};;;`,
        EMAIL: `p${i}@quillhaven.example`,
      });
    }
    // A second card of the last one.
    synced.put('p9.vcf', { UID: 'u9', FN: 'Dee Pascoe', N: 'Pascoe;Dee;;;', EMAIL: 'p3@quillhaven.example' });
    await synced.run({ trial: true });
    await synced.run();
    const { total, together } = await conflicts();
    expect(total).toBe(5);
    expect(together).toMatchObject([{ band: 'certain', count: 5 }]);
    const at = `/connections/${synced.connectionId}/who`;
    const sample = await synced.app.json<WhoSample>(`${at}?band=certain`);
    expect(sample).toMatchObject({ count: 3, left: 2 });
    expect(sample.sample.map(({ name }) => name).sort()).toEqual(people.slice(0, 3));
    const settle = (saw: number) => synced.app.json(at, 'POST', { band: 'certain', saw });
    await expect(settle(4)).rejects.toMatchObject({ status: 409 });
    expect(await settle(3)).toEqual({ settled: 3, left: 2 });
    await synced.work((await synced.detail()).runs[0]?.id ?? 0);
    expect(await synced.detail()).toMatchObject({ inStep: 3, waiting: 2 });
    const { rows } = await synced.app.json<{ rows: unknown[] }>('/contacts?find=Penrose');
    expect(rows).toHaveLength(2);
  });
});

describe('around a connection', () => {
  test('a second one to the same book is noticed, and made by a second word', async () => {
    await begin(['ana.vcf', ANA]);
    const other = {
      name: 'Yard address book',
      settings: { address: synced.book.url, user: 'office', password: 'secret' },
    };
    await expect(synced.app.json('/connections', 'POST', other)).rejects.toMatchObject({
      status: 409,
      problem: { code: 'sameBook', facts: { connectionId: synced.connectionId } },
    });
    await synced.app.json('/connections', 'POST', { ...other, despite: true });
  });

  test('a stage that is renamed in Settings keeps its label in step, and nobody loses it on either side', async () => {
    await begin(
      ['ana.vcf', { ...ANA, CATEGORIES: 'Student' }],
      ['tom.vcf', { UID: 'u-t', FN: 'Tom Okoro', CATEGORIES: 'Student' }],
    );
    await synced.app.json('/picks', 'POST', { kind: 'stage', label: 'Student' });
    await setUp((setup) => ({
      ...setup,
      lines: [
        {
          id: 'stage',
          field: 'stage',
          outside: 'labels',
          direction: 'both',
          rule: 'newest',
          stageLabels: { Student: 'Student' },
        },
        ...setup.lines.filter(({ field }) => field !== 'tags' && field !== 'stage'),
      ],
    }));
    await synced.run();
    const ana = await idOf('Ana');
    expect((await recordOf(ana)).f.stage?.[0]?.v).toBe('Student');
    const { runId } = await synced.app.json<{ runId: number }>('/picks/merge', 'POST', {
      list: 'stage',
      from: 'Student',
      into: 'Pupil',
    });
    const stagesOf = async () => (await synced.detail()).setup.lines[0]?.stageLabels;
    expect(await stagesOf()).toEqual({ Pupil: 'Pupil' });
    await synced.run();
    expect((await recordOf(ana)).f.stage?.[0]?.v).toBe('Pupil');
    for (const name of ['ana.vcf', 'tom.vcf']) expect(synced.card(name)).toContain('CATEGORIES:Pupil');
    await synced.app.json(`/runs/${runId}/undo`, 'POST', {});
    await synced.run();
    expect((await recordOf(ana)).f.stage?.[0]?.v).toBe('Student');
    for (const name of ['ana.vcf', 'tom.vcf']) expect(synced.card(name)).toContain('CATEGORIES:Student');
  });

  test('what is left after too many requests is tried again by itself, also after a run by hand', async () => {
    await begin(['ana.vcf', ANA]);
    const { app, connectionId } = synced;
    synced.book.setFaults({ busy: 1, retryAfterS: 600 });
    const failed = await synced.run();
    expect(failed.error).toContain('tried again by itself in 10 min');
    synced.book.setFaults({ busy: 0 });
    await startDueSyncs(app.database);
    expect((await synced.detail()).runs[0]?.id).toBe(failed.id);
    await app.database.pool.query(`update connection set next_run_at = now() where id = $1`, [connectionId]);
    await startDueSyncs(app.database);
    const { runs, nextRunAt } = await app.json<ConnectionDetail>(`/connections/${connectionId}`);
    expect(runs[0]?.id).not.toBe(failed.id);
    expect(nextRunAt).toBeNull();
    await synced.work(runs[0]?.id ?? 0);
  });
});
