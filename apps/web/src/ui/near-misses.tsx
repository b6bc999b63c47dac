import { useMemo } from 'react';
import { nearMisses } from '@gray-loom/core/quality';

/** Says before a new value of a pick-list is made that one much like it exists. */
export function NearMisses({
  typed,
  labels,
  what,
  onChoose,
}: {
  typed: string;
  labels: readonly string[];
  what: string;
  onChoose: (label: string) => void;
}) {
  const near = useMemo(() => {
    const text = typed.trim();
    return text.length < 2 || labels.includes(text) ? [] : nearMisses(text, labels);
  }, [typed, labels]);
  const text = typed.trim();
  if (!text || labels.includes(text)) return null;
  return (
    <p className="mt-0.5 text-[12px] text-ink2" role="status">
      {near.length ? 'Here already: ' : `"${text}" will be a new ${what.toLowerCase()}.`}
      {near.map(({ label }) => (
        <button key={label} type="button" className="link mr-2 font-semibold" onClick={() => onChoose(label)}>
          {label}
        </button>
      ))}
    </p>
  );
}
