import { useMemo, useState } from 'react';
import { nearMisses } from '@gray-loom/core/quality';
import { Button, Heading } from '../../ui/controls';
import { count } from '../../ui/when';

interface Counted {
  label: string;
  count: number;
}

/** Pairs of values that are much alike, the more used one first. */
function pairsAlike(items: readonly Counted[]): [Counted, Counted][] {
  const labels = items.map((item) => item.label);
  const byLabel = new Map(items.map((item) => [item.label, item]));
  const pairs: [Counted, Counted][] = [];
  for (const item of items)
    for (const { label } of nearMisses(item.label, labels)) {
      const other = byLabel.get(label);
      if (!other || pairs.some(([a, b]) => a === other && b === item)) continue;
      if (pairs.some(([a, b]) => a === item && b === other)) continue;
      pairs.push(other.count >= item.count ? [other, item] : [item, other]);
    }
  return pairs;
}

const SHOWN = 12;

interface MuchAlikeProps {
  items: readonly Counted[];
  enabled?: boolean;
  busy: boolean;
  onMerge: (from: string, into: string) => void;
}

/** Values of a list that may be one, each pair with a step that makes them one; nothing where there are none. */
export function MuchAlike({ items, enabled = true, busy, onMerge }: MuchAlikeProps) {
  const [all, setAll] = useState(false);
  const pairs = useMemo(() => (enabled ? pairsAlike(items) : []), [items, enabled]);
  if (!pairs.length) return null;
  return (
    <section>
      <Heading aside={pairs.length}>Much alike</Heading>
      <ul>
        {pairs.slice(0, all ? undefined : SHOWN).map(([into, from]) => (
          <li key={`${into.label}:${from.label}`} className="flex items-baseline gap-2 border-b border-hair py-1">
            <span>
              {from.label} <span className="text-ink2">{count(from.count)}</span> and {into.label}{' '}
              <span className="text-ink2">{count(into.count)}</span>
            </span>
            <Button className="ml-auto" busy={busy} onClick={() => onMerge(from.label, into.label)}>
              Merge into {into.label}
            </Button>
          </li>
        ))}
      </ul>
      {!all && pairs.length > SHOWN ? (
        <Button className="mt-1" onClick={() => setAll(true)}>
          Show all {count(pairs.length)}
        </Button>
      ) : null}
    </section>
  );
}

/** Items in the order of labels. */
export function inOrder<T extends { label: string }>(items: readonly T[], labels: readonly string[]): T[] {
  return [...items].sort((a, b) => labels.indexOf(a.label) - labels.indexOf(b.label));
}

/** Moves a value of a list by one place. */
export function Step({ text, sign, off, onClick }: { text: string; sign: string; off: boolean; onClick: () => void }) {
  return (
    <button
      type="button"
      aria-label={text}
      disabled={off}
      className="min-h-6 min-w-6 text-ink2 hover:text-ink disabled:opacity-30"
      onClick={onClick}
    >
      {sign}
    </button>
  );
}
