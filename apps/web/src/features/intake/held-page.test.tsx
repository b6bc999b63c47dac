import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import type { HeldRow } from '@gray-loom/wire';
import { onPage, refusal, serve } from '../../testing/on-page';

afterEach(cleanup);

const row = (number: number, mail: string, meant: string | null, more: Partial<HeldRow> = {}): HeldRow => ({
  runId: 3,
  row: number,
  fileName: 'club.csv',
  intakeId: 5,
  headers: ['Name', 'Email', null],
  cells: [`Name ${number}`, mail, 'Friend'],
  issues: [{ text: `'${mail}' has no @.`, column: 1 }],
  fits: [],
  asks: null,
  two: null,
  meant: meant ? [`Name ${number}`, meant, 'Friend'] : null,
  ...more,
});
const ROWS = [
  row(1, 'ana (at) example.org', 'ana@example.org'),
  row(2, 'tom', null),
  row(4, 'kari[at]example.org', 'kari@example.org', { runId: 6, fileName: 'fair.csv' }),
];

async function page(rows: HeldRow[] = ROWS, more: Record<string, unknown> = {}) {
  const { HeldPage } = await import('./held-page');
  let waiting = rows;
  const sent = serve({
    'GET /held?limit=500': () => ({ rows: waiting, total: waiting.length, more: [] }),
    ...Object.fromEntries(
      rows.map((one) => [
        `POST /held/${one.runId}/${one.row}/preview`,
        (body: unknown) =>
          (body as { cells: string[] }).cells.map((cell, i) => ({
            shown: cell,
            issue: i === 1 && !cell.includes('@') ? `'${cell}' has no @.` : null,
            answers: i === 2 && cell === 'Freund' ? ['Friend', 'Donor'] : [],
          })),
      ]),
    ),
    ...more,
  });
  const person = onPage(
    <Routes>
      <Route path="/intake/held" element={<HeldPage />} />
    </Routes>,
    '/intake/held',
  );
  await screen.findByText('Held rows');
  return { person, sent, settle: (left: HeldRow[]) => (waiting = left) };
}

const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>('button', { name });

test('what is most likely meant is looked at, and let in by file; what is unticked stays', async () => {
  const { person, sent } = await page(ROWS, {
    'POST /held/3/meant': { letIn: 1, held: 0 },
    'POST /held/6/meant': { letIn: 0, held: 1 },
  });
  await screen.findByText(/In 2 rows an address can be read/);
  await person.click(button('Look at them'));
  const sheet = within(screen.getByRole('complementary', { name: 'Sheet' }));
  expect(sheet.getByText('kari@example.org')).toBeTruthy();
  await person.click(sheet.getAllByRole('checkbox')[1] as HTMLElement);
  await person.click(button('Let 1 row in so'));
  await screen.findByText('1 let in.');
  expect(sent.filter(({ path }) => path.endsWith('/meant'))).toEqual([
    { method: 'POST', path: '/held/3/meant', body: { rows: [1] } },
  ]);
  await person.click(sheet.getAllByRole('checkbox')[1] as HTMLElement);
  await person.click(button('Let 2 rows in so'));
  await screen.findByText('1 let in; 1 still held, as something else stands against it.');
});

test('more rows than are shown are counted, and shown when asked for', async () => {
  const { person } = await page(ROWS, {
    'GET /held?limit=500': () => ({ rows: ROWS.slice(0, 1), total: 3, more: [] }),
    'GET /held?limit=2500': () => ({ rows: ROWS, total: 3, more: [] }),
  });
  expect(screen.queryByText(/Name 4 ·/)).toBeNull();
  await person.click(button('Show more of 3'));
  await screen.findByText(/Name 4 ·/);
  expect(screen.queryByRole('button', { name: /^Show more/ })).toBeNull();
});

