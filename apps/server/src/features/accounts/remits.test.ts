import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ContactPage, GroupList, HeldList, IntakeDetail, MatchBoard, People, RunSummary } from '@gray-loom/wire';
import { consumers } from '../../consumers';
import { actingAs } from '../../db/connect';
import { isWithin, remitOf, remitPartsOf } from '../../db/remits';
import { routeName, type Route } from '../../http/declare';
import { allRoutes } from '../../routes';
import { runKinds } from '../../run-kinds';
import { bringFile, runImport } from '../../testing/run-import';
import { refusal } from '../../testing/refusal';
import { runScan } from '../../testing/run-scan';
import { cardOf, startSyncedApp, type SyncedApp } from '../../testing/run-sync';
import { tryRemit } from './remits';
import { where } from '../../testing/where';

let synced: SyncedApp;
let app: SyncedApp['app'];
type Ask = SyncedApp['app']['request'];
let tom: Ask;
let routes: Route[];

/** Every value of somebody outside the remit holds this; of somebody within it, the other. */
const THEIRS = 'zyxqua';
const OURS = 'okomri';

beforeAll(async () => {
  synced = await startSyncedApp([
    { name: 'a.vcf', text: cardOf({ UID: 'a', FN: `Ana ${THEIRS}`, N: `${THEIRS};Ana;;;`, TEL: '+44 7700 900801' }) },
    { name: 'b.vcf', text: cardOf({ UID: 'b', FN: `Bo ${OURS}`, N: `${OURS};Bo;;;`, TEL: '+44 7700 900802' }) },
  ]);
  app = synced.app;
  tom = await app.signedInAs('editor', 'Tom Okoro', { owners: ['Tom Okoro'], tags: ['boat fair'] });
  routes = allRoutes({
    config: app.config,
    events: { subscribe: () => () => undefined } as never,
    log: console as never,
    kinds: runKinds,
    consumers,
  });
});
afterAll(() => synced.end());

