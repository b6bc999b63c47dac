import { useEffect, useRef } from 'react';
import type ApexCharts from 'apexcharts';
import { usePreferences } from '../app/preferences';

export interface Bars {
  name: string;
  /** A colour of the theme, as "var(--woad)". */
  colour: string;
  data: number[];
}

/** Stacked bars over time; a table says the same to whoever cannot see them. `labels` may be blank where there is no room. */
export function BarChart({
  labels,
  names,
  series,
  caption,
  height = 190,
}: {
  labels: string[];
  /** What each bar stands for, in full. */
  names: string[];
  series: Bars[];
  caption: string;
  height?: number;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const { theme } = usePreferences();
  const shown = JSON.stringify({ labels, series });
  useEffect(() => {
    let chart: ApexCharts | null = null;
    let gone = false;
    void import('apexcharts').then(({ default: Chart }) => {
      if (gone || !frame.current) return;
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string) => style.getPropertyValue(name.replace(/^var\(|\)$/g, '')).trim();
      const { labels: categories, series: bars } = JSON.parse(shown) as { labels: string[]; series: Bars[] };
      chart = new Chart(frame.current, {
        chart: {
          type: 'bar',
          height,
          stacked: true,
          toolbar: { show: false },
          animations: { enabled: false },
          background: 'transparent',
          fontFamily: 'inherit',
          foreColor: colour('--ink2'),
        },
        series: bars.map(({ name, data }) => ({ name, data })),
        colors: bars.map((bar) => colour(bar.colour)),
        fill: { type: 'solid' },
        plotOptions: { bar: { columnWidth: '62%', borderRadius: 0 } },
        dataLabels: { enabled: false },
        grid: { borderColor: colour('--hair'), strokeDashArray: 0 },
        xaxis: {
          categories,
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
  }, [shown, theme, height]);
  return (
    <>
      <div ref={frame} aria-hidden="true" style={{ minHeight: height }} />
      {/* A table takes the width of its words; only what holds it can be clipped. */}
      <div className="sr-only">
        <table>
          <caption>{caption}</caption>
          <tbody>
            {names.map((name, i) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td>{series.map((bar) => `${bar.name} ${bar.data[i] ?? 0}`).join(', ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
