import { Popover } from 'radix-ui';
import { useState } from 'react';
import { TRANSFORM_KINDS, type Transform } from '@gray-loom/core/mapping';
import { Button } from '../../ui/controls';

const KINDS: Record<Transform['kind'], string> = {
  case: 'capitals and small letters',
  replace: 'replace a text',
  part: 'take one part',
  values: 'translate values',
  join: 'join another column behind',
  zeros: 'zeros in front',
  letters: 'mend broken letters',
  ifEmpty: 'when empty, use',
  fixed: 'the same in every row',
};
const CASES = { name: 'as a name (ANA REIS → Ana Reis)', capitals: 'all capitals', small: 'all small' } as const;

function fresh(kind: Transform['kind'], column: number, failing: string[]): Transform {
  switch (kind) {
    case 'case':
      return { kind, to: 'name' };
    case 'replace':
      return { kind, find: '', with: '' };
    case 'part':
      return { kind, separator: ',', nth: 1 };
    case 'values':
      return { kind, pairs: (failing.length ? failing : ['']).map((value) => [value, '']) };
    case 'join':
      return { kind, column: column + 1, with: ' ' };
    case 'zeros':
      return { kind, places: 5 };
    case 'letters':
      return { kind };
    case 'ifEmpty':
      return { kind, use: '' };
    case 'fixed':
      return { kind, value: '' };
  }
}

interface TransformEditorProps {
  transforms: Transform[];
  column: number;
  headers: readonly (string | null)[];
  failing: string[];
  /** Whether names stand in the column all in capitals. */
  inCapitals?: boolean;
  /** What cells may say, where that is one of a few. */
  answers: readonly string[];
  locked: boolean;
  onChange: (transforms: Transform[]) => void;
}

