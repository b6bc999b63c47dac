import { afterEach, expect, test } from '@jest/globals';
import { STANDARD_FIELDS } from '@gray-loom/core/fields';
import type { Lists } from '@gray-loom/wire';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { CompletenessPage } from './completeness-page';

afterEach(cleanup);

const lists = { fields: STANDARD_FIELDS } as unknown as Lists;
const now = { mean: 40, bands: [1, 2, 3, 0, 0] };

function page(more: Record<string, unknown> = {}) {
  const sent = serve({
    'GET /completeness': { weights: { email: 1, tel: 1 }, now },
    'POST /completeness/trial': { mean: 55, bands: [0, 1, 5, 0, 0] },
    'PUT /completeness': { runId: 4 },
    ...more,
  });
  const person = onPage(<CompletenessPage lists={lists} />);
  return { person, sent };
}
const weigh = async (field: string, weight: number) =>
  fireEvent.change(await screen.findByLabelText(`Weight of ${field}`), { target: { value: String(weight) } });

test('a weight is tried on everybody before it is saved, and nothing is sent to be kept until then', async () => {
  const { person, sent } = page();
  await screen.findByText('40%');
  expect(screen.queryByRole('button', { name: 'Save' })).toBeNull();
  await weigh('E-mail', 3);
  await screen.findByText('55%');
  expect(sent.filter(({ method }) => method === 'PUT')).toEqual([]);
  // Three of four parts.
  expect(screen.getByText('75%')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() =>
    expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({ weights: { email: 3, tel: 1 } }),
  );
});

test('whoever thinks better of it is back at what is in force', async () => {
  const { person } = page();
  await weigh('E-mail', 9);
  await person.click(await screen.findByRole('button', { name: 'Do not change' }));
  expect((await screen.findByLabelText<HTMLInputElement>('Weight of E-mail')).value).toBe('1');
  expect(screen.getByText('How it is')).toBeTruthy();
});

test('nothing at all cannot be saved, and a refusal keeps what was set', async () => {
  const { person } = page({ 'PUT /completeness': () => refusal(422, 'weights', 'A weight is a whole number.') });
  await weigh('E-mail', 0);
  await weigh('Phone', 0);
  expect(screen.getByText('At least one field has to count.')).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Save' }).disabled).toBe(true);
  await weigh('Phone', 2);
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText('A weight is a whole number.');
  expect(screen.getByLabelText<HTMLInputElement>('Weight of Phone').value).toBe('2');
});
