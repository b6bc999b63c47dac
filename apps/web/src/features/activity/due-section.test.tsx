import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { DueSection } from './due-section';

afterEach(cleanup);

const PERSON = { contact: { id: 7, name: 'Oona Brack' }, owner: 'Ines', last: '', by: '', overdue: 12 };
const due = (toHearFrom: object[]) => ({
  today: '2026-12-01',
  tasks: [],
  enquiries: [],
  appointments: [],
  comingDays: [],
  toHearFrom,
  totals: { tasks: 0, late: 0, enquiries: 0, appointments: 0, toHearFrom: toHearFrom.length },
});
const SESSION = { accountId: 1, name: 'Ines', email: 'ines@example.org', role: 'editor', remit: null };

async function talkTo(answer: () => unknown) {
  const sent = serve({
    'GET /session': SESSION,
    'GET /due?of=mine&limit=5': due([PERSON]),
    'POST /contacts/7/activities': answer,
  });
  const person = onPage(<DueSection />);
  await person.click(await screen.findByRole('button', { name: 'log a talk' }));
  await person.type(screen.getByLabelText('What was said'), 'gives again');
  return { person, posts: () => sent.filter(({ method }) => method === 'POST') };
}

test('a talk that is sent twice in one moment is logged once', async () => {
  const { posts } = await talkTo(() => ({ id: 1, runId: 2, booked: [] }));
  const form = screen.getByRole('form', { name: 'Log a talk' });
  fireEvent.submit(form);
  fireEvent.submit(form);
  await waitFor(() => expect(screen.queryByRole('form', { name: 'Log a talk' })).toBeNull());
  expect(posts().map(({ body }) => (body as { text: string }).text)).toEqual(['gives again']);
});

test('where it is not taken, that is said, and what was typed is still there', async () => {
  const { person } = await talkTo(() => refusal(409, 'busy', 'Not now. Try again.'));
  await person.keyboard('{Enter}');
  await screen.findByText('Not now. Try again.');
  expect(screen.getByLabelText<HTMLInputElement>('What was said').value).toBe('gives again');
});
