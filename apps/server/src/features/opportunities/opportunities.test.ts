import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type {
  ContactPage,
  HeldList,
  IntakeDetail,
  Lists,
  Opportunity,
  OpportunityPage,
  RunSummary,
} from '@gray-loom/wire';
import type { Pipeline } from '@gray-loom/core/fields';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const list = (query = '') => app.json<OpportunityPage>(`/opportunities${query}`);
const of = (contactId: number) => app.json<Opportunity[]>(`/contacts/${contactId}/opportunities`);
const make = (contactId: number, more: object = {}) =>
  app.json<{ id: number; runId: number }>('/opportunities', 'POST', {
    contactId,
    name: 'Clinker course',
    pipeline: 'Opportunities',
    stage: 'Enquiry',
    amount: 1450,
    currency: 'GBP',
    ...more,
  });
const undo = (runId: number) => app.json(`/runs/${runId}/undo`, 'POST');
const setPipelines = (pipelines: object[]) =>
  app.json<{ moved: number; runId: number | null }>('/pipelines', 'PUT', { pipelines });

describe('an opportunity', () => {
  test('is made, changed, moved and deleted, and each of these is taken back', async () => {
    const { contactId } = await app.enter({ givenName: 'Ona', familyName: 'Quay' });
    const made = await make(contactId, { closeDate: '2026-06-01', owner: 'Callum' });
    const [first] = await of(contactId);
    expect(first).toMatchObject({
      id: made.id,
      contact: { id: contactId, name: 'Ona Quay' },
      stage: 'Enquiry',
      outcome: 'open',
      value: { amount: 1450, currency: 'GBP' },
      closeDate: '2026-06-01',
      owner: 'Callum',
    });
    const moved = await app.json<{ runId: number }>(`/opportunities/${made.id}/stage`, 'POST', {
      stage: 'Won',
      version: first?.version,
    });
    expect((await of(contactId))[0]).toMatchObject({ stage: 'Won', outcome: 'won' });
    // Whoever looked at it before the move does not overwrite it.
    expect(
      (await refusal(app.json(`/opportunities/${made.id}/stage`, 'POST', { stage: 'Lost', version: first?.version })))
        .status,
    ).toBe(409);
    await undo(moved.runId);
    const [again] = await of(contactId);
    expect(again?.stage).toBe('Enquiry');
    const changed = await app.json<{ runId: number }>(`/opportunities/${made.id}`, 'PUT', {
      ...{
        contactId,
        name: 'Clinker course, two places',
        pipeline: 'Opportunities',
        stage: 'Quoted',
        amount: null,
        version: again?.version,
      },
    });
    expect((await of(contactId))[0]).toMatchObject({
      name: 'Clinker course, two places',
      value: null,
      closeDate: null,
      owner: '',
    });
    await undo(changed.runId);
    expect((await of(contactId))[0]).toMatchObject({
      name: 'Clinker course',
      value: { amount: 1450, currency: 'GBP' },
    });
    const gone = await app.json<{ runId: number }>(`/opportunities/${made.id}`, 'DELETE');
    expect(await of(contactId)).toEqual([]);
    await undo(gone.runId);
    expect(await of(contactId)).toHaveLength(1);
    await undo(made.runId);
    expect(await of(contactId)).toEqual([]);
  });

  test('goes along when its contact is merged, and back when that is undone', async () => {
    const { contactId: a } = await app.enter({ givenName: 'Pell', familyName: 'Harbour', email: 'pell@example.org' });
    const { contactId: b } = await app.enter({ givenName: 'Pell', familyName: 'Harbour', tel: '01632 960777' });
    await make(a, { name: 'Oars' });
    await make(b, { name: 'Sails' });
    const { rows } = await app.database.pool.query<{ id: number }>(
      `insert into match_group (member_ids, member_key, bits, probability01, band, state, name, model_version)
       values ($1, $2, 20, 0.99, 'certain', 'open', 'Pell Harbour', 1) returning id`,
      [[a, b], `${a},${b}`],
    );
    const merged = await app.json<{ runId: number; keptId: number }>(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
      memberIds: [a, b],
      keepId: a,
      choices: {},
      versions: { [a]: 1, [b]: 1 },
    });
    expect((await of(a)).map(({ name }) => name).sort()).toEqual(['Oars', 'Sails']);
    expect((await list('?find=sails')).rows[0]?.contact?.id).toBe(a);
    await undo(merged.runId);
    expect((await of(a)).map(({ name }) => name)).toEqual(['Oars']);
    expect((await of(b)).map(({ name }) => name)).toEqual(['Sails']);
  });

  test.each([
    ['a stage that is not there', { stage: 'Maybe' }, 422],
    ['a pipeline that is not there', { pipeline: 'Dreams' }, 422],
    ['no name', { name: ' ' }, 422],
    ['a currency of two letters', { currency: 'EU' }, 422],
    ['a contact that is not there', { contactId: 999_999 }, 404],
  ])('with %s is refused', async (_name, more, status) => {
    const { contactId } = await app.enter({
      givenName: 'Rud',
      familyName: 'Derr',
      email: `r${Math.random()}@example.org`,
    });
    expect((await refusal(make(contactId, more))).status).toBe(status);
  });

  test('is no person: neither lists, counts nor finding people know of it', async () => {
    const before = await app.json<Lists>('/lists');
    const { contactId } = await app.enter({ givenName: 'Sole', familyName: 'Person', email: 'sole@example.org' });
    const { id } = await make(contactId, { name: 'Unmistakable Schooner' });
    const lists = await app.json<Lists>('/lists');
    expect([lists.people, lists.organizations]).toEqual([before.people + 1, before.organizations]);
    expect((await app.json<ContactPage>('/contacts?find=Unmistakable')).total).toBe(0);
    expect((await list('?find=unmistakable')).rows.map((one) => one.id)).toEqual([id]);
    expect((await list('?find=sole%40example')).rows.map((one) => one.id)).toEqual([id]);
    expect((await refusal(app.json(`/contacts/${id}`))).status).toBe(404);
  });
});

