import { afterEach, describe, expect, test } from '@jest/globals';
import type { Erasure } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { EraseDialog } from './erase-dialog';
import { ErasedPage } from './erased-page';

afterEach(cleanup);

const LOOK: Erasure = {
  name: 'Ana Reis',
  records: 1,
  values: 12,
  changes: 3,
  activities: 2,
  files: 0,
  heldRows: 1,
  permissions: 0,
  cameIn: ['moorings.csv', 'crew.csv'],
  waits: null,
  connections: ['Office address book'],
  alike: [{ id: 8, name: 'Ana Reyes', deleted: true }],
};

describe('before somebody is erased', () => {
  const dialog = (more: Record<string, unknown> = {}) => {
    let isClosed = false;
    const sent = serve({ 'GET /contacts/7/erasure': LOOK, 'POST /contacts/7/erase': { runId: 9 }, ...more });
    const person = onPage(<EraseDialog id={7} onClose={() => (isClosed = true)} />);
    return { sent, person, closed: () => isClosed };
  };

  test('one is told what goes and what stays, and says how they asked', async () => {
    const { sent, person, closed } = dialog();
    await screen.findByText('12 values, and the content of 3 changes in the history');
    expect(screen.getByText(/^The content of moorings.csv and crew.csv/)).toBeTruthy();
    expect(screen.getByText(/^The record in Office address book: it is not taken in again/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Ana Reyes' }).getAttribute('href')).toBe('/contacts/8');
    expect(screen.queryByText(/^0 /)).toBeNull();
    const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Erase for good' });
    expect(button.disabled).toBe(true);
    await person.type(screen.getByLabelText(/^How they asked/), '  ');
    expect(button.disabled).toBe(true);
    await person.type(screen.getByLabelText(/^How they asked/), 'By letter');
    await person.click(button);
    await waitFor(() => expect(closed()).toBe(true));
    expect(sent.filter(({ method }) => method === 'POST')).toEqual([
      { method: 'POST', path: '/contacts/7/erase', body: { reason: '  By letter' } },
    ]);
  });

  test('a refusal is said, and what was typed stays', async () => {
    const { person, closed } = dialog({
      'POST /contacts/7/erase': () => refusal(409, 'noSecretKey', 'Secrets cannot be kept.'),
    });
    await person.type(await screen.findByLabelText(/^How they asked/), 'By letter');
    await person.click(screen.getByRole('button', { name: 'Erase for good' }));
    await screen.findByText('Secrets cannot be kept.');
    expect(screen.getByLabelText<HTMLInputElement>(/^How they asked/).value).toBe('By letter');
    expect(closed()).toBe(false);
  });

  test('a file that is not in yet stands against it, and there is no button to press', async () => {
    dialog({ 'GET /contacts/7/erasure': { ...LOOK, waits: { id: 4, name: 'waiting.csv' } } });
    await screen.findByText(/^waiting.csv holds this person too/);
    expect(screen.getByRole('link', { name: 'Bring it in or drop it' }).getAttribute('href')).toBe('/intake/4');
    expect(screen.queryByRole('button', { name: 'Erase for good' })).toBeNull();
  });
});

test('somebody is let in again once that is said twice', async () => {
  const sent = serve({
    'GET /erased': [{ id: 3, contactId: 7, reason: 'By letter', by: 'Ines', at: '2026-05-12T00:00:00Z', forms: 4 }],
    'POST /erased/3/lift': { runId: 5 },
  });
  const person = onPage(<ErasedPage />);
  await person.click(await screen.findByRole('button', { name: 'Let in again' }));
  expect(sent.some(({ method }) => method === 'POST')).toBe(false);
  await person.click(screen.getByRole('button', { name: 'Keep them out' }));
  await person.click(screen.getByRole('button', { name: 'Let in again' }));
  await person.click(screen.getByRole('button', { name: 'Let them in again' }));
  await waitFor(() =>
    expect(sent.filter(({ method }) => method === 'POST').map(({ path }) => path)).toEqual(['/erased/3/lift']),
  );
});
