import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { outcomeOf } from './runs/threads';
import type {
  ContactDetail,
  ContactPage,
  EntryCheck,
  GroupList,
  HeldList,
  HistoryEntry,
  IntakeDetail,
  MatchBoard,
  RunPage,
  RunSummary,
} from '@gray-loom/wire';
import { refusal } from './testing/refusal';
import { runScan } from './testing/run-scan';
import { bringFile, runImport, runTrial } from './testing/run-import';
import { built, startTestApp, type TestApp } from './testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp({ GRAY_LOOM_FILE_LIMIT: '300000' });
});
afterAll(() => app.end());

const FILE = [
  'First name;Last name;Email;Mobile;Born;Stage;Town;Postcode',
  'Ana;Reis;ana.reis@example.org;07700 900301;03.11.1958;Donor;Falmouth;TR11 3AB',
  'Tom;Okoro;tom@example.org;07700 900302;12.05.1961;;Truro;TR1 2AB',
  'Ana;Reis;Ana.Reis@example.org;01632 960301;;;;',
  'Kari;Amundsen;kari(at)example.org;;;;;',
  'Ngozi;Okafor;ngozi@example.net;;29.02.2023;;;',
  'Priya;Anand;priya@example.com;;;Friend;;',
  ';;;07700 900309;;;;',
  'Benedita;Aguiar;tom@example.org;;;;;',
  '"=SUM(A1)";Quist;quist@example.org;;;;;',
].join('\r\n');

async function people(query = ''): Promise<ContactPage> {
  return app.json<ContactPage>(`/contacts?limit=200${query}`);
}

async function idOf(find: string): Promise<number> {
  const { rows } = await people(`&find=${encodeURIComponent(find)}`);
  if (rows.length !== 1) throw new Error(`${find} is ${rows.length} people`);
  return rows[0]?.id ?? 0;
}

describe('files that cannot be read', () => {
  test.each([
    ['empty.csv', '', 422, 'emptyFile'],
    ['members.csv', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0]), 422, 'notATable'],
    ['big.csv', `a,b\n${'x,y\n'.repeat(100_000)}`, 413, 'fileTooLarge'],
    ['heading.csv', 'Given,Family,Email\n', 422, 'noDataRows'],
  ])('%s says why and leaves no trace', async (name, content, status, code) => {
    const answer = await app.upload(name, content);
    expect(answer.status).toBe(status);
    expect(((await answer.json()) as { code: string }).code).toBe(code);
    expect((await app.json<unknown[]>('/intakes')).length).toBe(0);
  });
  test('an upload that is cut off is refused whole', async () => {
    const answer = await app.request('/intakes', {
      method: 'POST',
      headers: { 'X-File-Name': 'cut.csv', 'X-File-Size': '5000', 'Content-Type': 'application/octet-stream' },
      body: 'Given,Email\nAna,ana@example.org\n',
    });
    expect(answer.status).toBe(400);
    expect(((await answer.json()) as { code: string }).code).toBe('uploadCutOff');
  });
});

