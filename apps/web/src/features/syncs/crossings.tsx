import type { ConnectionSummary, Crossed, Span } from '@gray-loom/wire';
import { setPreference, usePreferences } from '../../app/preferences';
import { threadLine } from '../../ui/thread-swatch';
import { count, When } from '../../ui/when';
import { crossedWords } from './sync-words';

const SPANS: [Span, string][] = [
  ['day', 'Today'],
  ['week', 'This week'],
  ['month', 'This month'],
];

/** Which span the state of connections is told over; one choice for all of them. */
export function SpanChoice() {
  const { span } = usePreferences();
  return (
    <span role="group" aria-label="Span" className="flex items-center gap-1">
      {SPANS.map(([key, words]) => (
        <button
          key={key}
          type="button"
          aria-pressed={span === key}
          className={`px-1.5 py-0.5 text-[12.5px] ${span === key ? 'border-b-2 border-ink font-semibold' : 'text-ink2 hover:text-ink'}`}
          onClick={() => setPreference('span', key)}
        >
          {words}
        </button>
      ))}
    </span>
  );
}

interface WayProps {
  side: 'here' | 'there';
  to: string;
  crossed: Crossed['here'];
  inStep: number;
  waits: string;
  thread: ReturnType<typeof threadLine>;
}

/** One direction as a line of its thread: what crossed, what was left as it was, and what waits. */
function Way({ side, to, crossed, inStep, waits, thread }: WayProps) {
  const words = crossedWords(crossed);
  const left = Math.max(0, inStep - crossed.made - crossed.changed);
  const line = (
    <svg aria-hidden className="h-[7px] w-10 shrink-0" preserveAspectRatio="none" viewBox="0 0 40 7">
      <path
        d="M0 3.5h40"
        {...thread}
        stroke={words ? thread.stroke : 'var(--strong)'}
        strokeWidth={words ? 2.4 : 1}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
  return (
    <tr className="border-b border-hair">
      <th scope="row" className="py-1.5 pr-4 font-normal">
        <span className="flex items-center gap-1.5">
          <span aria-hidden className="w-3">
            {side === 'here' ? '◂' : ''}
          </span>
          {line}
          <span aria-hidden className="w-3">
            {side === 'there' ? '▸' : ''}
          </span>
          <span className="truncate">{to}</span>
        </span>
      </th>
      <td className={words ? 'font-semibold' : 'text-ink3'}>{words || 'nothing'}</td>
      <td className="text-ink2">{count(left)}</td>
      <td className={waits ? 'font-semibold' : 'text-ink3'}>{waits || 'nothing'}</td>
    </tr>
  );
}

/** How a connection stands, a line for each direction over the chosen span. */
export function Crossings({ connection }: { connection: ConnectionSummary }) {
  const { inStep, waiting, unsent, crossed, lastRun, nextRunAt, name } = connection;
  const { span } = usePreferences();
  const thread = threadLine(connection.kind, connection.look);
  return (
    <div>
      <table className="w-full table-fixed text-left" aria-label={`How ${name} stands`}>
        <thead className="text-[12.5px] text-ink2">
          <tr className="border-b border-strong">
            <th className="w-72 py-1 font-normal">Direction</th>
            <th className="font-normal">Crossed</th>
            <th className="w-40 font-normal">Left as they were</th>
            <th className="w-44 font-normal">Waits</th>
          </tr>
        </thead>
        <tbody>
          <Way
            side="here"
            to="to Gray Loom"
            crossed={crossed[span].here}
            inStep={inStep}
            waits={waiting ? `${count(waiting)} for you to decide` : ''}
            thread={thread}
          />
          <Way
            side="there"
            to={`to ${name}`}
            crossed={crossed[span].there}
            inStep={inStep}
            waits={unsent ? `${count(unsent)} to be written` : ''}
            thread={thread}
          />
        </tbody>
      </table>
      <p className="mt-1 text-[12.5px] text-ink2">
        {count(inStep)} {inStep === 1 ? 'record' : 'records'} in step
        {lastRun ? (
          <>
            , last run <When at={lastRun.at} /> ago
          </>
        ) : (
          ', never ran'
        )}
        {nextRunAt ? (
          <>
            , next in <When at={nextRunAt} />
          </>
        ) : null}
      </p>
    </div>
  );
}
