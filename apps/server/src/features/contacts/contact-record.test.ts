import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type {
  EntryCheck,
  ContactDetail,
  ContactPage,
  ConversionTrial,
  FieldClashes,
  HeldList,
  HistoryEntry,
  Lists,
  RunSummary,
} from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { where } from '../../testing/where';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const detail = (id: number) => app.json<ContactDetail>(`/contacts/${id}`);
const lists = () => app.json<Lists>('/lists');
const undo = (runId: number) => app.json<{ undoRunId: number }>(`/runs/${runId}/undo`, 'POST');
const valueOf = async (id: number, field: string) => (await detail(id)).record.f[field]?.[0];

async function newField(name: string, type: string, more: Record<string, unknown> = {}): Promise<string> {
  return (await app.json<{ key: string }>('/fields', 'POST', { name, type, ...more })).key;
}

/** The counts by looking at every record, to check the kept ones by. */
async function countedAnew(): Promise<Record<string, number>> {
  const { rows } = await app.database.pool.query<{ key: string; n: number }>(
    `select kind || '/live:' as key, count(*)::int as n from contact where state = 'live' group by 1
     union all select kind || '/tag:' || tag, count(*)::int from contact, unnest(tags) tag where state = 'live' group by 1
     union all select kind || '/source:' || source, count(*)::int from contact where state = 'live' and source <> '' group by 1
     union all select kind || '/area:' || area, count(*)::int from contact where state = 'live' and area <> '' group by 1`,
  );
  return Object.fromEntries(rows.map(({ key, n }) => [key, n]));
}

async function countsKept(): Promise<Record<string, number>> {
  const { rows } = await app.database.pool.query<{ key: string; n: number }>(
    `select who || '/' || kind || ':' || label as key, sum(n)::int as n
       from tally where kind in ('live', 'tag', 'source', 'area') group by 1 having sum(n) <> 0`,
  );
  return Object.fromEntries(rows.map(({ key, n }) => [key, n]));
}

describe('entry by hand', () => {
  test('whoever has the same whole name is shown while one types, before anything else is known', async () => {
    const { contactId } = await app.enter({ givenName: 'Wilhelmina', familyName: 'Otter', email: 'mina@example.org' });
    const check = (givenName: string, familyName: string) =>
      app.json<EntryCheck>('/contacts/check', 'POST', {
        values: [
          { field: 'givenName', text: givenName },
          { field: 'familyName', text: familyName },
        ],
      });
    expect((await check('wilhelmina', 'OTTER')).matches.map(({ contactId: id }) => id)).toEqual([contactId]);
    expect((await check('Wilhelmina', 'Ottermann')).matches).toEqual([]);
    expect((await check('Wilfred', 'Otter')).matches).toEqual([]);
  });
  test('facts are added to somebody who is here: blanks filled, values united, nothing replaced', async () => {
    const { contactId } = await app.enter({ givenName: 'Femke', familyName: 'Lindqvist', email: 'femke@example.org' });
    const added = await app.json<{ filled: number; kept: string[]; runId: number }>(
      `/contacts/${contactId}/facts`,
      'POST',
      {
        values: [
          { field: 'givenName', text: 'Femke Maria' },
          { field: 'email', text: 'femke.lindqvist@example.net' },
          { field: 'tel', text: '01632 960123' },
        ],
      },
    );
    expect(added).toMatchObject({ filled: 2, kept: ['Given name'] });
    const { record } = await detail(contactId);
    expect(record.f.givenName?.[0]?.v).toBe('Femke');
    expect(record.f.email?.map((value) => value.v)).toEqual(['femke@example.org', 'femke.lindqvist@example.net']);
    await undo(added.runId);
    expect((await detail(contactId)).record.f.tel).toBeUndefined();
  });
  test.each([
    [{ givenName: '' }, 'noIdentity'],
    [{ givenName: 'A'.repeat(10_000) }, 'valueTooLong'],
    [{ givenName: 'Ana', bday: '31/02/1990' }, 'invalidDate'],
    [{ givenName: 'Ana', stage: 'Friend' }, 'unknownStage'],
  ])('%j is refused and nothing is kept', async (values, code) => {
    const before = (await lists()).people;
    expect((await refusal(app.enter(values as unknown as Record<string, string>))).code).toBe(code);
    expect((await lists()).people).toBe(before);
  });
  test.each(['<b>Ana</b> & "Co"', 'مريم القاسم', '🚣‍♀️ Rowan', 'Ana\u202Eseir'])(
    '"%s" comes back as it was typed',
    async (name) => {
      const { contactId } = await app.enter({ givenName: name, familyName: 'Quist' });
      expect((await valueOf(contactId, 'givenName'))?.v).toBe(name);
    },
  );
  test('a date without a year is kept as one', async () => {
    const { contactId } = await app.enter({ givenName: 'Maja', familyName: 'Sorli', bday: '14 July' });
    expect((await valueOf(contactId, 'bday'))?.v).toBe('--07-14');
  });
  test('what is required is asked for, at entry and nowhere else', async () => {
    await app.json('/fields/source', 'PATCH', { required: true });
    expect(await refusal(app.enter({ givenName: 'Perry', familyName: 'Ashdown' }))).toMatchObject({
      code: 'required',
      facts: { field: 'source' },
    });
    await app.enter({ givenName: 'Perry', familyName: 'Ashdown', source: 'Open yard' });
    await app.json('/fields/source', 'PATCH', { required: false });
  });
});