test('nothing is offered where nothing is meant, and nothing can be let in unticked', async () => {
  const { person } = await page();
  await person.click(button('Look at them'));
  for (const box of screen.getAllByRole('checkbox')) await person.click(box);
  expect(button('Let 0 rows in so').disabled).toBe(true);
  cleanup();
  await page([row(2, 'tom', null)]);
  expect(screen.queryByText(/an address can be read/)).toBeNull();
});

test('a refusal says why and keeps what was ticked', async () => {
  const { person } = await page(ROWS, {
    'POST /held/3/meant': () => refusal(409, 'settled', 'This row was let in meanwhile.'),
  });
  await person.click(button('Look at them'));
  await person.click(screen.getAllByRole('checkbox')[1] as HTMLElement);
  await person.click(button('Let 1 row in so'));
  await screen.findByText('This row was let in meanwhile.');
  expect(screen.getAllByRole<HTMLInputElement>('checkbox').map(({ checked }) => checked)).toEqual([true, false]);
});

test('one row is mended in place: what is meant is written by a press, checked, and let in; the next is picked', async () => {
  const let1 = { 'POST /held/3/1/let-in': { runId: 9, contactId: 77 } };
  const { person, sent, settle } = await page(ROWS, let1);
  await person.click(screen.getByText(/Name 1 ·/));
  const cell = screen.getByLabelText<HTMLInputElement>(/^Email/);
  await waitFor(() => expect(cell.getAttribute('aria-invalid')).toBe('true'));
  await person.click(button('Write ana@example.org'));
  expect(cell.value).toBe('ana@example.org');
  await waitFor(() => expect(cell.getAttribute('aria-invalid')).toBe('false'));
  expect(screen.queryByRole('button', { name: /^Write/ })).toBeNull();
  settle(ROWS.slice(1));
  await person.click(button('Let the row in'));
  await screen.findByRole('heading', { name: 'Row 2 of club.csv' });
  expect(sent.find(({ path }) => path === '/held/3/1/let-in')?.body).toEqual({
    cells: ['Name 1', 'ana@example.org', 'Friend'],
    as: 'check',
  });
});

test('a row that still fails stays, with the cell marked', async () => {
  const { person } = await page(ROWS, {
    'POST /held/3/2/let-in': () => refusal(422, 'invalidEmail', "'tom' has no @.", { column: 1 }),
  });
  await person.click(screen.getByText(/Name 2 ·/));
  await person.click(button('Let the row in'));
  const alert = await screen.findByRole('alert');
  expect(alert.textContent).toBe("'tom' has no @.");
  expect(screen.getByRole('heading', { name: 'Row 2 of club.csv' })).toBeTruthy();
});

test('a cell that takes one of a few is said by choosing, and goes in so', async () => {
  const { person, sent } = await page(
    [row(7, 'kim@example.org', null, { cells: ['Kim', 'kim@example.org', 'Freund'] })],
    {
      'POST /held/3/7/let-in': {},
    },
  );
  await person.click(button(/7/));
  await person.selectOptions(await screen.findByLabelText('What column 3 may say'), 'Friend');
  await waitFor(() => expect(screen.queryByLabelText('What column 3 may say')).toBeNull());
  expect((document.activeElement as HTMLInputElement).value).toBe('Friend');
  await person.click(button('Let the row in'));
  await waitFor(() =>
    expect(sent).toContainEqual(
      expect.objectContaining({ body: { cells: ['Kim', 'kim@example.org', 'Friend'], as: 'check' } }),
    ),
  );
});

