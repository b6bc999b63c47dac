import { Link } from 'react-router';
import { FRESH_DAYS, type Worklist } from '@gray-loom/wire';
import type { DaySpan, Test } from '@gray-loom/core/segments';
import { May } from '../../app/may';
import { contactsWhere } from '../../app/where';
import { BandChart } from '../../ui/band-chart';
import { Heading } from '../../ui/controls';
import { TrendChart } from '../../ui/trend-chart';

const FIFTHS = ['0 to 19%', '20 to 39%', '40 to 59%', '60 to 79%', '80 to 100%'];
const FRESH_NAMES = ['a month', 'a quarter', 'a year', 'two years', 'longer ago'];

const complete = (at: number): Test => ({
  field: '@complete',
  op: 'number',
  value: { from: at * 20, to: at === 4 ? 100 : at * 20 + 19 },
});

/** Whoever last changed within one stretch of days and not within the one before. */
function changed(at: number): Test {
  const back = (days: number) => ({ n: -days, unit: 'day' as const });
  const [from, before] = [FRESH_DAYS[at], FRESH_DAYS[at - 1]];
  const value: DaySpan = {
    ...(from ? { from: back(from) } : {}),
    ...(before ? { to: back(before + 1) } : {}),
  };
  return { field: '@changed', op: 'span', value };
}

/** How complete and how fresh people are, and how that went over time. */
export function BookState({ data }: { data: Worklist }) {
  const { completeness, freshness, trend } = data;
  const changes = trend.length > 1;
  return (
    <>
      <div>
        <Heading
          aside={
            <>
              {completeness.mean}% on average
              <May role="administrator">
                {' · '}
                <Link className="link" to="/settings/completeness">
                  what counts
                </Link>
              </May>
            </>
          }
        >
          How complete
        </Heading>
        <div className="mt-3">
          <BandChart
            label="How complete people are"
            colour="var(--ink3)"
            bands={FIFTHS.map((name, at) => ({
              name,
              n: completeness.bands[at] ?? 0,
              to: contactsWhere(complete(at)),
            }))}
          />
        </div>
      </div>
      <div>
        <Heading aside="changed within">How fresh</Heading>
        <div className="mt-3">
          <BandChart
            label="When people last changed"
            colour="var(--woad)"
            bands={FRESH_NAMES.map((name, at) => ({ name, n: freshness[at] ?? 0, to: contactsWhere(changed(at)) }))}
          />
        </div>
      </div>
      <div>
        <Heading>Over time</Heading>
        {changes ? (
          <TrendChart
            caption="How complete and how fresh the whole book was"
            days={trend.map(({ day }) => day)}
            lines={[
              { name: 'Complete, on average', colour: 'var(--ink3)', data: trend.map((one) => one.complete) },
              { name: 'Changed within a year', colour: 'var(--woad)', data: trend.map((one) => one.fresh) },
            ]}
          />
        ) : (
          <p className="mt-2 text-ink2">
            {trend.length
              ? 'Kept from today on; there is a line from tomorrow.'
              : 'The course of the whole book is shown to whoever sees everybody.'}
          </p>
        )}
      </div>
    </>
  );
}
