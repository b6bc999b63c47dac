import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { BY_HAND, type ColumnGuess, type ColumnMapping } from '@gray-loom/core/mapping';
import { cleanup, screen } from '@testing-library/react';
import { onPage } from '../../testing/on-page';
import { ColumnHead } from './column-head';

afterEach(cleanup);

const guess = (more: Partial<ColumnGuess> = {}): ColumnGuess => ({
  index: 1,
  header: 'Who',
  field: 'fullName',
  label: null,
  type: 'text',
  certainty01: 0.87,
  samples: ['Nagy Éva'],
  dateOrder: 'iso',
  decimal: '.',
  separator: null,
  choices: [],
  ...more,
});

function head(column: Partial<ColumnMapping>, more: Partial<Parameters<typeof ColumnHead>[0]> = {}) {
  const onChange = jest.fn<(column: ColumnMapping) => void>();
  const onAlso = jest.fn();
  const onFailing = jest.fn();
  const person = onPage(
    <table>
      <thead>
        <tr>
          <ColumnHead
            column={{ ...BY_HAND, column: 1, header: 'Who', target: null, label: null, ...column }}
            again={false}
            guess={guess()}
            before={null}
            stats={{ filled: 10, failing: 0 }}
            looked={12}
            lists={undefined}
            answers={[]}
            headers={['Kind', 'Who', 'Remark']}
            leftOut={[0, 2]}
            labels={[]}
            fileRule="fill"
            country="ES"
            failingValues={[]}
            locked={false}
            active={false}
            onActive={() => undefined}
            onChange={onChange}
            onAlso={onAlso}
            onRemove={() => undefined}
            onFailing={onFailing}
            {...more}
          />
        </tr>
      </thead>
    </table>,
  );
  return { person, onChange, onAlso, onFailing };
}