/** The steps a column's cells go through before they are read; the cells below show what becomes of them. */
export function TransformEditor({
  transforms,
  column,
  headers,
  failing,
  inCapitals = false,
  answers,
  locked,
  onChange,
}: TransformEditorProps) {
  const [steps, setSteps] = useState<Transform[] | null>(null);
  const draft = steps ?? transforms;
  const set = (at: number, step: Transform | null) =>
    setSteps(draft.flatMap((one, i) => (i === at ? (step ? [step] : []) : [one])));
  return (
    <Popover.Root
      open={steps !== null}
      onOpenChange={(open) => {
        if (open) setSteps(transforms);
        else setSteps(null);
      }}
    >
      <Popover.Trigger
        disabled={locked}
        className="block text-left hover:text-ink disabled:opacity-60"
        aria-label={`Steps before column ${headers[column] ?? column + 1} is read`}
      >
        {transforms.length ? transforms.map((one) => KINDS[one.kind]).join(', then ') : 'cells as they are'} ▾
      </Popover.Trigger>
      {failing.length && answers.length && !transforms.some(({ kind }) => kind === 'values') ? (
        <button
          type="button"
          className="link block text-left"
          disabled={locked}
          onClick={() => setSteps([...transforms, fresh('values', column, failing)])}
        >
          say what they mean
        </button>
      ) : null}
      {inCapitals && !transforms.some(({ kind }) => kind === 'case') ? (
        <button
          type="button"
          className="link block text-left"
          disabled={locked}
          aria-label={`Write ${headers[column] ?? `column ${column + 1}`} as names, not in capitals`}
          onClick={() => onChange([...transforms, { kind: 'case', to: 'name' }])}
        >
          in capitals: write as names
        </button>
      ) : null}
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-40 max-h-[70vh] w-96 overflow-y-auto border border-strong bg-page p-3"
          aria-label="Steps before the column is read"
        >
          <form
            className="space-y-2"
            onSubmit={(event) => {
              event.preventDefault();
              onChange(draft);
              setSteps(null);
            }}
          >
            {draft.length === 0 ? <p className="text-ink2">Cells are read as they are.</p> : null}
            <ol className="space-y-2">
              {draft.map((step, at) => (
                <li key={at} className="border-b border-hair pb-2">
                  <div className="flex items-baseline">
                    <span className="text-[12.5px] text-ink2">{KINDS[step.kind]}</span>
                    <button
                      type="button"
                      className="ml-auto min-h-6 min-w-6 text-ink3 hover:text-alarm"
                      aria-label={`Leave out: ${KINDS[step.kind]}`}
                      onClick={() => set(at, null)}
                    >
                      ×
                    </button>
                  </div>
                  <StepFields
                    step={step}
                    column={column}
                    headers={headers}
                    answers={answers}
                    onChange={(next) => set(at, next)}
                  />
                </li>
              ))}
            </ol>
            <select
              aria-label="Add a step"
              className="field w-full"
              value=""
              onChange={(event) =>
                setSteps([...draft, fresh(event.target.value as Transform['kind'], column, failing)])
              }
            >
              <option value="">add a step…</option>
              {TRANSFORM_KINDS.map((kind) => (
                <option key={kind} value={kind}>
                  {KINDS[kind]}
                </option>
              ))}
            </select>
            <div className="flex gap-2">
              <Button kind="action" type="submit">
                Use these steps
              </Button>
              <Button kind="quiet" onClick={() => setSteps(null)}>
                Cancel
              </Button>
            </div>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface StepProps {
  step: Transform;
  column: number;
  headers: readonly (string | null)[];
  answers: readonly string[];
  onChange: (step: Transform) => void;
}

function StepFields({ step, column, headers, answers, onChange }: StepProps) {
  const box = (label: string, value: string, put: (text: string) => void, width = 'min-w-0 flex-1') => (
    <input
      aria-label={label}
      placeholder={label}
      maxLength={200}
      className={`field ${width}`}
      value={value}
      onChange={(event) => put(event.target.value)}
    />
  );
  switch (step.kind) {
    case 'case':
      return (
        <select
          aria-label="Letters"
          className="field w-full"
          value={step.to}
          onChange={(event) => onChange({ ...step, to: event.target.value as keyof typeof CASES })}
        >
          {Object.entries(CASES).map(([to, text]) => (
            <option key={to} value={to}>
              {text}
            </option>
          ))}
        </select>
      );
    case 'replace':
      return (
        <div className="flex gap-1.5">
          {box('this text', step.find, (find) => onChange({ ...step, find }))}
          {box('by this one', step.with, (text) => onChange({ ...step, with: text }))}
        </div>
      );
    case 'part':
      return (
        <div className="flex items-center gap-1.5">
          {box('parted by', step.separator, (separator) => onChange({ ...step, separator }), 'w-24')}
          <select
            aria-label="Which part"
            className="field min-w-0 flex-1"
            value={step.nth}
            onChange={(event) => onChange({ ...step, nth: Number(event.target.value) })}
          >
            <option value={1}>the first part</option>
            <option value={2}>the second part</option>
            <option value={3}>the third part</option>
            <option value={-1}>the last part</option>
          </select>
        </div>
      );
    case 'values':
      return <ValuePairs pairs={step.pairs} answers={answers} onChange={(pairs) => onChange({ ...step, pairs })} />;
    case 'join':
      return (
        <div className="flex gap-1.5">
          <select
            aria-label="Which column"
            className="field min-w-0 flex-1"
            value={step.column}
            onChange={(event) => onChange({ ...step, column: Number(event.target.value) })}
          >
            {headers.map((header, i) =>
              i === column ? null : (
                <option key={i} value={i}>
                  {header || `column ${i + 1}`}
                </option>
              ),
            )}
          </select>
          {box('between them', step.with, (text) => onChange({ ...step, with: text }), 'w-28')}
        </div>
      );
    case 'zeros':
      return (
        <label className="flex items-center gap-1.5 text-[12.5px] text-ink2">
          up to
          <input
            type="number"
            min={2}
            max={20}
            required
            aria-label="Digits"
            className="field w-16"
            value={step.places || ''}
            onChange={(event) => onChange({ ...step, places: event.target.valueAsNumber || 0 })}
          />
          digits: {'7'.padStart(step.places, '0')} for 7
        </label>
      );
    case 'letters':
      return <p className="text-[12.5px] text-ink3">JosÃ© and Jos&amp;eacute; become José</p>;
    case 'ifEmpty':
      return box('value', step.use, (use) => onChange({ ...step, use }), 'w-full');
    case 'fixed':
      return box('value', step.value, (value) => onChange({ ...step, value }), 'w-full');
  }
}

interface ValuePairsProps {
  pairs: [string, string][];
  answers: readonly string[];
  onChange: (pairs: [string, string][]) => void;
}

function ValuePairs({ pairs, answers, onChange }: ValuePairsProps) {
  const set = (at: number, side: 0 | 1, text: string) =>
    onChange(pairs.map((pair, i) => (i === at ? (side ? [pair[0], text] : [text, pair[1]]) : pair)));
  return (
    <div className="space-y-1">
      {pairs.map(([from, to], at) => (
        <div key={at} className="flex items-center gap-1.5">
          <input
            aria-label={`Value ${at + 1}`}
            placeholder="an empty cell"
            className="field min-w-0 flex-1"
            value={from}
            onChange={(event) => set(at, 0, event.target.value)}
          />
          <span aria-hidden>→</span>
          {answers.length && (to === '' || answers.includes(to)) ? (
            <select
              aria-label={`Value ${at + 1} becomes`}
              className="field min-w-0 flex-1"
              value={to}
              onChange={(event) => set(at, 1, event.target.value)}
            >
              <option value="">nothing</option>
              {answers.map((answer) => (
                <option key={answer} value={answer}>
                  {answer}
                </option>
              ))}
            </select>
          ) : (
            <input
              aria-label={`Value ${at + 1} becomes`}
              placeholder="nothing"
              className="field min-w-0 flex-1"
              value={to}
              onChange={(event) => set(at, 1, event.target.value)}
            />
          )}
        </div>
      ))}
      <button type="button" className="text-ink2 hover:text-ink" onClick={() => onChange([...pairs, ['', '']])}>
        + value
      </button>
    </div>
  );
}
