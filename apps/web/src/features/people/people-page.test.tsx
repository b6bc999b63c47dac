import { afterEach, expect, test } from '@jest/globals';
import type { Account, People } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { PeoplePage } from './people-page';

afterEach(cleanup);

const account = (id: number, name: string, more: Partial<Account> = {}): Account => ({
  id,
  name,
  email: `${name.split(' ')[0]?.toLowerCase()}@quillhaven.example`,
  role: 'editor',
  remit: null,
  within: null,
  picture: null,
  secondFactor: false,
  seenAt: null,
  retiredAt: null,
  owns: 0,
  ...more,
});
const PEOPLE: People = {
  accounts: [
    account(1, 'Ines Carvalho', { role: 'administrator' }),
    account(2, 'Tom Okoro', { owns: 12, secondFactor: true }),
    account(3, 'Kari Lund', { retiredAt: '2026-01-02T00:00:00Z' }),
  ],
  invitations: [],
  strangers: [{ name: 'Tom O.', owns: 4, likely: 2 }],
};
const LINK = { path: '/invitation/abc', expiresAt: '2026-12-07T00:00:00Z' };

function page(at = '/', more: Record<string, unknown> = {}) {
  const sent = serve({ 'GET /people': PEOPLE, 'GET /people/2/sessions': [], ...more });
  const person = onPage(<PeoplePage />, at);
  return { person, changes: () => sent.filter(({ method }) => method !== 'GET') };
}
const button = (name: string | RegExp) => screen.getByRole('button', { name });

test('an invitation is sent with its role, and its link shown once', async () => {
  const { person, changes } = page('/', { 'POST /people/invitations': LINK });
  await person.type(await screen.findByRole('textbox', { name: 'Name of whom to invite' }), 'Vera Lund');
  await person.type(screen.getByRole('textbox', { name: 'E-mail of whom to invite' }), 'vera@quillhaven.example');
  await person.selectOptions(screen.getByRole('combobox', { name: 'Role' }), 'viewer');
  await person.click(button('Make a link to invite'));
  const link = await screen.findByRole<HTMLInputElement>('textbox', { name: 'Link to send' });
  expect(link.value).toMatch(/\/invitation\/abc$/);
  expect(changes()[0]?.body).toEqual({
    name: 'Vera Lund',
    email: 'vera@quillhaven.example',
    role: 'viewer',
    remit: null,
  });
  await person.click(button('Done'));
  expect(screen.queryByRole('textbox', { name: 'Link to send' })).toBeNull();
});

test('retiring somebody asks first, and says where what they own goes', async () => {
  const { person, changes } = page('/?account=2', { 'POST /people/2/retire': { runId: 5, finished: true } });
  await person.click(await screen.findByRole('button', { name: /Retire the account/ }));
  expect(changes()).toEqual([]);
  const heirs = screen.getByRole('combobox', { name: /12 contacts go/ });
  expect([...heirs.querySelectorAll('option')].map(({ textContent }) => textContent)).toEqual([
    'nobody; they keep Tom Okoro as their owner',
    'Ines Carvalho',
  ]);
  await person.selectOptions(heirs, 'Ines Carvalho');
  await person.click(button('Retire Tom Okoro'));
  await waitFor(() => expect(changes()[0]?.body).toEqual({ handTo: 1 }));
});

test('an owner that is no account is said to be one, the likely one offered first', async () => {
  const { person, changes } = page('/', { 'POST /people/owners': { runId: 9, finished: true } });
  const box = await screen.findByRole<HTMLSelectElement>('combobox', { name: 'Who Tom O. is' });
  expect(box.value).toBe('2');
  await person.selectOptions(box, 'Ines Carvalho');
  await person.click(button('That is who'));
  await waitFor(() => expect(changes()[0]?.body).toEqual({ name: 'Tom O.', to: 1 }));
});

test('a role that is refused says why; whoever has a second factor can have it taken off', async () => {
  const { person, changes } = page('/?account=2', {
    'PATCH /people/2': refusal(409, 'lastAdministrator', 'This is the last administrator.'),
    'POST /people/2/reset': LINK,
  });
  const roles = await screen.findAllByRole('combobox', { name: 'Role' });
  await person.selectOptions(roles[1] as HTMLElement, 'viewer');
  await screen.findByText('This is the last administrator.');
  await person.click(button('The same, and take the second factor off'));
  await waitFor(() => expect(changes()[1]?.body).toEqual({ secondFactor: true }));
});