const asTom = async <T>(path: string, method = 'GET', body?: unknown): Promise<{ status: number; body: T }> => {
  const answer = await tom(path, {
    method,
    headers: { 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: (/^[[{]/.test(text) ? JSON.parse(text) : text) as T };
};

/** Brings people in, some of them Tom's. */
async function bring(name: string, rows: { mine: boolean; n: number }[]): Promise<RunSummary> {
  const heading = 'Given name,Family name,E-mail,Phone,Street,Town,Organization,Owner,Note';
  const lines = rows.map(({ mine, n }) => {
    const word = mine ? OURS : THEIRS;
    const owner = mine ? 'Tom Okoro' : 'Ines Carvalho';
    return [
      `G${n}${word}`,
      `F${n}${word}`,
      `${word}${n}@example.org`,
      '',
      `${n} ${word} Road`,
      `T${word}`,
      `O${word}`,
      owner,
      `note ${word}`,
    ].join(',');
  });
  return runImport(app, await bringFile(app, name, [heading, ...lines].join('\n')));
}

describe('an editor with a remit', () => {
  test('sees, finds, counts and exports only theirs, also by guessed address', async () => {
    await bring('both.csv', [
      { mine: true, n: 1 },
      { mine: false, n: 2 },
      { mine: true, n: 3 },
    ]);
    const page = (await asTom<ContactPage>('/contacts')).body;
    expect([page.total, page.rows.map(({ name }) => name.includes(OURS))]).toEqual([2, [true, true]]);
    expect((await asTom<ContactPage>(`/contacts?find=${THEIRS}`)).body.total).toBe(0);
    const all = await app.json<ContactPage>('/contacts');
    const other = all.rows.find(({ name }) => name.includes(THEIRS))?.id ?? 0;
    expect((await asTom(`/contacts/${other}`)).status).toBe(404);
    for (const path of ['/history', '/opportunities', '/syncs'])
      expect(JSON.stringify(await asTom(`/contacts/${other}${path}`))).not.toContain(THEIRS);
    expect((await asTom(`/contacts/${other}`, 'PATCH', { edits: [{ field: 'note', text: 'x' }] })).status).toBe(404);
    expect((await asTom(`/contacts/${other}`, 'DELETE')).status).toBe(404);
    const exported = await (await tom('/contacts.csv?fields=givenName,familyName,email')).text();
    expect([exported.includes(OURS), exported.includes(THEIRS)]).toEqual([true, false]);
    const people = await app.json<People>('/people');
    expect(people.accounts.find(({ name }) => name === 'Tom Okoro')?.within).toBe(2);
  });
});

/** Ids that are tried for each part of an address, whatever is behind them. */
const GUESSED = Array.from({ length: 22 }, (_, i) => i + 1);
const WORDS: Record<string, (string | number)[]> = {
  id: GUESSED,
  run: GUESSED,
  row: [1, 2, 3],
  file: GUESSED.map((n) => `${n}.vcf`),
  key: ['custom.1', 'email', 'tel', 'familyName'],
  kind: ['tag'],
  label: ['x'],
  hash: ['0'.repeat(64)],
  token: ['unknown'],
};

/** Every address of a route, with all that could stand in it. */
function addressesOf({ path }: Route): string[] {
  const names = [...path.matchAll(/:(\w+)(\{[^}]*\})?/g)];
  return names.reduce<string[]>(
    (all, [part, name = '']) =>
      all.flatMap((one) => (WORDS[name] ?? [1]).map((word) => one.replace(part, encodeURIComponent(String(word))))),
    [path],
  );
}

const QUERIES: Record<string, string[]> = {
  '/contacts': [
    '',
    `?find=${THEIRS}`,
    '?deleted=true',
    '?kind=organization',
    '?owner=Ines%20Carvalho',
    '?fields=note,adr',
  ],
  '/labels': ['?line=adr'],
  '/addresses': [`?locality=T${THEIRS}&postalCode=&country=`],
  '/intakes/:id/trial': ['?outcome=held', '?outcome=new', '?outcome=fill'],
};

/** What answers hold that nobody but whoever sees everybody may read, by address. */
async function leaksTo(ask: Ask, shown: Set<string>): Promise<string[]> {
  const leaks: string[] = [];
  const look = async (name: string, path: string, init?: RequestInit) => {
    const answer = await ask(path, init);
    const text = await answer.text();
    if (answer.status >= 500) leaks.push(`${name} ${path}: ${answer.status}`);
    if (text.includes(OURS)) shown.add(name);
    if (text.includes(THEIRS) && !path.includes(THEIRS))
      leaks.push(`${name} ${path}: ${text.slice(Math.max(0, text.indexOf(THEIRS) - 200), text.indexOf(THEIRS) + 60)}`);
    else if (path.includes(THEIRS) && text.split(THEIRS).length > 1 && !/"detail"/.test(text))
      leaks.push(`${name} ${path}: ${text.slice(0, 200)}`);
  };
  for (const route of routes) {
    if (route.method !== 'get' || route.answer.kind === 'events' || route.may === 'anyone') continue;
    for (const address of addressesOf(route))
      for (const query of QUERIES[route.path] ?? ['']) await look(routeName(route), `${address}${query}`);
  }
  const post = (body: unknown): RequestInit => ({
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  for (const n of GUESSED) {
    await look('check', '/contacts/check', post({ values: [{ field: 'email', text: `${THEIRS}${n}@example.org` }] }));
    await look('look', `/duplicates/${n}/look`, post({}));
    await look('undo', `/runs/${n}/undo`, post({}));
    await look('edit', `/contacts/${n}`, { ...post({ edits: [] }), method: 'PATCH' });
  }
  return leaks;
}

/** The counts that are kept for Tom are those of whom he sees. */
async function requireKeptCounts(): Promise<void> {
  const { rows: found } = await app.database.pool.query<{ id: number }>(
    `select id from account where name = 'Tom Okoro'`,
  );
  const accountId = found[0]?.id ?? 0;
  const person = { kind: 'person', accountId, name: 'Tom Okoro', role: 'editor' } as const;
  const remit = remitOf(await remitPartsOf(app.database.db, accountId));
  const { pool } = actingAs(app.database, { ...person, remit });
  const kept = await pool.query(
    `select kind, label, who, sum(n)::int as n from tally group by 1, 2, 3 having sum(n) <> 0 order by 1, 2, 3`,
  );
  const live = `from contact where state = 'live'`;
  const counted = await pool.query(
    `select * from (
       select 'live' as kind, '' as label, kind as who, count(*)::int as n ${live} group by 3
       union all select 'tag', tag, kind, count(*)::int from contact, unnest(tags) tag where state = 'live' group by 2, 3
       ${['source', 'stage', 'owner', 'area'].map((c) => `union all select '${c}', ${c}, kind, count(*)::int ${live} and ${c} <> '' group by 2, 3`).join(' ')}
     ) all_of order by 1, 2, 3`,
  );
  expect(kept.rows).toEqual(counted.rows);
}

describe('nothing of anybody outside the remit is told', () => {
  test('by any address, whatever happened before', async () => {
    let n = 100;
    const shown = new Set<string>();
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ mine: fc.boolean(), twice: fc.boolean(), deleted: fc.boolean() }), {
          minLength: 3,
          maxLength: 7,
        }),
        async (people) => {
          const rows = people.flatMap(({ mine, twice }) => {
            n++;
            return twice
              ? [
                  { mine, n },
                  { mine: !mine, n },
                ]
              : [{ mine, n }];
          });
          await bring(`people ${n}.csv`, rows);
          const { rows: all } = await app.json<ContactPage>('/contacts?sort=touched&limit=60');
          const theirs = all.filter(({ name }) => name.includes(THEIRS)).map(({ id }) => id);
          const ours = all.filter(({ name }) => name.includes(OURS)).map(({ id }) => id);
          const [x = 0, y = 0] = theirs;
          const [o = 0] = ours;
          if (x && y)
            await app.json('/households', 'POST', { memberIds: [x, y], name: `House ${THEIRS}` }).catch(() => null);
          if (x && o) {
            await app.json('/households', 'POST', { memberIds: [x, o], name: `House ${THEIRS}` }).catch(() => null);
            await app.edit(o, { field: 'related', value: { relation: 'spouse', to: x } });
            await app.edit(x, { field: 'nickname', text: `Nick ${THEIRS}` });
            await app.json(`/contacts/${x}/permissions`, 'POST', {
              channel: 'post',
              state: 'optedOut',
              how: `said ${THEIRS}`,
            });
          }
          if (y && people[0]?.deleted) await app.json(`/contacts/${y}`, 'DELETE');
          await runScan(app);
          await synced.run({ trial: true });
          await synced.run();
          expect(await leaksTo(tom, shown)).toEqual([]);
          await requireKeptCounts();
        },
      ),
      { numRuns: 2, endOnFailure: true },
    );
    // A guard against a walk that is answered with nothing at all.
    expect([...shown]).toEqual(
      expect.arrayContaining(
        ['', '.csv', '.vcf', '.jsonl', '/:id']
          .map((end) => `get /contacts${end}`)
          .concat(['get /duplicates', 'get /duplicates/:id', 'get /runs/:id', 'get /runs/:id/contacts', 'get /tape']),
      ),
    );
  });
});

