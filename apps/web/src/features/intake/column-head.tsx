import { useEffect, useRef, useState } from 'react';
import type { Lists } from '@gray-loom/wire';
import {
  isActivityTarget,
  mappingTargets,
  NO_COLUMN,
  type ColumnGuess,
  type ColumnMapping,
} from '@gray-loom/core/mapping';
import type { FieldType } from '@gray-loom/core/fields';
import { WRITE_RULES, type WriteRule } from '@gray-loom/core/writing';
import { Combobox, type Choice } from '../../ui/combobox';
import { HowItReads } from './how-it-reads';
import { TransformEditor } from './transform-editor';
import { count } from '../../ui/when';

const GROUPS: Record<string, string> = {
  permission: 'Permissions',
  name: 'Name',
  reach: 'Reach',
  work: 'Work',
  place: 'Place',
  dates: 'Dates',
  sorting: 'Sorting',
  other: 'Other',
  custom: 'Our own fields',
  opportunity: 'Opportunity',
  activity: 'Activity',
};
const LABELS = ['', 'home', 'work', 'mobile', 'fax', 'other'];
const LEAVE_OUT = '-';
/** Targets whose values are united with those that are there, whatever the rule. */
const SEVERAL = new Set(['email', 'tel', 'url', 'tags', 'externalId', 'related', 'otherDate', 'kind']);
/** Types that a field made above a column can have by what its cells look like. */
const TYPE_WORDS: Partial<Record<FieldType, string>> = {
  text: 'text',
  longText: 'long text',
  number: 'number',
  date: 'date',
  yesNo: 'yes or no',
  choice: 'choice',
};

/** What a rule does to a value that is there, in a word or two. */
export const RULE_WORDS: Record<WriteRule, string> = {
  fill: 'fills blanks',
  replace: 'replaces',
  newest: 'the newer stands',
  ask: 'asks',
};

function fixedOf({ transforms }: ColumnMapping): string {
  const fixed = transforms?.find((step) => step.kind === 'fixed');
  return fixed?.kind === 'fixed' ? fixed.value : '';
}

/** Before the number of a column whose cells say the label. */
const FROM_COLUMN = '@';

function withLabel({ labelFrom: _, ...column }: ColumnMapping, chosen: string): ColumnMapping {
  return chosen.startsWith(FROM_COLUMN)
    ? { ...column, label: null, labelFrom: Number(chosen.slice(1)) }
    : { ...column, label: chosen || null };
}

interface ColumnHeadProps {
  column: ColumnMapping;
  /** A further meaning of a column that has one already. */
  again: boolean;
  guess: ColumnGuess | undefined;
  /** The file of this layout in which the column meant the same; null where it did not. */
  before: string | null;
  stats: { filled: number; failing: number } | undefined;
  looked: number;
  lists: Lists | undefined;
  /** What its cells may say, where that is one of a few. */
  answers: readonly string[];
  headers: readonly (string | null)[];
  /** Columns that are left out, and so could say labels. */
  leftOut: readonly number[];
  /** What has its labels from this column. */
  labels: readonly string[];
  /** What the file does to values that are there; null where it may touch nobody who is here. */
  fileRule: WriteRule | null;
  /** Country (ISO 3166-1 alpha-2) that numbers without a code are of. */
  country: string;
  /** Cells in sight that fail, for translating them. */
  failingValues: string[];
  locked: boolean;
  active: boolean;
  /** 0 makes this column the active one, 1 and -1 move to its neighbours. */
  onActive: (step: number) => void;
  onChange: (column: ColumnMapping) => void;
  /** Gives the column one more meaning. */
  onAlso: () => void;
  /** Takes this further meaning, or this value for every row, away. */
  onRemove: () => void;
  onFailing: () => void;
}