describe('pipelines', () => {
  test('a stage that is renamed takes its opportunities along, one that has some cannot go', async () => {
    const { contactId } = await app.enter({ givenName: 'Tally', familyName: 'Stage', email: 'tally@example.org' });
    await make(contactId, { stage: 'Quoted' });
    const [{ stages } = { stages: [] }] = await app.json<Pipeline[]>('/pipelines');
    const rename = stages.map((stage) =>
      stage.label === 'Quoted' ? { ...stage, label: 'Price sent', was: 'Quoted' } : stage,
    );
    const saved = await setPipelines([{ name: 'Courses', was: 'Opportunities', stages: rename }]);
    expect(saved.moved).toBeGreaterThan(0);
    expect((await of(contactId))[0]).toMatchObject({ pipeline: 'Courses', stage: 'Price sent' });
    const without = await refusal(
      setPipelines([{ name: 'Courses', stages: rename.filter(({ label }) => label !== 'Price sent') }]),
    );
    expect([without.status, without.detail]).toEqual([409, expect.stringContaining("'Price sent' of Courses")]);
    await setPipelines([
      {
        name: 'Opportunities',
        was: 'Courses',
        stages: stages.map((stage) => (stage.label === 'Quoted' ? { ...stage, was: 'Price sent' } : stage)),
      },
    ]);
    expect((await of(contactId))[0]).toMatchObject({ pipeline: 'Opportunities', stage: 'Quoted' });
  });

  test.each([
    [
      'two of one name',
      [
        { name: 'A', stages: [{ label: 'x', outcome: 'open' }] },
        { name: 'a', stages: [{ label: 'x', outcome: 'open' }] },
      ],
    ],
    [
      'two stages of one name',
      [
        {
          name: 'A',
          stages: [
            { label: 'x', outcome: 'open' },
            { label: 'X', outcome: 'won' },
          ],
        },
      ],
    ],
    ['no stage', [{ name: 'A', stages: [] }]],
    ['none at all', []],
  ])('%s are refused', async (_name, pipelines) => {
    expect((await refusal(setPipelines(pipelines))).status).toBe(422);
  });
});

