import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import type { ContactDetail, EntryCheck, Erasure, ErasedPeople, HeldList, HistoryEntry } from '@gray-loom/wire';
import { bringFile, runImport, runTrial } from '../../testing/run-import';
import { runScan } from '../../testing/run-scan';
import { cardOf, startSyncedApp, type SyncedApp } from '../../testing/run-sync';
import type { TestApp } from '../../testing/start-test-app';

/** Words that stand in nothing but what is held on one person. */
const SECRETS = [
  'zennorina',
  'trembathick',
  'zq.mailbox',
  '7700900431',
  'slipzquay',
  'quillzwright',
  'larkzbill',
  'boatzwain',
];
const CARD = {
  UID: 'u-zennorina',
  FN: 'Zennorina Trembathick',
  N: 'Trembathick;Zennorina;;;',
  EMAIL: 'zq.mailbox@quillhaven.example',
  NOTE: 'larkzbill over there',
};
const FILE = [
  'Given name,Family name,E-mail,Phone,Street',
  'Zennorina,Trembathick,zq.mailbox@quillhaven.example,+44 7700 900431,14 Slipzquay Lane',
  'Ona,Quay,ona@quillhaven.example,,',
].join('\n');

let synced: SyncedApp;
let app: TestApp;
beforeAll(async () => {
  synced = await startSyncedApp([{ name: 'zen.vcf', text: cardOf(CARD) }]);
  ({ app } = synced);
});
afterAll(() => synced.end());

/** Tables in which a text stands anywhere, also as bytes. */
async function tablesWith(secret: string): Promise<string[]> {
  const { pool } = app.database;
  const { rows: tables } = await pool.query<{ name: string }>(
    `select table_name as name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE'`,
  );
  const found: string[] = [];
  for (const { name } of tables) {
    const { rows } = await pool.query<{ n: number }>(
      `select count(*)::int as n from "${name}" t where strpos(lower(t::text), $1) > 0 or strpos(t::text, $2) > 0`,
      [secret, Buffer.from(secret).toString('hex')],
    );
    if (rows[0]?.n) found.push(name);
  }
  return found;
}
const everywhere = async (): Promise<Record<string, string[]>> =>
  Object.fromEntries(await Promise.all(SECRETS.map(async (one) => [one, await tablesWith(one)])));
const erase = (id: number) =>
  app.json<{ runId: number }>(`/contacts/${id}/erase`, 'POST', { reason: 'Asked by letter of 12 May' });
const detail = (id: number) => app.json<ContactDetail>(`/contacts/${id}`);
const refused = async (path: string, method: string, body?: unknown) => {
  const answer = await app.request(path, {
    method,
    ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  });
  return [answer.status, ((await answer.json()) as { code: string }).code];
};

