import { count } from '../../ui/when';

const WIDTH = 96;
const HEIGHT = 20;

/** How many there were over the last days, as a line to be taken in at a glance. */
export function Course({ days }: { days: readonly { day: string; n: number }[] }) {
  const [first] = days;
  const last = days[days.length - 1];
  if (!first || !last || days.length < 2) return <span className="text-[12px] text-ink2">from today</span>;
  const start = Date.parse(first.day);
  const length = Math.max(1, Date.parse(last.day) - start);
  const most = Math.max(...days.map(({ n }) => n));
  const least = Math.min(...days.map(({ n }) => n));
  const points = days
    .map(({ day, n }) => {
      const x = ((Date.parse(day) - start) / length) * (WIDTH - 2) + 1;
      const y = HEIGHT - 2 - ((n - least) / Math.max(1, most - least)) * (HEIGHT - 4);
      return `${x.toFixed(1)},${y.toFixed(1)}`;
    })
    .join(' ');
  return (
    <svg
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label={`From ${count(first.n)} on ${first.day} to ${count(last.n)}`}
      className="text-ink2"
    >
      <polyline points={points} fill="none" stroke="currentColor" strokeWidth="1.5" />
    </svg>
  );
}
