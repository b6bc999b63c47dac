import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type {
  BatchLook,
  ContactDetail,
  EntryCheck,
  DuplicateOrigin,
  GroupList,
  MatchBoard,
  MatchSetup,
  MergeRuleSetup,
  MergeRuleTrial,
  RunSummary,
  LeftAsIs,
} from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { runScan } from '../../testing/run-scan';
import { bringFile, runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

type Group = GroupList['groups'][number];
let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
  const person = (i: number) => {
    const letters = (n: number) => String.fromCharCode(97 + (n % 26), 97 + ((n * 7) % 26), 97 + ((n * 3) % 26));
    return `Given${letters(i)},Family${letters(i + 5)}`;
  };
  const lines = Array.from(
    { length: 90 },
    (_, i) => `${person(i)},bluegull${i}@example.org,+1 ${300 + i} 555 01${String(i).padStart(2, '0')}`,
  );
  await runImport(app, await bringFile(app, 'all.csv', ['First name,Last name,Email,Mobile', ...lines].join('\n')));
  // The same people by another way in: twelve with mailbox and phone, and a couple that shares a phone.
  const again = lines.slice(0, 12).map((line) => line.toUpperCase());
  const intake = await bringFile(app, 'again.csv', ['First name,Last name,Email,Mobile', ...again].join('\n'));
  await app.json(`/intakes/${intake}/mapping`, 'PUT', {
    ...(await app.json<{ mapping: Record<string, unknown> }>(`/intakes/${intake}`)).mapping,
    recognise: ['externalId'],
  });
  await runImport(app, intake);
  for (const givenName of ['Sigrid', 'Sigird'])
    await app.enter({ givenName, familyName: 'Amundsen', tel: '+1 999 555 0177', email: '' }, { despite: true });
});
afterAll(() => app.end());

const scan = () => runScan(app);

async function mergeAll(except: number[], meanwhile?: () => Promise<unknown>): Promise<RunSummary> {
  const { runId } = await app.json<{ runId: number }>('/duplicates/batch', 'POST', { except });
  await meanwhile?.();
  return app.work(runId);
}

const live = async () =>
  (
    await app.database.pool.query<{ id: number; state: string; record: { f: unknown } }>(
      'select id, state, record from contact order by id',
    )
  ).rows.map(({ id, state, record }) => ({ id, state, f: record.f }));

describe('certain groups in one go', () => {
  let groups: GroupList;
  test('a look tells how many, with a few to check, and writes nothing', async () => {
    groups = await scan();
    const before = await live();
    const look = await app.json<BatchLook>('/duplicates/batch');
    expect(look.groups).toBe(groups.counts.certain);
    expect(look.groups).toBeGreaterThanOrEqual(12);
    expect(look.sample).toHaveLength(6);
    expect(look.sample.every((board) => board.members.length === 2 && board.rows.length > 0)).toBe(true);
    expect(await live()).toEqual(before);
  });
  test('all are merged but those left to a person and those that changed meanwhile, and one undo brings all back', async () => {
    const before = await live();
    const certain = groups.groups.filter((group) => group.band === 'certain');
    const [kept, moved, apart] = certain as [Group, Group, Group];
    const board = await app.json<MatchBoard>(`/duplicates/${moved.id}`);
    const name = board.rows.find((row) => row.field === 'familyName')?.cells[0];
    await app.edit(name?.memberId ?? 0, {
      field: 'familyName',
      slot: 0,
      before: name?.values[0] ?? null,
      text: 'Okoro',
      label: null,
    });
    await app.readFeed();
    const found = (await app.json<GroupList>('/duplicates')).groups.find((group) => group.id === moved.id);
    expect(found?.band ?? 'none').not.toBe('certain');
    // As if the edit had come between the look and its turn.
    await app.database.pool.query(`update match_group set band = 'certain', state = 'open' where id = $1`, [moved.id]);
    let apartRun = 0;
    const run = await mergeAll([kept.id], async () => {
      const { members } = await app.json<MatchBoard>(`/duplicates/${apart.id}`);
      const answer = await app.json<{ runId: number }>(`/duplicates/${apart.id}/apart`, 'POST', {
        memberIds: members.map(({ id }) => id),
      });
      apartRun = answer.runId;
    });
    expect(run).toMatchObject({
      state: 'done',
      counts: { groups: certain.length - 3, merged: (certain.length - 3) * 2, left: 2 },
      words: `Merged ${certain.length - 1} certain groups: ${certain.length - 3} merged, 2 left to a person`,
    });
    const left = await app.json<LeftAsIs[]>(`/runs/${run.id}/left`);
    expect(left.map(({ of, id, why }) => [of, id, why])).toEqual(
      [
        ['group', moved.id, 'compared anew, its records are certain no more'],
        ['group', apart.id, 'somebody decided it meanwhile'],
      ].sort((a, b) => Number(a[1]) - Number(b[1])),
    );
    await app.json(`/runs/${apartRun}/undo`, 'POST');
    const after = await app.json<GroupList>('/duplicates');
    expect(after.groups.map((group) => group.id)).toEqual(expect.arrayContaining([kept.id, moved.id]));
    await app.json(`/runs/${run.id}/undo`, 'POST');
    const edited = name?.memberId;
    expect((await live()).filter(({ id }) => id !== edited)).toEqual(before.filter(({ id }) => id !== edited));
    expect((await app.json<GroupList>('/duplicates')).counts.certain).toBe(certain.length);
  });
  test('one batch at a time', async () => {
    await app.json('/duplicates/batch', 'POST', { except: [] });
    expect((await refusal(app.json('/duplicates/batch', 'POST', { except: [] }))).code).toBe('mergingAlready');
    await app.database.pool.query(`delete from run where kind = 'merge' and state = 'queued'`);
  });
});

