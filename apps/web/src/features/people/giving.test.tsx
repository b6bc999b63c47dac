import { afterEach, expect, test } from '@jest/globals';
import type { Account } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { GivingForm } from './giving';

afterEach(cleanup);

const NOTHING = { people: 0, organizations: 0, meaning: '', colour: 0 };
const LISTS = {
  tags: [],
  sources: [],
  areas: [{ ...NOTHING, label: 'North' }],
  stages: [],
  fields: [],
  owners: [],
  people: 40,
  organizations: 0,
};
const accounts = [
  { id: 1, name: 'Ines Carvalho' },
  { id: 2, name: 'Tom Okoro' },
] as Account[];

function page(giving: unknown, answer: unknown = null) {
  const sent = serve({ 'GET /lists': LISTS, 'GET /giving': giving, 'PUT /giving': answer });
  return {
    person: onPage(<GivingForm accounts={accounts} />),
    put: () => sent.find(({ method }) => method === 'PUT')?.body,
  };
}

test('who takes turns and who has an area is said and saved; without a change there is nothing to save', async () => {
  const { person, put } = page({ inTurn: [1], byArea: [] });
  await screen.findByRole('checkbox', { name: 'Tom Okoro' });
  expect(screen.queryByRole('button', { name: /Save/ })).toBeNull();
  await person.click(screen.getByRole('checkbox', { name: 'Tom Okoro' }));
  await person.selectOptions(await screen.findByLabelText('North'), 'Tom Okoro');
  await person.click(screen.getByRole('button', { name: 'Save who is given people' }));
  await waitFor(() => expect(put()).toEqual({ inTurn: [1, 2], byArea: [{ area: 'North', accountId: 2 }] }));
});

test('an area that is gone and somebody who is retired are said; what is refused stays with its reason', async () => {
  const { person } = page(
    { inTurn: [1, 9], byArea: [{ area: 'South', accountId: 1 }] },
    refusal(409, 'noSuchAccount', 'Kari cannot.'),
  );
  await screen.findByText('is gone');
  await person.click(screen.getByRole('button', { name: 'take out' }));
  await person.click(screen.getByRole('button', { name: 'Save who is given people' }));
  await screen.findByText('Kari cannot.');
});
