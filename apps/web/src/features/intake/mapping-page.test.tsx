import { afterEach, expect, test } from '@jest/globals';
import type { ColumnMapping, Mapping } from '@gray-loom/core/mapping';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { heldBack, onPage, refusal, serve } from '../../testing/on-page';

afterEach(cleanup);

const HEADERS = ['Mail', 'Second mail'];
const email = (column: number): ColumnMapping => ({
  column,
  header: HEADERS[column] ?? null,
  target: 'email',
  label: null,
  dateOrder: 'iso',
  decimal: '.',
  separator: null,
  newField: null,
  onBad: 'hold',
});
const MAPPING: Mapping = {
  columns: [email(0), email(1)],
  wholeFile: { tags: [], source: null, stage: null, owner: null },
  allowNew: true,
  allowChange: true,
  writeRule: 'fill',
  recognise: ['email'],
  country: 'GB',
};
const detailOf = (mapping: Mapping) => ({
  id: 5,
  name: 'club.csv',
  state: 'ready',
  rowCount: 1,
  shape: { headers: HEADERS, headerRow: 1, delimiter: ',', encoding: { name: 'UTF-8' }, columnCount: 2 },
  guesses: HEADERS.map((header, index) => ({
    index,
    header,
    field: 'email',
    certainty01: 0.99,
    type: 'email',
    samples: ['x'],
  })),
  mapping,
  issues: [],
  readAs: null,
  trialRun: null,
  importRun: null,
  trialCounts: null,
  mends: null,
  warnings: [],
  chosenSinceTrial: 0,
});

/** The page over a server that answers a change only when told to. */
async function page(mapping = MAPPING) {
  const { MappingPage } = await import('./mapping-page');
  let kept = mapping;
  const sent = serve({
    'GET /intakes/5': () => detailOf(kept),
    'GET /lists': { fields: [], tags: [], sources: [], stages: [], owners: [] },
    'GET /intakes/5/preview?count=100': { rows: [], columns: [], looked: 0 },
    'PUT /intakes/5/mapping': (body: unknown) => {
      kept = body as Mapping;
      return detailOf(kept);
    },
    'POST /intakes/5/trial': { runId: 8 },
  });
  const waiting = heldBack('PUT');
  const person = onPage(
    <Routes>
      <Route path="/" element={<MappingPage />} />
      <Route path="/intake/:id" element={<MappingPage />} />
    </Routes>,
    '/intake/5',
  );
  await screen.findAllByLabelText('Label');
  const labels = () => screen.getAllByLabelText<HTMLSelectElement>('Label');
  return {
    person,
    sent,
    waiting,
    labels,
    kept: () => kept.columns.map(({ label }) => label),
    shown: () => labels().map(({ value }) => value),
  };
}

test('changes that are quicker than their answers all stand', async () => {
  const { person, waiting, labels, kept, shown } = await page();
  await person.selectOptions(labels()[0] as HTMLSelectElement, 'work');
  await person.selectOptions(labels()[1] as HTMLSelectElement, 'home');
  expect(shown()).toEqual(['work', 'home']);
  await waitFor(() => expect(waiting).toHaveLength(1));
  waiting.shift()?.();
  await waitFor(() => expect(waiting).toHaveLength(1));
  expect(kept()).toEqual(['work', null]);
  expect(shown()).toEqual(['work', 'home']);
  waiting.shift()?.();
  await waitFor(() => expect(kept()).toEqual(['work', 'home']));
  expect(shown()).toEqual(['work', 'home']);
});

test('a trial waits for what was just said of a column', async () => {
  const { person, waiting, labels, sent } = await page();
  const trials = () => sent.filter(({ method }) => method === 'POST');
  await person.selectOptions(labels()[0] as HTMLSelectElement, 'work');
  await person.click(screen.getByRole('button', { name: /Try it/ }));
  await waitFor(() => expect(waiting).toHaveLength(1));
  expect(trials()).toHaveLength(0);
  waiting.shift()?.();
  await waitFor(() => expect(trials()).toHaveLength(1));
});

test('a change that is refused is taken back on the page and says why', async () => {
  const { person, waiting, labels, shown } = await page();
  const answer = globalThis.fetch;
  globalThis.fetch = (async (input: string, init: RequestInit = {}) =>
    init.method === 'PUT' ? refusal(409, 'started', 'The import has begun.') : answer(input, init)) as typeof fetch;
  await person.selectOptions(labels()[0] as HTMLSelectElement, 'work');
  await screen.findByText(/The import has begun/);
  expect(shown()).toEqual(['', '']);
  expect(waiting).toHaveLength(0);
});

test('a field much like one that is here is asked about: that one, or both', async () => {
  const { person, sent, waiting } = await page({ ...MAPPING, columns: [{ ...email(0), target: null }, email(1)] });
  const answer = globalThis.fetch;
  const near = { column: 0, name: 'Mail', like: 'E-mail', target: 'email' };
  let asked = 0;
  globalThis.fetch = (async (input: string, init: RequestInit = {}) =>
    init.method === 'PUT' && asked++ === 0
      ? refusal(409, 'nearMiss', "There is a field 'E-mail'. Use that one, or make 'Mail' beside it.", near)
      : answer(input, init)) as typeof fetch;
  await person.click(screen.getByRole('button', { name: /make it a field/ }));
  await screen.findByText(/There is a field 'E-mail'/);
  await person.click(screen.getByRole('button', { name: 'Make it all the same' }));
  await waitFor(() => expect(waiting).toHaveLength(1));
  waiting.shift()?.();
  const put = () => sent.findLast(({ method }) => method === 'PUT');
  await waitFor(() => expect(put()).toBeTruthy());
  const { columns } = put()?.body as Mapping;
  expect(columns[0]?.newField).toMatchObject({ name: 'Mail', despite: true });
});