describe('several people at once', () => {
  test('a group that somebody has on screen is marked for the others until it is let go', async () => {
    const [first] = (await app.json<GroupList>('/duplicates')).groups;
    const asTom = await app.signedInAs('editor', 'Tom Okoro');
    await asTom(`/duplicates/${first?.id}/look`, { method: 'POST' });
    const busy = async () =>
      (await app.json<GroupList>('/duplicates')).groups.filter((group) => group.busyWith).map((group) => group.id);
    expect(await busy()).toEqual([first?.id]);
    const [, second] = (await app.json<GroupList>('/duplicates')).groups;
    await asTom(`/duplicates/${second?.id}/look`, { method: 'POST' });
    expect(await busy()).toEqual([second?.id]);
    await app.database.pool.query(`update match_group set looked_until = now() - interval '1 second'`);
    expect(await busy()).toEqual([]);
  });
});

test('a line that two people share on a person’s word proves nothing any more, until that is undone', async () => {
  const group = (await app.json<GroupList>('/duplicates')).groups.find((one) => one.name.startsWith('Amundsen'));
  const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
  expect(board.lines).toEqual([{ line: '9995550177', shown: '+1 999 555 0177' }]);
  const { runId } = await app.json<{ runId: number }>(`/duplicates/${group?.id}/apart`, 'POST', {
    memberIds: board.members.map((member) => member.id),
    sharedLines: board.lines.map(({ line }) => line),
  });
  const check = () =>
    app.json<{ matches: { reasons: { text: string }[] }[] }>('/contacts/check', 'POST', {
      values: [
        { field: 'givenName', text: 'Sigrid' },
        { field: 'familyName', text: 'Amundsen' },
        { field: 'tel', text: '+1 999 555 0177' },
      ],
    });
  const reasons = async () => JSON.stringify((await check()).matches);
  expect(await reasons()).toContain('several people use it');
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect(await reasons()).not.toContain('several people use it');
});

test('what came second is counted by week and by what brought it', async () => {
  const origin = await app.json<DuplicateOrigin>('/duplicates/origin');
  const file = origin.threads.find((thread) => thread.name === 'again.csv');
  expect(file).toMatchObject({ kind: 'file', copies: 12, brought: 12 });
  expect(origin.threads.find((thread) => thread.name === 'all.csv')).toBeUndefined();
  expect(origin.weeks.at(-1)?.byThread.file).toBe(12);
});

