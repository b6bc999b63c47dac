import { afterEach, expect, test } from '@jest/globals';
import { activityOf, FILE_LIMIT_BYTES } from '@gray-loom/core/activity';
import type { ActivityEntry } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { FilesSection } from './files-section';

afterEach(cleanup);

const file = (id: number, name: string, mediaType: string): ActivityEntry => ({
  id,
  version: 1,
  activity: activityOf('file', { what: name, at: '2026-11-30T10:00:00Z', file: { hash: 'x', mediaType, bytes: 2048 } }),
  contact: { id: 7, name: 'Ana Reis' },
  who: 'Ines Carvalho',
  people: [],
  colleagues: [],
  by: '',
  thread: { kind: 'hand', name: 'By hand' },
  runId: 1,
  writtenAt: '2026-11-30T10:00:00Z',
});

function section(entries: ActivityEntry[], more: Record<string, unknown> = {}, readOnly = false) {
  const sent = serve({
    'GET /contacts/7/activities?kinds=file&limit=200': {
      entries,
      counts: { file: entries.length },
      touch: { last: '', by: '', overdue: null },
    },
    ...more,
  });
  const person = onPage(<FilesSection contactId={7} readOnly={readOnly} />);
  return { person, sent };
}

test('a picture is shown drawn anew, what is not shown is only saved', async () => {
  const { person } = section([file(1, 'hull.png', 'image/png'), file(2, 'page.html', 'text/html')]);
  await person.click(await screen.findByRole('button', { name: 'hull.png' }));
  expect((await screen.findByAltText<HTMLImageElement>('hull.png')).src).toMatch(/\/api\/activities\/1\/picture$/);
  await person.keyboard('{Escape}');
  const link = screen.getByRole<HTMLAnchorElement>('link', { name: 'page.html' });
  expect([link.download, link.getAttribute('href')]).toEqual(['page.html', '/api/activities/2/file']);
});

test('one that is too large is said before anything is sent', async () => {
  const { person, sent } = section([]);
  await screen.findByText(/No files yet/);
  const large = new File(['x'], 'film.mp4');
  Object.defineProperty(large, 'size', { value: FILE_LIMIT_BYTES + 1 });
  await person.upload(screen.getByLabelText('Choose files'), large);
  await screen.findByText(/‘film.mp4’ has 25.0 MB; at most 25 MB are kept of one file. Nothing was sent./);
  expect(sent.every(({ method }) => method === 'GET')).toBe(true);
});

test('a name that is refused stays in its box, with the reason', async () => {
  const { person, sent } = section([file(1, 'list.csv', 'text/plain')], {
    'PATCH /activities/1': () => refusal(422, 'file', '‘list.exe’ is a program by its name.'),
  });
  await person.click(await screen.findByRole('button', { name: 'Rename list.csv' }));
  const box = screen.getByLabelText<HTMLInputElement>('Name of the file');
  await person.clear(box);
  await person.type(box, 'list.exe{Enter}');
  await screen.findByText(/is a program by its name/);
  expect(screen.getByLabelText<HTMLInputElement>('Name of the file').value).toBe('list.exe');
  await waitFor(() =>
    expect(sent.find(({ method }) => method === 'PATCH')?.body).toEqual({ version: 1, what: 'list.exe' }),
  );
});

test('whoever may only look is offered nothing to change', async () => {
  section([file(1, 'deed.pdf', 'application/pdf')], {}, true);
  await screen.findByRole('button', { name: 'deed.pdf' });
  for (const name of [/Rename/, /Remove/, /\+ file/]) expect(screen.queryByRole('button', { name })).toBeNull();
});