describe('values that are to be unique', () => {
  test('switching it on lists the clashes that are there, and from then on refuses or warns', async () => {
    await app.enter({ givenName: 'Ana', familyName: 'Reis', email: 'home@example.org' });
    const { contactId } = await app.enter({ givenName: 'Tom', familyName: 'Okoro', email: 'HOME@example.org' });
    const clashes = await app.json<FieldClashes>('/fields/email/clashes');
    expect(
      clashes.groups
        .find((group) => group.value.toLowerCase() === 'home@example.org')
        ?.contacts.map((contact) => contact.name)
        .sort(),
    ).toEqual(['Ana Reis', 'Tom Okoro']);
    await app.json('/fields/email', 'PATCH', { unique: 'refuse' });
    const refused = await refusal(app.enter({ givenName: 'Kari', familyName: 'Pike', email: 'home@example.org' }));
    expect(refused).toMatchObject({ status: 409, code: 'uniqueClash', facts: { field: 'email' } });
    expect(refused.detail).toContain('Ana Reis');
    await app.json('/fields/email', 'PATCH', { unique: 'warn' });
    expect((await refusal(app.enter({ givenName: 'Kari', familyName: 'Pike', email: 'home@example.org' }))).code).toBe(
      'uniqueWarning',
    );
    await app.enter({ givenName: 'Kari', familyName: 'Pike', email: 'home@example.org' }, { despite: true });
    // One's own value is no clash with oneself.
    const own = (await detail(contactId)).record.f.email?.[0];
    await app.edit(contactId, {
      field: 'email',
      slot: own?.slot ?? null,
      before: own ?? null,
      text: 'Home@example.org',
      label: 'home',
    });
  });
  test('of two who type the same number at one moment, one is told', async () => {
    await app.json('/fields/tel', 'PATCH', { unique: 'refuse' });
    const outcomes = await Promise.allSettled(
      [1, 2, 3].map((n) => app.enter({ givenName: `Twin${n}`, familyName: 'Arnesen', tel: '01632 960777' })),
    );
    expect(outcomes.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
    await app.json('/fields/tel', 'PATCH', { unique: 'no' });
  });
  test('a field of our own is looked up as well, and an import keeps to the same rule', async () => {
    const key = await newField('Member number', 'text');
    await app.enter({ givenName: 'Sigrid', familyName: 'Moreau', [key]: 'M-1' });
    await app.json(`/fields/${key}`, 'PATCH', { unique: 'refuse' });
    expect((await refusal(app.enter({ givenName: 'Ellen', familyName: 'Adair', [key]: 'M-1' }))).code).toBe(
      'uniqueClash',
    );
    const run = await runImport(
      app,
      await bringFile(
        app,
        'members.csv',
        'First name,Last name,Email,Member number\nUma,Abara,uma@example.org,M-1\nIngrid,Anand,ingrid@example.org,M-2\nJonna,Aoki,jonna@example.org,M-2\n',
        (mapping) => ({
          ...mapping,
          columns: mapping.columns.map((column) =>
            column.header === 'Member number' ? { ...column, target: key } : column,
          ),
        }),
      ),
    );
    expect(run.counts).toMatchObject({ new: 1, held: 2 });
    const held = await app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
    expect(held.map((row) => row.issues.map((issue) => issue.text).join(' ')).join(' ')).toContain('one contact only');
    await app.json(`/fields/${key}`, 'PATCH', { unique: 'no' });
  });
});

describe('relationships and organizations', () => {
  test('a relationship is seen from both sides, and not with oneself', async () => {
    const { contactId: ana } = await app.enter({ givenName: 'Ana', familyName: 'Ferreira' });
    const { contactId: tom } = await app.enter({ givenName: 'Tom', familyName: 'Ferreira' });
    const relate = (id: number, relation: string, to: number, fee?: string) =>
      app.edit(id, { field: 'related', value: { relation, to, ...(fee ? { fee } : {}) } });
    expect((await refusal(relate(ana, 'spouse', ana))).code).toBe('relatedToSelf');
    await relate(ana, 'spouse', tom);
    await relate(ana, 'referred by', tom, '40 on enrolment');
    const seen = await detail(tom);
    expect(seen.relatedBy.map(({ relation, name }) => [relation, name]).sort()).toEqual([
      ['referred', 'Ana Ferreira'],
      ['spouse', 'Ana Ferreira'],
    ]);
    expect(seen.relatedBy.find((one) => one.relation === 'referred')?.fee).toBe('40 on enrolment');
    expect((await detail(ana)).letterLine).toBe('Ana and Tom Ferreira');
    expect(seen.salutation).toBe('Dear Tom and Ana,');
    const [latest] = await app.json<HistoryEntry[]>(`/contacts/${ana}/history`);
    expect(latest?.changes?.[0]?.after?.v).toMatchObject({ relation: 'referred by', name: 'Tom Ferreira' });
    expect((await detail(ana)).record.f.related?.[0]?.v).not.toHaveProperty('name');
    await app.edit(ana, { field: 'letterLine', text: 'The Ferreiras' });
    expect((await detail(ana)).letterLine).toBe('The Ferreiras');
  });
  test('a partner known by name only stands in letter line and salutation', async () => {
    const { contactId } = await app.enter({ givenName: 'Berit', familyName: 'Solum' });
    await app.edit(contactId, { field: 'related', value: { relation: 'partner', to: null, name: 'Nils' } });
    expect(await detail(contactId)).toMatchObject({
      letterLine: 'Berit and Nils Solum',
      salutation: 'Dear Berit and Nils,',
    });
  });
  test('an organization has a record of its own; people belong to it by any of its names', async () => {
    const { contactId: org } = await app.enter(
      { organization: 'Heronbox Timber Ltd', tel: '01632 960900' },
      { kind: 'organization' },
    );
    const { contactId: ana } = await app.enter({
      givenName: 'Oskar',
      familyName: 'Aguiar',
      organization: 'Heronbox Timber',
    });
    expect((await detail(ana)).organizationId).toBe(org);
    expect((await detail(org)).people.map((person) => person.name)).toEqual(['Oskar Aguiar']);
    const seen = (await detail(org)).record.f.organization?.[0];
    await app.edit(
      org,
      { field: 'nickname', text: 'Heronbox Timber' },
      { field: 'organization', slot: 0, before: seen ?? null, text: 'Heronbox Woods' },
    );
    expect((await detail(org)).people).toHaveLength(1);
    const page = await app.json<ContactPage>('/contacts?kind=organization');
    expect(page.rows.map((row) => row.name)).toEqual(['Heronbox Woods']);
    expect((await app.json<ContactPage>('/contacts?find=heronbox')).rows.map((row) => row.name)).not.toContain(
      'Heronbox Woods',
    );
  });
});

describe('finding', () => {
  test('looks at title, nickname, note, street and town too, of who is entered, changed and comes by a file', async () => {
    const { contactId } = await app.enter({ givenName: 'Runa', familyName: 'Solheim', title: 'Wheelwright' });
    const found = async (find: string) =>
      (await app.json<ContactPage>(`/contacts?find=${find}`)).rows.map((row) => row.name);
    expect(await found('wheelwr')).toEqual(['Solheim, Runa']);
    await app.edit(
      contactId,
      { field: 'note', text: 'Keeps the spare oilskins.' },
      { field: 'adr', value: { street: 'Kölnsvei 3', locality: 'Tønsberg', country: 'NO' } },
      { field: 'title', slot: 0, before: (await valueOf(contactId, 'title')) ?? null, text: 'Cooper' },
    );
    for (const words of ['oilskin', 'kolnsvei', 'tonsberg', 'cooper solheim'])
      expect([words, await found(words)]).toEqual([words, ['Solheim, Runa']]);
    expect(await found('wheelwr')).toEqual([]);
    await runImport(
      app,
      await bringFile(
        app,
        'found.csv',
        'First,Last,Job title,Street,Town\nDara,Penhale,Lampwright,Quay Row 9,Fowlmere\n',
      ),
    );
    expect(await found('lampwright fowlm')).toEqual(['Penhale, Dara']);
  });
});

describe('fields of our own', () => {
  test.each([
    ['money', '£1,250.50', { amount: 1250.5, currency: 'GBP' }],
    ['range', '12 to 16', { from: 12, to: 16 }],
    ['partialDate', '14 July', '--07-14'],
    ['number', '1,250', 1250],
    ['yesNo', 'oui', true],
  ])('a %s reads "%s"', async (type, text, v) => {
    const key = await newField(`Kind ${type}`, type);
    const { contactId } = await app.enter({ givenName: 'Rowan', familyName: type, [key]: text });
    expect((await valueOf(contactId, key))?.v).toEqual(v);
  });
  test('several choices are kept in one value, others refused', async () => {
    const key = await newField('Boats', 'choices', { choices: ['Skiff', 'Yawl', 'Dory'] });
    const { contactId } = await app.enter({ givenName: 'Rowan', familyName: 'Achterberg', [key]: 'yawl; Skiff' });
    expect((await valueOf(contactId, key))?.v).toEqual(['Yawl', 'Skiff']);
    expect((await refusal(app.enter({ givenName: 'R', familyName: 'A', [key]: 'Galleon' }))).code).toBe(
      'unknownChoice',
    );
  });
  test('a name that is taken is refused; a retired field keeps its values and comes back', async () => {
    const key = await newField('Berth', 'text');
    const { contactId } = await app.enter({ givenName: 'Haruto', familyName: 'Aoki', [key]: 'B 14' });
    expect((await refusal(newField('berth', 'number'))).code).toBe('nameTaken');
    await app.json(`/fields/${key}`, 'PATCH', { retired: true });
    expect((await lists()).fields.find((field) => field.key === key)?.retired).toBe(true);
    expect((await valueOf(contactId, key))?.v).toBe('B 14');
    await app.json(`/fields/${key}`, 'PATCH', { retired: false, name: 'Berth number' });
    expect((await lists()).fields.find((field) => field.key === key)).toMatchObject({
      retired: false,
      name: 'Berth number',
    });
  });
  test('a change of type is tried first, keeps beside what will not convert, and is undone as one', async () => {
    const key = await newField('Years', 'text');
    const { contactId: good } = await app.enter({ givenName: 'Duarte', familyName: 'Albrecht', [key]: '12' });
    const { contactId: bad } = await app.enter({ givenName: 'Saoirse', familyName: 'Ohare', [key]: 'a few' });
    const trial = await app.json<ConversionTrial>(`/fields/${key}/try-type`, 'POST', { type: 'number' });
    expect(trial).toMatchObject({
      values: 2,
      converts: 1,
      fails: 1,
      failing: [{ contactId: bad, before: 'a few', after: null }],
    });
    expect((await valueOf(good, key))?.v).toBe('12');
    const { runId } = await app.json<{ runId: number }>(`/fields/${key}/type`, 'POST', { type: 'number' });
    expect((await valueOf(good, key))?.v).toBe(12);
    const { record } = await detail(bad);
    expect(record.f[key]).toBeUndefined();
    expect(record.f[`also.${key}`]?.[0]?.v).toBe('a few');
    await undo(runId);
    expect((await valueOf(bad, key))?.v).toBe('a few');
    expect((await lists()).fields.find((field) => field.key === key)?.type).toBe('text');
  });
  test('a change of type waits while an import runs', async () => {
    const key = await newField('Tonnage', 'text');
    const { rows } = await app.database.pool.query<{ id: number }>(
      `insert into run (kind, state, thread_id, title) values ('import', 'running', (select min(id) from thread), 'Import of a list') returning id`,
    );
    expect((await refusal(app.json(`/fields/${key}/type`, 'POST', { type: 'number' }))).code).toBe('importRunning');
    await app.database.pool.query('delete from run where id = $1', [rows[0]?.id]);
  });
});

describe('pick-lists', () => {
  test('two tags become one everywhere, and two again when it is undone', async () => {
    const tag = (id: number, text: string) => app.edit(id, { field: 'tags', text });
    const { contactId: a } = await app.enter({ givenName: 'Benedita', familyName: 'Aguiar' });
    const { contactId: b } = await app.enter({ givenName: 'Chinedu', familyName: 'Abara' });
    await tag(a, 'Regatta');
    await tag(b, 'Regatta');
    await tag(b, 'Regatta crew');
    const count = async (label: string) => (await lists()).tags.find((one) => one.label === label)?.people;
    const { runId } = await app.json<{ runId: number }>('/picks/merge', 'POST', {
      list: 'tag',
      from: 'Regatta',
      into: 'Regatta crew',
    });
    expect([await count('Regatta'), await count('Regatta crew')]).toEqual([undefined, 2]);
    expect((await detail(b)).record.f.tags).toHaveLength(1);
    await undo(runId);
    expect([await count('Regatta'), await count('Regatta crew')]).toEqual([2, 1]);
    expect((await detail(b)).record.f.tags?.map((value) => value.v)).toEqual(['Regatta', 'Regatta crew']);
  });
  test('people and organizations with a tag are counted apart, each as many as its list shows', async () => {
    const { contactId } = await app.enter({ givenName: 'Ivo', familyName: 'Marten' });
    const { contactId: yard } = await app.enter({ organization: 'Marten Slipway' }, { kind: 'organization' });
    for (const id of [contactId, yard]) await app.edit(id, { field: 'tags', text: 'Slipway friends' });
    const tag = (await lists()).tags.find(({ label }) => label === 'Slipway friends');
    expect(tag).toMatchObject({ people: 1, organizations: 1 });
    const found = async (kind: string) =>
      (await app.json<ContactPage>(`/contacts?${where({ tags: 'Slipway friends' })}&kind=${kind}`)).rows.map(
        ({ id }) => id,
      );
    expect(await found('person')).toEqual([contactId]);
    expect(await found('organization')).toEqual([yard]);
  });
  test('what is much like something here is made only when asked for once more', async () => {
    const make = (label: string, more = {}) => app.json('/picks', 'POST', { kind: 'source', label, ...more });
    await make('Regatta day');
    const refused = await refusal(make('Regata days'));
    expect([refused.code, refused.facts]).toEqual(['nearMiss', expect.objectContaining({ like: 'Regatta day' })]);
    await make('Regata days', { despite: true });
    expect((await lists()).sources.map(({ label }) => label)).toEqual(
      expect.arrayContaining(['Regatta day', 'Regata days']),
    );
    await newField('Lantern colour', 'text');
    expect((await refusal(newField('Lantern colours', 'text'))).code).toBe('nearMiss');
    expect(await newField('Lantern colours', 'text', { despite: true })).toMatch(/^custom/);
  });
  test('a value in use is not dropped, one nobody has is', async () => {
    await app.json('/picks', 'POST', { kind: 'source', label: 'Lantern walk', meaning: '' });
    await app.enter({ givenName: 'Priya', familyName: 'Pike', source: 'lantern walk' });
    expect((await refusal(app.json('/picks/source/Lantern%20walk', 'DELETE'))).code).toBe('inUse');
    await app.json('/picks', 'POST', { kind: 'source', label: 'Nobody has it' });
    await app.json('/picks/source/Nobody%20has%20it', 'DELETE');
    expect((await lists()).sources.map((one) => one.label)).not.toContain('Nobody has it');
  });
  test('a merge of many is a job that goes on where it was interrupted', async () => {
    const lines = ['First name,Last name,Email,Tags'];
    for (let i = 0; i < 1200; i++) lines.push(`G${i},F${i},many${i}@example.org,Old tag`);
    await runImport(app, await bringFile(app, 'many.csv', lines.join('\n')));
    const { runId, finished } = await app.json<{ runId: number; finished: boolean }>('/picks/merge', 'POST', {
      list: 'tag',
      from: 'Old tag',
      into: 'New tag',
    });
    expect(finished).toBe(false);
    await app.work(runId);
    expect((await app.json<RunSummary>(`/runs/${runId}`)).counts).toEqual({ changed: 1200 });
    expect((await lists()).tags.find((one) => one.label === 'New tag')?.people).toBe(1200);
  });
});

describe('permissions', () => {
  test('evidence is only added; the newest word counts; an address counts for whoever has it', async () => {
    const { contactId: ana } = await app.enter({ givenName: 'Ana', familyName: 'Quist', email: 'quist@example.org' });
    const say = (id: number, body: Record<string, unknown>) => app.json(`/contacts/${id}/permissions`, 'POST', body);
    const stateOf = async (id: number, channel: string) =>
      (await detail(id)).permissions.channels.find((one) => one.channel === channel)?.state;
    await say(ana, { channel: 'email', state: 'allowed', how: 'form at the open-yard day', statedAt: '2026-01-10' });
    await say(ana, {
      channel: 'email',
      state: 'optedOut',
      how: 'reply to the newsletter',
      address: 'quist@example.org',
    });
    expect(await stateOf(ana, 'email')).toBe('optedOut');
    expect((await detail(ana)).permissions.evidence).toHaveLength(2);
    const { contactId: tom } = await app.enter(
      { givenName: 'Tom', familyName: 'Quist', email: 'Quist@example.org' },
      { despite: true },
    );
    expect(await stateOf(tom, 'email')).toBe('optedOut');
    expect(await stateOf(tom, 'call')).toBe('unknown');
    const row = (await app.json<ContactPage>('/contacts?find=tom quist')).rows[0];
    expect(row?.stops).toEqual(['email']);
    expect((await refusal(say(ana, { channel: 'email', state: 'allowed', how: '' }))).status).toBe(422);
  });
});

describe('areas', () => {
  test('are worked out from the address, anew when the definitions change, and counted', async () => {
    const { contactId } = await app.enter({ givenName: 'Kari', familyName: 'Achterberg' });
    await app.edit(contactId, {
      field: 'adr',
      value: { street: '2 Slip Lane', locality: 'Truro', region: 'Cornwall', postalCode: 'TR1 2AB', country: 'GB' },
    });
    const areas = [
      { name: 'Far west', rules: [{ country: 'GB', region: null, postalPrefix: 'tr' }] },
      { name: 'Islands', rules: [{ country: null, region: 'Orkney', postalPrefix: null }] },
    ];
    const { runId } = await app.json<{ runId: number }>('/areas', 'PUT', { areas });
    await app.work(runId);
    expect((await detail(contactId)).area).toBe('Far west');
    expect(
      (await app.json<ContactPage>(`/contacts?${where({ '@area': 'Far west' })}`)).rows.map((row) => row.id),
    ).toEqual([contactId]);
    expect((await lists()).areas).toEqual([{ label: 'Far west', people: 1, organizations: 0 }]);
    const moved = (await detail(contactId)).record.f.adr?.[0];
    await app.edit(contactId, {
      field: 'adr',
      slot: moved?.slot ?? null,
      before: moved ?? null,
      value: { locality: 'Kirkwall', region: 'Orkney', postalCode: 'KW15 1AA', country: 'GB' },
    });
    expect((await detail(contactId)).area).toBe('Islands');
    expect((await refusal(app.json('/areas', 'PUT', { areas: [{ name: 'Nowhere', rules: [{}] }] }))).code).toBe(
      'emptyRule',
    );
  });
});

test('the kept counts are what counting anew gives, after all of the above', async () => {
  expect(await countsKept()).toEqual(await countedAnew());
});

test('a field that is newly unique holds at once for what is here already, before any worker has looked', async () => {
  const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Sail number', type: 'text' });
  const enter = (familyName: string, number: string) => app.enter({ givenName: 'Sal', familyName, [key]: number });
  await enter('Firstsail', 'GB 114');
  await app.json(`/fields/${key}`, 'PATCH', { unique: 'refuse' });
  expect((await refusal(enter('Secondsail', 'GB 114'))).code).toBe('uniqueClash');
  await enter('Thirdsail', 'GB 115');
});