describe('the set-up of matching', () => {
  const setup = () => app.json<MatchSetup>('/duplicates/setup');
  test('shows the pairs of the last scan by weight', async () => {
    const { pairs, people, thresholds, asShipped } = await setup();
    expect(thresholds).toEqual(asShipped);
    expect(people).toBeGreaterThan(90);
    expect(pairs?.counts.reduce((sum, n) => sum + n, 0)).toBeGreaterThanOrEqual(12);
  });
  test('moved thresholds give the groups that wait their band at once, and are refused when they cross', async () => {
    const { asShipped } = await setup();
    await app.json('/duplicates/setup', 'PUT', { thresholds: asShipped, ignored: [] });
    const before = await app.json<GroupList>('/duplicates');
    await app.json('/duplicates/setup', 'PUT', {
      thresholds: { ...asShipped, certain: 0.9999999 - 1e-6, likely: 0.99999 },
      ignored: [],
    });
    const after = await app.json<GroupList>('/duplicates');
    expect(after.counts.certain).toBeLessThan(before.counts.certain);
    expect(after.groups).toHaveLength(before.groups.length);
    const crossed = app.json('/duplicates/setup', 'PUT', { thresholds: { ...asShipped, likely: 0.999 }, ignored: [] });
    expect((await refusal(crossed)).code).toBe('thresholdsCross');
    await app.json('/duplicates/setup', 'PUT', { thresholds: asShipped, ignored: [] });
    expect((await app.json<GroupList>('/duplicates')).counts).toEqual(before.counts);
  });
  test('a field that does not count says nothing for or against', async () => {
    const { asShipped } = await setup();
    const reasons = async () => {
      const { matches } = await app.json<{ matches: { reasons: { field: string }[] }[] }>('/contacts/check', 'POST', {
        values: [
          { field: 'givenName', text: 'Sigrid' },
          { field: 'familyName', text: 'Amundsen' },
          { field: 'tel', text: '+1 999 555 0177' },
        ],
      });
      return matches.flatMap((match) => match.reasons.map((reason) => reason.field));
    };
    expect(await reasons()).toContain('phone');
    await app.json('/duplicates/setup', 'PUT', { thresholds: asShipped, ignored: ['phone'] });
    expect(await reasons()).not.toContain('phone');
    await app.json('/duplicates/setup', 'PUT', { thresholds: asShipped, ignored: [] });
  });
});

test('rules of merging are tried on the groups that wait, kept, and then decide', async () => {
  const group = (await app.json<GroupList>('/duplicates')).groups.find((one) => /^Family/i.test(one.name));
  const board = () => app.json<MatchBoard>(`/duplicates/${group?.id}`);
  const [first, second] = (await board()).members;
  for (const [member, text] of [
    [first, 'Tern Joinery Limited'],
    [second, 'Tern'],
  ] as const)
    await app.edit(member?.id ?? 0, { field: 'organization', slot: 0, before: null, text, label: null });
  const proposed = async () => (await board()).rows.find((row) => row.field === 'organization')?.result[0]?.v;
  expect(await proposed()).toBe('Tern');
  const now = await app.json<MergeRuleSetup>('/duplicates/rules');
  const wanted = { ...now, byField: { organization: 'longest' } };
  const trial = await app.json<MergeRuleTrial>('/duplicates/rules/trial', 'POST', wanted);
  expect(trial).toMatchObject({ differing: 1, values: 1 });
  expect(trial.examples[0]?.changed).toEqual([
    { field: 'Organization', before: 'Tern', after: 'Tern Joinery Limited' },
  ]);
  expect(await proposed()).toBe('Tern');
  await app.json('/duplicates/rules', 'PUT', wanted);
  expect(await proposed()).toBe('Tern Joinery Limited');
  const wrong = app.json('/duplicates/rules', 'PUT', { ...now, byField: { shoeSize: 'longest' } });
  expect((await refusal(wrong)).code).toBe('noSuchField');
});