test('whoever was in every part of the book is in none of it any more', async () => {
  const intake = await bringFile(app, 'moorings.csv', FILE);
  await runTrial(app, intake);
  const { id: importRun } = await runImport(app, intake);
  const { rows } = await app.json<{ rows: { id: number }[] }>('/contacts?find=zennorina');
  const id = rows[0]?.id ?? 0;
  await synced.run({ trial: true });
  await synced.run();
  await app.edit(id, { field: 'title', text: 'Mends the larkzbill' });
  await app.edit(id, { field: 'nickname', text: 'Boatzwain' });
  await app.edit(id, {
    field: 'familyName',
    before: (await detail(id)).record.f.familyName?.[0] ?? null,
    slot: 0,
    text: 'Quillzwright',
  });
  await app.json(`/contacts/${id}/permissions`, 'POST', {
    channel: 'email',
    state: 'optedOut',
    how: 'said at the Slipzquay',
    statedAt: '2026-05-01T00:00:00Z',
  });
  await app.json(`/contacts/${id}/activities`, 'POST', {
    kind: 'note',
    at: '2026-05-02',
    text: 'The boatzwain called',
  });
  const task = await app.json<{ id: number }>(`/contacts/${id}/activities`, 'POST', {
    kind: 'task',
    at: '2026-06-02',
    what: 'Ask Zennorina',
  });
  await app.json(`/activities/${task.id}`, 'PATCH', { version: 1, what: 'Ask Trembathick again' });
  const picture = await sharp({ create: { width: 9, height: 9, channels: 3, background: { r: 7, g: 0, b: 0 } } })
    .withExif({ IFD0: { Copyright: 'larkzbill' } })
    .png()
    .toBuffer();
  const put = await app.request(`/contacts/${id}/files`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream', 'X-File-Name': 'zennorina.png' },
    body: new Uint8Array(picture),
  });
  expect(put.status).toBe(201);
  await app
    .json('/opportunities', 'POST', {
      contactId: id,
      name: 'A boatzwain course',
      pipeline: 'Courses',
      stage: 'Interested',
    })
    .catch(() => null);
  // A second record, merged and scanned.
  const twin = await app.enter(
    { givenName: 'Zennorina', familyName: 'Trembathick', email: 'zq.mailbox@quillhaven.example' },
    { despite: true },
  );
  await runScan(app);
  const { groups } = await app.json<{ groups: { id: number; name: string }[] }>('/duplicates');
  const group = groups.find(({ name }) => /Quillzwright|Trembathick/.test(name));
  const board = await app.json<{ members: { id: number; version: number }[] }>(`/duplicates/${group?.id}`);
  expect(board.members.map((one) => one.id).sort()).toEqual([id, twin.contactId].sort());
  await app.json(`/duplicates/${group?.id}/merge`, 'POST', {
    memberIds: board.members.map((one) => one.id),
    keepId: id,
    choices: {},
    versions: {},
  });
  await app.readFeed();
  // A row that waits names them too.
  const held = await runImport(
    app,
    await bringFile(
      app,
      'held.csv',
      'Name,E-mail,Stage\nZennorina Quillzwright,zq.mailbox@quillhaven.example,Skippr\n',
    ),
  );
  const before = await everywhere();
  expect(Object.values(before).every((tables) => tables.length > 0)).toBe(true);

  const look = await app.json<Erasure>(`/contacts/${id}/erasure`);
  expect(look).toMatchObject({
    activities: 2,
    files: 1,
    heldRows: 1,
    waits: null,
    connections: ['Office address book'],
  });
  expect(look.cameIn.sort()).toEqual(['held.csv', 'moorings.csv']);
  const { runId } = await erase(twin.contactId);
  await app.readFeed();
  expect(await everywhere()).toEqual(Object.fromEntries(SECRETS.map((one) => [one, []])));

  expect(await detail(id)).toMatchObject({ name: 'Erased contact', state: 'erased' });
  const history = await app.json<HistoryEntry[]>(`/contacts/${id}/history`);
  expect(history.length).toBeGreaterThan(4);
  expect(history.map(({ title }) => title)).toContain('Erased somebody on request');
  for (const run of [runId, history[1]?.runId ?? 0]) await app.json(`/runs/${run}/undo`, 'POST').catch(() => null);
  expect(await refused(`/contacts/${id}/restore`, 'POST')).toEqual([409, 'notDeleted']);
  expect(await refused(`/contacts/${id}/erase`, 'POST', { reason: 'again' })).toEqual([409, 'alreadyErased']);
  expect((await app.request(`/runs/${importRun}/rows.csv`)).status).toBe(409);
  expect((await app.json<HeldList>(`/held?run=${held.id}`)).total).toBe(0);
  expect((await detail(id)).state).toBe('erased');
});

