import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { ConnectionDetail, OpenResult, Results } from '@gray-loom/wire';
import { RESULT_DAYS } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useLists } from '../../app/lists';
import { useMay } from '../../app/may';
import { BarChart } from '../../ui/bar-chart';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';
import { daysUpTo, stackedByDay, TIMETABLES } from './sync-words';

const COLOURS = ['--iron', '--woad', '--walnut', '--weld', '--lichen', '--madder', '--logwood'].map(
  (one) => `var(${one})`,
);

/** What comes back from a tool: how often it is asked, what a person settles, and two charts of it. */
export function ConnectionResults({ connection: { id, name, state, capabilities } }: { connection: ConnectionDetail }) {
  const touch = useTouch();
  const maySetUp = useMay('administrator');
  const results = useQuery({
    queryKey: keys.results(id),
    queryFn: () => api.get<Results>(`/connections/${id}/results`),
  });
  const refresh = () => touch('syncs', 'run');
  const change = useMutation({
    mutationFn: (parts: object) => api.patch<Results>(`/connections/${id}/results`, parts),
    onSettled: refresh,
  });
  const ask = useMutation({ mutationFn: () => api.post(`/connections/${id}/results/run`), onSettled: refresh });
  if (results.isPending) return <Loading what="what came back" />;
  if (results.isLoadingError) return <Failed error={results.error} retry={() => void results.refetch()} />;
  const { everyMinutes, nextAt, trouble, taken, open, waits, asks, days, callers, mailings } = results.data;
  const dayNames = daysUpTo(new Date(), RESULT_DAYS);
  return (
    <section aria-label="What comes back">
      <Heading
        aside={`${count(taken)} with contacts${waits ? `, ${count(waits)} wait for theirs` : ''}${asks ? `, ${count(asks)} to be decided` : ''}`}
      >
        What comes back
      </Heading>
      <Fault error={change.error ?? ask.error} onClose={() => [change, ask].forEach((one) => one.reset())} />
      {trouble ? <p className="border-l-2 border-alarm bg-alarmwash px-3 py-1.5 text-alarm">{trouble}</p> : null}
      <div className="flex flex-wrap items-center gap-2 py-2">
        <Button needs="editor" busy={ask.isPending} disabled={state === 'stopped'} onClick={() => ask.mutate()}>
          Ask now
        </Button>
        <label className="flex items-center gap-2">
          <span className="text-ink2">Timetable of its own</span>
          <select
            className="field"
            value={String(everyMinutes)}
            disabled={change.isPending || state === 'stopped' || !maySetUp}
            onChange={({ target: { value } }) =>
              change.mutate({ everyMinutes: value === 'null' ? null : Number(value) })
            }
          >
            {TIMETABLES.filter(([minutes]) => typeof minutes !== 'string').map(([minutes, words]) => (
              <option key={words} value={String(minutes)}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {nextAt && state !== 'on' ? (
          <span className="text-ink2">
            It goes by its timetable once the connection runs by one, or when it is called.
          </span>
        ) : null}
      </div>
      <OpenResults id={id} open={open} waiting={waits} name={name} />
      {mailings.length ? <Mailings mailings={mailings} /> : null}
      {!capabilities.results?.includes('call') ? null : days.length ? (
        <div className="grid gap-6 lg:grid-cols-2">
          <div>
            <h3 className="text-[12.5px] text-ink3">Calls by outcome, per day</h3>
            <BarChart
              caption="Calls by outcome, per day"
              height={180}
              names={dayNames}
              labels={dayNames.map((day) =>
                new Date(day).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' }),
              )}
              series={stackedByDay(dayNames, days).map((one, i) => ({
                ...one,
                colour: COLOURS[i % COLOURS.length] ?? 'var(--woad)',
              }))}
            />
          </div>
          <div>
            <h3 className="text-[12.5px] text-ink3">Minutes per caller</h3>
            <BarChart
              caption="Minutes per caller"
              height={180}
              names={callers.map(({ by }) => by || 'nobody named')}
              labels={callers.map(({ by }) => by || 'nobody named')}
              series={[
                { name: 'Minutes', colour: 'var(--woad)', data: callers.map(({ minutes }) => Math.round(minutes)) },
              ]}
            />
          </div>
        </div>
      ) : (
        <p className="py-2 text-ink2">Nothing in the last {RESULT_DAYS} days.</p>
      )}
      <Numbers results={results.data} busy={change.isPending} onSource={(sources) => change.mutate({ sources })} />
    </section>
  );
}

/** How many of those whom a mailing went to opened it, clicked and went off, a mailing after the other. */
function Mailings({ mailings }: { mailings: Results['mailings'] }) {
  const dayOf = (at: string) => new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
  return (
    <div>
      <h3 className="text-[12.5px] text-ink3">Mailings: people who opened, clicked, and went off</h3>
      <BarChart
        caption="People who opened, clicked, and went off, per mailing"
        height={180}
        names={mailings.map(({ subject }) => subject)}
        labels={mailings.map(({ at }) => dayOf(at))}
        series={[
          { name: 'Clicked', colour: 'var(--woad)', data: mailings.map(({ clicked }) => clicked) },
          {
            name: 'Opened, no click',
            colour: 'var(--weld)',
            data: mailings.map(({ opened, clicked }) => Math.max(0, opened - clicked)),
          },
          { name: 'Off', colour: 'var(--madder)', data: mailings.map(({ off }) => off) },
        ]}
      />
      <table className="mt-2 w-full">
        <thead className="text-left text-[12.5px] text-ink2">
          <tr className="border-b border-strong">
            <th className="py-1 font-normal">Mailing</th>
            <th className="font-normal">Sent on</th>
            {['Sent to', 'Opened', 'Clicked', 'Off', 'Came back'].map((name) => (
              <th key={name} className="text-right font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[...mailings].reverse().map(({ id, subject, at, sent, opened, clicked, off, undeliverable }) => (
            <tr key={id} className="border-b border-hair">
              <td className="py-1">{subject}</td>
              <td className="text-ink2">{dayOf(at)}</td>
              {[sent, opened, clicked, off, undeliverable].map((n, i) => (
                <td key={i} className="text-right tabular-nums">
                  {count(n)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Results of which it is not settled whose they are. */
function OpenResults({
  id,
  open,
  waiting,
  name,
}: {
  id: number;
  open: readonly OpenResult[];
  waiting: number;
  name: string;
}) {
  const touch = useTouch();
  const settle = useMutation({
    mutationFn: (body: { id: string; take: 'contact' | 'new' | 'drop'; contactId?: number }) =>
      api.post(`/connections/${id}/results/settle`, body),
    onSettled: () => touch('syncs', 'run', 'contacts'),
  });
  const asked = open.filter(({ waits }) => !waits);
  return (
    <>
      <Fault error={settle.error} onClose={() => settle.reset()} />
      {asked.length ? (
        <ul aria-label="Whose is it?" className="mb-3">
          {asked.map((one) => (
            <li key={one.id} className="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-b border-hair py-1.5">
              <span className="w-16 shrink-0 text-ink2">
                <When at={one.at} />
              </span>
              <span className="min-w-0 flex-1">
                {one.incoming ? 'Call from ' : 'Call to '}
                <strong className="font-semibold">{one.number || 'a withheld number'}</strong>
                {one.reached ? ` to ${one.reached}` : ''}, {one.outcome}
                {one.minutes ? `, ${one.minutes} min` : ''}.{' '}
                {one.candidates.length ? 'Several have this number. Whose call is it?' : 'Whose call is it?'}
              </span>
              <span className="flex flex-wrap gap-2">
                {one.candidates.map((candidate) => (
                  <Button
                    key={candidate.id}
                    needs="editor"
                    busy={settle.isPending}
                    onClick={() => settle.mutate({ id: one.id, take: 'contact', contactId: candidate.id })}
                  >
                    {candidate.name}
                  </Button>
                ))}
                {one.number ? (
                  <Button
                    needs="editor"
                    busy={settle.isPending}
                    onClick={() => settle.mutate({ id: one.id, take: 'new' })}
                  >
                    Somebody new
                  </Button>
                ) : null}
                <Button
                  needs="editor"
                  kind="quiet"
                  busy={settle.isPending}
                  onClick={() => settle.mutate({ id: one.id, take: 'drop' })}
                >
                  Let it go
                </Button>
              </span>
            </li>
          ))}
        </ul>
      ) : null}
      {waiting ? (
        <p className="mb-2 text-ink2">
          {count(waiting)} {waiting === 1 ? 'waits' : 'wait'}: whom they name in {name} is nobody here yet. They follow
          once that record is in step.
        </p>
      ) : null}
    </>
  );
}

/** What the published numbers stand for. */
function Numbers({
  results: { numbers },
  busy,
  onSource,
}: {
  results: Results;
  busy: boolean;
  onSource: (sources: Record<string, string>) => void;
}) {
  const { data: lists } = useLists();
  const maySetUp = useMay('administrator');
  if (!numbers.length) return null;
  return (
    <div className="mt-3">
      <h3 className="text-[12.5px] text-ink3">
        Published numbers: the source of whoever calls one and is nobody here yet.{' '}
        <Link to="/settings/sources" className="link">
          Sources
        </Link>
      </h3>
      <ul>
        {numbers.map(({ number, calls, source }) => (
          <li key={number} className="flex items-center gap-3 border-b border-hair py-1">
            <span className="w-44 shrink-0">{number}</span>
            <span className="w-20 shrink-0 text-ink2">
              {count(calls)} {calls === 1 ? 'call' : 'calls'}
            </span>
            <select
              className="field"
              aria-label={`Source of calls to ${number}`}
              value={source}
              disabled={busy || !maySetUp}
              onChange={({ target: { value } }) => onSource({ [number]: value })}
            >
              <option value="">no source</option>
              {[...new Set([...(lists?.sources ?? []).map(({ label }) => label), ...(source ? [source] : [])])].map(
                (label) => (
                  <option key={label} value={label}>
                    {label}
                  </option>
                ),
              )}
            </select>
          </li>
        ))}
      </ul>
    </div>
  );
}
