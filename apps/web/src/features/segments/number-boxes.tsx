import { useState } from 'react';
import type { NumberSpan } from '@gray-loom/core/segments';

/** A number as it is typed; undefined while it is none. */
export function NumberBox({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | undefined;
  onChange: (n: number | undefined) => void;
}) {
  const [text, setText] = useState(value === undefined || Number.isNaN(value) ? '' : String(value));
  return (
    <input
      className="field w-24"
      inputMode="decimal"
      aria-label={label}
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        const n = Number(event.target.value.replace(',', '.'));
        onChange(event.target.value.trim() === '' || Number.isNaN(n) ? undefined : n);
      }}
    />
  );
}

/** From one number to another; an end that is left empty is open. */
export function NumbersEditor({ span, onChange }: { span: NumberSpan; onChange: (span: NumberSpan) => void }) {
  const set = (key: 'from' | 'to') => (n: number | undefined) => {
    const { [key]: _old, ...rest } = span;
    onChange(n === undefined ? rest : { ...rest, [key]: n });
  };
  return (
    <>
      <NumberBox label="From" value={span.from} onChange={set('from')} />
      <span className="text-ink2">and</span>
      <NumberBox label="To" value={span.to} onChange={set('to')} />
    </>
  );
}
