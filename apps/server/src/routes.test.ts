import { consumers } from './consumers';
import { runKinds } from './run-kinds';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import SwaggerParser from '@apidevtools/swagger-parser';
import type { OpenAPIV3_1 } from 'openapi-types';
import type { Mapping } from '@gray-loom/core/mapping';
import type {
  ErasedPeople,
  GroupList,
  HeldList,
  IntakeDetail,
  InviteLink,
  LearningLook,
  Owner,
  People,
  RunSummary,
} from '@gray-loom/wire';
import { ROLES, type Role } from './db/actor';
import { routeName, type Example, type Route } from './http/declare';
import { allRoutes } from './routes';
import { bringFile, runImport, runTrial } from './testing/run-import';
import { runScan } from './testing/run-scan';
import { cardOf, startSyncedApp, type SyncedApp } from './testing/run-sync';

let synced: SyncedApp;
let routes: Route[];

/** People of whom every other one is here twice. */
const PEOPLE = Array.from({ length: 40 }, (_, i) => {
  const family = `${'BCDFGHKLMN'[i % 10]}${'aeiou'[i % 5]}r${'aeio'[i % 4]}nd${i}`;
  const row = (mail: string) =>
    `Maya${i},${family},${mail}${i}@quillhaven.example,+44 7700 900${String(100 + i)},${i + 1} Quay Street,Quillhaven`;
  return i % 2 ? [row('m'), row('n')] : [row('m')];
}).flat();
const FILE = `Given name,Family name,E-mail,Phone,Street,Town\n${PEOPLE.join('\n')}\nNobody,,not a mailbox,,,\n`;

const start = () =>
  startSyncedApp([
    { name: 'a.vcf', text: cardOf({ UID: 'a', FN: 'Tom Okoro', N: 'Okoro;Tom;;;', TEL: '+44 7700 900800' }) },
  ]);

beforeAll(async () => {
  synced = await start();
  const { app } = synced;
  routes = allRoutes({
    config: app.config,
    events: { subscribe: () => () => undefined } as never,
    log: console as never,
    kinds: runKinds,
    consumers,
  });
});
afterAll(() => synced.end());

function addressOf(path: string, { params = {}, query = {} }: Example): string {
  const filled = Object.entries(params).reduce(
    (text, [name, value]) => text.replace(new RegExp(`:${name}(\\{[^}]*\\})?`), encodeURIComponent(String(value))),
    path,
  );
  const asked = new URLSearchParams(Object.entries(query).map(([name, value]) => [name, String(value)]));
  return asked.size ? `${filled}?${asked}` : filled;
}

/** Sends what is said of a route, and lets go of the answer where it would not end. */
async function send(route: Route, example: Example, request: SyncedApp['app']['request']): Promise<Response> {
  const stop = new AbortController();
  const sendsJson = route.body !== null && route.body !== 'file';
  const answer = await request(addressOf(route.path, example), {
    method: route.method.toUpperCase(),
    headers: { ...(sendsJson ? { 'Content-Type': 'application/json' } : {}), ...example.headers },
    ...(sendsJson ? { body: JSON.stringify(example.body ?? {}) } : {}),
    signal: stop.signal,
  });
  if (route.answer.kind === 'events') {
    stop.abort();
    await answer.body?.cancel();
  }
  return answer;
}

