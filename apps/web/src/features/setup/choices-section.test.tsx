import { afterEach, expect, test } from '@jest/globals';
import type { FieldDefinition } from '@gray-loom/core/fields';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { ChoicesSection } from './choices-section';

afterEach(cleanup);

const FIELD = { key: 'custom.4', name: 'Certificates', type: 'choices', group: 'custom' };
const asField = (choices: string[]) => ({ ...FIELD, choices }) as unknown as FieldDefinition;

function section(choices: string[], counts: Record<string, number>, more: Record<string, unknown> = {}) {
  const counted = Object.entries(counts).map(([label, count]) => ({ label, count, listed: choices.includes(label) }));
  const sent = serve({ 'GET /fields/custom.4/choices': counted, 'PATCH /fields/custom.4': {}, ...more });
  const person = onPage(<ChoicesSection field={asField(choices)} />);
  return { person, changes: () => sent.filter(({ method }) => method !== 'GET') };
}

test('choices show who has them, are moved, and taken away where nobody has them', async () => {
  const { person, changes } = section(['Helm', 'First aid'], { Helm: 3, 'First aid': 0, Oar: 2 });
  expect(await screen.findByText('3')).toBeTruthy();
  expect(screen.getByText(/Beside the list, from before: Oar \(2\)/)).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Move First aid up' }));
  await waitFor(() => expect(changes()[0]?.body).toEqual({ choices: ['First aid', 'Helm'] }));
  await person.click(screen.getByRole('button', { name: 'Take it away' }));
  await waitFor(() => expect(changes()[1]?.body).toEqual({ choices: ['Helm'] }));
});

test('two much alike are merged in one step, towards the one more have', async () => {
  const { person, changes } = section(['Regatta', 'Regata'], { Regatta: 1, Regata: 5 }, { 'POST /picks/merge': {} });
  await person.click(await screen.findByRole('button', { name: 'Merge into Regata' }));
  await waitFor(() => expect(changes()[0]?.body).toEqual({ list: 'custom.4', from: 'Regatta', into: 'Regata' }));
});

test('one much like another is added only when told so again', async () => {
  const { person, changes } = section(
    ['Crew'],
    { Crew: 1 },
    {
      'PATCH /fields/custom.4': (body: { despite?: boolean }) =>
        body.despite ? {} : refusal(409, 'nearChoice', "There is a choice 'Crew'.", { like: 'Crew' }),
    },
  );
  await person.type(await screen.findByRole('textbox', { name: 'New choice' }), 'Crews{Enter}');
  await screen.findByText(/There is a choice 'Crew'/);
  await person.click(screen.getByRole('button', { name: 'Make it all the same' }));
  await waitFor(() => expect(changes()[1]?.body).toEqual({ choices: ['Crew', 'Crews'], despite: true }));
  await waitFor(() => expect(screen.queryByText(/There is a choice/)).toBeNull());
});