test('whom a row may be is called by name, with what tells people of one name apart', async () => {
  const fits = [
    { contactId: 41, name: 'Ana Reis', about: 'ana@example.org', deleted: false },
    { contactId: 42, name: 'Ana Reis', about: 'a.reis@example.com', deleted: true },
    ...[43, 44, 45, 46].map((contactId) => ({ contactId, name: `Rui ${contactId}`, about: '', deleted: false })),
  ];
  const { person, sent } = await page([row(8, 'reis@example.org', null, { fits })], { 'POST /held/3/8/let-in': {} });
  await person.click(button(/8/));
  const offered = within(screen.getByRole('list', { name: 'Whom the row may be' }));
  expect(offered.getAllByRole('button').map(({ textContent }) => textContent)).toEqual([
    ...['It is Ana Reis', 'Bring back Ana Reis', 'It is Rui 43', 'It is Rui 44', 'It is Rui 45'],
  ]);
  expect(offered.getByText('and 1 more')).toBeTruthy();
  await person.click(offered.getByRole('button', { description: 'a.reis@example.com' }));
  await waitFor(() =>
    expect(sent).toContainEqual(expect.objectContaining({ body: expect.objectContaining({ as: 42 }) })),
  );
});

test('a row that names two people is looked at as two rows, each mended for itself, and both let in together', async () => {
  const couple = row(8, 'ana@example.org', null, {
    cells: ['Ana & Tom Reis', 'ana@example.org', ''],
    issues: [{ text: "'Ana & Tom Reis' names more than one person.", column: 0 }],
    two: [
      ['Ana Reis', 'ana@example.org', ''],
      ['Tom Reis', '', ''],
    ],
  });
  let refused = true;
  const { person, sent, settle } = await page(
    [couple, { ...couple, row: 9, cells: ['Kim & Bo Ode', 'kim@example.org', ''] }],
    {
      'POST /held/3/8/let-in-two': () =>
        refused ? refusal(422, 'noIdentity', 'Nobody could be told by it.', { person: 1, column: null }) : {},
    },
  );
  await person.click(screen.getByText(/Ana & Tom Reis ·/));
  await person.click(button('They are two people'));
  const name = screen.getByLabelText<HTMLInputElement>('Name of the first');
  expect(name.value).toBe('Ana Reis');
  // From here Enter lets both in.
  expect(document.activeElement).toBe(name);
  await person.keyboard('{Enter}');
  expect((await screen.findByRole('alert')).textContent).toBe('The second: Nobody could be told by it.');
  await person.type(screen.getByLabelText('Email of the second'), 'tom@example.org');
  expect(screen.queryByRole('alert')).toBeNull();
  refused = false;
  const next = { ...couple, row: 9, cells: ['Kim & Bo Ode', 'kim@example.org', ''] };
  settle([next]);
  await person.click(button('Let both in'));
  // The next that names two is looked at as two at once.
  await screen.findByRole('heading', { name: 'Row 9 of club.csv, as two people' });
  expect(sent.filter(({ path }) => path.endsWith('/let-in-two')).at(-1)?.body).toEqual({
    people: [
      ['Ana Reis', 'ana@example.org', ''],
      ['Tom Reis', 'tom@example.org', ''],
    ],
  });
});

test('who looks at two and thinks better of it is back at the one row', async () => {
  const { person } = await page([
    row(8, 'a@example.org', null, {
      two: [
        ['A', '', ''],
        ['B', '', ''],
      ],
    }),
  ]);
  await person.click(screen.getByText(/Name 8 ·/));
  await person.click(button('They are two people'));
  await person.click(button('Back to one row'));
  expect(button('Let the row in')).toBeTruthy();
});

test('rows that say more of people who came in are let in as entries of a kind, all at once', async () => {
  const more = [{ runId: 3, fileName: 'club.csv', count: 2, kind: 'purchase' }];
  const { person, sent } = await page(ROWS, {
    'GET /held?limit=500': () => ({ rows: ROWS, total: 3, more }),
    'POST /held/3/entries': () => ({ letIn: 1, held: 1, runId: 9 }),
  });
  await screen.findByText(/2 rows of club.csv say more of people/);
  await person.selectOptions(screen.getByLabelText('What the rows tell of'), 'as gifts');
  await person.click(button('Let them in'));
  await screen.findByText(/1 came in. 1 stay held/);
  expect(sent.find(({ path }) => path === '/held/3/entries')?.body).toEqual({ kind: 'gift' });
});