describe('whoever was erased', () => {
  const entry = (values: Record<string, string>) => ({
    kind: 'person',
    values: Object.entries(values).map(([field, text]) => ({ field, text })),
    despite: true,
    seen: [],
  });
  const ZEN = { givenName: 'Zennorina', familyName: 'Quillzwright' };

  test('is not entered again by mailbox, or by phone with the name; others with the phone or the name are', async () => {
    const values: [Record<string, string>, boolean][] = [
      [{ givenName: 'Somebody', familyName: 'Else', email: 'zq.mailbox@quillhaven.example' }, true],
      [{ ...ZEN, tel: '+44 7700 900431' }, true],
      [{ givenName: 'Quillzwright', familyName: 'Zennorina', tel: '07700 900431' }, true],
      [{ givenName: 'Perran', familyName: 'Other', tel: '+44 7700 900431' }, false],
      [{ ...ZEN, tel: '+44 7700 900555' }, false],
    ];
    for (const [one, isKeptOut] of values) {
      const check = await app.json<EntryCheck>('/contacts/check', 'POST', { ...entry(one), despite: false });
      expect([one, check.erasedOn !== null]).toEqual([one, isKeptOut]);
      if (isKeptOut) expect(await refused('/contacts', 'POST', entry(one))).toEqual([409, 'wasErased']);
      else {
        const { runId } = await app.json<{ runId: number }>('/contacts', 'POST', entry(one));
        await app.json(`/runs/${runId}/undo`, 'POST');
      }
    }
  });

  test('is held when a file brings them, by the short way and the long one, and in Held rows too', async () => {
    for (const recognise of [['email', 'tel', 'name'], ['name'], ['engine']] as const) {
      const id = await bringFile(
        app,
        `again-${recognise[0]}.csv`,
        FILE.split('\n').slice(0, 2).join('\n'),
        (mapping) => ({
          ...mapping,
          recognise: [...recognise],
        }),
      );
      expect(await runTrial(app, id)).toMatchObject({ new: 0, held: 1 });
      const run = await runImport(app, id);
      expect(run.counts).toMatchObject({ new: 0, held: 1 });
      const { rows } = await app.json<HeldList>(`/held?run=${run.id}`);
      expect(rows[0]?.issues[0]?.text).toMatch(
        /^This person was erased on request on .*, and is kept out until an administrator lifts that/,
      );
      expect(await refused(`/held/${run.id}/1/let-in`, 'POST', { cells: rows[0]?.cells })).toEqual([422, 'wasErased']);
      await app.json(`/held/${run.id}/1/drop`, 'POST');
    }
  });

  test('is not taken in from over there, however the card changes, and nothing of it is kept', async () => {
    await synced.run({ trial: true });
    await synced.run();
    synced.put('zen.vcf', { ...CARD, NOTE: 'larkzbill again' });
    synced.put('zen-2.vcf', { ...CARD, UID: 'u-second' });
    await synced.run({ trial: true });
    await synced.run();
    expect((await app.json<{ rows: unknown[] }>('/contacts?find=trembathick')).rows).toEqual([]);
    expect((await synced.detail()).keptOut).toEqual(['zen-2.vcf', 'zen.vcf']);
    // What the test above brought in and dropped stands in Intake.
    expect((await tablesWith('trembathick')).filter((name) => !/^(intake|import_row)$/.test(name))).toEqual([]);
  });

  test('is listed, and comes in again once that is lifted', async () => {
    const listed = await app.json<ErasedPeople>('/erased');
    expect(listed).toMatchObject([{ reason: 'Asked by letter of 12 May', by: 'Ines Carvalho' }]);
    await app.json(`/erased/${listed[0]?.id}/lift`, 'POST');
    expect(await app.json('/erased')).toEqual([]);
    expect(await refused(`/erased/${listed[0]?.id}/lift`, 'POST')).toEqual([404, 'noSuchErased']);
    await synced.run({ trial: true });
    await synced.run();
    expect((await app.json<{ rows: unknown[] }>('/contacts?find=trembathick')).rows).not.toEqual([]);
  });
});