describe('a file of contacts and their opportunities', () => {
  const HEADING = 'Contact ID,First Name,Last Name,Email,Opp ID,Opp Name,Stage,Value,Currency,Expected close,Owner';
  const ROWS = [
    'C1,Trevor,Polglase,trevor@polglase.example,O-1,Lugger,Quoted,18500.00,GBP,2026-03-31,Morwenna',
    'C1,Trevor,Polglase,trevor@polglase.example,O-2,Dinghies,Won,7200,GBP,2025-10-01,Morwenna',
    'C2,Yvonne,Coldwell,yvonne@coldwell.example,O-3,"Course, two places",Enquiry,"1,450.00",EUR,,Callum',
    'C2,Yvonne,Coldwell,other@coldwell.example,O-4,Oars,Enquiry,90,GBP,,',
    'C3,Kwesi,Adeyemi,kwesi@example.org,O-5,Bursary,Applied,25000,GBP,,',
    'C4,Ida,Moor,ida.moor@example.org,O-6,Mast,Quoted,lots,GBP,,',
    'C1,Trevor,Polglase,trevor@polglase.example,O-2,Dinghies,Lost,7200,GBP,2025-10-01,Morwenna',
    'C1,Trevor,Polglase,trevor@polglase.example,O-2,Dinghies,Won,7200,GBP,2025-10-01,Morwenna',
    ',,,,O-7,Nobody,Won,1,GBP,,',
  ];
  const bring = (rows: string[]) => bringFile(app, 'opportunities.csv', `${HEADING}\n${rows.join('\n')}\n`);

  test('brings both, holds what repeats itself otherwise, and trial and import agree', async () => {
    const id = await bring(ROWS);
    const { mapping } = await app.json<IntakeDetail>(`/intakes/${id}`);
    expect(mapping.columns.map(({ target }) => target).slice(4)).toEqual([
      'opportunityId',
      'opportunityName',
      'opportunityStage',
      'opportunityValue',
      'opportunityCurrency',
      'opportunityCloseDate',
      'opportunityOwner',
    ]);
    const trial = await runTrial(app, id);
    const run = await runImport(app, id);
    expect(run.counts).toEqual(trial);
    expect(run.counts).toMatchObject({ new: 2, fold: 2, held: 5, opportunitiesNew: 3, opportunitiesSame: 0 });
    const held = await app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
    expect(held.map(({ row, issues }) => [row, issues[0]?.text.slice(0, 40)])).toEqual([
      [4, expect.stringContaining('Email')],
      [5, expect.stringContaining('Applied')],
      [6, expect.stringContaining('lots')],
      [7, expect.stringContaining('Stage')],
      [9, expect.any(String)],
    ]);
    const {
      rows: [trevor],
    } = await app.json<ContactPage>('/contacts?find=polglase');
    const theirs = await of(trevor?.id ?? 0);
    expect(theirs.map(({ name, stage, outcome, outsideId }) => [name, stage, outcome, outsideId]).sort()).toEqual([
      ['Dinghies', 'Won', 'won', 'O-2'],
      ['Lugger', 'Quoted', 'open', 'O-1'],
    ]);
    expect(theirs.find(({ name }) => name === 'Lugger')).toMatchObject({
      value: { amount: 18500, currency: 'GBP' },
      closeDate: '2026-03-31',
      owner: 'Morwenna',
      lastThread: 'file',
    });
  });

  test('once more changes nothing; a changed one is changed by its outside id; undo takes all of it back', async () => {
    const same = await runImport(app, await bring(ROWS.slice(0, 3)));
    expect(same.counts).toMatchObject({ new: 0, same: 2, fold: 1, opportunitiesNew: 0, opportunitiesSame: 3 });
    const id = await bringFile(
      app,
      'opportunities-2.csv',
      `${HEADING}\nC1,Trevor,Polglase,trevor@polglase.example,O-1,Lugger,Won,19000,GBP,2026-03-31,Morwenna\nC9,Nan,New,nan@example.org,O-9,Punt,Enquiry,,,,\n`,
      (mapping) => ({ ...mapping, writeRule: 'replace' }),
    );
    const run: RunSummary = await runImport(app, id);
    expect(run.counts).toMatchObject({ new: 1, same: 1, opportunitiesNew: 1, opportunitiesChanged: 1 });
    const lugger = async () => (await list('?find=lugger')).rows[0];
    expect(await lugger()).toMatchObject({ stage: 'Won', value: { amount: 19000, currency: 'GBP' } });
    await undo(run.id);
    expect(await lugger()).toMatchObject({ stage: 'Quoted', value: { amount: 18500, currency: 'GBP' } });
    expect((await list('?find=punt')).rows).toEqual([]);
  });

  test('may be told to bring no new ones, or to change none', async () => {
    const limited = async (allowNew: boolean, allowChange: boolean) => {
      const id = await bringFile(
        app,
        'opportunities-3.csv',
        `${HEADING}\nC1,Trevor,Polglase,trevor@polglase.example,O-1,Lugger,Lost,1,GBP,,\nC1,Trevor,Polglase,trevor@polglase.example,O-77,Keel,Quoted,1,GBP,,\n`,
        (mapping) => ({ ...mapping, writeRule: 'replace', opportunities: { allowNew, allowChange } }),
      );
      return runTrial(app, id);
    };
    expect(await limited(false, true)).toMatchObject({
      opportunitiesNew: 0,
      opportunitiesChanged: 1,
      opportunitiesLeft: 1,
    });
    expect(await limited(true, false)).toMatchObject({
      opportunitiesNew: 1,
      opportunitiesChanged: 0,
      opportunitiesLeft: 1,
    });
  });

  test('totals say how many stand at each stage and what they come to', async () => {
    const { totals } = await list('?owner=Morwenna');
    expect(totals).toContainEqual({
      pipeline: 'Opportunities',
      stage: 'Quoted',
      count: 1,
      sums: [{ currency: 'GBP', amount: 18500 }],
    });
  });

  const corpus = `${process.env.GRAY_LOOM_CORPUS ?? '../shared/corpus'}/files/10-contacts-and-opportunities.csv`;
  test('the corpus file, where it is at hand, comes in as its manifest says', async () => {
    let text: string;
    try {
      text = readFileSync(corpus, 'utf8');
    } catch {
      return;
    }
    await setPipelines([
      {
        name: 'Opportunities',
        stages: ['Enquiry', 'Quoted', 'Applied', 'Won', 'Lost'].map((label) => ({
          label,
          outcome: label === 'Won' ? 'won' : 'open',
        })),
      },
    ]);
    const counts = await runTrial(
      app,
      await bringFile(
        app,
        '10.csv',
        text.replaceAll('O-', 'X-').replaceAll('polglase', 'polglaze').replaceAll('Polglase', 'Polglaze'),
      ),
    );
    expect(counts).toMatchObject({ held: 5 });
  });
});
