import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type ApexCharts from 'apexcharts';
import { useEffect, useRef, useState } from 'react';
import type { MatchSetup } from '@gray-loom/wire';
import { api } from '../../app/api';
import { usePreferences } from '../../app/preferences';
import { Button, Failed, Heading, Loading } from '../../ui/controls';
import { ago, count } from '../../ui/when';
import { LearningSection } from './learning-section';

type Thresholds = MatchSetup['thresholds'];
const BANDS = ['certain', 'likely', 'possible'] as const;
type Band = (typeof BANDS)[number];

const SAYS: Record<Band, string> = {
  certain: 'may be merged as a batch',
  likely: 'wait for a person, first',
  possible: 'wait for a person, last',
};
const FIELDS: [MatchSetup['ignored'][number], string][] = [
  ['given', 'Given name'],
  ['family', 'Family name'],
  ['email', 'E-mail'],
  ['phone', 'Phone'],
  ['bday', 'Birthday'],
  ['place', 'Address'],
  ['organization', 'Organization'],
  ['generation', 'Suffix such as Jr'],
];

const bitsOf = (probability01: number) => Math.log2(probability01 / (1 - probability01));
const probabilityOf = (bits: number) => 1 / (1 + 2 ** -bits);

/** How many pairs lie between two weights, counted by whole bits and in proportion within one. */
function pairsBetween(pairs: NonNullable<MatchSetup['pairs']>, from: number, to: number): number {
  return Math.round(
    pairs.counts.reduce((sum, n, i) => {
      const start = pairs.from + i;
      const end = i === pairs.counts.length - 1 ? Infinity : start + 1;
      const low = Math.max(from, start);
      const high = Math.min(to, end);
      if (high <= low) return sum;
      return sum + (end === Infinity ? n : n * (high - low));
    }, 0),
  );
}

const percent = (share01: number) => {
  const digits = share01 > 0.9995 ? 3 : share01 > 0.99 ? 2 : share01 > 0.9 ? 1 : 0;
  return `${(share01 * 100).toFixed(digits)}%`;
};

