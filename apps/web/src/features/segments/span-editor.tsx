import type { DayBound, DaySpan } from '@gray-loom/core/segments';

type Relative = Exclude<DayBound, string>;
type Shape = 'last' | 'next' | 'ago' | 'ahead' | 'between';

const SHAPES: [Shape, string][] = [
  ['last', 'in the last'],
  ['next', 'in the next'],
  ['ago', 'longer ago than'],
  ['ahead', 'later than in'],
  ['between', 'from … to'],
];
const UNITS: Relative['unit'][] = ['day', 'month', 'year'];

const isRelative = (bound: DayBound | undefined): bound is Relative => typeof bound === 'object' && bound !== null;

function shapeOf({ from, to }: DaySpan): Shape {
  if (isRelative(from) && isRelative(to)) return to.n === 0 ? 'last' : 'next';
  if (isRelative(to)) return 'ago';
  return isRelative(from) ? 'ahead' : 'between';
}

function spanOf(shape: Shape, n: number, unit: Relative['unit']): DaySpan {
  const none = { n: 0, unit: 'day' } as const;
  switch (shape) {
    case 'last':
      return { from: { n: -n, unit }, to: none };
    case 'next':
      return { from: none, to: { n, unit } };
    case 'ago':
      return { to: { n: -n, unit } };
    case 'ahead':
      return { from: { n, unit } };
    case 'between':
      return {};
  }
}

/** Days: counted from today, or from one date to another. */
export function SpanEditor({ span, onChange }: { span: DaySpan; onChange: (span: DaySpan) => void }) {
  const shape = shapeOf(span);
  const counted = [span.from, span.to].find((bound) => isRelative(bound) && bound.n !== 0);
  const { n, unit } = isRelative(counted)
    ? { n: Math.abs(counted.n), unit: counted.unit }
    : { n: 6, unit: 'month' as const };
  const date = (bound: DayBound | undefined) => (typeof bound === 'string' ? bound : '');
  const set = (key: 'from' | 'to', day: string) => {
    const { [key]: _old, ...rest } = span;
    onChange(day ? { ...rest, [key]: day } : rest);
  };
  return (
    <>
      <select
        className="field"
        aria-label="Which days"
        value={shape}
        onChange={(event) => onChange(spanOf(event.target.value as Shape, n, unit))}
      >
        {SHAPES.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      {shape === 'between' ? (
        <>
          <input
            type="date"
            className="field"
            aria-label="From"
            value={date(span.from)}
            onChange={(event) => set('from', event.target.value)}
          />
          <span className="text-ink2">to</span>
          <input
            type="date"
            className="field"
            aria-label="To"
            value={date(span.to)}
            onChange={(event) => set('to', event.target.value)}
          />
        </>
      ) : (
        <>
          <input
            className="field w-16"
            inputMode="numeric"
            aria-label="How many"
            value={n}
            onChange={(event) => onChange(spanOf(shape, Number(event.target.value.replace(/\D/g, '')) || 1, unit))}
          />
          <select
            className="field"
            aria-label="Days, months or years"
            value={unit}
            onChange={(event) => onChange(spanOf(shape, n, event.target.value as Relative['unit']))}
          >
            {UNITS.map((one) => (
              <option key={one} value={one}>
                {n === 1 ? one : `${one}s`}
              </option>
            ))}
          </select>
        </>
      )}
    </>
  );
}