describe('the one condition', () => {
  const names = fc.constantFrom('Tom', 'Ines', '');
  const list = fc.uniqueArray(fc.constantFrom('Tom', 'Ines', 'boat fair', 'bursary', 'Web', 'North'), { maxLength: 3 });
  const remit = fc.record({ owners: list, sources: list, tags: list, areas: list });
  const contact = fc.record({
    owner: names,
    source: fc.constantFrom('Web', ''),
    area: fc.constantFrom('North', ''),
    tags: fc.uniqueArray(fc.constantFrom('boat fair', 'bursary'), { maxLength: 2 }),
  });

  test('says the same in the views, in a count that is tried, and of what is not written yet', async () => {
    const { pool, db } = app.database;
    await app.signedInAs('viewer', 'Law Maker', { owners: ['nobody'] });
    const { rows: made } = await pool.query<{ id: number }>(`select id from account where name = 'Law Maker'`);
    const accountId = made[0]?.id ?? 0;
    await fc.assert(
      fc.asyncProperty(remit, fc.array(contact, { minLength: 1, maxLength: 8 }), async (parts, contacts) => {
        await pool.query(
          `update account_remit set owners = $2, sources = $3, tags = $4, areas = $5 where account_id = $1`,
          [accountId, parts.owners, parts.sources, parts.tags, parts.areas],
        );
        await pool.query(
          `with gone as (delete from contact where display_name = 'law')
           insert into contact (display_name, list_name, sort_family, sort_given, email, tel, organization, stage, source, owner, area, tags,
             completeness, created_run, last_run, created_at, touched_at, record)
           select 'law', i, '', '', '', '', '', '', c->>'source', c->>'owner', c->>'area', array(select json_array_elements_text(c->'tags')),
             0, 1, 1, now(), now(), '{"n":0,"f":{}}' from json_array_elements($1::json) with ordinality as l(c, i)`,
          [JSON.stringify(contacts)],
        );
        const person = { kind: 'person', accountId, name: 'Law Maker', role: 'viewer' } as const;
        const seen = actingAs(app.database, { ...person, remit: remitOf(await remitPartsOf(db, accountId)) });
        const { rows } = await seen.pool.query<{ list_name: string }>(
          `select list_name from contact where display_name = 'law'`,
        );
        const expected = contacts.flatMap((one, i) => (isWithin(parts, one) ? [String(i + 1)] : []));
        expect(rows.map((row) => row.list_name).sort()).toEqual(expected.sort());
        const own = await seen.pool.query<{ n: number }>(
          `select count(*)::int as n from contact where state = 'live' and kind = 'person'`,
        );
        expect((await tryRemit(app.database, parts)).within).toBe(own.rows[0]?.n);
      }),
      { numRuns: 30, endOnFailure: true },
    );
    await pool.query(`delete from contact where display_name = 'law'`);
  });
});