describe('every declared route', () => {
  test('is known by one method and path, and says what it does in a sentence', () => {
    const names = routes.map(routeName);
    expect(new Set(names).size).toBe(names.length);
    for (const { summary } of routes) expect(summary).toMatch(/^[A-Z].+\.$/);
    // A guard against a walk over nothing.
    expect(routes.length).toBeGreaterThan(90);
  });

  test('refuses whoever is not signed in and every role that its `may` leaves out, and lets the others in', async () => {
    const { app } = synced;
    const as: Record<Role, SyncedApp['app']['request']> = {
      viewer: await app.signedInAs('viewer', 'Vera Viewer'),
      editor: await app.signedInAs('editor', 'Edo Editor'),
      administrator: await app.signedInAs('administrator', 'Ada Admin'),
    };
    const wrong: string[] = [];
    for (const route of routes.filter(({ may }) => may !== 'anyone')) {
      const nobody = await send(route, route.example, app.anonymous);
      if (nobody.status !== 401) wrong.push(`${routeName(route)}: ${nobody.status} for nobody`);
      for (const role of ROLES) {
        const { status } = await send(route, route.example, as[role]);
        const isAllowed = ROLES.indexOf(role) >= ROLES.indexOf(route.may as Role);
        if (isAllowed ? [401, 403].includes(status) : status !== 403)
          wrong.push(`${routeName(route)}: ${status} for a ${role}`);
      }
    }
    expect(wrong).toEqual([]);
  });

  test('answers an editor with a remit, unless it is declared to ask for somebody who sees everybody', async () => {
    const part = await synced.app.signedInAs('editor', 'Paula Part', { owners: ['Paula Part'] });
    const wrong: string[] = [];
    for (const route of routes.filter(({ may }) => may !== 'anyone')) {
      const answer = await send(route, route.example, part);
      const isProblem = answer.headers.get('content-type')?.includes('problem');
      const code = isProblem ? ((await answer.json()) as { code: string }).code : '';
      const expected = route.may === 'administrator' ? 'notAllowed' : route.wholeBook ? 'wholeBookOnly' : '';
      const about = ['notAllowed', 'wholeBookOnly'].includes(code) ? code : '';
      if (about !== expected || answer.status >= 500) wrong.push(`${routeName(route)}: ${answer.status} ${code}`);
    }
    expect(wrong).toEqual([]);
    // A guard against nothing being declared so.
    expect(routes.filter(({ wholeBook }) => wholeBook).length).toBeGreaterThan(8);
  });

  test('refuses NUL, half characters, ids out of range and other media types before anything of ours runs', async () => {
    const { app } = synced;
    const status = async (path: string, init?: RequestInit) => (await app.request(path, init)).status;
    const post = (type: string, body: string) => ({ method: 'POST', headers: { 'Content-Type': type }, body });
    expect(await status('/contacts?where=%00')).toBe(422);
    expect(await status('/contacts?where=99999999999')).toBe(422);
    expect(await status('/contacts/99999999999')).toBe(404);
    expect(await status('/contacts/1e3')).toBe(404);
    expect(await status('/picks', post('application/json', '{"kind":"tag","label":"\\u0000"}'))).toBe(422);
    expect(await status('/picks', post('application/json', '{"kind":"tag","label":"\\ud800"}'))).toBe(422);
    expect(await status('/picks', post('application/json', '{'))).toBe(400);
    expect(await status('/picks', post('text/plain', '{"kind":"tag","label":"Yard"}'))).toBe(415);
    expect(await status('/session', post('application/json', `{"email":"${'a'.repeat(20_000)}"}`))).toBe(413);
    expect(await status('/intakes', { ...post('text/csv', 'a'), headers: { 'x-file-name': '%' } })).toBe(422);
    expect(await status('/contacts', { headers: { origin: 'null' } })).toBe(403);
  });

  test('is in the description of the interface, which is valid OpenAPI 3.1', async () => {
    const described = await synced.app.json<OpenAPIV3_1.Document>('/openapi.json');
    const operations = Object.entries(described.paths ?? {}).flatMap(([path, item]) =>
      Object.keys(item ?? {}).map((method) => `${method} ${path}`),
    );
    const expected = routes.map(({ method, path }) => `${method} ${path.replace(/:(\w+)(\{[^}]*\})?/g, '{$1}')}`);
    expect(operations.sort()).toEqual(expected.sort());
    await SwaggerParser.validate(structuredClone(described) as never);
  });
});

