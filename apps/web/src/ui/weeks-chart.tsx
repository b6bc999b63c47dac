import type { ThreadKind, WeekCount } from '@gray-loom/wire';
import { BarChart } from './bar-chart';
import { THREAD_COLOURS, THREAD_NAMES } from './thread-swatch';

const KINDS = Object.keys(THREAD_NAMES) as ThreadKind[];

/** A count per week, stacked by kind of thread. */
export function WeeksChart({ weeks, caption, empty }: { weeks: WeekCount[]; caption: string; empty: string }) {
  const used = KINDS.filter((kind) => weeks.some((week) => week.byThread[kind]));
  if (!used.length) return <p className="py-6 text-ink2">{empty}</p>;
  return (
    <BarChart
      caption={caption}
      names={weeks.map((week) => week.start)}
      labels={weeks.map((week, i) =>
        i % 2 ? '' : new Date(week.start).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' }),
      )}
      series={used.map((kind) => ({
        name: THREAD_NAMES[kind],
        colour: THREAD_COLOURS[kind],
        data: weeks.map((week) => week.byThread[kind] ?? 0),
      }))}
    />
  );
}