describe('what crosses the border', () => {
  const enter = (body: Record<string, string>, more = {}) =>
    asTom<{ contactId: number; code: string; detail: string }>('/contacts', 'POST', {
      ...more,
      values: Object.entries(body).map(([field, text]) => ({ field, text })),
    });

  test('is said at entry without its content; whom somebody enters is theirs', async () => {
    await app.enter({ givenName: 'Wanda', familyName: 'Quist', email: 'wanda@example.org', owner: 'Ines Carvalho' });
    const asked = { values: [{ field: 'email', text: 'wanda@example.org' }] };
    expect((await asTom('/contacts/check', 'POST', asked)).body).toMatchObject({ matches: [], elsewhere: 1 });
    const refused = await enter({ givenName: 'Wanda', familyName: 'Quist', email: 'wanda@example.org' });
    expect([refused.status, refused.body.code]).toEqual([409, 'alreadyElsewhere']);
    expect(refused.body.detail).not.toContain('Wanda');
    const made = await enter({ givenName: 'Uwe', familyName: 'Lind', email: 'uwe@example.org' });
    expect(
      (await asTom<{ record: { f: Record<string, { v: string }[]> } }>(`/contacts/${made.body.contactId}`)).body.record
        .f.owner?.[0]?.v,
    ).toBe('Tom Okoro');
    const others = await enter({ givenName: 'Not', familyName: 'Mine', owner: 'Ines Carvalho' });
    expect([others.status, others.body.code]).toEqual([409, 'newOutside']);
  });

  test('holds the rows of their import for whoever may decide', async () => {
    const file = [
      'Given name,Family name,E-mail,Owner,Job title',
      'Wanda,Quist,wanda@example.org,,Rigger',
      'Nils,Voss,nils@example.org,,Cook',
      'Eva,Falk,eva@example.org,Ines Carvalho,',
      '',
    ].join('\n');
    const bytes = Buffer.from(file);
    const taken = await tom('/intakes', {
      method: 'POST',
      headers: {
        'X-File-Name': 'toms.csv',
        'X-File-Size': String(bytes.length),
        'Content-Type': 'application/octet-stream',
      },
      body: bytes,
    });
    const { id } = (await taken.json()) as { id: number };
    const tried = (await asTom<{ runId: number }>(`/intakes/${id}/trial`, 'POST')).body.runId;
    await app.work(tried);
    const { trialCounts } = (await asTom<IntakeDetail>(`/intakes/${id}`)).body;
    const { runId } = (await asTom<{ runId: number }>(`/intakes/${id}/import`, 'POST')).body;
    const run = await app.work(runId);
    expect(run.counts).toMatchObject({ new: 1, held: 2 });
    expect(trialCounts).toMatchObject({ new: 1, held: 2 });
    const own = (await asTom<HeldList>(`/held?run=${runId}`)).body.rows;
    expect(own.map(({ fits, issues }) => [fits, issues[0]?.text])).toEqual([
      [[], expect.stringContaining('outside your remit')],
      [[], expect.stringContaining('outside your remit')],
    ]);
    const refused = await asTom<{ detail: string }>(`/held/${runId}/1/let-in`, 'POST', {
      cells: own[0]?.cells,
      as: 'check',
      asked: 'keep',
    });
    expect([refused.status, refused.body.detail]).toEqual([422, expect.stringContaining('outside your remit')]);
    // Whoever sees everybody decides; the row then touches the one who is here.
    const wanda = (await app.json<ContactPage>('/contacts?find=wanda@example.org')).rows[0]?.id;
    const letIn = await app.json<{ contactId: number }>(`/held/${runId}/1/let-in`, 'POST', {
      cells: own[0]?.cells,
      as: 'check',
      asked: 'keep',
    });
    expect(letIn.contactId).toBe(wanda);
  });

  test('is proposed on the match board, and merged by whoever may do both', async () => {
    await app.enter({
      givenName: 'Otto',
      familyName: 'Brandvik',
      email: 'otto@example.org',
      tel: '+44 7700 900655',
      owner: 'Tom Okoro',
    });
    await app.enter(
      {
        givenName: 'Otto',
        familyName: 'Brandvik',
        email: 'otto@example.org',
        tel: '+44 7700 900655',
        owner: 'Ines Carvalho',
      },
      { despite: true },
    );
    await runScan(app);
    const group = (await asTom<GroupList>('/duplicates')).body.groups.find(({ name }) => name.includes('Brandvik'));
    const board = (await asTom<MatchBoard>(`/duplicates/${group?.id}`)).body;
    expect([board.members.length, board.elsewhere, board.rows]).toEqual([1, 1, []]);
    const memberIds = (await app.json<MatchBoard>(`/duplicates/${group?.id}`)).members.map(({ id }) => id);
    for (const [path, body] of [
      ['merge', { memberIds, keepId: null, choices: {}, versions: {} }],
      ['apart', { memberIds, sharedLines: [] }],
      ['take-out', { memberId: memberIds[0] }],
      ['later', undefined],
    ] as const)
      expect((await asTom(`/duplicates/${group?.id}/${path}`, 'POST', body)).status).toBe(403);
    expect((await asTom(`/duplicates/${group?.id}/propose`, 'POST')).status).toBe(204);
    const proposed = await app.json<MatchBoard>(`/duplicates/${group?.id}`);
    expect([proposed.group.proposedBy, (await app.json<{ proposed: number }>('/worklist')).proposed]).toEqual([
      'Tom Okoro',
      1,
    ]);
    await app.json(`/duplicates/${group?.id}/merge`, 'POST', { memberIds, keepId: null, choices: {}, versions: {} });
    expect((await app.json<{ proposed: number }>('/worklist')).proposed).toBe(0);
  });

  test('is counted in a run, which goes back whole or not at all', async () => {
    const run = await bring('mixed.csv', [
      { mine: true, n: 900 },
      { mine: false, n: 901 },
      { mine: false, n: 902 },
    ]);
    const seen = (await asTom<RunSummary>(`/runs/${run.id}`)).body;
    expect([seen.elsewhere, seen.undoable, seen.intakeId]).toEqual([2, false, null]);
    expect((await asTom<{ contactId: number }[]>(`/runs/${run.id}/contacts`)).body).toHaveLength(1);
    const refused = await asTom<{ detail: string }>(`/runs/${run.id}/undo`, 'POST', {});
    expect([refused.status, refused.body.detail]).toEqual([
      403,
      expect.stringContaining('2 contacts outside your remit'),
    ]);
    expect((await asTom(`/runs/${run.id}/stop`, 'POST')).status).toBe(403);
    expect((await app.json<RunSummary>(`/runs/${run.id}`)).elsewhere).toBe(0);
  });

  test('a hand-over takes contacts out of sight, and can be taken back by whoever did it', async () => {
    const [own] = (await asTom<ContactPage>(`/contacts?${where({ owner: 'Tom Okoro' })}`)).body.rows;
    const ines = (await app.json<{ id: number; name: string }[]>('/owners')).find(
      ({ name }) => name === 'Ines Carvalho',
    );
    const handed = (await asTom<{ runId: number }>('/hand-over', 'POST', { to: ines?.id, ids: [own?.id] })).body;
    expect((await asTom(`/contacts/${own?.id}`)).status).toBe(404);
    expect((await asTom(`/runs/${handed.runId}/undo`, 'POST', {})).status).toBe(200);
    expect((await asTom(`/contacts/${own?.id}`)).status).toBe(200);
  });
});