describe('real answers', () => {
  /** What is asked of a route where its example names nothing that is here. */
  const given: Record<string, () => Example | Promise<Example>> = {};
  const here = {
    intake: 0,
    importRun: 0,
    heldRow: 0,
    saved: 0,
    contact: 0,
    other: 0,
    mapping: {} as Mapping,
    ids: [] as number[],
  };

  beforeAll(async () => {
    // The walk through all roles did what it was let do; this begins anew.
    await synced.end();
    synced = await start();
    const { app } = synced;
    await synced.run({ trial: true });
    const syncRun = (await synced.run()).id;
    const intake = await bringFile(app, 'people.csv', FILE, (mapping) => ({ ...mapping, recognise: ['externalId'] }));
    await runTrial(app, intake);
    const imported: RunSummary = await runImport(app, intake);
    await runScan(app);
    const [held] = await app.json<HeldList>('/held').then(({ rows }) => rows);
    const { mapping } = await app.json<IntakeDetail>(`/intakes/${intake}`);
    const [saved] = await app.json<{ id: number }[]>('/saved-mappings');
    const contact = await app.enter({ givenName: 'Odile', familyName: 'Brandt', email: 'odile@quillhaven.example' });
    const other = await app.enter({ givenName: 'Piet', familyName: 'Brandt', email: 'piet@quillhaven.example' });
    Object.assign(here, {
      intake,
      importRun: imported.id,
      heldRow: held?.row,
      saved: saved?.id,
      contact: contact.contactId,
      other: other.contactId,
      mapping,
    });
    const again = await bringFile(app, 'again.csv', FILE);
    const groups = async () => (await app.json<GroupList>('/duplicates')).groups;
    const group = async (nth = 0) => {
      const found = (await groups())[nth];
      const board = await app.json<{ members: { id: number }[] }>(`/duplicates/${found?.id}`);
      return { id: found?.id ?? 0, memberIds: board.members.map(({ id }) => id) };
    };
    const ofContact = (more: Example = {}) => ({ params: { id: here.contact }, ...more });
    const connection = { id: here.contact, connection: synced.connectionId };
    const cells = ['Nora', 'Quill', 'nora@quillhaven.example', '', '', ''];
    Object.assign(given, {
      'get /contacts/:file{[0-9]+\\.vcf}': () => ({ params: { file: `${here.contact}.vcf` } }),
      'get /contacts/:id': ofContact,
      'get /contacts/:id/history': ofContact,
      'get /contacts/:id/opportunities': ofContact,
      'get /contacts/:id/syncs': ofContact,
      'post /contacts/:id/facts': () => ofContact({ body: { values: [{ field: 'tel', text: '+44 7700 900901' }] } }),
      'post /contacts/:id/permissions': () =>
        ofContact({ body: { channel: 'email', state: 'optedOut', how: 'on the phone' } }),
      'patch /contacts/:id': () => ofContact({ body: { edits: [{ field: 'nickname', text: 'Odi' }] } }),
      'delete /contacts/:id': () => ({ params: { id: here.other } }),
      'post /contacts/:id/restore': () => ({ params: { id: here.other } }),
      'get /invitations/:token': async () => ({ params: { token: await invited('Wendla') } }),
      'post /invitations/:token': async () => ({
        params: { token: await invited('Wolfram') },
        body: { password: 'a good password' },
      }),
      'post /people/owners': async () => {
        await app.enter({ givenName: 'Owned', familyName: 'Elsewhere', owner: 'Callum of the yard' });
        return { body: { name: 'Callum of the yard', to: (await app.json<Owner[]>('/owners'))[0]?.id } };
      },
      'post /hand-over': async () => ({
        body: { to: (await app.json<Owner[]>('/owners'))[0]?.id, ids: [here.contact] },
      }),
      'patch /people/:id': async () => ({ params: { id: await somebody() }, body: { role: 'editor' } }),
      'post /people/:id/reset': async () => ({ params: { id: await somebody() }, body: {} }),
      'post /people/:id/retire': async () => ({ params: { id: await somebody() }, body: {} }),
      'post /contacts': () => ({ body: { values: [{ field: 'familyName', text: 'Somebody' }] } }),
      'put /contacts/:id/syncs/:connection': () => ({ params: connection, body: { choice: 'never' } }),
      'post /contacts/:id/syncs/:connection/send': async () => {
        await letGo();
        return { params: connection };
      },
      'post /feed/readers/:name/retry': () => ({ params: { name: 'searchTexts' } }),
      'post /hooks/:hook': async () => {
        await app.database.pool.query(`update connection set state = 'on'`);
        return { params: { hook: (await synced.detail()).hook.split('/').at(-1) ?? '' } };
      },
      'get /intakes/:id': () => ({ params: { id: intake } }),
      'get /intakes/:id/preview': () => ({ params: { id: intake } }),
      'get /intakes/:id/trial': () => ({ params: { id: intake }, query: { outcome: 'new' } }),
      'put /intakes/:id/mapping': () => ({ params: { id: again }, body: here.mapping }),
      'post /intakes/:id/guess': () => ({ params: { id: again } }),
      'post /intakes/:id/reread': () => ({ params: { id: again }, body: {} }),
      'put /intakes/:id/rows/:row/choice': async () => {
        await runTrial(app, again);
        return { params: { id: again, row: 1 }, body: { choice: 'hold' } };
      },
      'post /intakes/:id/trial': () => ({ params: { id: again } }),
      'post /intakes/:id/import': async () => ({ params: { id: await bringFile(app, 'third.csv', FILE) } }),
      'post /intakes/:id/again': () => ({ params: { id: intake } }),
      'delete /intakes/:id': async () => ({ params: { id: await bringFile(app, 'fourth.csv', FILE) } }),
      'get /runs/:id/held.csv': () => ({ params: { id: here.importRun } }),
      'get /runs/:id/rows.csv': () => ({ params: { id: here.importRun } }),
      'post /held/:run/:row/preview': () => ({ params: { run: here.importRun, row: here.heldRow }, body: { cells } }),
      'post /contacts/:id/erase': async () => {
        const { contactId } = await app.enter({
          givenName: 'Una',
          familyName: 'Brandt',
          email: 'una@quillhaven.example',
        });
        return { params: { id: contactId }, body: { reason: 'Asked by letter' } };
      },
      'post /erased/:id/lift': async () => {
        const [erased] = await app.json<ErasedPeople>('/erased');
        return { params: { id: erased?.id } };
      },
      'post /held/:run/alike': () => ({ params: { run: here.importRun }, body: { column: 0, from: 'x', to: 'y' } }),
      'post /held/:run/meant': () => ({ params: { run: here.importRun }, body: { rows: [here.heldRow] } }),
      'post /held/:run/:row/let-in': () => ({ params: { run: here.importRun, row: here.heldRow }, body: { cells } }),
      'post /fields/:key/try-type': async () => ({
        params: { key: (await app.json<{ key: string }>('/fields', 'POST', { name: 'Berth', type: 'text' })).key },
        body: { type: 'number' },
      }),
      'post /fields/:key/type': async () => ({
        params: { key: (await app.json<{ key: string }>('/fields', 'POST', { name: 'Mooring', type: 'text' })).key },
        body: { type: 'number' },
      }),
      'delete /picks/:kind/:label': () => ({ params: { kind: 'tag', label: 'Open yard' } }),
      'post /picks/merge': async () => {
        await app.json('/picks', 'POST', { kind: 'tag', label: 'Regattas' });
        return { body: { list: 'tag', from: 'Regattas', into: 'Open yard' } };
      },
      'get /duplicates/:id': async () => ({ params: { id: (await group()).id } }),
      'post /duplicates/:id/look': async () => ({ params: { id: (await group()).id } }),
      'post /duplicates/:id/merge': async () => {
        const { id, memberIds } = await group();
        return { params: { id }, body: { memberIds, keepId: null, choices: {}, versions: {} } };
      },
      'post /duplicates/:id/apart': async () => {
        const { id, memberIds } = await group();
        return { params: { id }, body: { memberIds, sharedLines: [] } };
      },
      'post /duplicates/:id/take-out': async () => {
        const { id, memberIds } = await group();
        return { params: { id }, body: { memberId: memberIds[0] } };
      },
      'post /duplicates/:id/later': async () => ({ params: { id: (await group()).id } }),
      'post /households': () => ({ body: { memberIds: [here.contact, here.other], name: '' } }),
      'put /households/:id': async () => ({
        params: { id: (await app.json<{ kept: { id: number }[] }>('/households')).kept[0]?.id ?? 0 },
        body: { memberIds: [here.contact, here.other], name: 'The boat house' },
      }),
      'delete /households/:id': async () => ({
        params: { id: (await app.json<{ kept: { id: number }[] }>('/households')).kept[0]?.id ?? 0 },
      }),
      'put /pipelines': () => ({
        body: { pipelines: [{ name: 'Yard work', stages: [{ label: 'Asked', outcome: 'open' }] }] },
      }),
      'post /opportunities': async () => ({ body: await opportunity() }),
      'put /opportunities/:id': async () => {
        const { id } = await app.json<{ id: number }>('/opportunities', 'POST', await opportunity());
        here.ids.push(id);
        return { params: { id }, body: { ...(await opportunity()), name: 'A pram', version: 1 } };
      },
      'post /opportunities/:id/stage': async () => ({
        params: { id: here.ids[0] ?? 0 },
        body: { stage: (await opportunity()).stage, version: 2 },
      }),
      'delete /opportunities/:id': () => ({ params: { id: here.ids[0] ?? 0 } }),
      'get /connections/:id': () => ({ params: { id: synced.connectionId } }),
      'patch /connections/:id': () => ({ params: { id: synced.connectionId }, body: { name: 'Yard address book' } }),
      'post /connections/test': () => ({ body: tool() }),
      'post /connections': () => ({ body: { name: 'A second book', ...tool(), despite: true } }),
      'post /connections/:id/pair': async () => ({
        params: { id: synced.connectionId },
        body: { lines: (await synced.detail()).setup.lines, nth: 0 },
      }),
      'get /sync-runs/:id/changes': () => ({ params: { id: syncRun } }),
      'get /sync-runs/:id/report': () => ({ params: { id: syncRun } }),
      'post /sync-runs/:id/release': async () => ({ params: { id: await braked() } }),
      'post /conflicts/:key/settle': async () => ({ params: { key: await conflict() }, body: { take: 'ours' } }),
      'post /runs/:id/undo': async () => ({
        params: { id: (await app.enter({ familyName: 'Undone', email: 'undone@quillhaven.example' })).runId },
      }),
      'get /runs/:id/undo': () => ({ params: { id: here.importRun } }),
      'delete /export-layouts/:id': async () => ({
        params: { id: (await app.json<{ id: number }[]>('/export-layouts'))[0]?.id ?? 0 },
      }),
      'get /saved-mappings/:id/sample.csv': () => ({ params: { id: here.saved } }),
      'patch /saved-mappings/:id': () => ({ params: { id: here.saved }, body: { name: 'People' } }),
      'delete /saved-mappings/:id': () => ({ params: { id: here.saved } }),
    });
    const invited = async (name: string) => {
      const body = { name, email: `${name}@quillhaven.example`, role: 'viewer' };
      return (await app.json<InviteLink>('/people/invitations', 'POST', body)).path.split('/').at(-1) ?? '';
    };
    const somebody = async () =>
      (await app.json<People>('/people')).accounts.find(({ role, retiredAt }) => !retiredAt && role !== 'administrator')
        ?.id ?? 0;
    /** No worker is here to do what was started. */
    const letGo = () =>
      app.database.pool.query(`update run set state = 'done' where kind = 'sync' and state = 'queued'`);
    const tool = () => ({
      settings: { address: `http://127.0.0.1:${synced.book.port}/`, user: 'office', password: 'secret' },
    });
    const opportunity = async () => {
      const [pipeline] = await app.json<{ name: string; stages: { label: string }[] }[]>('/pipelines');
      return {
        contactId: here.contact,
        name: 'Clinker dinghy',
        pipeline: pipeline?.name ?? '',
        stage: pipeline?.stages[0]?.label ?? '',
      };
    };
    /** A run that the brake holds, since nothing may be overwritten. */
    const braked = async () => {
      await letGo();
      await synced.setup((setup) => ({ ...setup, limits: { removals: 0, overwrites: 0 } }));
      synced.put('a.vcf', { UID: 'a', FN: 'Tom Okoro', N: 'Okoro;Tom;;;', TEL: '+44 7700 900801' });
      await synced.run({ trial: true });
      const run = await synced.run();
      if (run.state !== 'paused') throw new Error(`the run is ${run.state}`);
      return run.id;
    };
    /** A value that both sides changed. */
    const conflict = async () => {
      const { rows } = await app.database.pool.query<{ id: number }>(
        `insert into sync_conflict (connection_id, outside_id, contact_id, line, why, ours, theirs, run_id)
         select connection_id, outside_id, contact_id, 'title', 'bothChanged', '[]', '[]', 1 from sync_link where state = 'linked' limit 1 returning id`,
      );
      return String(rows[0]?.id ?? 0);
    };
  });

  /** Routes whose doing needs more than one request can set up here; their own tests see them answer. */
  const ELSEWHERE = new Set([
    'post /first-account',
    'post /me/second-factor/confirm',
    'post /me/second-factor/codes',
    'post /held/:run/:row/let-in-two',
    'post /duplicates/learning',
    'delete /duplicates/learning',
    'post /connections/:id/refresh',
    'post /connections/:id/who',
    'post /connections/:id/shared',
    'patch /connections/:id/results',
    'post /connections/:id/results/run',
    'post /connections/:id/results/settle',
    'put /connections/:id/hook',
    'post /batch/next',
    'post /connections/:id/fields',
    'get /connections/:id/lists/:list',
    'post /pictures',
    'post /intakes',
    'post /contacts/:id/files',
  ]);

  test('of every JSON route are as it declares them', async () => {
    const { app } = synced;
    const look = await app.json<LearningLook>('/duplicates/learning');
    expect(look.trial).toBeNull();
    const refused: string[] = [];
    for (const route of routes) {
      if (route.answer.kind !== 'json' || ELSEWHERE.has(routeName(route))) continue;
      if (['post /session', 'delete /session'].includes(routeName(route))) continue;
      const example = (await given[routeName(route)]?.()) ?? route.example;
      const answer = await send(route, example, app.request);
      if (!answer.ok) refused.push(`${routeName(route)}: ${answer.status} ${await answer.text()}`);
    }
    expect(refused).toEqual([]);
    const unseen = routes
      .filter((route) => route.answer.kind === 'json' && !app.answered.has(routeName(route)))
      .map(routeName);
    expect(unseen.filter((name) => !ELSEWHERE.has(name))).toEqual([]);
  });
});
