import { useChart } from './use-chart';

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
  const frame = useChart(JSON.stringify({ labels, series, height }), (colour) => ({
    chart: { type: 'bar', height, stacked: true },
    series: series.map(({ name, data }) => ({ name, data })),
    colors: series.map((bar) => colour(bar.colour)),
    plotOptions: { bar: { columnWidth: '62%', borderRadius: 0 } },
    xaxis: {
      categories: labels,
      axisTicks: { show: false },
      axisBorder: { color: colour('--strong') },
      tickAmount: 6,
      labels: { rotate: 0, hideOverlappingLabels: true, style: { fontSize: '11px' } },
    },
    yaxis: { labels: { formatter: (value: number) => Math.round(value).toLocaleString('en-GB') } },
    legend: { position: 'bottom', horizontalAlign: 'left', markers: { size: 5, shape: 'square' } },
  }));
  return (
    <>
      <div ref={frame} aria-hidden="true" style={{ minHeight: height }} />
      <ChartTable caption={caption} names={names} series={series} />
    </>
  );
}

/** What a chart shows, for whoever cannot see it. */
export function ChartTable({
  caption,
  names,
  series,
}: {
  caption: string;
  names: readonly string[];
  series: readonly { name: string; data: readonly number[] }[];
}) {
  return (
    // A table takes the width of its words; only what holds it can be clipped. It stands where the chart does, not on the page.
    <div className="relative">
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
    </div>
  );
}
