import { useState } from 'react';
import { foldText } from '@gray-loom/core/fields';
import { mappingTargets, NO_COLUMN, type ColumnGuess, type ColumnMapping } from '@gray-loom/core/mapping';
import type { Lists, MappingPreview } from '@gray-loom/wire';
import { useShortcut } from '../../app/keyboard';
import { count } from '../../ui/when';

/** A file of fewer columns is seen at a glance. */
const FROM = 12;

interface FilteredColumnsProps {
  columns: readonly ColumnMapping[];
  guesses: readonly ColumnGuess[];
  preview: MappingPreview | undefined;
  lists: Lists | undefined;
}

/** Which columns of a wide file are shown, and the bar that says so; null in place of the bar where there are few. */
export function useColumnFilter({ columns, guesses, preview, lists }: FilteredColumnsProps) {
  const [text, setText] = useState('');
  const [filledOnly, setFilledOnly] = useState(false);
  /** Numbers of the columns that had no meaning when one asked for them: one that is given a meaning meanwhile stays in sight. */
  const [without, setWithout] = useState<ReadonlySet<number> | null>(null);
  const custom = (lists?.fields ?? []).filter(({ key }) => key.startsWith('custom.'));
  const names = new Map(mappingTargets(custom).map(({ key, name }) => [key, name]));
  const isFilled = (column: ColumnMapping, i: number) =>
    column.column === NO_COLUMN || !!preview?.columns[i]?.filled || !!guesses[column.column]?.samples.length;
  const says = ({ column, header, target, newField }: ColumnMapping) =>
    foldText([header || `column ${column + 1}`, names.get(target ?? '') ?? newField?.name ?? ''].join(' '));
  const words = foldText(text).split(' ').filter(Boolean);
  const shown = columns.flatMap((column, i) =>
    words.every((word) => says(column).includes(word)) &&
    (!filledOnly || isFilled(column, i)) &&
    (!without || without.has(column.column))
      ? [i]
      : [],
  );
  const unmapped = columns.filter(({ column, target, newField }) => column !== NO_COLUMN && !target && !newField);
  const clear = () => {
    setText('');
    setFilledOnly(false);
    setWithout(null);
  };
  const wide = columns.length >= FROM;
  useShortcut('f', 'Find a column', 'Intake', () => document.getElementById(FIND)?.focus(), { enabled: wide });
  if (!wide) return { shown, bar: null };
  const empty = columns.filter((column, i) => !isFilled(column, i)).length;
  const bar = (
    <div
      role="search"
      aria-label="Columns"
      className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair px-3.5 py-1.5"
    >
      <input
        id={FIND}
        type="search"
        className="field w-56 [&::-webkit-search-cancel-button]:hidden"
        placeholder="Find a column (f)"
        aria-label="Find a column"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') clear();
        }}
      />
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={filledOnly} onChange={(event) => setFilledOnly(event.target.checked)} />
        filled only
        <span className="text-ink3">({count(empty)} empty)</span>
      </label>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={without !== null}
          onChange={(event) => setWithout(event.target.checked ? new Set(unmapped.map(({ column }) => column)) : null)}
        />
        without a meaning only
        <span className="text-ink3">({count(unmapped.length)})</span>
      </label>
      <span className="ml-auto text-ink2" role="status">
        {shown.length === columns.length
          ? `${count(columns.length)} columns`
          : `${count(shown.length)} of ${count(columns.length)} columns`}
      </span>
      {shown.length < columns.length ? (
        <button type="button" className="link" onClick={clear}>
          Show all columns
        </button>
      ) : null}
    </div>
  );
  return { shown, bar };
}

const FIND = 'find-column';
