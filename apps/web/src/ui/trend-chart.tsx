import { ChartTable } from './bar-chart';
import { useChart } from './use-chart';

export interface Line {
  name: string;
  /** A colour of the theme, as "var(--woad)". */
  colour: string;
  data: number[];
}

const HEIGHT = 150;
const dayInWords = (day: string) =>
  new Date(`${day}T00:00:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** Shares in percent over days; a table says the same to whoever cannot see them. */
export function TrendChart({ days, lines, caption }: { days: string[]; lines: Line[]; caption: string }) {
  const frame = useChart(JSON.stringify({ days, lines }), (colour) => ({
    chart: { type: 'line', height: HEIGHT },
    series: lines.map(({ name, data }) => ({ name, data })),
    colors: lines.map((line) => colour(line.colour)),
    stroke: { width: 2, curve: 'straight' },
    xaxis: {
      categories: days.map(dayInWords),
      axisTicks: { show: false },
      axisBorder: { color: colour('--strong') },
      tickAmount: 6,
      labels: { rotate: 0, hideOverlappingLabels: true, style: { fontSize: '11px' } },
      tooltip: { enabled: false },
    },
    yaxis: { min: 0, max: 100, tickAmount: 4, labels: { formatter: (value: number) => `${Math.round(value)}%` } },
    legend: { position: 'bottom', horizontalAlign: 'left', markers: { size: 5, shape: 'square' } },
  }));
  return (
    <>
      <div ref={frame} aria-hidden="true" style={{ minHeight: HEIGHT }} />
      <ChartTable caption={caption} names={days} series={lines} />
    </>
  );
}
