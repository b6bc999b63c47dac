import type { ConnectionSummary } from '@gray-loom/wire';
import { threadLine } from '../../ui/thread-swatch';
import { count, When } from '../../ui/when';
import { flowWords } from './sync-words';

function Side({ name, n, what }: { name: string; n: number | null; what: string }) {
  return (
    <div className="woven w-44 shrink-0 border border-strong bg-page px-3 py-2.5">
      <p className="text-[12.5px] text-ink2">{name}</p>
      <p className="text-[22px] leading-7 font-semibold">{n === null ? '?' : count(n)}</p>
      <p className="text-[12.5px] text-ink2">{what}</p>
    </div>
  );
}

interface FlowProps {
  to: 'here' | 'there';
  words: string;
  label: string;
  thread: ReturnType<typeof threadLine>;
}

/** A line of what went one way, with an arrow head at the side where it arrived. */
function Flow({ to, words, label, thread }: FlowProps) {
  const idle = words === 'nothing';
  const line = (
    <svg aria-hidden className="h-[7px] min-w-6 flex-1" preserveAspectRatio="none" viewBox="0 0 100 7">
      <path
        d="M0 3.5h100"
        {...thread}
        stroke={idle ? 'var(--strong)' : thread.stroke}
        strokeWidth={idle ? 1 : 2.4}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
  return (
    <div className="flex items-center gap-2" aria-label={`${label}: ${words} today`}>
      <span aria-hidden className={to === 'here' ? '' : 'opacity-0'}>
        ◂
      </span>
      {line}
      <span className={`text-[12.5px] whitespace-nowrap ${idle ? 'text-ink3' : ''}`}>
        {idle ? 'nothing today' : `${words} today`}
      </span>
      {line}
      <span aria-hidden className={to === 'there' ? '' : 'opacity-0'}>
        ▸
      </span>
    </div>
  );
}

/** A connection as two sides with its thread between: what is here, there, in step, and what went each way today. */
export function TwoSides({ connection }: { connection: ConnectionSummary }) {
  const { here, there, inStep, waiting, today, lastRun, nextRunAt } = connection;
  const thread = threadLine(connection.kind, connection.look);
  return (
    <div className="flex items-stretch">
      <Side name="Gray Loom" n={here} what="contacts" />
      <div className="flex min-w-0 flex-1 flex-col justify-center gap-1 px-2 py-1">
        <p className="text-center">
          <strong className="font-semibold">{count(inStep)}</strong> in step
          {waiting ? (
            <>
              {' '}
              · <strong className="font-semibold">{count(waiting)}</strong> wait for you
            </>
          ) : null}
        </p>
        <Flow to="here" words={flowWords(today.madeHere, today.changedHere)} label="To here" thread={thread} />
        <Flow to="there" words={flowWords(today.madeThere, today.changedThere)} label="To there" thread={thread} />
        <p className="text-center text-[12.5px] text-ink2">
          {lastRun ? (
            <>
              last run <When at={lastRun.at} /> ago
            </>
          ) : (
            'never ran'
          )}
          {nextRunAt ? (
            <>
              {' '}
              · next in <When at={nextRunAt} />
            </>
          ) : null}
        </p>
      </div>
      <Side name={connection.name} n={there} what="records" />
    </div>
  );
}
