import { useEffect, useRef } from 'react';
import type ApexCharts from 'apexcharts';
import type { ThreadKind, WeekCount } from '@gray-loom/wire';
import { usePreferences } from '../app/preferences';
import { THREAD_COLOURS, THREAD_NAMES } from './thread-swatch';

const KINDS = Object.keys(THREAD_NAMES) as ThreadKind[];

/** A count per week, stacked by kind of thread; a table says the same to whoever cannot see it. */
export function WeeksChart({ weeks, caption, empty }: { weeks: WeekCount[]; caption: string; empty: string }) {
  const frame = useRef<HTMLDivElement>(null);
  const { theme } = usePreferences();
  const used = KINDS.filter((kind) => weeks.some((week) => week.byThread[kind]));
  const data = JSON.stringify(weeks);
  useEffect(() => {
    let chart: ApexCharts | null = null;
    let gone = false;
    void import('apexcharts').then(({ default: Chart }) => {
      if (gone || !frame.current) return;
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string) => style.getPropertyValue(name.replace(/^var\(|\)$/g, '')).trim();
      const shown = JSON.parse(data) as WeekCount[];
      const kinds = KINDS.filter((kind) => shown.some((week) => week.byThread[kind]));
      chart = new Chart(frame.current, {
        chart: {
          type: 'bar',
          height: 190,
          stacked: true,
          toolbar: { show: false },
          animations: { enabled: false },
          background: 'transparent',
          fontFamily: 'inherit',
          foreColor: colour('--ink2'),
        },
        series: kinds.map((kind) => ({
          name: THREAD_NAMES[kind],
          data: shown.map((week) => week.byThread[kind] ?? 0),
        })),
        colors: kinds.map((kind) => colour(THREAD_COLOURS[kind])),
        fill: { type: 'solid' },
        plotOptions: { bar: { columnWidth: '62%', borderRadius: 0 } },
        dataLabels: { enabled: false },
        grid: { borderColor: colour('--hair'), strokeDashArray: 0 },
        xaxis: {
          categories: shown.map((week, i) =>
            i % 2 ? '' : new Date(week.start).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' }),
          ),
          axisTicks: { show: false },
          axisBorder: { color: colour('--strong') },
          tickAmount: 6,
          labels: { rotate: 0, hideOverlappingLabels: true, style: { fontSize: '11px' } },
        },
        yaxis: { labels: { formatter: (value: number) => Math.round(value).toLocaleString('en-GB') } },
        legend: { position: 'bottom', horizontalAlign: 'left', markers: { size: 5, shape: 'square' } },
        tooltip: { theme: document.documentElement.dataset.theme ?? 'light' },
        states: { hover: { filter: { type: 'none' } } },
      });
      void chart.render();
    });
    return () => {
      gone = true;
      chart?.destroy();
    };
  }, [data, theme]);
  if (!used.length) return <p className="py-6 text-ink2">{empty}</p>;
  return (
    <>
      <div ref={frame} aria-hidden="true" className="min-h-48" />
      <table className="sr-only">
        <caption>{caption}</caption>
        <tbody>
          {weeks.map((week) => (
            <tr key={week.start}>
              <th scope="row">{week.start}</th>
              <td>{used.map((kind) => `${THREAD_NAMES[kind]} ${week.byThread[kind] ?? 0}`).join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
