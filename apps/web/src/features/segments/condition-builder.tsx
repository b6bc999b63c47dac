import {
  isGroup,
  isBlank,
  nameOfField,
  testsOf,
  type Condition,
  type Group,
  type Test,
  type TestOp,
} from '@gray-loom/core/segments';
import { useEffect, useRef } from 'react';
import { Combobox } from '../../ui/combobox';
import { count } from '../../ui/when';
import { fieldChoices, firstValue, labelChoices, newTest, OP_WORDS } from './operators';
import type { Known } from './names';
import { ValueEditor } from './value-editor';

const JOINS: [Group['join'], string][] = [
  ['all', 'all of these'],
  ['any', 'any of these'],
  ['none', 'none of these'],
];

interface BuilderProps {
  condition: Group;
  known: Known;
  /** How many each test lets through alone, in the order in which they stand; what is not counted yet is missing. */
  counts?: readonly number[] | undefined;
  isEstimate?: boolean;
  onChange: (condition: Group) => void;
}

/** Conditions in words: each a line that reads as a sentence, groups indented below their word. */
export function ConditionBuilder({ condition, known, counts, isEstimate = false, onChange }: BuilderProps) {
  const places = new Map<Test, number>();
  numberTests(condition, places);
  const shown = (test: Test) => {
    const n = counts?.[places.get(test) ?? -1];
    return n === undefined ? '' : `${isEstimate ? 'about ' : ''}${count(n)}`;
  };
  return <GroupEditor group={condition} known={known} countOf={shown} level={0} onChange={onChange} />;
}

function numberTests(condition: Condition, places: Map<Test, number>): void {
  if (isGroup(condition)) condition.of.forEach((one) => numberTests(one, places));
  else places.set(condition, places.size);
}

/** A list in which one is another, or gone. */
const replaced = <T,>(list: readonly T[], at: number, next: T | null): T[] =>
  list.flatMap((one, i) => (i === at ? (next === null ? [] : [next]) : [one]));

interface GroupEditorProps {
  group: Group;
  known: Known;
  countOf: (test: Test) => string;
  level: number;
  onChange: (group: Group) => void;
  onRemove?: () => void;
}

