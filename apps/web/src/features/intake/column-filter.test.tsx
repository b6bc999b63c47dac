import { afterEach, expect, test } from '@jest/globals';
import type { ColumnGuess, ColumnMapping } from '@gray-loom/core/mapping';
import type { MappingPreview } from '@gray-loom/wire';
import { cleanup, screen } from '@testing-library/react';
import { useState } from 'react';
import { onPage } from '../../testing/on-page';
import { useColumnFilter } from './column-filter';

afterEach(cleanup);

const HEADERS = Array.from({ length: 20 }, (_, i) =>
  i === 3 ? 'Mail of the Skipper' : i === 7 ? 'Größe' : `Field ${i}`,
);
const columns = (targets: Record<number, string>): ColumnMapping[] =>
  HEADERS.map((header, column) => ({
    column,
    header,
    target: targets[column] ?? null,
    label: null,
    dateOrder: 'iso',
    decimal: '.',
    separator: null,
    newField: null,
    onBad: 'hold',
  }));
const preview = {
  columns: HEADERS.map((_, i) => ({ filled: i % 2, failing: 0 })),
  rows: [],
  looked: 50,
} as unknown as MappingPreview;
const guesses = HEADERS.map(() => ({ samples: [] })) as unknown as ColumnGuess[];

async function bar(howMany = HEADERS.length) {
  function Bar() {
    const [targets, setTargets] = useState<Record<number, string>>({ 0: 'givenName', 3: 'email' });
    const { shown, bar } = useColumnFilter({
      columns: columns(targets).slice(0, howMany),
      guesses,
      preview,
      lists: undefined,
    });
    return (
      <>
        {bar}
        <output aria-label="shown">{shown.join(' ')}</output>
        <button type="button" onClick={() => setTargets({ ...targets, 1: 'title' })}>
          give a meaning
        </button>
      </>
    );
  }
  const person = onPage(<Bar />);
  return { person, shown: () => screen.getByLabelText('shown').textContent };
}

test('a wide file is narrowed to the columns one looks for, by heading or meaning', async () => {
  const { person, shown } = await bar();
  const box = screen.getByRole('searchbox');
  await person.type(box, 'skipper mail');
  expect(shown()).toBe('3');
  await person.clear(box);
  await person.type(box, 'grosse');
  expect(shown()).toBe('7');
  await person.clear(box);
  await person.type(box, 'given name');
  expect(shown()).toBe('0');
  expect(screen.getByText('1 of 20 columns')).toBeTruthy();
  await person.type(box, '{Escape}');
  expect(shown()).toBe(HEADERS.map((_, i) => i).join(' '));
});

test('only what has cells, and only what has no meaning, are shown; one that is given a meaning stays in sight', async () => {
  const { person, shown } = await bar();
  await person.click(screen.getByRole('checkbox', { name: /filled only/ }));
  expect(shown()).toBe('1 3 5 7 9 11 13 15 17 19');
  await person.click(screen.getByRole('checkbox', { name: /without a meaning/ }));
  expect(shown()).toBe('1 5 7 9 11 13 15 17 19');
  await person.click(screen.getByRole('button', { name: 'give a meaning' }));
  expect(shown()).toBe('1 5 7 9 11 13 15 17 19');
  await person.click(screen.getByRole('button', { name: 'Show all columns' }));
  expect(screen.getByText('20 columns')).toBeTruthy();
});

test('a file of a few columns has no such bar', async () => {
  const { shown } = await bar(5);
  expect(shown()).toBe('0 1 2 3 4');
  expect(screen.queryByRole('searchbox')).toBeNull();
});
