import { afterEach, expect, test } from '@jest/globals';
import type { Account, Remit } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { onPage, serve } from '../../testing/on-page';
import { RemitForm, remitInWords } from './remit-form';

afterEach(cleanup);

const NOTHING = { people: 0, organizations: 0, meaning: '', colour: 0 };
const LISTS = {
  tags: [{ ...NOTHING, label: 'bursary' }],
  sources: [{ ...NOTHING, label: 'Web' }],
  areas: [],
  stages: [],
  fields: [],
  owners: [{ ...NOTHING, label: 'Tom Okoro' }],
  people: 40,
  organizations: 0,
};

function form(first: Remit | null) {
  const sent = serve({ 'GET /lists': LISTS, 'POST /people/remit-trial': { within: 12, of: 40 } });
  let value = first;
  function Form() {
    const [remit, setRemit] = useState(first);
    value = remit;
    return <RemitForm value={remit} onChange={setRemit} accounts={[] as Account[]} ownName="Vera Lund" />;
  }
  const person = onPage(<Form />);
  return { person, value: () => value, tried: () => sent.filter(({ method }) => method === 'POST') };
}

test('a part of the book is put together, and how many people it is stands below before it is saved', async () => {
  const { person, value, tried } = form(null);
  await person.click(screen.getByRole('radio', { name: /only contacts/ }));
  expect(screen.getByText('Choose an owner, source, tag or area.')).toBeTruthy();
  expect(tried()).toEqual([]);
  await person.selectOptions(await screen.findByLabelText('Add a tag'), 'bursary');
  await screen.findByText('12 of 40 people');
  await person.selectOptions(screen.getByLabelText('Add an owner'), 'Vera Lund');
  expect(value()).toEqual({ owners: ['Vera Lund'], sources: [], tags: ['bursary'], areas: [] });
  await person.click(screen.getByLabelText('Take out the tag bursary'));
  await waitFor(() => expect(value()?.tags).toEqual([]));
  await person.click(screen.getByRole('radio', { name: /everybody/ }));
  expect(value()).toBeNull();
});

test('what is gone is said', async () => {
  form({ owners: [], sources: [], tags: ['slipway'], areas: [] });
  await screen.findByText('is gone');
});

test.each([
  [{ owners: ['Tom Okoro'], sources: [], tags: [], areas: [] }, 'owner Tom Okoro'],
  [{ owners: [], sources: ['Web', 'Fair'], tags: ['bursary'], areas: [] }, 'sources Web, Fair; tag bursary'],
  [{ owners: [], sources: [], tags: [], areas: [] }, 'nobody yet'],
])('%j is "%s"', (remit, words) => expect(remitInWords(remit)).toBe(words));
