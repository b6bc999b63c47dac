import { useState } from 'react';
import {
  isBlank,
  type ActivitySpan,
  type DaySpan,
  type NumberSpan,
  type Test,
  type TestValue,
} from '@gray-loom/core/segments';
import { Combobox } from '../../ui/combobox';
import type { Known } from './names';
import { valueChoices } from './operators';
import { ActivityEditor } from './activity-editor';
import { NumbersEditor, NumberBox } from './number-boxes';
import { SpanEditor } from './span-editor';

interface ValueEditorProps {
  test: Test;
  known: Known;
  onChange: (value: TestValue) => void;
}

const MONTHS = 'January February March April May June July August September October November December'.split(' ');
/** Comparisons whose value can be asked for on opening. */
const ASKABLE = ['is', 'contains', 'begins', 'holds', 'number', 'overlaps'];

/** What a test compares with: chosen, typed, or asked for when the segment is opened. */
export function ValueEditor({ test, known, onChange }: ValueEditorProps) {
  const { op, value, field } = test;
  if (isBlank(value))
    return (
      <label className="flex items-center gap-1.5">
        <span className="text-ink2">asked on opening:</span>
        <input
          className="field w-40"
          aria-label="The question that is asked"
          placeholder="boat length?"
          value={value.ask}
          onChange={(event) => onChange({ ask: event.target.value })}
        />
      </label>
    );
  const editor = editorOf(test, known, onChange);
  return (
    <>
      {editor}
      {ASKABLE.includes(op) && !field.startsWith('@') ? (
        <button
          type="button"
          className="text-[12px] text-ink3 underline hover:text-ink"
          onClick={() => onChange({ ask: `${known.field(field)}?` })}
        >
          ask on opening
        </button>
      ) : null}
    </>
  );
}

function editorOf({ op, value, field }: Test, known: Known, onChange: (value: TestValue) => void) {
  switch (op) {
    case 'is':
      return <ListEditor field={field} values={value as string[]} known={known} onChange={onChange} />;
    case 'contains':
    case 'begins':
      return (
        <input
          className="field w-44"
          aria-label="Text to compare with"
          value={value as string}
          onChange={(event) => onChange(event.target.value)}
        />
      );
    case 'number':
    case 'overlaps':
      return <NumbersEditor span={value as NumberSpan} onChange={onChange} />;
    case 'holds':
      return <NumberBox label="Number" value={value as number} onChange={(n) => onChange(n ?? Number.NaN)} />;
    case 'did':
      return <ActivityEditor asked={value as ActivitySpan} onChange={onChange} />;
    case 'span':
      return <SpanEditor span={value as DaySpan} onChange={onChange} />;
    case 'year':
    case 'comes':
      return (
        <>
          <NumberBox
            label={op === 'year' ? 'Year' : 'Days'}
            value={value as number}
            onChange={(n) => onChange(n ?? Number.NaN)}
          />
          {op === 'comes' ? <span className="text-ink2">days, whatever the year</span> : null}
        </>
      );
    case 'month':
      return (
        <select
          className="field"
          aria-label="Month"
          value={value as number}
          onChange={(event) => onChange(Number(event.target.value))}
        >
          {MONTHS.map((name, i) => (
            <option key={name} value={i + 1}>
              {name}
            </option>
          ))}
        </select>
      );
    case 'day':
      return <DayEditor day={value as string} onChange={onChange} />;
    default:
      return null;
  }
}

function DayEditor({ day, onChange }: { day: string; onChange: (day: string) => void }) {
  const [month, date] = day === 'today' ? ['', ''] : day.split('-');
  return (
    <>
      <select
        className="field"
        aria-label="Day of the year"
        value={day === 'today' ? 'today' : 'day'}
        onChange={(event) => onChange(event.target.value === 'today' ? 'today' : '01-01')}
      >
        <option value="today">today</option>
        <option value="day">a day</option>
      </select>
      {day === 'today' ? null : (
        <>
          <input
            className="field w-14"
            aria-label="Day"
            value={Number(date)}
            onChange={(event) =>
              onChange(`${month}-${event.target.value.replace(/\D/g, '').slice(-2).padStart(2, '0')}`)
            }
          />
          <select
            className="field"
            aria-label="Month"
            value={month}
            onChange={(event) => onChange(`${event.target.value}-${date}`)}
          >
            {MONTHS.map((name, i) => (
              <option key={name} value={String(i + 1).padStart(2, '0')}>
                {name}
              </option>
            ))}
          </select>
        </>
      )}
    </>
  );
}

/** One or more values, any of which may hold. */
function ListEditor({
  field,
  values,
  known,
  onChange,
}: {
  field: string;
  values: string[];
  known: Known;
  onChange: (values: string[]) => void;
}) {
  const choices = valueChoices(field, known);
  const [typed, setTyped] = useState('');
  const add = (text: string) => {
    const value = text.trim();
    if (value && !values.includes(value)) onChange([...values, value]);
    setTyped('');
  };
  return (
    <span className="flex flex-wrap items-center gap-1">
      {values.map((value, i) => (
        <span key={value} className="inline-flex items-center gap-1">
          {i ? <span className="text-ink2">or</span> : null}
          <span className="inline-flex items-center rounded-loom border border-strong bg-page pl-1.5 font-semibold">
            {choices?.find((one) => one.value === value)?.text ?? known.value(field, value)}
            <button
              type="button"
              aria-label={`Take away ${known.value(field, value)}`}
              className="min-h-6 px-1.5 text-ink3 hover:text-ink"
              onClick={() => onChange(values.filter((one) => one !== value))}
            >
              ×
            </button>
          </span>
        </span>
      ))}
      {choices ? (
        <Combobox
          label={values.length ? 'Another value' : 'Choose a value'}
          value={null}
          choices={choices.filter(({ value }) => !values.includes(value))}
          className="min-h-6 rounded-loom border border-dashed border-strong px-1.5 text-ink2 hover:text-ink"
          onChoose={add}
        >
          {values.length ? '+ or' : 'choose'}
        </Combobox>
      ) : (
        <input
          className="field w-36"
          aria-label={values.length ? 'Another value' : 'Value'}
          placeholder={values.length ? 'or' : ''}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => add(typed)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || !typed.trim()) return;
            event.preventDefault();
            add(typed);
          }}
        />
      )}
    </span>
  );
}