describe('a file becomes contacts', () => {
  let intakeId: number;
  let run: RunSummary;

  test('it is read and its columns are guessed', async () => {
    intakeId = await bringFile(app, 'alumni.csv', FILE);
    const detail = await app.json<IntakeDetail>(`/intakes/${intakeId}`);
    expect(detail).toMatchObject({ rowCount: 9, state: 'read' });
    expect(detail.mapping.columns.map((column) => column.target)).toEqual([
      'givenName',
      'familyName',
      'email',
      'tel',
      'bday',
      'stage',
      'locality',
      'postalCode',
    ]);
  });
  test('a stage that does not exist is refused for the whole file', async () => {
    const detail = await app.json<IntakeDetail>(`/intakes/${intakeId}`);
    const refused = await refusal(
      app.json(`/intakes/${intakeId}/mapping`, 'PUT', {
        ...detail.mapping,
        wholeFile: { ...detail.mapping.wholeFile, stage: 'Friend' },
      }),
    );
    expect(refused).toMatchObject({ status: 422, code: 'unknownStage' });
    expect(refused.detail).toContain('Enquiry, Donor');
  });
  test('the trial writes nothing and counts what the import then does', async () => {
    const trial = await runTrial(app, intakeId);
    expect((await people()).total).toBe(0);
    run = await runImport(app, intakeId);
    expect(run.counts).toEqual(trial);
    expect(run.counts).toEqual({ new: 3, fill: 0, replace: 0, same: 0, fold: 1, held: 5 });
  });
  test('rows of one person became one contact with both phones', async () => {
    const ana = await app.json<ContactDetail>(`/contacts/${await idOf('ana reis')}`);
    expect(ana.record.f.tel?.map((value) => value.norm)).toEqual(['+447700900301', '+441632960301']);
    expect(ana.record.f.bday?.[0]).toMatchObject({ v: '1958-11-03', run: run.id, row: 1 });
    expect(ana.threads[run.id]).toMatchObject({ kind: 'file', name: 'alumni.csv' });
  });
  test('held rows stand with their reasons, and nothing is lost', async () => {
    const held = await app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
    expect(held.map((row) => row.row)).toEqual([4, 5, 6, 7, 8]);
    expect(held[1]?.issues[0]?.text).toContain('a day that does not exist');
    expect(held[4]?.issues[0]?.text).toContain('somebody here with another name');
    const csv = await (await app.request(`/runs/${run.id}/rows.csv`)).text();
    expect(csv.trim().split('\r\n')).toHaveLength(10);
  });
  test('a held row is mended, checked again and let in', async () => {
    const refused = await refusal(
      app.json(`/held/${run.id}/4/let-in`, 'POST', {
        cells: ['Kari', 'Amundsen', 'still(at)wrong', '', '', '', '', ''],
      }),
    );
    expect(refused.code).toBe('invalidEmail');
    await app.json(`/held/${run.id}/4/let-in`, 'POST', {
      cells: ['Kari', 'Amundsen', 'kari@example.org', '', '', '', '', ''],
    });
    expect((await people('&find=kari')).total).toBe(1);
    expect(
      (await app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows)).map((row) => row.row),
    ).not.toContain(4);
  });
  test('the same file again changes nothing', async () => {
    const before = await app.database.pool.query<{ n: number }>('select count(*)::int as n from operation');
    const again = await runImport(app, await bringFile(app, 'alumni.csv', FILE));
    expect(again.counts).toMatchObject({ new: 0, fill: 0, replace: 0, same: 3, fold: 1 });
    const after = await app.database.pool.query<{ n: number }>('select count(*)::int as n from operation');
    expect(after.rows[0]?.n).toBe(before.rows[0]?.n);
  });
  test('a newer file fills blanks, and undoing it restores what it wrote', async () => {
    const filled = await runImport(
      app,
      await bringFile(
        app,
        'more.csv',
        'First name,Last name,Email,Company\nTom,Okoro,tom@example.org,Tern Joinery\nMaja,Lindqvist,maja@example.org,\n',
      ),
    );
    expect(filled.counts).toMatchObject({ new: 1, fill: 1 });
    const tom = await idOf('tom okoro');
    expect((await app.json<ContactDetail>(`/contacts/${tom}`)).record.f.organization?.[0]?.v).toBe('Tern Joinery');
    await app.json(`/runs/${filled.id}/undo`, 'POST');
    expect((await app.json<ContactDetail>(`/contacts/${tom}`)).record.f.organization).toBeUndefined();
    expect((await people('&find=lindqvist')).total).toBe(0);
    const refused = await refusal(app.json(`/runs/${filled.id}/undo`, 'POST'));
    expect(refused.code).toBe('alreadyUndone');
  });
  test('undoing an import leaves who was changed since, and says so', async () => {
    const extra = await runImport(
      app,
      await bringFile(
        app,
        'extra.csv',
        'First name,Last name,Email\nOskar,Quist,oskar@example.org\nSigrid,Arnesen,sigrid@example.org\n',
      ),
    );
    const oskar = await idOf('oskar');
    await app.edit(oskar, { field: 'organization', slot: null, before: null, text: 'Heronbox Timber', label: null });
    expect(await app.json(`/runs/${extra.id}/undo`)).toMatchObject({
      removes: 1,
      leaves: 1,
      examples: [{ contactId: oskar }],
    });
    const { undoRunId } = await app.json<{ undoRunId: number }>(`/runs/${extra.id}/undo`, 'POST');
    expect((await app.json<RunSummary>(`/runs/${undoRunId}`)).counts).toEqual({ removed: 1, restored: 0, left: 1 });
    expect((await people('&find=oskar')).total).toBe(1);
    await app.json(`/runs/${undoRunId}/undo`, 'POST');
    expect((await people('&find=sigrid')).total).toBe(1);
  });
  test('what goes out is safe to open and has everybody', async () => {
    const text = await (await app.request('/contacts.csv')).text();
    expect(text).toContain("'=SUM(A1)");
    expect(text.trim().split('\r\n')).toHaveLength((await people()).total + 1);
    expect(await (await app.request('/contacts.csv?find=tom')).text()).not.toContain('Reis');
  });
});

