import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { MatchSetup, MatchSetupRequest } from '@gray-loom/wire';
import { heldBack, onPage, refusal, serve } from '../../testing/on-page';

afterEach(cleanup);

const SETUP: MatchSetup = {
  thresholds: { certain: 0.995, likely: 0.9, possible: 0.5 },
  asShipped: { certain: 0.999, likely: 0.95, possible: 0.6 },
  ignored: [],
  pairs: null,
  people: 0,
  scannedAt: null,
};

async function page() {
  const { MatchingPage } = await import('./matching-page');
  let kept = SETUP;
  const sent = serve({
    'GET /duplicates/setup': () => kept,
    'PUT /duplicates/setup': (body: unknown) => (kept = { ...kept, ...(body as MatchSetupRequest) }),
    'POST /duplicates/scan': { runId: 4 },
  });
  const waiting = heldBack('PUT');
  const person = onPage(<MatchingPage />);
  await screen.findByText('What counts');
  const line = (band: string) => screen.getByLabelText<HTMLInputElement>(new RegExp(`^${band} from`));
  const button = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name });
  return { person, sent, waiting, line, button, kept: () => kept };
}

test('a threshold is moved, shown as a share and in bits, and saved', async () => {
  const { person, waiting, line, button, kept } = await page();
  fireEvent.change(line('certain'), { target: { value: '12' } });
  expect(screen.getByText('12.0 bits')).toBeTruthy();
  await person.click(button('Save'));
  await waitFor(() => expect(waiting).toHaveLength(1));
  waiting.shift()?.();
  await waitFor(() => expect(kept().thresholds.certain).toBeCloseTo(4096 / 4097, 6));
  await waitFor(() => expect(button('Save').disabled).toBe(true));
});

test('lines that cross are said to, and cannot be saved', async () => {
  const { line, button, person } = await page();
  fireEvent.change(line('likely'), { target: { value: '14' } });
  await screen.findByText('Certain has to lie above likely, and likely above possible.');
  expect(button('Save').disabled).toBe(true);
  await person.click(button('As shipped'));
  expect(screen.queryByText(/has to lie above/)).toBeNull();
  expect(button('Save').disabled).toBe(false);
});

test('what is changed while it is being saved is not lost', async () => {
  const { person, waiting, button, kept } = await page();
  await person.click(screen.getByLabelText('Birthday'));
  await person.click(button('Save'));
  await waitFor(() => expect(waiting).toHaveLength(1));
  await person.click(screen.getByLabelText('Phone'));
  waiting.shift()?.();
  await waitFor(() => expect(kept().ignored).toEqual(['bday']));
  await waitFor(() => expect(button('Save').disabled).toBe(false));
  expect(screen.getByLabelText<HTMLInputElement>('Phone').checked).toBe(false);
});

test('a refusal says why', async () => {
  const { person, button } = await page();
  await person.click(screen.getByLabelText('Birthday'));
  globalThis.fetch = (async () => refusal(422, 'crossed', 'The lines cross.')) as typeof fetch;
  await person.click(button('Save'));
  await screen.findByText('The lines cross.');
  await person.click(button('As it was'));
  expect(screen.getByLabelText<HTMLInputElement>('Birthday').checked).toBe(true);
});

test('everybody is scanned on demand, and a scan that cannot begin says why', async () => {
  const { person, sent, button } = await page();
  await person.click(button('Scan everybody'));
  await waitFor(() => expect(sent.some(({ path }) => path === '/duplicates/scan')).toBe(true));
  globalThis.fetch = (async () => refusal(409, 'scanning', 'A scan is running already.')) as typeof fetch;
  await waitFor(() => expect(button('Scan everybody').disabled).toBe(false));
  await person.click(button('Scan everybody'));
  await screen.findByText('A scan is running already.');
});