describe('a remit', () => {
  const ids = async () => {
    const { accounts } = await app.json<People>('/people');
    return (name: string) => accounts.find((one) => one.name === name)?.id ?? 0;
  };
  const change = (id: number, body: unknown) => refusal(app.json(`/people/${id}`, 'PATCH', body));

  test('names what is there, and is for nobody who manages the workspace', async () => {
    const tomsId = (await ids())('Tom Okoro');
    const parts = { owners: [], sources: [], tags: [], areas: [] };
    expect((await change(tomsId, { remit: parts })).status).toBe(422);
    expect((await change(tomsId, { remit: { ...parts, tags: ['no such tag'] } })).detail).toContain(
      "no tag 'no such tag'",
    );
    expect((await change(tomsId, { role: 'administrator', remit: { ...parts, owners: ['Tom Okoro'] } })).code).toBe(
      'administratorSeesAll',
    );
  });

  test('follows a tag that is renamed; a merge that would widen it asks first, and goes back with its undo', async () => {
    await app.json('/picks', 'POST', { kind: 'tag', label: 'slipway' });
    await app.json('/picks', 'POST', { kind: 'tag', label: 'moorings' });
    const tags = async () =>
      (await app.json<People>('/people')).accounts.find(({ name }) => name === 'Tom Okoro')?.remit?.tags;
    await app.json(`/people/${(await ids())('Tom Okoro')}`, 'PATCH', {
      remit: { owners: ['Tom Okoro'], sources: [], tags: ['slipway'], areas: [] },
    });
    await app.json('/picks/merge', 'POST', { list: 'tag', from: 'slipway', into: 'slipways' });
    expect(await tags()).toEqual(['slipways']);
    const merge = { list: 'tag', from: 'slipways', into: 'moorings' };
    expect((await refusal(app.json('/picks/merge', 'POST', merge))).code).toBe('inRemit');
    const { runId } = await app.json<{ runId: number }>('/picks/merge', 'POST', { ...merge, despite: true });
    expect(await tags()).toEqual(['moorings']);
    await requireKeptCounts();
    await app.json(`/runs/${runId}/undo`, 'POST', {});
    expect(await tags()).toEqual(['slipways']);
    await requireKeptCounts();
  });

  test('follows whoever it is named after, and goes with a promotion', async () => {
    const id = (await ids())('Tom Okoro');
    await app.json(`/people/${id}`, 'PATCH', { name: 'Thomas Okoro' });
    const remit = async () => (await app.json<People>('/people')).accounts.find((one) => one.id === id)?.remit;
    expect((await remit())?.owners).toEqual(['Thomas Okoro']);
    await app.json(`/people/${id}`, 'PATCH', { role: 'administrator' });
    expect(await remit()).toBeNull();
  });
});