describe('what one column means', () => {
  test('the order of whole names is shown as it was told, and can be chosen', async () => {
    const { person, onChange } = head({ target: 'fullName', nameOrder: 'familyFirst' });
    const order = screen.getByLabelText('Order of names') as HTMLSelectElement;
    expect(order.selectedOptions[0]?.text).toBe('split: family name first');
    await person.selectOptions(order, 'givenFirst');
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ target: 'fullName', nameOrder: 'givenFirst' }));
  });

  test('what tags are parted by can be chosen', async () => {
    const { person, onChange } = head({ target: 'tags', separator: null });
    const marks = screen.getByLabelText('What tags are parted by') as HTMLSelectElement;
    expect(marks.selectedOptions[0]?.text).toBe('split at semicolons');
    await person.selectOptions(marks, ',');
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ target: 'tags', separator: ',' }));
  });

  test('phones say in which country they are read', () => {
    head({ target: 'tel' });
    expect(screen.getByText('without code: Spain')).toBeTruthy();
  });

  test('a letter before names is said to be a title where it is one, and can be an initial', async () => {
    const { person, onChange } = head({ target: 'fullName', letterTitles: 'md' });
    const letter = screen.getByLabelText('What a letter before a name is') as HTMLSelectElement;
    expect(letter.selectedOptions[0]?.text).toBe('M., D. in front: a title');
    await person.selectOptions(letter, 'a letter in front: an initial');
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ letterTitles: '' }));
    cleanup();
    head({ target: 'fullName' });
    expect(screen.queryByLabelText('What a letter before a name is')).toBeNull();
  });

  test('a street is said to be a whole address where it is one, and can be one', async () => {
    const { person, onChange } = head({ target: 'street', wholeAddress: true });
    const cell = screen.getByLabelText('What stands in a cell of the address') as HTMLSelectElement;
    expect(cell.selectedOptions[0]?.text).toBe('split: street, town, code');
    await person.selectOptions(cell, 'the street alone');
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ target: 'street', wholeAddress: false }));
  });

  test('names with two family names are told as such', () => {
    head({ target: 'fullName', nameOrder: 'twoFamilies' });
    const order = screen.getByLabelText('Order of names') as HTMLSelectElement;
    expect(order.selectedOptions[0]?.text).toBe('split: two family names');
  });

  test('a guess shows how certain it is, a choice by whom it was made', () => {
    head({ target: 'fullName' });
    expect(screen.getByText('87%')).toBeTruthy();
    cleanup();
    head({ target: 'nickname' });
    expect(screen.getByText('by you')).toBeTruthy();
    cleanup();
    head({ target: 'fullName' }, { guess: guess({ learnedFrom: 'club.csv' }) });
    expect(screen.getByText('as in club.csv').title).toBe('as club.csv was read');
  });

  test('a label comes from a list or from a column that is left out', async () => {
    const { person, onChange } = head({ target: 'tel', label: 'home' });
    await person.selectOptions(screen.getByLabelText('Label'), 'label from Kind');
    expect(onChange).toHaveBeenLastCalledWith(expect.objectContaining({ label: null, labelFrom: 0 }));
    await person.selectOptions(screen.getByLabelText('Label'), 'label: work');
    const last = onChange.mock.calls.at(-1)?.[0];
    expect(last).toMatchObject({ label: 'work' });
    expect(last).not.toHaveProperty('labelFrom');
  });

  test('cells that fail are counted, can be looked at, and hold their row or are dropped', async () => {
    const { person, onChange, onFailing } = head({ target: 'email' }, { stats: { filled: 10, failing: 3 } });
    await person.click(screen.getByRole('button', { name: '3 of 12 fail' }));
    expect(onFailing).toHaveBeenCalledTimes(1);
    await person.selectOptions(screen.getByLabelText('What a failing cell does'), 'drop');
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ onBad: 'drop' }));
  });

  test('a column without a meaning can become a field of the type that its cells look like', async () => {
    const { person, onChange } = head({}, { guess: guess({ field: null, type: 'choice', choices: ['deck', 'helm'] }) });
    await person.click(screen.getByRole('button', { name: 'make it a field (choice)' }));
    expect(onChange).toHaveBeenCalledWith(
      expect.objectContaining({
        target: null,
        newField: { name: 'Who', type: 'choice', choices: ['deck', 'helm'] },
      }),
    );
  });

  test('a rule of its own stands before that of the file; values that are united have none', async () => {
    const { person, onChange } = head({ target: 'familyName' });
    const rule = screen.getByLabelText('What happens to a value that is there') as HTMLSelectElement;
    expect(rule.selectedOptions[0]?.text).toBe('fills blanks, as the file');
    await person.selectOptions(rule, 'replaces');
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ rule: 'replace' }));
    cleanup();
    head({ target: 'tags' });
    expect(screen.queryByLabelText('What happens to a value that is there')).toBeNull();
  });

  test('a file on its way in is locked', () => {
    head({ target: 'tel' }, { locked: true });
    expect((screen.getByLabelText('Label') as HTMLSelectElement).disabled).toBe(true);
    expect(screen.queryByRole('button', { name: /one more field/ })).toBeNull();
  });

  test('one column is sent to several fields', async () => {
    const { person, onAlso } = head({ target: 'fullName' });
    await person.click(screen.getByRole('button', { name: 'Send Who to one more field' }));
    expect(onAlso).toHaveBeenCalledTimes(1);
  });

  test('the value of every row is kept when its box is left', async () => {
    const { person, onChange } = head(
      { target: 'source', column: -1, header: null, transforms: [{ kind: 'fixed', value: 'Fair' }] },
      { guess: undefined },
    );
    const box = screen.getByLabelText('Value for every row');
    await person.clear(box);
    await person.type(box, 'Club list');
    expect(onChange).not.toHaveBeenCalled();
    await person.tab();
    expect(onChange).toHaveBeenCalledWith(
      expect.objectContaining({ transforms: [{ kind: 'fixed', value: 'Club list' }] }),
    );
  });
});
