import { afterEach, expect, test } from '@jest/globals';
import type { ContactDetail, Lists } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { TagLine } from './tag-line';

afterEach(cleanup);

const TAG = { slot: 2, v: 'boat fair', run: 1 };
const contact = { id: 7, record: { n: 3, f: { tags: [TAG] } }, threads: {}, related: {} } as unknown as ContactDetail;
const lists = {
  tags: [
    { label: 'boat fair', colour: 1, people: 12, organizations: 0 },
    { label: 'alumni', colour: 2, people: 3, organizations: 1 },
  ],
} as unknown as Lists;

function line(answers: Record<string, unknown>) {
  const sent = serve(answers);
  const person = onPage(<TagLine readOnly={false} contact={contact} lists={lists} />);
  const edits = () =>
    sent.filter(({ method }) => method === 'PATCH').map(({ body }) => (body as { edits: unknown[] }).edits[0]);
  return { person, edits };
}

test('a tag is added from what exists, those that are there are not offered again', async () => {
  const { person, edits } = line({ 'PATCH /contacts/7': {} });
  await person.click(screen.getByRole('button', { name: 'Add a tag' }));
  expect(screen.queryByRole('option', { name: /boat fair/ })).toBeNull();
  expect(screen.getByRole('option', { name: /^alumni ?4$/ })).toBeTruthy();
  await person.keyboard('alu{Enter}');
  await waitFor(() => expect(edits()).toEqual([{ field: 'tags', slot: null, before: null, text: 'alumni' }]));
});

test('a near miss is offered before a new tag is made', async () => {
  const { person, edits } = line({ 'PATCH /contacts/7': {} });
  await person.click(screen.getByRole('button', { name: 'Add a tag' }));
  await person.keyboard('Alumnis');
  expect(screen.getByText('exists, like what you typed')).toBeTruthy();
  await person.click(screen.getByText('Make the tag "Alumnis"'));
  await waitFor(() => expect(edits()).toEqual([{ field: 'tags', slot: null, before: null, text: 'Alumnis' }]));
});

test('a tag is removed as it was seen; a refusal is said', async () => {
  const { person, edits } = line({
    'PATCH /contacts/7': () => refusal(409, 'valueChanged', 'That tag is gone already.'),
  });
  await person.click(screen.getByRole('button', { name: 'Remove tag boat fair' }));
  expect((await screen.findByRole('alert')).textContent).toBe('That tag is gone already.');
  expect(edits()).toEqual([{ field: 'tags', slot: 2, before: TAG, text: null }]);
});
