import { afterEach, expect, test } from '@jest/globals';
import { defaultMapping } from '@gray-loom/core/mapping';
import type { Lists } from '@gray-loom/wire';
import { cleanup, screen } from '@testing-library/react';
import { onPage } from '../../testing/on-page';
import { FileSettings } from './file-settings';

afterEach(cleanup);

const pick = (label: string) => ({ label, people: 1 });
const lists = {
  tags: [pick('newsletter'), pick('bursary')],
  sources: [pick('Phone bank')],
  stages: [],
  owners: [],
} as unknown as Lists;

test('a tag or source much like one that is here is taken by a press, before it is made', async () => {
  const saved: string[] = [];
  const person = onPage(
    <FileSettings
      mapping={defaultMapping([], 'GB')}
      lists={lists}
      headers={[]}
      locked={false}
      onSave={({ wholeFile }) => saved.push([...wholeFile.tags, wholeFile.source].join(' | '))}
    />,
  );
  await person.click(screen.getByRole('button', { name: /Whole file/ }));
  await person.type(screen.getByLabelText('Tags'), 'Newsletters; bursary; regatta');
  expect(screen.getByText('"regatta" will be a new tag.')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'newsletter' }));
  await person.type(screen.getByLabelText('Source'), 'Phonebank');
  await person.click(screen.getByRole('button', { name: 'Phone bank' }));
  expect(screen.queryByText(/Here already/)).toBeNull();
  await person.click(screen.getByRole('button', { name: 'Keep' }));
  expect(saved).toEqual(['newsletter | bursary | regatta | Phone bank']);
});
