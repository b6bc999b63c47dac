import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import type { Lists, MergeRuleSetup } from '@gray-loom/wire';
import { heldBack, onPage, refusal, serve } from '../../testing/on-page';

afterEach(cleanup);

const RULES: MergeRuleSetup = { otherwise: 'trusted', byField: {}, trusted: ['hand', 'addressBook', 'file'] };
const field = (key: string, name: string, more: object = {}) => ({ key, name, type: 'text', group: 'person', ...more });
const LISTS = {
  fields: [
    field('title', 'Job title'),
    field('note', 'Note', { type: 'longText' }),
    field('email', 'E-mail', { several: true }),
  ],
} as unknown as Lists;
const TRIAL = {
  groups: 40,
  differing: 3,
  values: 1,
  examples: [{ groupId: 7, name: 'Ana Reis', changed: [{ field: 'Job title', before: 'Rigger', after: 'Foreman' }] }],
};

async function page(trial: unknown = TRIAL) {
  const { MergingPage } = await import('./merging-page');
  let kept = RULES;
  const sent = serve({
    'GET /duplicates/rules': () => kept,
    'POST /duplicates/rules/trial': trial,
    'PUT /duplicates/rules': (body: unknown) => (kept = body as MergeRuleSetup),
  });
  const waiting = heldBack('PUT');
  const person = onPage(<MergingPage lists={LISTS} />);
  await screen.findByText('Whom to trust, most first');
  const rule = (name: string) => screen.getByLabelText<HTMLSelectElement>(name);
  const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>('button', { name });
  return { person, sent, waiting, rule, button, kept: () => kept };
}

test('a rule is tried on the groups that wait before it is kept, and can be taken back', async () => {
  const { person, sent, rule, button } = await page();
  expect(button('Save').disabled).toBe(true);
  await person.selectOptions(rule('Job title'), 'the newest');
  await screen.findByText(/In 3 of 40 groups the result would be another; 1 value in all/);
  expect(screen.getByText('Foreman')).toBeTruthy();
  expect(sent.filter(({ method }) => method === 'PUT')).toHaveLength(0);
  await person.click(button('As it was'));
  expect(rule('Job title').value).toBe('');
  expect(button('Save').disabled).toBe(true);
});

test('fields with several values are no matter of choice, and only long texts can be the longest', async () => {
  const { rule } = await page();
  expect(screen.queryByLabelText('E-mail')).toBeNull();
  const choices = (name: string) => [...rule(name).options].map(({ text }) => text);
  expect(choices('Note')).toContain('the longest');
  expect(choices('Every field')).toContain('the longest');
});

test('threads are moved in the order of trust, to the ends and no further', async () => {
  const { person, waiting, button, kept } = await page();
  expect(button(/^By hand up/).disabled).toBe(true);
  expect(button(/^File down/).disabled).toBe(true);
  await person.click(button(/^File up/));
  await person.click(button('Save'));
  await waitFor(() => expect(waiting).toHaveLength(1));
  waiting.shift()?.();
  await waitFor(() => expect(kept().trusted).toEqual(['hand', 'file', 'addressBook']));
});

test('what is changed while a rule is being saved is not lost', async () => {
  const { person, waiting, rule, button, kept } = await page();
  await person.selectOptions(rule('Job title'), 'the newest');
  await person.click(button('Save'));
  await waitFor(() => expect(waiting).toHaveLength(1));
  await person.selectOptions(rule('Note'), 'the longest');
  waiting.shift()?.();
  await waitFor(() => expect(Object.keys(kept().byField)).toEqual(['title']));
  await waitFor(() => expect(button('Save').disabled).toBe(false));
  expect(rule('Note').selectedOptions[0]?.text).toBe('the longest');
  await person.click(button('Save'));
  await waitFor(() => expect(waiting).toHaveLength(1));
  waiting.shift()?.();
  await waitFor(() => expect(Object.keys(kept().byField).sort()).toEqual(['note', 'title']));
  await waitFor(() => expect(button('Save').disabled).toBe(true));
});

test('a trial or a rule that is refused says why, and nothing that was chosen is lost', async () => {
  const { person, waiting, rule, button } = await page(() => refusal(500, 'broken', 'The groups could not be read.'));
  await person.selectOptions(rule('Job title'), 'the newest');
  await screen.findByText('The groups could not be read.');
  globalThis.fetch = (async () => refusal(422, 'noRule', 'There is no such rule.')) as typeof fetch;
  await person.click(button('Save'));
  await screen.findByText('There is no such rule.');
  expect(waiting).toHaveLength(0);
  expect(rule('Job title').selectedOptions[0]?.text).toBe('the newest');
});
