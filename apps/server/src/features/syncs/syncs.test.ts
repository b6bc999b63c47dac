import { createLogger } from '../../log';
import { requireRun } from '../../runs/runs';
import { Threads } from '../../runs/threads';
import { afterEach, describe, expect, test } from '@jest/globals';
import type { ConflictList, ContactDetail, ContactSync, SyncChangeEntry, Worklist } from '@gray-loom/wire';
import { LeaseLost, takeLease, type Lease } from '../../runs/lease';
import { syncConnection } from './sync-connection';
import { cardOf, startSyncedApp, type SyncedApp } from '../../testing/run-sync';

const ANA = {
  UID: 'u-ana',
  FN: 'Ana Reis',
  N: 'Reis;Ana;;;',
  EMAIL: 'ana@example.org',
  'TEL;TYPE=cell': '+44 7700 900111',
};
const TOM = { UID: 'u-tom', FN: 'Tom Okoro', N: 'Okoro;Tom;;;', EMAIL: 'tom@example.org' };

let synced: SyncedApp;
afterEach(() => synced.end());

const begin = async (...cards: [string, Record<string, string>][]) => {
  synced = await startSyncedApp(cards.map(([name, lines]) => ({ name, text: cardOf(lines) })));
  await synced.run({ trial: true });
};
const written = () => synced.book.counts.written ?? 0;
const idOf = async (find: string) => {
  const { rows } = await synced.app.json<{ rows: { id: number }[] }>(`/contacts?find=${encodeURIComponent(find)}`);
  return rows[0]?.id ?? 0;
};
const valuesOf = async (id: number, field: string) =>
  (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record.f[field]?.map(({ v }) => v) ?? [];

describe('a connection with an address book', () => {
  test('is tried before it runs, and the trial writes nothing', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    const detail = await synced.detail();
    expect(detail.trial).toMatchObject({ isCurrent: true, totals: { madeHere: 2 } });
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 0 });
    expect(written()).toBe(0);
  });

  test('makes people here, and a second run does nothing with one request that reads changes', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    const first = await synced.run();
    expect(first).toMatchObject({ state: 'done', counts: { madeHere: 2 } });
    expect(await valuesOf(await idOf('Ana'), 'tel')).toEqual(['+44 7700 900111']);
    const before = { ...synced.book.counts };
    const second = await synced.run();
    expect(second.counts).toMatchObject({ madeHere: 0, changedHere: 0, changedThere: 0 });
    expect(synced.book.counts.REPORT).toBe((before.REPORT ?? 0) + 1);
    expect(written()).toBe(0);
  });

  test('a first real run on a chosen few leaves the others to the next', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    expect((await synced.run({ only: [], onlyThere: ['tom.vcf'] })).counts).toMatchObject({ madeHere: 1 });
    expect(await idOf('Ana')).toBe(0);
    expect(await idOf('Tom')).toBeGreaterThan(0);
    expect((await synced.run()).counts).toMatchObject({ madeHere: 1 });
  });

  test('a card at a new address is the same one moved: its link follows, and nobody is made twice', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    await synced.run();
    const id = await idOf('Ana');
    const text = synced.card('ana.vcf');
    synced.book.book.remove('ana.vcf');
    synced.book.book.put('sorted-ana-reis.vcf', text.replace('900111', '900222'), Date.now());
    expect((await synced.run()).counts).toMatchObject({ madeHere: 0, madeThere: 0, goneThere: 0, changedHere: 1 });
    expect(await valuesOf(id, 'tel')).toEqual(['+44 7700 900222']);
    await synced.app.edit(id, { field: 'title', text: 'Rigger' });
    expect((await synced.run()).counts).toMatchObject({ changedThere: 1, madeThere: 0 });
    expect(synced.card('sorted-ana-reis.vcf')).toContain('TITLE:Rigger');
    expect(synced.book.book.list()).toHaveLength(2);
    expect((await synced.run()).counts).toMatchObject({ madeHere: 0, changedHere: 0, changedThere: 0, linked: 0 });
  });

  test('a card that is put back where it was is alive again, and is no second one', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    const text = synced.card('ana.vcf');
    synced.book.book.remove('ana.vcf');
    expect((await synced.run()).counts).toMatchObject({ goneThere: 1 });
    synced.book.book.put('ana.vcf', text.replace('900111', '900333'), Date.now());
    await synced.run();
    expect(await valuesOf(id, 'tel')).toEqual(['+44 7700 900333']);
    await synced.app.edit(id, { field: 'title', text: 'Rigger' });
    await synced.run();
    expect(synced.card('ana.vcf')).toContain('TITLE:Rigger');
    expect(synced.book.book.list()).toHaveLength(1);
  });

  test('what is not taken over there is never silent, stands on the worklist, and is tried again', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    await synced.run();
    const id = await idOf('Ana');
    const state = async () => {
      const [sync] = await synced.app.json<ContactSync[]>(`/contacts/${id}/syncs`);
      const { syncs } = await synced.app.json<Worklist>('/worklist');
      return { why: sync?.why, takesPart: sync?.takesPart, notTaken: syncs.notTaken };
    };
    // A card that is almost as large as the book over there takes.
    synced.put('ana.vcf', { ...ANA, 'X-BULK': 'x'.repeat(194_000) });
    await synced.run();
    await synced.app.edit(id, { field: 'note', text: 'Planks. '.repeat(1000) });
    for (let i = 0; i < 2; i++) {
      expect((await synced.run()).counts).toMatchObject({ failed: 1, changedThere: 0 });
      expect(await state()).toEqual({
        why: 'Not taken over there: The card is too large for the book over there. It is tried again with every run.',
        takesPart: false,
        notTaken: [
          {
            connectionId: synced.connectionId,
            name: 'Office address book',
            count: 1,
            isUnreadable: false,
            contactId: id,
            why: 'The card is too large for the book over there.',
          },
        ],
      });
    }
    const { record } = await synced.app.json<ContactDetail>(`/contacts/${id}`);
    await synced.app.edit(id, { field: 'note', before: record.f.note?.[0] ?? null, text: 'Short' });
    await synced.run();
    expect(await state()).toMatchObject({ why: expect.stringContaining('In step'), takesPart: true, notTaken: [] });
    expect(synced.card('ana.vcf')).toContain('NOTE:Short');
  });

  test('"never" is taken back, and the pair is in step again', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    const choose = (choice: 'never' | null) =>
      synced.app.json(`/contacts/${id}/syncs/${synced.connectionId}`, 'PUT', { choice });
    await choose('never');
    await synced.app.edit(id, { field: 'title', text: 'Rigger' });
    await synced.run();
    expect(synced.card('ana.vcf')).not.toContain('Rigger');
    await choose(null);
    await synced.run();
    expect(synced.card('ana.vcf')).toContain('TITLE:Rigger');
    const [sync] = await synced.app.json<ContactSync[]>(`/contacts/${id}/syncs`);
    expect(sync).toMatchObject({ choice: null });
  });

  test('waits at a batch when it is asked to, and goes on without anybody twice', async () => {
    const cards = Array.from({ length: 130 }, (_, i): [string, Record<string, string>] => {
      const name = [...String(i)].map((digit) => 'bcdfghklmn'[Number(digit)]).join('a');
      return [
        `c${i}.vcf`,
        { UID: `u${i}`, FN: `Ada ${name}`, N: `${name}ox;Ada${name};;;`, EMAIL: `${name}@example.org` },
      ];
    });
    await begin(...cards);
    const { runId } = await synced.app.json<{ runId: number }>(`/connections/${synced.connectionId}/run`, 'POST', {
      trial: false,
    });
    await synced.app.json(`/runs/${runId}/pause`, 'POST');
    await synced.work(runId);
    expect(await synced.app.json(`/runs/${runId}`)).toMatchObject({ state: 'paused' });
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 100 });
    await synced.app.json(`/runs/${runId}/go-on`, 'POST');
    await synced.work(runId);
    // The run tells of both its parts.
    expect(await synced.app.json(`/runs/${runId}`)).toMatchObject({ state: 'done', counts: { madeHere: 130 } });
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 130 });
    const report = await (await synced.app.request(`/sync-runs/${runId}/report`)).text();
    expect(report.trim().split(/\r?\n/)).toHaveLength(131);
  });

  test('a run that was thought lost and is taken up again is done once, by whoever took it last', async () => {
    await begin(['ana.vcf', ANA], ['tom.vcf', TOM]);
    const { app, connectionId } = synced;
    const { runId } = await app.json<{ runId: number }>(`/connections/${connectionId}/run`, 'POST', { trial: false });
    const first = await takeLease(app.database, runId, 'one', 60_000);
    synced.book.setFaults({ latencyMs: 150 });
    const workUnder = async (lease: Lease | null) =>
      syncConnection({
        database: app.database,
        config: app.config,
        log: createLogger('test', 'silent'),
        run: await requireRun(app.database, runId),
        lease: lease as Lease,
        leaseMs: 60_000,
        threads: new Threads(String),
      });
    const slow = workUnder(first);
    await new Promise((done) => setTimeout(done, 100));
    await app.database.pool.query('update run set lease_by = null where id = $1', [runId]);
    const second = await takeLease(app.database, runId, 'another', 60_000);
    const results = await Promise.allSettled([slow, workUnder(second)]);
    expect(results[0]).toMatchObject({ status: 'rejected', reason: expect.any(LeaseLost) });
    expect(results[1]).toMatchObject({ status: 'fulfilled' });
    expect(await app.json('/contacts')).toMatchObject({ total: 2 });
  });

  test('links who is here already instead of making them twice, and both sides learn', async () => {
    synced = await startSyncedApp([{ name: 'ana.vcf', text: cardOf({ ...ANA, NOTE: 'Rows stroke' }) }]);
    const { contactId } = await synced.app.enter({
      givenName: 'Ana',
      familyName: 'Reis',
      email: 'ana@example.org',
      organization: 'Tern Joinery',
    });
    await synced.run({ trial: true });
    expect((await synced.run()).counts).toMatchObject({ linked: 1, madeHere: 0 });
    expect(await valuesOf(contactId, 'note')).toEqual(['Rows stroke']);
    expect(synced.card('ana.vcf')).toContain('ORG:Tern Joinery');
    const [story] = await synced.app.json<ContactSync[]>(`/contacts/${contactId}/syncs`);
    expect(story).toMatchObject({ takesPart: true, connection: 'Office address book' });
    expect(story?.story.map(({ kind }) => kind)).toContain('linked');
  });

  test('carries a change across each way, keeps what it has no name for, and does not echo', async () => {
    await begin(['ana.vcf', { ...ANA, 'X-OFFICE-DRAWER': 'B' }]);
    await synced.run();
    const id = await idOf('Ana');
    await synced.app.edit(id, { field: 'note', slot: 0, before: null, text: 'Oak ordered' });
    await synced.run();
    expect(synced.card('ana.vcf')).toContain('NOTE:Oak ordered');
    expect(synced.card('ana.vcf')).toContain('X-OFFICE-DRAWER:B');
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('ana@example.org', 'ana@example.net'), Date.now());
    await synced.run();
    expect(await valuesOf(id, 'email')).toEqual(['ana@example.net']);
    const writes = written();
    await synced.run();
    await synced.run();
    expect(written()).toBe(writes);
    const detail = await synced.app.json<ContactDetail>(`/contacts/${id}`);
    const run = detail.record.f.email?.[0]?.run ?? 0;
    expect(detail.threads[run]).toMatchObject({ kind: 'addressBook', name: 'Office address book' });
  });

  /** Ana's phone, changed here and there. */
  const withConflict = async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    const before = (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record.f.tel?.[0];
    await synced.app.edit(id, {
      field: 'tel',
      slot: before?.slot ?? 0,
      before: before ?? null,
      text: '+44 7700 900222',
    });
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('900111', '900333'), Date.now());
    await synced.run();
    const [conflict] = (await synced.app.json<ConflictList>('/conflicts')).entries;
    return { conflict, id };
  };

  test('a phone changed on both sides waits for a person, who settles it, and it travels on', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    const before = (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record.f.tel?.[0];
    await synced.app.edit(id, {
      field: 'tel',
      slot: before?.slot ?? 0,
      before: before ?? null,
      text: '+44 7700 900222',
      label: 'mobile',
    });
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('900111', '900333'), Date.now());
    expect((await synced.run()).counts).toMatchObject({ conflicts: 1 });
    const [conflict] = (await synced.app.json<ConflictList>('/conflicts')).entries;
    expect(conflict).toMatchObject({
      field: 'Phone',
      ours: { text: ['+44 7700 900222 (mobile)'] },
      theirs: { text: ['+44 7700 900333 (mobile)'] },
    });
    await synced.app.json(`/conflicts/${conflict?.key}/settle`, 'POST', { take: 'ours' });
    const [run] = (await synced.detail()).runs;
    await synced.work(run?.id ?? 0);
    expect(synced.card('ana.vcf')).toContain('900222');
    expect(synced.card('ana.vcf')).not.toContain('900333');
    expect((await synced.app.json<ConflictList>('/conflicts')).entries).toEqual([]);
    await synced.run();
    expect(await valuesOf(id, 'tel')).toEqual(['+44 7700 900222']);
  });

  test('a question goes when its record over there does', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    const before = (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record.f.tel?.[0];
    await synced.app.edit(id, {
      field: 'tel',
      slot: before?.slot ?? 0,
      before: before ?? null,
      text: '+44 7700 900222',
    });
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('900111', '900333'), Date.now());
    expect((await synced.run()).counts).toMatchObject({ conflicts: 1 });
    synced.book.book.remove('ana.vcf');
    await synced.run();
    expect((await synced.app.json<ConflictList>('/conflicts')).entries).toEqual([]);
  });

  test('a field that is missing over there is made by writing into it, and comes back from there', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    await synced.app.edit(id, { field: 'nickname', text: 'Slip 4; north, "the quiet one"' });
    await expect(
      synced.setup((setup) => ({
        ...setup,
        lines: [...setup.lines, { id: 'own', field: 'nickname', outside: 'X-!', direction: 'both', rule: 'ask' }],
      })),
    ).rejects.toMatchObject({ problem: { code: 'noSuchOutsideField' } });
    await synced.setup((setup) => ({
      ...setup,
      lines: [
        ...setup.lines.filter(({ field }) => field !== 'nickname'),
        { id: 'own', field: 'nickname', outside: 'x-berth-number', direction: 'both', rule: 'ask' },
      ],
    }));
    const { capabilities } = await synced.detail();
    expect(capabilities.fields.at(-1)).toMatchObject({ key: 'x-berth-number', name: 'Berth number' });
    await synced.run({ trial: true });
    await synced.run();
    expect(synced.card('ana.vcf')).toMatch(/X-BERTH-NUMBER[^:]*:Slip 4/);
    await synced.run();
    expect(await valuesOf(id, 'nickname')).toEqual(['Slip 4; north, "the quiet one"']);
    const writes = written();
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('Slip 4', 'Slip 9'), Date.now());
    await synced.run();
    expect(await valuesOf(id, 'nickname')).toEqual(['Slip 9; north, "the quiet one"']);
    await synced.run();
    expect(written()).toBe(writes);
  });

  test('two people settle one conflict: the second is told, and what the first decided stands', async () => {
    const { conflict, id } = await withConflict();
    const settle = (take: string) => synced.app.json(`/conflicts/${conflict?.key}/settle`, 'POST', { take });
    const both = await Promise.allSettled([settle('ours'), settle('theirs')]);
    const refused = both.flatMap((one) => (one.status === 'rejected' ? [one.reason as { status: number }] : []));
    expect(refused).toMatchObject([{ status: 409, problem: { code: 'settled' } }]);
    await synced.work((await synced.detail()).runs[0]?.id ?? 0);
    const kept = both[0]?.status === 'fulfilled' ? '900222' : '900333';
    expect(synced.card('ana.vcf')).toContain(kept);
    expect(String(await valuesOf(id, 'tel'))).toContain(kept.slice(-3));
  });
  test('a value that moved since it was shown is not decided over: both are shown again', async () => {
    const { conflict, id } = await withConflict();
    const before = (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record.f.tel?.[0];
    await synced.app.edit(id, {
      field: 'tel',
      slot: before?.slot ?? 0,
      before: before ?? null,
      text: '+44 7700 900555',
    });
    const saw = { ours: conflict?.ours.text ?? [], theirs: conflict?.theirs.text ?? [] };
    const settle = (of: typeof saw) =>
      synced.app.json(`/conflicts/${conflict?.key}/settle`, 'POST', { take: 'theirs', saw: of });
    await expect(settle(saw)).rejects.toMatchObject({ status: 409, problem: { code: 'moved' } });
    const [again] = (await synced.app.json<ConflictList>('/conflicts')).entries;
    expect(again?.ours.text).toEqual(['+44 7700 900555']);
    await settle({ ours: again?.ours.text ?? [], theirs: again?.theirs.text ?? [] });
    expect(await valuesOf(id, 'tel')).toEqual(['+44 7700 900333']);
  });

  test.each([
    ['theirs', ['+44 7700 900333'], '900333'],
    ['both', ['+44 7700 900222', '+44 7700 900333'], '900222'],
    ['typed', ['+44 7700 900444'], '900444'],
  ])('a conflict settled by %s', async (take, here, there) => {
    const { conflict, id } = await withConflict();
    await synced.app.json(`/conflicts/${conflict?.key}/settle`, 'POST', { take, text: '+44 7700 900444' });
    await synced.work((await synced.detail()).runs[0]?.id ?? 0);
    await synced.run();
    expect(await valuesOf(id, 'tel')).toEqual(here);
    expect(synced.card('ana.vcf')).toContain(there);
    expect((await synced.app.json<ConflictList>('/conflicts')).entries).toEqual([]);
  });

  test('moving somebody to the next stage takes the old label off over there', async () => {
    await begin(['ana.vcf', { ...ANA, CATEGORIES: 'Enquiry,regatta' }]);
    await synced.run();
    const id = await idOf('Ana');
    expect(await valuesOf(id, 'stage')).toEqual(['Enquiry']);
    expect(await valuesOf(id, 'tags')).toEqual(['regatta']);
    const stage = (await synced.app.json<ContactDetail>(`/contacts/${id}`)).record.f.stage?.[0] ?? null;
    await synced.app.edit(id, { field: 'stage', slot: 0, before: stage, text: 'Donor' });
    await synced.run();
    expect(synced.card('ana.vcf')).toMatch(/CATEGORIES:(?:regatta,Donor|Donor,regatta)/);
    // Somebody over there adds the label of another stage and leaves the old one.
    synced.book.book.put(
      'ana.vcf',
      synced.card('ana.vcf').replace(/CATEGORIES:.*/, 'CATEGORIES:regatta,Donor,Enquiry'),
      Date.now() + 5000,
    );
    await synced.run();
    expect(await valuesOf(id, 'stage')).toEqual(['Enquiry']);
    expect(synced.card('ana.vcf')).not.toContain('Donor');
  });

  test('a run that is taken back takes its people and values along, and the other side learns it', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.run();
    const id = await idOf('Ana');
    synced.book.book.put('ana.vcf', synced.card('ana.vcf').replace('ana@example.org', 'ana@example.net'), Date.now());
    synced.put('tom.vcf', TOM);
    const { id: runId } = await synced.run();
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 2 });
    await synced.app.json(`/runs/${runId}/undo`, 'POST');
    expect(await valuesOf(id, 'email')).toEqual(['ana@example.org']);
    await synced.run();
    expect(synced.card('ana.vcf')).toContain('ana@example.org');
    // Whoever was made by the run is gone here, stays over there, and is not made again.
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 1 });
    expect(synced.card('tom.vcf')).toContain('Okoro');
    expect((await synced.run()).counts).toMatchObject({ madeHere: 0, changedThere: 0 });
  });

  test('passes that do nothing are not in the ledger or on the tape, and a trial cannot be undone', async () => {
    await begin(['ana.vcf', ANA]);
    const { id: made } = await synced.run();
    const { id: idle } = await synced.run();
    const { runs } = await synced.app.json<{ runs: { id: number; undoable: boolean }[] }>('/runs');
    expect(runs.map(({ id }) => id)).toContain(made);
    expect(runs.map(({ id }) => id)).not.toContain(idle);
    expect(await synced.app.json('/tape')).toMatchObject({ latest: { id: made, undoable: true } });
    const all = await synced.app.json<{ runs: { id: number; undoable: boolean }[] }>('/runs?kind=sync');
    expect(all.runs.map(({ undoable }) => undoable)).toEqual([false, true, false]);
  });

  test('many deletions over night are held by the brake, with their plan, until a person decides', async () => {
    const cards = Array.from({ length: 30 }, (_, i): [string, Record<string, string>] => [
      `c${i}.vcf`,
      {
        UID: `u${i}`,
        FN: `Person ${'ABCDEFGHIJKLMNOPQRSTUVWXYZabcd'[i]}`,
        N: `Quill${'abcdefghijklmnopqrstuvwxyzABCD'[i]}oe;Ada${'abcdefghijklmnopqrstuvwxyzABCD'[i]};;;`,
        EMAIL: `p${i}@example.org`,
      },
    ]);
    await begin(...cards);
    await synced.run();
    for (const [name] of cards) synced.book.book.remove(name);
    const braked = await synced.run();
    expect(braked.state).toBe('paused');
    expect((await synced.detail()).braked?.reasons[0]).toContain('30 records are gone');
    const { changes } = await synced.app.json<{ changes: SyncChangeEntry[] }>(`/sync-runs/${braked.id}/changes`);
    expect(changes.filter(({ kind }) => kind === 'apart')).toHaveLength(30);
    await synced.app.json(`/sync-runs/${braked.id}/release`, 'POST');
    await synced.work(braked.id);
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 30 });
    expect((await synced.detail()).inStep).toBe(0);
  });

  test('answers that are lost are found out by reading, and nothing is written twice', async () => {
    await begin(['ana.vcf', ANA]);
    await synced.setup((setup) => ({ ...setup, newThere: true }));
    await synced.run({ trial: true });
    for (let i = 0; i < 12; i++)
      await synced.app.enter({
        givenName: `Given${'abcdefghijkl'[i]}`,
        familyName: `Penro${'abcdefghijkl'[i]}se`,
        email: `n${i}@example.org`,
      });
    synced.book.setFaults({ lostAnswer: 0.5, repeated: 0.3, disorder: 0.5 });
    for (let i = 0; i < 3; i++) await synced.run().catch(() => undefined);
    synced.book.setFaults({ lostAnswer: 0, repeated: 0, disorder: 0 });
    for (let i = 0; i < 3; i++) await synced.run();
    expect(synced.book.book.size).toBe(13);
    const mails = synced.book.book.list().map(({ text }) => /EMAIL[^:]*:(.*)/.exec(text)?.[1]?.trim());
    expect(new Set(mails).size).toBe(13);
    const writes = written();
    await synced.run();
    expect(written()).toBe(writes);
    expect(await synced.app.json('/contacts')).toMatchObject({ total: 13 });
  });
});