/** What counts when people are compared, and from which weight on two records are one; with what each line would catch. */
export function MatchingPage() {
  const client = useQueryClient();
  const touch = useTouch();
  const setup = useQuery({
    queryKey: keys.duplicates('setup'),
    queryFn: () => api.get<MatchSetup>('/duplicates/setup'),
  });
  const [wanted, setWanted] = useState<{ thresholds: Thresholds; ignored: MatchSetup['ignored'] } | null>(null);
  const save = useMutation({
    mutationFn: (body: { thresholds: Thresholds; ignored: MatchSetup['ignored'] }) =>
      api.put<MatchSetup>('/duplicates/setup', body),
    onSuccess: async (saved, sent) => {
      client.setQueryData(keys.duplicates('setup'), saved);
      // What was changed while it was being saved is still wanted.
      setWanted((now) => (now?.thresholds === sent.thresholds && now.ignored === sent.ignored ? null : now));
      await touch('groups');
    },
  });
  const scan = useMutation({
    mutationFn: () => api.post('/duplicates/scan'),
    onSettled: () => touch('run'),
  });
  if (setup.isPending) return <Loading what="what counts" />;
  if (setup.isLoadingError) return <Failed error={setup.error} retry={() => void setup.refetch()} />;
  const { thresholds, ignored } = wanted ?? setup.data;
  const { pairs, asShipped } = setup.data;
  const change = (more: Partial<{ thresholds: Thresholds; ignored: MatchSetup['ignored'] }>) =>
    setWanted({ thresholds, ignored, ...more });
  const crossed = !(thresholds.certain > thresholds.likely && thresholds.likely > thresholds.possible);
  const fieldsMoved = [...ignored].sort().join() !== [...setup.data.ignored].sort().join();
  const upper: Record<Band, number> = {
    certain: Infinity,
    likely: bitsOf(thresholds.certain),
    possible: bitsOf(thresholds.likely),
  };
  return (
    <div className="relative h-full max-w-4xl space-y-5 overflow-y-auto px-6 py-4">
      <section>
        <Heading>From which weight on</Heading>
        <p className="mb-2 max-w-2xl text-ink2">
          Each pair of records weighs so many bits for being one person; each bit doubles the odds.{' '}
          {pairs
            ? `The chart shows the pairs of the last scan, ${ago(Date.parse(setup.data.scannedAt ?? ''))} ago, among ${count(setup.data.people)} people.`
            : 'After the first scan a chart shows here how many pairs weigh how much.'}
        </p>
        {pairs ? <PairChart pairs={pairs} thresholds={thresholds} /> : null}
        <table className="mt-2 w-full border-collapse">
          <thead className="sr-only">
            <tr>
              <th scope="col">Band</th>
              <th scope="col">From</th>
              <th scope="col">Pairs it would catch</th>
            </tr>
          </thead>
          <tbody>
            {BANDS.map((band) => (
              <tr key={band} className="border-b border-hair">
                <th scope="row" className="w-24 py-1.5 text-left font-semibold">
                  {band}
                </th>
                <td className="py-1.5">
                  <label className="flex items-center gap-3">
                    <span className="sr-only">{band} from</span>
                    <input
                      type="range"
                      min={-4}
                      max={16}
                      step={0.1}
                      value={bitsOf(thresholds[band])}
                      onChange={(event) =>
                        change({
                          thresholds: { ...thresholds, [band]: probabilityOf(Number(event.target.value)) },
                        })
                      }
                      className="w-56 accent-[var(--ink)]"
                    />
                    <span className="w-32 tabular-nums">
                      {percent(thresholds[band])}{' '}
                      <span className="text-ink2">{bitsOf(thresholds[band]).toFixed(1)} bits</span>
                    </span>
                  </label>
                </td>
                <td className="py-1.5 text-right tabular-nums">
                  {pairs ? `${count(pairsBetween(pairs, bitsOf(thresholds[band]), upper[band]))} pairs` : ''}
                </td>
                <td className="py-1.5 pl-4 text-ink2">{SAYS[band]}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {crossed ? (
          <p role="alert" className="mt-1 text-alarm">
            Certain has to lie above likely, and likely above possible.
          </p>
        ) : null}
      </section>
      <section>
        <Heading>What counts</Heading>
        <p className="mb-1 max-w-2xl text-ink2">
          A field that is wrong throughout, such as birthdays that somebody made up, is better left out. How much each
          of the others counts is found from the data themselves.
        </p>
        <ul className="grid max-w-2xl grid-cols-2 gap-x-6">
          {FIELDS.map(([field, name]) => (
            <li key={field} className="border-b border-hair py-1">
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={!ignored.includes(field)}
                  onChange={(event) =>
                    change({
                      ignored: event.target.checked ? ignored.filter((one) => one !== field) : [...ignored, field],
                    })
                  }
                />
                {name}
              </label>
            </li>
          ))}
        </ul>
      </section>
      <div className="flex items-center gap-2">
        <Button
          kind="action"
          disabled={!wanted || crossed}
          busy={save.isPending}
          onClick={() => save.mutate({ thresholds, ignored })}
        >
          Save
        </Button>
        <Button disabled={!wanted} onClick={() => setWanted(null)}>
          As it was
        </Button>
        <Button onClick={() => change({ thresholds: asShipped, ignored: [] })}>As shipped</Button>
        <Button className="ml-auto" busy={scan.isPending} onClick={() => scan.mutate()}>
          Scan everybody
        </Button>
      </div>
      {save.error ? (
        <p role="alert" className="text-alarm">
          {save.error.message}
        </p>
      ) : null}
      {scan.error ? (
        <p role="alert" className="text-alarm">
          {scan.error.message}
        </p>
      ) : null}
      <p className="max-w-2xl text-[12.5px] text-ink2">
        {fieldsMoved
          ? 'Fields count anew for whoever is entered or brought in; the groups that wait are found anew by the next scan.'
          : 'Groups that wait get their band by the new lines at once; what is below possible so far is found by the next scan.'}
      </p>
      <LearningSection />
    </div>
  );
}

function PairChart({ pairs, thresholds }: { pairs: NonNullable<MatchSetup['pairs']>; thresholds: Thresholds }) {
  const frame = useRef<HTMLDivElement>(null);
  const { theme } = usePreferences();
  const data = JSON.stringify([pairs, thresholds]);
  useEffect(() => {
    let chart: ApexCharts | null = null;
    let gone = false;
    void import('apexcharts').then(({ default: Chart }) => {
      if (gone || !frame.current) return;
      const [shown, lines] = JSON.parse(data) as [typeof pairs, Thresholds];
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string) => style.getPropertyValue(name).trim();
      chart = new Chart(frame.current, {
        chart: {
          type: 'bar',
          height: 190,
          toolbar: { show: false },
          animations: { enabled: false },
          background: 'transparent',
          fontFamily: 'inherit',
          foreColor: colour('--ink2'),
        },
        series: [{ name: 'pairs', data: shown.counts.map((n, i) => ({ x: shown.from + i + 0.5, y: n })) }],
        colors: [colour('--iron')],
        fill: { type: 'solid' },
        plotOptions: { bar: { columnWidth: '92%', borderRadius: 0 } },
        dataLabels: { enabled: false },
        grid: { borderColor: colour('--hair') },
        xaxis: {
          type: 'numeric',
          min: shown.from,
          max: shown.from + shown.counts.length,
          tickAmount: 12,
          decimalsInFloat: 0,
          axisBorder: { color: colour('--strong') },
          axisTicks: { show: false },
          labels: { formatter: (value: string) => `${Math.round(Number(value))} bits`, style: { fontSize: '11px' } },
        },
        yaxis: { labels: { formatter: (value: number) => Math.round(value).toLocaleString('en-GB') } },
        annotations: {
          xaxis: BANDS.map((band) => ({
            x: bitsOf(lines[band]),
            borderColor: colour('--ink'),
            strokeDashArray: band === 'certain' ? 0 : band === 'likely' ? 4 : 1,
            label: {
              text: band,
              orientation: 'horizontal',
              borderWidth: 0,
              style: { background: 'transparent', color: colour('--ink'), fontSize: '11px' },
            },
          })),
        },
        tooltip: {
          theme: document.documentElement.dataset.theme ?? 'light',
          x: { formatter: (value: number) => `${Math.floor(value)} to ${Math.floor(value) + 1} bits` },
        },
        states: { hover: { filter: { type: 'none' } } },
      });
      void chart.render();
    });
    return () => {
      gone = true;
      chart?.destroy();
    };
  }, [data, theme]);
  return <div ref={frame} aria-hidden="true" className="min-h-48" />;
}