/** What one column means: meaning with certainty, how it is read, how many cells fail. Walked with the arrow keys. */
export function ColumnHead({
  column,
  again,
  guess,
  before,
  stats,
  looked,
  lists,
  answers,
  headers,
  leftOut,
  labels,
  fileRule,
  country,
  failingValues,
  locked,
  active,
  onActive,
  onChange,
  onAlso,
  onRemove,
  onFailing,
}: ColumnHeadProps) {
  const cell = useRef<HTMLTableCellElement>(null);
  useEffect(() => {
    const head = cell.current;
    const focused = document.activeElement;
    // Whoever came into this column by Tab or by mouse stays where they went.
    if (active && head?.parentElement?.contains(focused) && !head.contains(focused))
      head.querySelector<HTMLButtonElement>('button')?.focus();
  }, [active]);
  const custom = (lists?.fields ?? []).filter((field) => field.key.startsWith('custom.'));
  const targets = mappingTargets(custom);
  const target = targets.find((one) => one.key === column.target);
  const type = custom.find((field) => field.key === column.target)?.type ?? target?.type;
  const newType: FieldType = guess && TYPE_WORDS[guess.type] ? guess.type : 'text';
  const choices: Choice[] = [
    { value: LEAVE_OUT, text: 'leave out' },
    // Only cards bring pictures; no cell of another file can.
    ...targets
      .filter((one) => one.key !== 'photo' || column.target === 'photo')
      .map((one) => ({ value: one.key, text: one.name, group: GROUPS[one.group] ?? 'Other' })),
  ];
  const create = (name: string) =>
    onChange({
      ...column,
      target: null,
      newField: { name, type: newType, choices: newType === 'choice' ? (guess?.choices ?? []) : [] },
    });
  const everyRow = column.column === NO_COLUMN;
  const certain =
    guess && !again && column.target && guess.field === column.target
      ? `${Math.round(guess.certainty01 * 100)}%`
      : column.target
        ? 'by you'
        : '';
  const from = before ?? (certain.endsWith('%') ? guess?.learnedFrom : undefined);
  return (
    <th
      ref={cell}
      scope="col"
      className={
        `max-w-56 min-w-36 border-r border-b-2 border-hair border-b-strong px-2.5 py-1.5 text-left align-top font-normal ` +
        `${column.target ? 'bg-page' : 'bg-ground'} ${active ? 'shadow-[inset_0_0_0_2px_var(--ink)]' : ''}`
      }
      onFocus={() => onActive(0)}
      onKeyDown={(event) => {
        if (event.target instanceof HTMLSelectElement) return;
        if (event.key === 'ArrowRight') onActive(1);
        else if (event.key === 'ArrowLeft') onActive(-1);
        else return;
        event.preventDefault();
      }}
    >
      <div className="flex gap-1.5 font-mono text-[12px] text-ink2">
        <span className="truncate" title={column.header ?? ''}>
          {everyRow ? 'every row' : column.header || <span className="text-ink3">no heading</span>}
          {again && !everyRow ? ', also' : ''}
        </span>
        {locked ? null : everyRow || again ? (
          <button
            type="button"
            className="-my-1 ml-auto min-h-6 min-w-6 text-ink3 hover:text-alarm"
            aria-label={
              everyRow ? 'Take this value away' : `Take this meaning of ${column.header ?? 'the column'} away`
            }
            onClick={onRemove}
          >
            ×
          </button>
        ) : column.target ? (
          <button
            type="button"
            className="ml-auto whitespace-nowrap text-ink3 hover:text-ink"
            title="Send this column to one more field"
            aria-label={`Send ${column.header ?? `column ${column.column + 1}`} to one more field`}
            onClick={onAlso}
          >
            + also
          </button>
        ) : null}
      </div>
      <div className="flex items-baseline gap-2">
        <Combobox
          label={
            everyRow
              ? 'Meaning of the value for every row'
              : `${again ? 'Further meaning' : 'Meaning'} of ${column.header || `column ${column.column + 1}`}`
          }
          value={column.target}
          choices={choices}
          disabled={locked}
          onChoose={(value) => onChange({ ...column, target: value === LEAVE_OUT ? null : value, newField: null })}
          onCreate={create}
          createText={(text) => `Make the field "${text}" (${TYPE_WORDS[newType]})`}
          className={`truncate ${target ? 'font-bold' : 'text-ink2'}`}
        >
          {target?.name ?? column.newField?.name ?? (everyRow || again ? 'choose a field' : 'leave out')} ▾
        </Combobox>
        <span
          className="ml-auto max-w-28 truncate text-[12px] text-ink2"
          title={from === undefined ? undefined : `as ${from} was read`}
        >
          {from === undefined ? certain : `as in ${from}`}
        </span>
      </div>
      {column.target ? (
        <div className="text-[12px] text-ink2">
          <HowItReads column={column} type={type} country={country} locked={locked} onChange={onChange} />
          {target?.labelled ? (
            <select
              aria-label="Label"
              disabled={locked}
              className="max-w-44 bg-transparent"
              value={column.labelFrom === undefined ? (column.label ?? '') : `${FROM_COLUMN}${column.labelFrom}`}
              onChange={(event) => onChange(withLabel(column, event.target.value))}
            >
              {[...new Set([...LABELS, column.label ?? ''])].map((label) => (
                <option key={label} value={label}>
                  {label ? `label: ${label}` : 'no label'}
                </option>
              ))}
              {[...new Set([...leftOut, column.labelFrom ?? column.column])]
                .filter((other) => other !== column.column)
                .map((other) => (
                  <option key={other} value={`${FROM_COLUMN}${other}`}>
                    label from {headers[other] || `column ${other + 1}`}
                  </option>
                ))}
            </select>
          ) : null}
          {fileRule && !SEVERAL.has(column.target) && !isActivityTarget(column.target) ? (
            <select
              aria-label="What happens to a value that is there"
              disabled={locked}
              className="block bg-transparent"
              value={column.rule ?? ''}
              onChange={(event) =>
                onChange({ ...column, rule: event.target.value ? (event.target.value as WriteRule) : undefined })
              }
            >
              <option value="">{RULE_WORDS[fileRule]}, as the file</option>
              {WRITE_RULES.map((rule) => (
                <option key={rule} value={rule}>
                  {RULE_WORDS[rule]}
                </option>
              ))}
            </select>
          ) : null}
          {everyRow ? (
            <FixedValue
              value={fixedOf(column)}
              choices={answers}
              locked={locked}
              onChange={(value) => onChange({ ...column, transforms: [{ kind: 'fixed', value }] })}
            />
          ) : null}
          {everyRow ? null : (
            <TransformEditor
              transforms={column.transforms ?? []}
              column={column.column}
              headers={headers}
              failing={failingValues}
              inCapitals={guess?.inCapitals === true && guess.field === column.target}
              answers={answers}
              locked={locked}
              onChange={(transforms) => onChange({ ...column, transforms })}
            />
          )}
          {stats?.failing ? (
            <div className="flex flex-wrap gap-x-2">
              <button type="button" className="link whitespace-nowrap text-alarm" onClick={onFailing}>
                {count(stats.failing)} of {count(looked)} fail
              </button>
              <select
                aria-label="What a failing cell does"
                disabled={locked}
                className="bg-transparent"
                value={column.onBad}
                onChange={(event) => onChange({ ...column, onBad: event.target.value as 'hold' | 'drop' })}
              >
                <option value="hold">hold the row</option>
                <option value="drop">drop the cell</option>
              </select>
            </div>
          ) : (
            <div className="text-ink3">{column.onBad === 'drop' ? 'failing cells are dropped' : 'none fails'}</div>
          )}
        </div>
      ) : (
        <div className="text-[12px] text-ink3">
          {labels.length ? <div className="text-ink2">says the label of {labels.join(', ')}</div> : null}
          {everyRow || again ? null : guess?.samples.length ? (
            <button
              type="button"
              className="link text-left"
              disabled={locked}
              onClick={() => create(column.header || `Column ${column.column + 1}`)}
            >
              make it a field ({TYPE_WORDS[newType]})
            </button>
          ) : (
            'empty'
          )}
        </div>
      )}
    </th>
  );
}

interface FixedValueProps {
  value: string;
  choices: readonly string[];
  locked: boolean;
  onChange: (value: string) => void;
}

/** The text that stands in every row, kept when the box is left. */
function FixedValue({ value, choices, locked, onChange }: FixedValueProps) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  // What was kept elsewhere meanwhile takes the place of what stood here.
  if (value !== seen) {
    setSeen(value);
    setText(value);
  }
  const keep = (next: string) => {
    if (next !== value) onChange(next);
  };
  if (choices.length)
    return (
      <select
        aria-label="Value for every row"
        className="field mt-0.5 w-full"
        disabled={locked}
        value={value}
        onChange={(event) => keep(event.target.value)}
      >
        <option value="">choose</option>
        {choices.map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
    );
  return (
    <input
      aria-label="Value for every row"
      placeholder="value"
      className="field mt-0.5 w-full"
      maxLength={200}
      disabled={locked}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => keep(text)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') keep(text);
      }}
    />
  );
}
