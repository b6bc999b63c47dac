import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { Transform } from '@gray-loom/core/mapping';
import { cleanup, screen } from '@testing-library/react';
import { onPage } from '../../testing/on-page';
import { TransformEditor } from './transform-editor';

afterEach(cleanup);

function editor(transforms: Transform[] = [], failing: string[] = [], answers: string[] = [], inCapitals = false) {
  const onChange = jest.fn<(transforms: Transform[]) => void>();
  const person = onPage(
    <TransformEditor
      transforms={transforms}
      column={0}
      headers={['Boat', 'Colour', null]}
      failing={failing}
      inCapitals={inCapitals}
      answers={answers}
      locked={false}
      onChange={onChange}
    />,
  );
  const open = () => person.click(screen.getByRole('button', { name: 'Steps before column Boat is read' }));
  return { person, onChange, open };
}

describe('steps of a column', () => {
  test('are added one behind the other, and kept only when they are to be used', async () => {
    const { person, onChange, open } = editor();
    await open();
    expect(screen.getByText('Cells are read as they are.')).toBeTruthy();
    await person.selectOptions(screen.getByLabelText('Add a step'), 'case');
    await person.selectOptions(screen.getByLabelText('Add a step'), 'ifEmpty');
    expect(onChange).not.toHaveBeenCalled();
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    expect(onChange).toHaveBeenCalledWith([
      { kind: 'case', to: 'name' },
      { kind: 'ifEmpty', use: '' },
    ]);
  });

  test('cells that fail are what is to be translated', async () => {
    const { person, onChange, open } = editor([], ['oui', 'nein']);
    await open();
    await person.selectOptions(screen.getByLabelText('Add a step'), 'values');
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    expect(onChange).toHaveBeenCalledWith([
      {
        kind: 'values',
        pairs: [
          ['oui', ''],
          ['nein', ''],
        ],
      },
    ]);
  });

  test('zeros in front show what becomes of a digit, and go no further than a code has places', async () => {
    const { person, onChange, open } = editor();
    await open();
    await person.selectOptions(screen.getByLabelText('Add a step'), 'zeros');
    expect(screen.getByText(/00007 for 7/)).toBeTruthy();
    const digits = screen.getByLabelText('Digits');
    await person.clear(digits);
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    expect(onChange).not.toHaveBeenCalled();
    await person.type(digits, '4');
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    expect(onChange).toHaveBeenCalledWith([{ kind: 'zeros', places: 4 }]);
  });

  test('broken letters are mended by a step that asks for nothing', async () => {
    const { person, onChange, open } = editor([{ kind: 'letters' }]);
    expect(screen.getByText(/mend broken letters/)).toBeTruthy();
    await open();
    await person.click(screen.getByRole('button', { name: 'Leave out: mend broken letters' }));
    await person.selectOptions(screen.getByLabelText('Add a step'), 'letters');
    expect(screen.getByText(/become José/)).toBeTruthy();
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    expect(onChange).toHaveBeenCalledWith([{ kind: 'letters' }]);
  });

  test('names in capitals are written as names by one press, behind the steps there are', async () => {
    const { person, onChange } = editor([{ kind: 'letters' }], [], [], true);
    await person.click(screen.getByRole('button', { name: 'Write Boat as names, not in capitals' }));
    expect(onChange).toHaveBeenCalledWith([{ kind: 'letters' }, { kind: 'case', to: 'name' }]);
    cleanup();
    editor([{ kind: 'case', to: 'small' }], [], [], true);
    expect(screen.queryByText('in capitals: write as names')).toBeNull();
  });

  test('what fails where only some answers will do is said by choosing them', async () => {
    const { person, onChange } = editor([{ kind: 'case', to: 'small' }], ['Devis', 'Demande'], ['Enquiry', 'Quoted']);
    await person.click(screen.getByRole('button', { name: 'say what they mean' }));
    await person.selectOptions(screen.getByLabelText('Value 1 becomes'), 'Quoted');
    await person.selectOptions(screen.getByLabelText('Value 2 becomes'), 'Enquiry');
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    const pairs: [string, string][] = [['Devis', 'Quoted'], ['Demande', 'Enquiry']]; // prettier-ignore
    expect(onChange).toHaveBeenCalledWith([
      { kind: 'case', to: 'small' },
      { kind: 'values', pairs },
    ]);
  });

  test('nothing is offered where cells may say anything, none fails, or it was said before', () => {
    editor([], ['Devis']);
    editor([], [], ['Quoted']);
    editor([{ kind: 'values', pairs: [['Devis', 'Quoted']] }], ['Demande'], ['Quoted']);
    expect(screen.queryByRole('button', { name: 'say what they mean' })).toBeNull();
  });

  test('an answer that is none of those that there are stays as it was typed', async () => {
    const { person, open } = editor([{ kind: 'values', pairs: [['Devis', 'Gone']] }], [], ['Quoted']);
    await open();
    expect((screen.getByLabelText('Value 1 becomes') as HTMLInputElement).value).toBe('Gone');
    await person.clear(screen.getByLabelText('Value 1 becomes'));
    expect(screen.getByLabelText('Value 1 becomes').tagName).toBe('SELECT');
  });

  test('one is left out, the others stay', async () => {
    const { person, onChange, open } = editor([
      { kind: 'case', to: 'small' },
      { kind: 'replace', find: 'a', with: 'b' },
    ]);
    await open();
    await person.click(screen.getByRole('button', { name: 'Leave out: capitals and small letters' }));
    await person.click(screen.getByRole('button', { name: 'Use these steps' }));
    expect(onChange).toHaveBeenCalledWith([{ kind: 'replace', find: 'a', with: 'b' }]);
  });

  test('cancelling leaves them as they were, and they are there again the next time', async () => {
    const { person, onChange, open } = editor([{ kind: 'case', to: 'small' }]);
    await open();
    await person.click(screen.getByRole('button', { name: 'Leave out: capitals and small letters' }));
    await person.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(onChange).not.toHaveBeenCalled();
    await open();
    expect(screen.getByRole('button', { name: 'Leave out: capitals and small letters' })).toBeTruthy();
  });

  test('are named in their order where they are closed', () => {
    editor([
      { kind: 'replace', find: 'a', with: 'b' },
      { kind: 'case', to: 'name' },
    ]);
    expect(screen.getByRole('button').textContent).toContain('replace a text, then capitals and small letters');
  });
});
