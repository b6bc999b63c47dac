import { Link, useNavigate } from 'react-router';
import { useChart } from './use-chart';
import { count } from './when';

export interface Band {
  name: string;
  n: number;
  /** Where its people are listed. */
  to: string;
}

const HEIGHT = 92;

/** How many people are in each of a few bands; each bar, and the words under it, lead to its people. */
export function BandChart({ bands, label, colour }: { bands: readonly Band[]; label: string; colour: string }) {
  const navigate = useNavigate();
  const open = (at: number) => {
    const band = bands[at];
    if (band?.n) void navigate(band.to);
  };
  const frame = useChart(JSON.stringify(bands), (colourOf) => ({
    chart: {
      type: 'bar',
      height: HEIGHT,
      sparkline: { enabled: true },
      events: {
        dataPointSelection: (_event: unknown, _chart: unknown, { dataPointIndex }: { dataPointIndex: number }) =>
          open(dataPointIndex),
      },
    },
    series: [{ name: 'People', data: bands.map(({ n }) => n) }],
    colors: [colourOf(colour)],
    plotOptions: { bar: { columnWidth: '70%', borderRadius: 0 } },
    xaxis: { categories: bands.map(({ name }) => name) },
    yaxis: { min: 0, max: Math.max(1, ...bands.map(({ n }) => n)) },
    tooltip: { enabled: false },
  }));
  return (
    <div>
      <div
        ref={frame}
        aria-hidden="true"
        className="cursor-pointer border-b border-strong"
        style={{ minHeight: HEIGHT }}
      />
      <ul
        aria-label={label}
        className="grid text-center"
        style={{ gridTemplateColumns: `repeat(${bands.length}, minmax(0, 1fr))` }}
      >
        {bands.map(({ name, n, to }) => (
          <li key={name} className="pt-1 text-[12.5px]">
            {n ? (
              <Link to={to} className="font-semibold underline" aria-label={`${count(n)} people, ${name}`}>
                {count(n)}
              </Link>
            ) : (
              <span className="text-ink3">0</span>
            )}
            <span className="block text-ink2">{name}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