describe('one contact', () => {
  test('an edit of a value that somebody changed meanwhile is refused with both values; other edits go through', async () => {
    const id = await idOf('tom okoro');
    const seen = (await app.json<ContactDetail>(`/contacts/${id}`)).record.f.givenName?.[0];
    await app.edit(id, { field: 'givenName', slot: 0, before: seen, text: 'Thomas', label: null });
    const refused = await refusal(
      app.edit(id, { field: 'givenName', slot: 0, before: seen, text: 'Tomas', label: null }),
    );
    expect(refused).toMatchObject({ status: 409, code: 'valueChanged', facts: { now: { v: 'Thomas' } } });
    await app.edit(id, { field: 'title', slot: 0, before: null, text: 'Foreman', label: null });
    const history = await app.json<HistoryEntry[]>(`/contacts/${id}/history`);
    expect(history[0]?.changes?.[0]).toMatchObject({ field: 'title', after: { v: 'Foreman' } });
    await app.json(`/runs/${history[1]?.runId}/undo`, 'POST');
    expect((await app.json<ContactDetail>(`/contacts/${id}`)).record.f.givenName?.[0]?.v).toBe('Tom');
  });
  test('bad text is refused beside its field, and nothing changes', async () => {
    const id = await idOf('tom okoro');
    const refused = await refusal(
      app.edit(id, { field: 'email', slot: null, before: null, text: 'tom(at)example', label: null }),
    );
    expect(refused).toMatchObject({ status: 422, code: 'invalidEmail', facts: { field: 'email' } });
  });
  test('deleted and brought back', async () => {
    const id = await idOf('ana reis');
    await app.json(`/contacts/${id}`, 'DELETE');
    expect((await people('&find=ana reis')).total).toBe(0);
    expect((await people('&deleted=true&find=ana reis')).total).toBe(1);
    await app.json(`/contacts/${id}/restore`, 'POST');
    expect((await people('&find=ana reis')).total).toBe(1);
  });
  test('pages by place show everybody once in either order', async () => {
    for (const sort of ['family', 'given', 'touched']) {
      const ids: number[] = [];
      for (let at = 0; ; at += 2) {
        const page = await app.json<ContactPage>(`/contacts?sort=${sort}&limit=2&at=${at}`);
        ids.push(...page.rows.map((row) => row.id));
        if (page.rows.length < 2) break;
      }
      expect(new Set(ids).size).toBe((await people()).total);
    }
  });
  test.each(['reis', 'REIS ana', 'ana.reis@exam', '7700 900301', '+44 7700'])('"%s" finds her', async (find) =>
    expect((await people(`&find=${encodeURIComponent(find)}`)).rows.map((row) => row.name)).toContain('Reis, Ana'),
  );
});

const scan = () => runScan(app);

