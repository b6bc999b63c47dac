import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { HandOverDialog, peopleInWords } from './hand-over';

afterEach(cleanup);

const OWNERS = [
  { id: 1, name: 'Ines Carvalho', picture: null },
  { id: 2, name: 'Tom Okoro', picture: null },
];
const SESSION = { accountId: 1, name: 'Ines Carvalho', email: 'i@quillhaven.example', role: 'editor', picture: null };

function dialog(owner: string, answer: unknown = { runId: 4, count: 1 }) {
  const sent = serve({ 'GET /owners': OWNERS, 'GET /session': SESSION, 'POST /hand-over': answer });
  let closed = false;
  const person = onPage(
    <HandOverDialog what={{ ids: [7] }} words="Kari Pike" owner={owner} onClose={() => (closed = true)} />,
  );
  return {
    person,
    body: () => sent.find(({ method }) => method === 'POST')?.body,
    closed: () => closed,
  };
}

test('whoever has it is not offered it again, and what one takes on oneself is called so', async () => {
  const { person, body, closed } = dialog('Tom Okoro');
  expect((await screen.findByRole<HTMLInputElement>('radio', { name: 'Tom Okoro' })).disabled).toBe(true);
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Hand over' }).disabled).toBe(true);
  await person.click(await screen.findByRole('radio', { name: 'Ines Carvalho' }));
  await person.click(await screen.findByRole('button', { name: 'Take on' }));
  await waitFor(() => expect(closed()).toBe(true));
  expect(body()).toEqual({ to: 1, ids: [7] });
});

test('nobody is a choice, and what is refused stays with its reason', async () => {
  const { person, body, closed } = dialog(
    'Tom Okoro',
    refusal(409, 'nothingToHand', 'All of them are owned so already.'),
  );
  await person.click(await screen.findByRole('radio', { name: 'nobody' }));
  await person.click(screen.getByRole('button', { name: 'Hand over' }));
  await screen.findByText('All of them are owned so already.');
  expect([body(), closed()]).toEqual([{ to: null, ids: [7] }, false]);
});

test.each([
  [1, 'person', 'this person'],
  [1204, 'person', 'these 1,204 people'],
  [3, 'organization', 'these 3 organizations'],
] as const)('%i is "%s": %s', (n, kind, words) => expect(peopleInWords(n, kind)).toBe(words));