function GroupEditor({ group, known, countOf, level, onChange, onRemove }: GroupEditorProps) {
  const { join, of } = group;
  const set = (at: number, next: Condition | null) => onChange({ join, of: replaced(of, at, next) });
  const lines = useRef<HTMLDivElement>(null);
  const foot = useRef<HTMLDivElement>(null);
  const isAdded = useRef(false);
  const add = (one: Condition) => {
    isAdded.current = true;
    onChange({ join, of: [...of, one] });
  };
  // What was just added is what one goes on with; the list it was chosen from gives the focus back first.
  useEffect(() => {
    if (!isAdded.current) return;
    isAdded.current = false;
    const timer = setTimeout(() => {
      // Whoever went on elsewhere meanwhile is not called back.
      const active = document.activeElement;
      if (active !== document.body && !foot.current?.contains(active)) return;
      const added = lines.current?.lastElementChild;
      added?.querySelector<HTMLElement>('[data-first]')?.focus();
    }, 60);
    return () => clearTimeout(timer);
  }, [of.length]);
  return (
    <div
      role="group"
      aria-label={JOINS.find(([key]) => key === join)?.[1]}
      className={level ? 'my-1 border-l-2 border-dashed border-strong pl-3' : ''}
    >
      <div className="flex items-center gap-2 py-1">
        <select
          className="field font-semibold"
          data-first={level ? '' : undefined}
          aria-label="How these are joined"
          value={join}
          onChange={(event) => onChange({ join: event.target.value as Group['join'], of })}
        >
          {JOINS.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        {onRemove ? (
          <button
            type="button"
            className="min-h-6 px-1 text-ink3 hover:text-ink"
            aria-label="Take the group out"
            onClick={onRemove}
          >
            ×
          </button>
        ) : null}
      </div>
      <div ref={lines}>
        {of.map((one, at) =>
          isGroup(one) ? (
            <GroupEditor
              key={at}
              group={one}
              known={known}
              countOf={countOf}
              level={level + 1}
              onChange={(next) => set(at, next)}
              onRemove={() => set(at, null)}
            />
          ) : (
            <TestLine
              key={`${at} ${one.field} ${one.op}`}
              test={one}
              known={known}
              shown={countOf(one)}
              onChange={(next) => set(at, next)}
              onRemove={() => set(at, null)}
            />
          ),
        )}
      </div>
      <div ref={foot} className="flex gap-3 py-1">
        <Combobox
          label="Add a condition"
          value={null}
          choices={fieldChoices(known)}
          className="text-ink2 hover:text-ink"
          onChoose={(field) => add(newTest(field, known))}
        >
          + condition
        </Combobox>
        {level < 6 ? (
          <button
            type="button"
            className="text-ink2 hover:text-ink"
            onClick={() => add({ join: join === 'any' ? 'all' : 'any', of: [] })}
          >
            + group
          </button>
        ) : null}
      </div>
    </div>
  );
}

interface TestLineProps {
  test: Test;
  known: Known;
  /** How many it lets through alone, in words. */
  shown: string;
  onChange: (test: Test) => void;
  onRemove: () => void;
}

function TestLine({ test, known, shown, onChange, onRemove }: TestLineProps) {
  const { field, label, op, not, value } = test;
  const ops = testsOf(field, known.catalogue);
  const labels = labelChoices(field, known);
  const needsLabel = field === '@permission' || field === '@sync';
  const name = nameOfField(field, known);
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1 border-b border-hair py-1.5">
      <Combobox
        label={`What is asked for: ${name}`}
        value={field}
        choices={fieldChoices(known)}
        className="min-h-6 font-semibold hover:underline"
        onChoose={(next) => (next === field ? undefined : onChange(newTest(next, known)))}
      >
        {name}
      </Combobox>
      {labels ? (
        <select
          className="field"
          aria-label={field === 'related' ? 'Who they are' : needsLabel ? 'Which' : 'Label'}
          value={label ?? ''}
          onChange={(event) => {
            const { label: _old, ...rest } = test;
            onChange(event.target.value ? { ...rest, label: event.target.value } : rest);
          }}
        >
          {needsLabel ? null : <option value="">{field === 'related' ? 'anybody' : 'any label'}</option>}
          {labels.map((one) => (
            <option key={one.value} value={one.value}>
              {one.text}
            </option>
          ))}
        </select>
      ) : null}
      <select
        className="field"
        data-first=""
        aria-label="How it compares"
        value={`${not ? '!' : ''}${op}`}
        onChange={(event) => {
          const isNot = event.target.value.startsWith('!');
          const next = event.target.value.replace('!', '') as TestOp;
          const { not: _old, value: _value, ...rest } = test;
          const keeps = next === op || (isText(next) && isText(op)) || (isNumbers(next) && isNumbers(op));
          const nextValue = keeps ? value : firstValue(next, field);
          onChange({
            ...rest,
            op: next,
            ...(nextValue === undefined ? {} : { value: nextValue }),
            ...(isNot ? { not: true as const } : {}),
          });
        }}
      >
        {ops.flatMap((one) => {
          const [is, isNot] = OP_WORDS[one];
          return [
            <option key={one} value={one}>
              {wordsFor(field, is)}
            </option>,
            ...(isNot
              ? [
                  <option key={`!${one}`} value={`!${one}`}>
                    {wordsFor(field, isNot)}
                  </option>,
                ]
              : []),
          ];
        })}
      </select>
      <ValueEditor
        key={isBlank(value) ? 'blank' : op}
        test={test}
        known={known}
        onChange={(next) => onChange({ ...test, value: next })}
      />
      <span className="ml-auto flex items-center gap-2">
        <span className="text-[12px] text-ink2 tabular-nums" title="How many this lets through alone">
          {shown}
        </span>
        <button
          type="button"
          aria-label={`Take away: ${name}`}
          className="min-h-6 min-w-6 text-ink3 hover:text-ink"
          onClick={onRemove}
        >
          ×
        </button>
      </span>
    </div>
  );
}

const isText = (op: TestOp) => op === 'contains' || op === 'begins';
const isNumbers = (op: TestOp) => op === 'number' || op === 'overlaps';

/** Some subjects read better with words of their own. */
function wordsFor(field: string, words: string): string {
  if (field === '@segment') return words === 'is' ? 'in' : 'not in';
  if (field === '@created' || field === '@changed')
    return words.replace('is on or between', 'on').replace('is not on', 'not on');
  return words;
}
