import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { STANDARD_FIELDS, type FieldDefinition } from '@gray-loom/core/fields';
import type { Value } from '@gray-loom/core/model';
import type { ContactDetail } from '@gray-loom/wire';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { onPage, refusal, serve } from '../../testing/on-page';
import { EditableValue } from './editable-value';

afterEach(cleanup);

const EMAIL = STANDARD_FIELDS.find(({ key }) => key === 'email') as FieldDefinition;
const VALUE: Value = { slot: 4, v: 'ana@example.org', run: 9, row: 14, label: 'home', atMs: 0 };

const contact = {
  id: 7,
  record: { n: 5, f: { email: [VALUE] } },
  threads: { 9: { name: 'boat-fair.csv', kind: 'file', look: null, at: '2026-01-02T10:00:00Z', actor: 'Ines' } },
  related: {},
} as unknown as ContactDetail;

function value(answers: Record<string, unknown>, more: Partial<Parameters<typeof EditableValue>[0]> = {}) {
  const sent = serve({ 'GET /contacts/7/history': [], ...answers });
  const onDone = jest.fn();
  const person = onPage(
    <dl>
      <EditableValue
        contact={contact}
        field={EMAIL}
        value={VALUE}
        lists={undefined}
        readOnly={false}
        also={[]}
        onDone={onDone}
        {...more}
      />
    </dl>,
  );
  const edit = () => person.click(screen.getByRole('button', { name: /Change$/ }));
  const patches = () => sent.filter(({ method }) => method === 'PATCH').map(({ body }) => body);
  return { person, onDone, edit, patches };
}

describe('a value that is edited in place', () => {
  test('is shown with its label and where it came from', () => {
    value({});
    expect(screen.getByRole('button', { name: 'E-mail, home: ana@example.org. Change' })).toBeTruthy();
    expect(screen.getAllByTitle(/boat-fair\.csv · row 14/).length).toBeGreaterThan(0);
  });

  test('Enter saves it over what was seen, and closes', async () => {
    const { person, onDone, edit, patches } = value({ 'PATCH /contacts/7': {} });
    await edit();
    const box = screen.getByRole('textbox', { name: 'E-mail' });
    await person.clear(box);
    await person.type(box, 'reis@example.org{Enter}');
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(patches()).toEqual([
      {
        edits: [{ field: 'email', slot: 4, before: VALUE, text: 'reis@example.org', value: null, label: 'home' }],
        despite: false,
      },
    ]);
  });

  test('what was not changed is not sent, and Escape forgets what was typed', async () => {
    const { person, edit, patches } = value({});
    await edit();
    await person.keyboard('{Enter}');
    await edit();
    await person.type(screen.getByRole('textbox', { name: 'E-mail' }), 'x{Escape}');
    expect(screen.getByRole('button', { name: 'E-mail, home: ana@example.org. Change' })).toBeTruthy();
    expect(patches()).toEqual([]);
  });

  test('what the server does not take is said beside the box, and stays typed', async () => {
    const { person, edit } = value({ 'PATCH /contacts/7': () => refusal(422, 'invalidEmail', "'ana' has no @.") });
    await edit();
    const box = screen.getByRole('textbox', { name: 'E-mail' });
    await person.clear(box);
    await person.type(box, 'ana{Enter}');
    expect((await screen.findByRole('alert')).textContent).toBe("'ana' has no @.");
    expect((box as HTMLInputElement).value).toBe('ana');
    expect(box.getAttribute('aria-invalid')).toBe('true');
  });

  test('where somebody was faster, mine is put over theirs only when I say so', async () => {
    const theirs = { ...VALUE, v: 'theirs@example.org' };
    const answers = [() => refusal(409, 'valueChanged', 'It is theirs@example.org now.', { now: theirs }), () => ({})];
    const { person, onDone, edit, patches } = value({ 'PATCH /contacts/7': () => answers.shift()?.() });
    await edit();
    await person.type(screen.getByRole('textbox', { name: 'E-mail' }), 'x{Enter}');
    await person.click(await screen.findByRole('button', { name: 'Replace with mine' }));
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(patches().map((body) => (body as { edits: { before: Value }[] }).edits[0]?.before)).toEqual([VALUE, theirs]);
  });

  test('a value that others have too is saved a second time only when I say so', async () => {
    const answers = [() => refusal(409, 'uniqueWarning', 'Tom has it.'), () => ({})];
    const { person, edit, patches } = value({ 'PATCH /contacts/7': () => answers.shift()?.() });
    await edit();
    await person.type(screen.getByRole('textbox', { name: 'E-mail' }), 'x{Enter}');
    await person.click(await screen.findByRole('button', { name: 'Save it twice' }));
    await waitFor(() => expect(patches().map((body) => (body as { despite: boolean }).despite)).toEqual([false, true]));
  });

  test('is taken away', async () => {
    const { person, edit, patches } = value({ 'PATCH /contacts/7': {} });
    await edit();
    await person.click(screen.getByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(patches()).toHaveLength(1));
    expect(patches()[0]).toMatchObject({ edits: [{ field: 'email', slot: 4, text: null, value: null }] });
  });

  test('shows what stood there before', async () => {
    const { edit } = value({
      'GET /contacts/7/history': [
        {
          runId: 12,
          at: '2026-02-03T09:00:00Z',
          thread: { name: 'by hand', kind: 'hand' },
          changes: [{ field: 'email', before: { ...VALUE, v: 'old@example.org' }, after: VALUE }],
        },
      ],
    });
    await edit();
    expect(await screen.findByText('old@example.org')).toBeTruthy();
  });

  test('one that may not be changed does not open', async () => {
    const { person } = value({}, { readOnly: true });
    await person.click(screen.getByRole('button', { name: /Change$/ }));
    expect(screen.queryByRole('textbox')).toBeNull();
  });
});
