import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { activityOf } from '@gray-loom/core/activity';
import type { ActivityEntry } from '@gray-loom/wire';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { Reminders } from './reminders';

beforeEach(() => localStorage.clear());
afterEach(cleanup);

const at = (minutes: number) => new Date(Date.now() + minutes * 60_000).toISOString();
const entry = (id: number, kind: 'task' | 'appointment', what: string, when: string): ActivityEntry => ({
  id,
  version: 1,
  activity: activityOf(kind, { what, at: when }),
  contact: { id: 7, name: 'Ana Reis' },
  who: '',
  people: [],
  colleagues: [],
  by: '',
  thread: { kind: 'hand', name: 'By hand' },
  runId: 1,
  writtenAt: when,
});
const SESSION = { accountId: 1, name: 'Ines', email: 'ines@example.org', role: 'editor', remit: null };

function reminders(list: ActivityEntry[], more: Record<string, unknown> = {}) {
  let waiting = list;
  const sent = serve({ 'GET /session': SESSION, 'GET /reminders': () => waiting, ...more });
  const person = onPage(<Reminders />);
  return { person, sent, settle: (left: ActivityEntry[]) => (waiting = left) };
}
const line = (what: string) => screen.findByText(what).then((found) => found.closest('li') as HTMLElement);

test('what is about to be says in how long, and a task is done from here', async () => {
  const task = entry(1, 'task', 'Ring back', at(10));
  const { person, sent, settle } = reminders([task, entry(2, 'appointment', 'Yard visit', at(-1))], {
    'PATCH /activities/1': () => ({ runId: 3, version: 2, next: null, booked: [] }),
  });
  const row = await line('Ring back');
  expect(within(row).getByText('in 10 min')).toBeTruthy();
  expect(within(await line('Yard visit')).getByText('now')).toBeTruthy();
  settle([]);
  await person.click(await within(row).findByRole('button', { name: 'done' }));
  await waitFor(() =>
    expect(sent.find(({ method }) => method === 'PATCH')?.body).toEqual({ version: 1, isOpen: false }),
  );
  await waitFor(() => expect(screen.queryByText('Ring back')).toBeNull());
});

test('one that was closed does not come back, unless its time moves', async () => {
  const first = entry(2, 'appointment', 'Yard visit', at(5));
  const { person } = reminders([first]);
  await person.click(await screen.findByRole('button', { name: 'Close: Yard visit' }));
  expect(screen.queryByText('Yard visit')).toBeNull();
  cleanup();
  reminders([first, entry(2, 'appointment', 'Yard visit', at(9))]);
  expect(await screen.findAllByText('Yard visit')).toHaveLength(1);
});

test('a refusal is said, and the reminder stays', async () => {
  const { person } = reminders([entry(1, 'task', 'Ring back', at(3))], {
    'PATCH /activities/1': () => refusal(409, 'changed', 'Tom changed this entry meanwhile.'),
  });
  await person.click(await within(await line('Ring back')).findByRole('button', { name: 'in an hour' }));
  await screen.findByText('Tom changed this entry meanwhile.');
  expect(screen.getByText('Ring back')).toBeTruthy();
});
