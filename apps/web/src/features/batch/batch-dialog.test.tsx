import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { BatchDialog } from './batch-dialog';
import { changeOf, FIRST_DRAFT, type BatchDraft } from './batch-draft';

afterEach(cleanup);

const LISTS = {
  fields: [],
  tags: [{ label: 'press', people: 2, organizations: 0, meaning: '', colour: 0 }],
  sources: [],
  stages: [],
  owners: [],
  areas: [],
  people: 9,
  organizations: 0,
  opportunities: 0,
  country: 'GB',
};
const CHOICES = { segments: [], connections: [], threads: [], runs: [] };
const TRIAL = {
  concerns: 1207,
  changes: 1188,
  same: 16,
  refused: [{ why: 'optedOut', n: 3 }],
  looked: 1207,
  isSample: false,
  examples: [{ id: 1, name: 'Ana Reis', before: 'news', after: 'news, press' }],
};

function page(answers: Record<string, unknown> = {}) {
  let isDone = false;
  const sent = serve({
    'GET /lists': LISTS,
    'GET /segments/choices': CHOICES,
    'POST /batch/trial': TRIAL,
    'POST /batch': { runId: 4, finished: false },
    ...answers,
  });
  const person = onPage(
    <BatchDialog
      what={{ ids: [1, 2] }}
      words="these 1,207 people"
      onClose={() => undefined}
      onDone={() => {
        isDone = true;
      }}
    />,
  );
  return { person, sent, isDone: () => isDone };
}
const addPress = async (person: ReturnType<typeof page>['person']) => {
  await person.click(await screen.findByRole('button', { name: 'Add: choose a tag' }));
  await person.type(await screen.findByPlaceholderText('Type to find'), 'press{Enter}');
};

test('it is tried first, and done as it was tried; another change is tried anew', async () => {
  const { person, sent, isDone } = page();
  expect(screen.getByRole('button', { name: 'Try it' }).hasAttribute('disabled')).toBe(true);
  await addPress(person);
  await person.click(screen.getByRole('button', { name: 'Try it' }));
  await screen.findByText('1,188 change, 16 already so, 3 refused: opted out');
  screen.getByText('news, press');
  await person.click(screen.getByRole('checkbox', { name: 'in place of all tags that are there' }));
  // What was tried is not what would be done any more.
  screen.getByRole('button', { name: 'Try it' });
  await person.click(screen.getByRole('checkbox', { name: 'in place of all tags that are there' }));
  await person.click(await screen.findByRole('button', { name: 'Change 1,188' }));
  await waitFor(() => expect(isDone()).toBe(true));
  expect(sent.find(({ path }) => path === '/batch')?.body).toEqual({
    what: { ids: [1, 2] },
    change: { kind: 'tags', add: ['press'], remove: [], only: false },
  });
});

test('numbers that are reckoned say so, and a refusal stays with its reason', async () => {
  const { person } = page({
    'POST /batch/trial': { ...TRIAL, concerns: 900_000, looked: 20_000, isSample: true, changes: 880_000 },
    'POST /batch': refusal(409, 'nothingToChange', 'Nobody is changed by this.'),
  });
  await addPress(person);
  await person.click(screen.getByRole('button', { name: 'Try it' }));
  await screen.findByText(/Reckoned from 20,000 of 900,000/);
  await person.click(screen.getByRole('button', { name: 'Change about 880,000' }));
  await screen.findByText('Nobody is changed by this.');
});

test.each<[Partial<BatchDraft>, unknown]>([
  [{}, null],
  [{ only: true }, { kind: 'tags', add: [], remove: [], only: true }],
  [
    { kind: 'fill', field: 'title', text: 'Rigger' },
    { kind: 'set', field: 'title', text: 'Rigger', how: 'fill' },
  ],
  [{ kind: 'set', field: 'title', text: ' ' }, null],
  [
    { kind: 'clear', field: 'title' },
    { kind: 'clear', field: 'title' },
  ],
  [{ kind: 'permission', state: 'allowed' }, null],
  [
    { kind: 'permission', state: 'allowed', how: 'signed' },
    { kind: 'permission', channel: 'email', state: 'allowed', how: 'signed' },
  ],
  [{ kind: 'permission' }, { kind: 'permission', state: 'optedOut' }],
  [{ kind: 'sync' }, null],
  [
    { kind: 'sync', connectionId: 2, choice: '' },
    { kind: 'sync', connectionId: 2, choice: null },
  ],
  [{ kind: 'delete' }, { kind: 'delete' }],
])('a draft as the server takes it %#', (draft, change) => {
  const made = changeOf({ ...FIRST_DRAFT, ...draft });
  if (change === null) expect(made).toBeNull();
  else expect(made).toMatchObject(change as object);
});
