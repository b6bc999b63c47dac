import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { MergeForm } from './merge-form';

afterEach(cleanup);

test('a merge that lets somebody see more asks first, and is done all the same by a press', async () => {
  const sent = serve({ 'POST /picks/merge': refusal(409, 'inRemit', 'Vera would see more.') });
  const person = onPage(<MergeForm list="tag" label="slipway" others={['moorings']} onDone={() => undefined} />);
  await person.type(screen.getByLabelText('What slipway becomes'), 'moorings');
  await person.click(screen.getByRole('button', { name: 'Merge into moorings' }));
  await person.click(await screen.findByRole('button', { name: 'Merge all the same' }));
  const asked = { list: 'tag', from: 'slipway', into: 'moorings' };
  await waitFor(() => expect(sent.map(({ body }) => body)).toEqual([asked, { ...asked, despite: true }]));
});