describe('duplicates', () => {
  let groups: GroupList['groups'];
  const merge = (board: MatchBoard, extra: Record<string, unknown> = {}) => ({
    memberIds: board.members.map((member) => member.id),
    keepId: null,
    choices: {},
    versions: Object.fromEntries(board.members.map((member) => [member.id, member.version])),
    ...extra,
  });
  const snapshot = async () =>
    (
      await app.database.pool.query<{ id: number; record: unknown; state: string }>(
        'select id, state, record from contact order by id',
      )
    ).rows;

  beforeAll(async () => {
    const lines = ['First name,Last name,Email,Mobile'];
    for (let i = 0; i < 60; i++)
      lines.push(
        `Given${String.fromCharCode(97 + (i % 26))}${i},Family${String.fromCharCode(97 + (i % 23))}${i},person${i}@example.org,+1 ` +
          `${300 + i} 555 01${String(i).padStart(2, '0')}`,
      );
    await runImport(app, await bringFile(app, 'many.csv', lines.join('\n')));
    await app.enter({ givenName: 'KATHERINE', familyName: 'PIKE', tel: '01632 960555', email: '' });
    const kate = { givenName: 'Kate', familyName: 'Pike', tel: '01632960555', email: 'kate.pike7@example.net' };
    await app.enter({ ...kate, organization: 'Tern Joinery' }, { despite: true });
    groups = (await scan()).groups;
  });

  test('a scan finds those who are one, with reasons in words', async () => {
    const group = groups.find((one) => one.name.startsWith('Pike'));
    const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
    expect(board.members).toHaveLength(2);
    expect(board.reasons[0]?.reasons.map((reason) => reason.text)).toContainEqual(
      expect.stringMatching(/^Same phone, /),
    );
    expect(board.rows.find((row) => row.field === 'givenName')?.result[0]?.v).toBe('Kate');
  });
  test('a merge keeps everything, sends old ids on, and its undo is exact', async () => {
    const group = groups.find((one) => one.name.startsWith('Pike'));
    const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
    const before = await snapshot();
    const { runId, keepId } = await app.json<{ runId: number; keepId: number }>(
      `/duplicates/${group?.id}/merge`,
      'POST',
      merge(board),
    );
    const kept = await app.json<ContactDetail>(`/contacts/${keepId}`);
    expect(kept.record.f.email).toHaveLength(1);
    expect(kept.record.f.organization?.[0]?.v).toBe('Tern Joinery');
    const away = board.members.find((member) => member.id !== keepId)?.id;
    expect((await app.json<ContactDetail>(`/contacts/${away}`)).mergedInto?.id).toBe(keepId);
    const again = await refusal(app.json(`/duplicates/${group?.id}/merge`, 'POST', merge(board)));
    expect(again).toMatchObject({ status: 409, code: 'alreadyMerged' });
    await app.json(`/runs/${runId}/undo`, 'POST');
    const live = (rows: Awaited<ReturnType<typeof snapshot>>) =>
      rows.map(({ id, state, record }) => ({ id, state, f: (record as { f: unknown }).f }));
    expect(live(await snapshot())).toEqual(live(before));
    expect((await app.json<GroupList>('/duplicates')).groups.map((one) => one.id)).toContain(group?.id);
  });
  test('a stop that was said while two were one holds for both when they are two again, and no word from before', async () => {
    const group = groups.find((one) => one.name.startsWith('Pike'));
    const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
    const say = (id: number, channel: string) =>
      app.json(`/contacts/${id}/permissions`, 'POST', { channel, state: 'optedOut', how: 'By phone' });
    const stopped = async (id: number) =>
      (await app.json<ContactDetail>(`/contacts/${id}`)).permissions.channels
        .filter(({ state }) => state === 'optedOut')
        .map(({ channel }) => channel);
    const keep = board.keepId;
    const away = board.members.find(({ id }) => id !== keep)?.id ?? 0;
    await say(keep, 'post');
    const { runId } = await app.json<{ runId: number }>(`/duplicates/${group?.id}/merge`, 'POST', merge(board));
    await say(keep, 'call');
    await app.json(`/runs/${runId}/undo`, 'POST');
    expect(await stopped(keep)).toEqual(['call', 'post']);
    expect(await stopped(away)).toEqual(['call']);
  });
  test('a merge of records that changed since they were looked at is refused whole', async () => {
    const group = groups.find((one) => one.name.startsWith('Pike'));
    const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
    await app.edit(board.members[0]?.id ?? 0, {
      field: 'note',
      slot: 0,
      before: null,
      text: 'Met at the fair',
      label: null,
    });
    expect((await refusal(app.json(`/duplicates/${group?.id}/merge`, 'POST', merge(board)))).code).toBe(
      'recordChanged',
    );
  });
  test('what is kept apart is not asked again, until that is undone', async () => {
    const group = groups.find((one) => one.name.startsWith('Pike'));
    const board = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
    const { runId } = await app.json<{ runId: number }>(`/duplicates/${group?.id}/apart`, 'POST', {
      memberIds: board.members.map((member) => member.id),
    });
    expect((await scan()).groups.some((one) => one.name.startsWith('Pike'))).toBe(false);
    await app.json(`/runs/${runId}/undo`, 'POST');
    expect((await scan()).groups.some((one) => one.name.startsWith('Pike'))).toBe(true);
  });
  test('somebody being typed is noticed before saving', async () => {
    const { matches } = await app.json<EntryCheck>('/contacts/check', 'POST', {
      values: [
        { field: 'givenName', text: 'Katherine' },
        { field: 'familyName', text: 'Pike' },
        { field: 'tel', text: '01632 960555' },
      ],
    });
    expect(matches[0]?.name).toMatch(/Pike/i);
    expect(matches[0]?.reasons.length).toBeGreaterThan(0);
  });
  test('the ledger tells of all of it, newest first', async () => {
    const { runs } = await app.json<RunPage>('/runs?limit=200');
    expect(runs.map((run) => run.kind)).toEqual(
      expect.arrayContaining(['import', 'edit', 'merge', 'undo', 'scan', 'keepApart', 'delete', 'restore']),
    );
    expect(runs.map((run) => run.id)).toEqual([...runs.map((run) => run.id)].sort((a, b) => b - a));
  });
});

test('a channel that is told to stop ends a scan', async () => {
  const { port1, port2 } = new MessageChannel();
  port1.postMessage('stop');
  const threads = new Piscina({ filename: built('match-thread'), maxThreads: 1 });
  const task = { databaseUrl: app.url, threshold01: 0.5, apart: [], port: port2 };
  const answer = await outcomeOf<{ stopped: boolean }>(threads.run(task, { transferList: [port2] }));
  expect(typeof answer.stopped).toBe('boolean');
  port1.close();
  await threads.destroy();
});
