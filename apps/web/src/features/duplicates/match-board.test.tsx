import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { MatchBoard } from '@gray-loom/wire';
import { onPage, serve } from '../../testing/on-page';

afterEach(cleanup);

const value = (v: string) => ({ slot: 0, v, run: 1 });
const member = (id: number, thread: string) => ({
  id,
  version: 1,
  name: `Record ${id}`,
  thread: { kind: 'file', name: thread, at: '2026-01-02T00:00:00Z' },
  touchedAt: '2026-01-02T00:00:00Z',
});
const BOARD = {
  group: {
    id: 4,
    kind: 'person',
    name: 'Reis',
    size: 3,
    band: 'likely',
    probability01: 0.9,
    state: 'open',
    busyWith: null,
  },
  members: [member(11, 'Newsletter'), member(12, 'Phone bank'), member(13, 'Office')],
  keepId: 11,
  rows: [
    {
      field: 'familyName',
      name: 'Family name',
      kind: 'differ',
      chosen: 11,
      cells: [11, 12, 13].map((memberId, i) => ({ memberId, values: [value(['Reis', 'Ries', 'REIS'][i] ?? '')] })),
      result: [value('Reis')],
    },
  ],
  reasons: [],
  lines: [],
  stopsKept: [{ channel: 'text', at: '2026-05-01T00:00:00Z', allowedAt: '2026-06-01T00:00:00Z' }],
  threads: {},
  stale: null,
} as unknown as MatchBoard;

/** The board on a page of a width, which the parts of the page ask for as they are loaded. */
async function board(isNarrow: boolean) {
  globalThis.matchMedia = (query) =>
    ({
      matches: isNarrow && query.includes('max-width'),
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
    }) as unknown as MediaQueryList;
  const { MatchBoardPanel } = await import('./match-board');
  const sent = serve({
    'GET /duplicates/4': BOARD,
    'POST /duplicates/4/look': {},
    'POST /duplicates/4/merge': { runId: 8 },
  });
  const person = onPage(<MatchBoardPanel id={4} place="1 of 2" busyWith={null} onDecided={() => Promise.resolve()} />);
  const table = await screen.findByRole('table');
  return { person, sent, table };
}

test('a telephone shows one record at a time beside what comes out, by its tab or by a finger', async () => {
  const { person, sent, table } = await board(true);
  const shown = () =>
    within(table)
      .getAllByRole('button')
      .map(({ textContent }) => textContent)
      .filter((text) => text !== 'take out');
  expect(shown()).toEqual(['Reis']);
  expect(screen.getByText(/wanted no more texts on 1 May 2026, another one allowed it on 1 June 2026/)).toBeTruthy();
  const tabs = within(screen.getByRole('group', { name: 'Record that is shown' }));
  await person.click(tabs.getByRole('button', { name: /Phone bank/ }));
  expect(shown()).toEqual(['Ries']);
  const drawn = (from: number, to: number, down = 0) => {
    fireEvent.touchStart(table, { touches: [{ clientX: from, clientY: 100 }] });
    fireEvent.touchEnd(table, { changedTouches: [{ clientX: to, clientY: 100 + down }] });
  };
  drawn(300, 120);
  expect(shown()).toEqual(['REIS']);
  // The last one stays, and scrolling turns nothing.
  drawn(300, 120);
  drawn(120, 200, 300);
  expect(shown()).toEqual(['REIS']);
  drawn(120, 300);
  expect(shown()).toEqual(['Ries']);
  await person.click(within(table).getByRole('button', { name: /Ries/ }));
  await person.click(screen.getByRole('button', { name: /Merge 3 records/ }));
  await waitFor(() =>
    expect(sent.find(({ path }) => path.endsWith('/merge'))?.body).toMatchObject({
      memberIds: [11, 12, 13],
      choices: { familyName: 12 },
    }),
  );
});