test('what others share stays theirs: a mailbox of two keeps nobody out, and a file kept on both is kept', async () => {
  const both = { familyName: 'Shareham', email: 'both@quillhaven.example' };
  const a = await app.enter({ ...both, givenName: 'Ada' });
  const b = await app.enter({ ...both, givenName: 'Bea' }, { despite: true });
  const bytes = await sharp({ create: { width: 5, height: 5, channels: 3, background: { r: 1, g: 2, b: 3 } } })
    .png()
    .toBuffer();
  for (const { contactId } of [a, b])
    await app.request(`/contacts/${contactId}/files`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream', 'X-File-Name': 'both.png' },
      body: new Uint8Array(bytes),
    });
  await erase(a.contactId);
  const { entries } = await app.json<{ entries: { id: number }[] }>(`/contacts/${b.contactId}/activities?kinds=file`);
  expect((await app.request(`/activities/${entries[0]?.id}/file`)).status).toBe(200);
  await app.enter({ givenName: 'Cai', familyName: 'Shareham', email: 'both@quillhaven.example' }, { despite: true });
  expect(
    await refused('/contacts', 'POST', {
      kind: 'person',
      values: [
        { field: 'givenName', text: 'Ada' },
        { field: 'familyName', text: 'Shareham' },
        { field: 'email', text: 'both@quillhaven.example' },
      ],
      despite: true,
      seen: [],
    }),
  ).toEqual([409, 'wasErased']);
});

test('somebody else of the home keeps their held row, and whoever has the same mailbox is named', async () => {
  const home = { familyName: 'Hearth', tel: '01632 960777' };
  const { contactId } = await app.enter({ ...home, givenName: 'Jo', email: 'jo.hearth@quillhaven.example' });
  const twin = await app.enter(
    { givenName: 'Jo', familyName: 'Hearth', email: 'jo.hearth@quillhaven.example' },
    { despite: true },
  );
  await app.json(`/contacts/${twin.contactId}`, 'DELETE');
  const run = await runImport(
    app,
    await bringFile(app, 'home.csv', 'Name,Phone,E-mail\nPip Hearth,01632 960777,pip(at)x\n'),
  );
  const held = async () => (await app.json<HeldList>(`/held?run=${run.id}`)).rows.map(({ cells }) => cells[0]);
  expect(await held()).toEqual(['Pip Hearth']);
  const look = await app.json<Erasure>(`/contacts/${contactId}/erasure`);
  expect(look).toMatchObject({
    heldRows: 0,
    cameIn: [],
    alike: [{ id: twin.contactId, name: 'Jo Hearth', deleted: true }],
  });
  await erase(contactId);
  expect(await held()).toEqual(['Pip Hearth']);
});

test('nobody is erased while a run is under way that may hold them', async () => {
  const { contactId } = await app.enter({ givenName: 'Rhea', familyName: 'Running', email: 'rhea@quillhaven.example' });
  const { pool } = app.database;
  const { rows } = await pool.query<{ id: number }>(
    `insert into run (kind, state, thread_id, title) select 'import', 'running', min(id), 'big.csv' from thread returning id`,
  );
  const answer = await app.request(`/contacts/${contactId}/erase`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ reason: 'asked' }),
  });
  expect([answer.status, ((await answer.json()) as { detail: string }).detail]).toEqual([
    409,
    'big.csv is under way and may hold this person. Erase once it has ended. Nothing was changed.',
  ]);
  expect((await detail(contactId)).state).toBe('live');
  await pool.query(`update run set state = 'done' where id = $1`, [rows[0]?.id]);
  await erase(contactId);
});

test('a file that is not in yet stands against it, tried or not, and editors may not', async () => {
  const { contactId } = await app.enter({
    givenName: 'Wella',
    familyName: 'Waits',
    email: 'wella.waits@quillhaven.example',
  });
  const id = await bringFile(app, 'waiting.csv', 'Name,E-mail\nWella Waits,wella.waits@quillhaven.example\n');
  expect((await app.json<Erasure>(`/contacts/${contactId}/erasure`)).waits).toEqual({ id, name: 'waiting.csv' });
  expect(await refused(`/contacts/${contactId}/erase`, 'POST', { reason: 'asked' })).toEqual([409, 'fileWaits']);
  await app.json(`/intakes/${id}`, 'DELETE');
  const editor = await app.signedInAs('editor', 'Kari Amundsen');
  const answer = await editor(`/contacts/${contactId}/erase`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ reason: 'asked' }),
  });
  expect(answer.status).toBe(403);
  await erase(contactId);
  expect((await detail(contactId)).state).toBe('erased');
});
