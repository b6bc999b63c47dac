import { afterEach, describe, expect, test } from '@jest/globals';
import type { IntakeDetail } from '@gray-loom/wire';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';

afterEach(cleanup);

const COUNTS = { new: 312, fill: 52, replace: 0, same: 3, fold: 1, held: 4 };
const detail = (more: Partial<IntakeDetail>) =>
  ({
    id: 5,
    state: 'tried',
    rowCount: 372,
    trialRun: 8,
    importRun: null,
    trialCounts: COUNTS,
    counts: COUNTS,
    warnings: [],
    chosenSinceTrial: 0,
    undone: false,
    ...more,
  }) as unknown as IntakeDetail;

async function bar(more: Partial<IntakeDetail>, answers: Record<string, unknown> = {}) {
  const { TrialBar } = await import('./trial-bar');
  const sent = serve({ 'GET /runs/8': { id: 8, state: 'done', progress: { done: 372, total: 372 } }, ...answers });
  const person = onPage(<TrialBar detail={detail(more)} />);
  const posts = () => sent.filter(({ method }) => method === 'POST').map(({ path }) => path);
  return { person, posts };
}

describe('the trial', () => {
  test('says in a sentence what would happen, and that nobody is overwritten', async () => {
    await bar({});
    expect(
      screen.getByText('312 new contacts, 52 filled, nobody overwritten, 4 as they are or folded, 4 held.'),
    ).toBeTruthy();
  });

  test('shows each outcome that occurs, in proportion', async () => {
    await bar({});
    const parts = within(screen.getByRole('group', { name: 'Outcomes of the trial' })).getAllByRole('button');
    expect(parts.map((part) => [part.textContent, part.style.flexGrow])).toEqual([
      ['312 new', '312'],
      ['52 filled', '52'],
      ['3 same', '3'],
      ['1 folded', '1'],
      ['4 held', '4'],
    ]);
  });

  test('names what would be replaced, and opportunities', async () => {
    await bar({ trialCounts: { ...COUNTS, replace: 2, opportunitiesNew: 1, opportunitiesChanged: 5 } });
    expect(screen.getByText(/2 with values replaced.*1 new opportunity, 5 opportunities changed\./)).toBeTruthy();
  });

  test('brings in all but the held rows', async () => {
    const { person, posts } = await bar({}, { 'POST /intakes/5/import': { runId: 9 } });
    await person.click(screen.getByRole('button', { name: /Bring in 368 rows/ }));
    await waitFor(() => expect(posts()).toEqual(['/intakes/5/import']));
  });

  test('cannot be followed by an import where every row is held', async () => {
    await bar({ trialCounts: { ...COUNTS, new: 0, fill: 0, same: 0, fold: 0, held: 372 } });
    expect((screen.getByRole('button', { name: /Bring in 0 rows/ }) as HTMLButtonElement).disabled).toBe(true);
  });

  test('comes first: nothing is brought in before it', async () => {
    const { person, posts } = await bar(
      { state: 'read', trialRun: null, trialCounts: null },
      { 'POST /intakes/5/trial': { runId: 8 } },
    );
    expect(screen.getByText(/Nothing is written by trying/)).toBeTruthy();
    expect((screen.getByRole('button', { name: /Bring in/ }) as HTMLButtonElement).disabled).toBe(true);
    await person.click(screen.getByRole('button', { name: /Try it/ }));
    await waitFor(() => expect(posts()).toEqual(['/intakes/5/trial']));
  });

  test('is to be repeated when the mapping changed since', async () => {
    await bar({ state: 'read', trialCounts: null });
    expect(screen.getByText(/The mapping changed since the trial/)).toBeTruthy();
  });

  test('says what is odd about the file, and that rows were decided by hand', async () => {
    await bar({ warnings: ['312 phones have lost digits.'], chosenSinceTrial: 2 });
    const list = screen.getByRole('list', { name: 'What to look at' });
    expect(
      within(list)
        .getAllByRole('listitem')
        .map((item) => item.textContent),
    ).toEqual(['312 phones have lost digits.', expect.stringMatching(/^2 rows were decided by hand since the trial/)]);
  });

  test('a refusal is said where the button is', async () => {
    const { person } = await bar(
      {},
      { 'POST /intakes/5/import': () => refusal(409, 'tooLate', 'It is on its way in already.') },
    );
    await person.click(screen.getByRole('button', { name: /Bring in 368 rows/ }));
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('It is on its way in already.'));
  });
});

describe('an import', () => {
  const running = (state: string) => ({ id: 9, state, progress: { done: 100, total: 372 }, pausable: true });

  test('says how far it is, and that the page can be left', async () => {
    await bar({ state: 'committing', importRun: 9 }, { 'GET /runs/9': running('running') });
    expect(await screen.findByText('100 of 372 rows. You can leave this page.')).toBeTruthy();
    expect((screen.getByRole('progressbar', { name: 'Bringing in' }) as HTMLProgressElement).value).toBe(100);
  });

  test('says where it waits', async () => {
    await bar({ state: 'committing', importRun: 9 }, { 'GET /runs/9': running('paused') });
    expect(await screen.findByText('Paused at 100 of 372 rows.')).toBeTruthy();
  });

  test('ends with its counts, the way to its run, and to the rows that it held', async () => {
    await bar({ state: 'done', importRun: 9, held: 11 }, { 'GET /runs/9': { ...running('done'), pausable: false } });
    expect(screen.getByText(/312 new/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Open the run' }).getAttribute('href')).toBe('/ledger/9');
    expect(screen.getByRole('link', { name: '11 held rows' }).getAttribute('href')).toBe('/intake/held/9');
  });
});