test('a file may be recognised by all that duplicates go by: the certain are filled, the likely held with whom they fit', async () => {
  const known = await app.database.pool.query<{ id: number; list_name: string; email: string; tel: string }>(
    `select id, list_name, email, tel from contact where state = 'live' and email like 'bluegull7_@%' order by email limit 1`,
  );
  const { contactId: perry } = await app.enter({ givenName: 'Perry', familyName: 'Aguiar', tel: '', email: '' });
  const [one] = known.rows.map((row) => {
    const [family = '', given = ''] = row.list_name.split(', ');
    return { ...row, family, given };
  });
  if (!one) throw new Error('people of the first file are here');
  const intake = await bringFile(
    app,
    'later.csv',
    [
      'First name,Last name,Email,Mobile,Company',
      // The same mailbox with a slip, and the same phone: no single mark but the phone agrees.
      `${one.given},${one.family},${one.email.replace('bluegull', 'bluegul')},${one.tel},Tern Joinery`,
      // A rare name and nothing else.
      'Perry,Aguiar,,,Tern',
      'Benedita,Strand,benedita.strand@example.org,,Jessop',
    ].join('\n'),
  );
  const { mapping } = await app.json<{ mapping: Record<string, unknown> }>(`/intakes/${intake}`);
  await app.json(`/intakes/${intake}/mapping`, 'PUT', { ...mapping, recognise: ['engine'] });
  const trial = await runTrial(app, intake);
  const run = await runImport(app, intake);
  expect(run.counts).toMatchObject({ fill: 1, held: 1, new: 1 });
  expect(trial).toMatchObject({ fill: 1, held: 1, new: 1 });
  const filled = await app.json<{ record: { f: Record<string, { v: unknown }[]> } }>(`/contacts/${one.id}`);
  expect(filled.record.f.organization?.[0]?.v).toBe('Tern Joinery');
  const held = await app.database.pool.query<{ issues: { code: string; contactIds?: number[] }[] }>(
    `select issues from import_row where run_id = $1 and outcome = 'held'`,
    [run.id],
  );
  expect(held.rows[0]?.issues).toEqual([expect.objectContaining({ code: 'likelyMatch', contactIds: [perry] })]);
});

test('organizations are matched by fields of their own, and a merge brings their people along', async () => {
  const enter = (organization: string, tel: string) =>
    app.enter({ organization, tel }, { kind: 'organization' }).then(({ contactId }) => contactId);
  const curlew = await enter('Curlew Joinery Limited', '+44 1632 960301');
  const again = await enter('CURLEW JOINERY AND CHANDLERY', '01632 960301');
  await enter('Heron Chandlery', '+44 1632 960302');
  for (const [givenName, organization] of [
    ['Ana', 'Curlew Joinery'],
    ['Kari', 'Curlew Joinery and Chandlery'],
  ] as const)
    await app.enter({ givenName, familyName: 'Quist', organization, tel: '', email: '' });
  const group = (await scan()).groups.find((one) => one.kind === 'organization');
  const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
  expect(board.members.map((member) => member.id).sort()).toEqual([curlew, again].sort());
  expect(board.reasons[0]?.reasons.map((reason) => reason.text)).toEqual(
    expect.arrayContaining(['Same phone', expect.stringMatching(/^One name within the other/)]),
  );
  const peopleOf = async (id: number) =>
    (await app.json<ContactDetail>(`/contacts/${id}`)).people.map((one) => one.name).sort();
  expect(await peopleOf(curlew)).toEqual(['Ana Quist']);
  const { runId, keepId } = await app.json<{ runId: number; keepId: number }>(
    `/duplicates/${group?.id}/merge`,
    'POST',
    {
      memberIds: board.members.map((member) => member.id),
      keepId: null,
      choices: {},
      versions: {},
    },
  );
  expect(await peopleOf(keepId)).toEqual(['Ana Quist', 'Kari Quist']);
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect(await peopleOf(curlew)).toEqual(['Ana Quist']);
  expect(await peopleOf(again)).toEqual(['Kari Quist']);
});

test('an organization that is here already is shown while it is typed, and waits as a group once it is entered all the same', async () => {
  const { contactId: first } = await app.enter(
    { organization: 'Petrel Ropeworks Ltd', tel: '+44 1632 960411' },
    { kind: 'organization' },
  );
  await scan();
  const typed = [
    { field: 'organization', text: 'Petrel Ropeworks' },
    { field: 'tel', text: '01632 960411' },
  ];
  const check = await app.json<EntryCheck>('/contacts/check', 'POST', { kind: 'organization', values: typed });
  expect(check.matches[0]).toMatchObject({ contactId: first, band: 'certain' });
  expect(check.matches[0]?.reasons.map(({ text }) => text)).toContain('Same phone');
  const other = [{ field: 'organization', text: 'Petrel Lanterns' }];
  expect(
    (await app.json<EntryCheck>('/contacts/check', 'POST', { kind: 'organization', values: other })).matches,
  ).toEqual([]);
  const { contactId: second } = await app.json<{ contactId: number }>('/contacts', 'POST', {
    kind: 'organization',
    values: typed,
    seen: [first],
  });
  await app.readFeed();
  const group = (await app.json<GroupList>('/duplicates')).groups.find(
    ({ name, kind }) => kind === 'organization' && name.startsWith('Petrel'),
  );
  const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
  expect(board.members.map(({ id }) => id).sort()).toEqual([first, second].sort());
});
