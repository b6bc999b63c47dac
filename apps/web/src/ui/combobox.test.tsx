import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import { onPage } from '../testing/on-page';
import { Combobox, type Choice } from './combobox';

afterEach(cleanup);

const CHOICES: Choice[] = [
  { value: 'givenName', text: 'Given name', group: 'Name' },
  { value: 'familyName', text: 'Family name', group: 'Name' },
  { value: 'email', text: 'E-mail', group: 'Reach', hint: '12' },
];

function combobox(more: Partial<Parameters<typeof Combobox>[0]> = {}) {
  const onChoose = jest.fn<(value: string) => void>();
  const onCreate = jest.fn<(text: string) => void>();
  const person = onPage(
    <Combobox label="Meaning" value="email" choices={CHOICES} onChoose={onChoose} onCreate={onCreate} {...more}>
      choose
    </Combobox>,
  );
  return { person, onChoose, onCreate };
}

describe('choosing one of many', () => {
  test('Enter takes the first that fits what was typed, and the list closes', async () => {
    const { person, onChoose } = combobox();
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('name{Enter}');
    expect(onChoose).toHaveBeenCalledWith('givenName');
    expect(screen.queryByPlaceholderText('Type to find')).toBeNull();
  });

  test('arrow keys go on from there', async () => {
    const { person, onChoose } = combobox();
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('name{ArrowDown}{Enter}');
    expect(onChoose).toHaveBeenCalledWith('familyName');
  });

  test('a click takes what is clicked; groups and hints are shown', async () => {
    const { person, onChoose } = combobox();
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    expect(screen.getByText('Reach')).toBeTruthy();
    expect(screen.getByText('12')).toBeTruthy();
    await person.click(screen.getByText('E-mail'));
    expect(onChoose).toHaveBeenCalledWith('email');
  });

  test('Escape chooses nothing, and what was typed is forgotten', async () => {
    const { person, onChoose } = combobox();
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('fam{Escape}');
    expect(onChoose).not.toHaveBeenCalled();
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    expect((screen.getByPlaceholderText('Type to find') as HTMLInputElement).value).toBe('');
  });

  test('what is none of the choices can be made, without its blanks', async () => {
    const { person, onChoose, onCreate } = combobox({ createText: (text) => `Make the field "${text}"` });
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('  Berth ');
    expect(screen.getByText('None of that name.')).toBeTruthy();
    await person.click(screen.getByText('Make the field "Berth"'));
    expect(onCreate).toHaveBeenCalledWith('Berth');
    expect(onChoose).not.toHaveBeenCalled();
  });

  test('what exists is not made once more, whatever its capitals', async () => {
    const { person } = combobox();
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('e-MAIL');
    expect(screen.queryByText(/^Make/)).toBeNull();
  });

  test('what may have been meant is offered before something new', async () => {
    const { person, onChoose, onCreate } = combobox({ near: (text) => (text === 'Emial' ? ['E-mail'] : []) });
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('Emial');
    expect(screen.getByText('exists, like what you typed')).toBeTruthy();
    await person.keyboard('{Enter}');
    expect(onChoose).toHaveBeenCalledWith('E-mail');
    expect(onCreate).not.toHaveBeenCalled();
  });

  test('without a way to make one, nothing that fits is said', async () => {
    const { person } = combobox({ onCreate: undefined });
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    await person.keyboard('zzz');
    expect(screen.getByText('Nothing fits.')).toBeTruthy();
  });

  test('a locked one does not open', async () => {
    const { person } = combobox({ disabled: true });
    await person.click(screen.getByRole('button', { name: 'Meaning' }));
    expect(screen.queryByPlaceholderText('Type to find')).toBeNull();
  });
});
