import { May, useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import type { ConnectionDetail } from '@gray-loom/wire';
import { api } from '../../app/api';
import { BarChart } from '../../ui/bar-chart';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';
import { syncInWords } from '@gray-loom/wire';
import { CALLED, stateWords, TIMETABLES } from './sync-words';
import { Crossings, SpanChoice } from './crossings';
import { ConnectionCalls } from './connection-calls';
import { ConnectionResults } from './connection-results';
import { ConnectionLists } from './list-table';
import { SharedAddresses } from './shared-places';
import { NotTaken } from './not-taken';

export function useConnection(id: number) {
  return useQuery({
    queryKey: keys.connection(id),
    queryFn: () => api.get<ConnectionDetail>(`/connections/${id}`),
    refetchInterval: (query) => (query.state.data?.running ? 1200 : false),
  });
}

/** What can be started on a connection, from each of its pages. */
export function useRuns(id: number) {
  const touch = useTouch();
  const refresh = () => touch('syncs', 'run');
  const run = useMutation({
    mutationFn: (asked: { trial: boolean; only?: number[]; onlyThere?: string[] }) =>
      api.post<{ runId: number }>(`/connections/${id}/run`, asked),
    onSettled: refresh,
  });
  return { run, refresh };
}

/** How a connection stands: both sides, what runs, what it did, and what it leaves behind when it is stopped. */
export function ConnectionState({ id }: { id: number }) {
  const connection = useConnection(id);
  const maySetUp = useMay('administrator');
  const navigate = useNavigate();
  const { run, refresh } = useRuns(id);
  const change = useMutation({
    mutationFn: (asked: object) => api.patch<ConnectionDetail>(`/connections/${id}`, asked),
    onSettled: refresh,
  });
  const decide = useMutation({
    mutationFn: ({ runId, go }: { runId: number; go: boolean }) =>
      api.post(go ? `/sync-runs/${runId}/release` : `/runs/${runId}/stop`),
    onSettled: refresh,
  });
  if (connection.isPending) return <Loading what="the connection" />;
  if (connection.isLoadingError) return <Failed error={connection.error} retry={() => void connection.refetch()} />;
  const data = connection.data;
  const { braked, running, trouble, needsTrial, state, runs } = data;
  const busy = running !== null;
  return (
    <div>
      <Fault
        error={run.error ?? change.error ?? decide.error}
        onClose={() => [run, change, decide].forEach((one) => one.reset())}
      />
      <div className="space-y-5 px-6 py-5">
        <Heading aside={stateWords(data)}>{data.name}</Heading>
        <div>
          <SpanChoice />
          <Crossings connection={data} />
        </div>
        <NotTaken data={data} />
        {trouble ? (
          <div className="border-l-2 border-alarm bg-alarmwash px-3 py-2">
            <p className="text-alarm">{trouble}</p>
            <p className="mt-1 text-ink2">
              Nothing is half done.{' '}
              <Link to={`/syncs/${id}/setup`} className="link">
                Look at the address and the password
              </Link>
              , or run it again.
            </p>
          </div>
        ) : null}
        {braked ? (
          <div className="border-l-2 border-ink bg-cloth px-3 py-2">
            <p className="font-semibold">The brake holds a run, and nothing of it is written yet.</p>
            <ul className="my-1 list-inside list-disc">
              {braked.reasons.map((reason) => (
                <li key={reason}>{reason}</li>
              ))}
            </ul>
            <div className="flex items-center gap-3">
              <Button onClick={() => void navigate(`/syncs/${id}/trial?run=${braked.runId}`)}>Look at its plan</Button>
              <Button
                needs="editor"
                kind="danger"
                busy={decide.isPending}
                onClick={() => decide.mutate({ runId: braked.runId, go: true })}
              >
                Let it run
              </Button>
              <Button
                needs="editor"
                busy={decide.isPending}
                onClick={() => decide.mutate({ runId: braked.runId, go: false })}
              >
                End it
              </Button>
            </div>
          </div>
        ) : null}
        <div className="flex flex-wrap items-center gap-2">
          <Button
            needs="editor"
            kind="action"
            busy={busy || run.isPending}
            disabled={needsTrial || Boolean(braked) || state === 'stopped'}
            onClick={() => run.mutate({ trial: false })}
          >
            {busy ? 'Running' : 'Run now'}
          </Button>
          <Button needs="editor" busy={busy || run.isPending} onClick={() => run.mutate({ trial: true })}>
            Try
          </Button>
          <Link to={`/syncs/${id}/trial`} className="link px-1">
            What the last trial showed
          </Link>
          <May role="administrator">
            <Link to={`/syncs/${id}/setup`} className="link px-1">
              Set-up
            </Link>
            <Link to={`/syncs/new?from=${id}`} className="link px-1">
              New from this one
            </Link>
          </May>
        </div>
        {needsTrial ? (
          <p className="border-l-2 border-ink bg-cloth px-3 py-1.5">
            {runs.some((one) => one.trial) ? 'The set-up changed since its last trial.' : 'It was never tried.'} Try it
            and look at what would change; then it may run.
          </p>
        ) : null}
        <div className="flex flex-wrap items-center gap-2">
          <label className="flex items-center gap-2">
            <span className="text-ink2">Timetable</span>
            <select
              className="field"
              value={state === 'on' ? String(data.everyMinutes ?? CALLED) : 'null'}
              disabled={change.isPending || state === 'stopped' || !maySetUp}
              onChange={(event) => {
                const { value } = event.target;
                const everyMinutes = value === 'null' || value === CALLED ? null : Number(value);
                change.mutate({ everyMinutes, state: value === 'null' ? 'paused' : 'on' });
              }}
            >
              {TIMETABLES.map(([minutes, words]) => (
                <option key={words} value={String(minutes)}>
                  {words}
                </option>
              ))}
            </select>
          </label>
          {state === 'stopped' ? (
            <Button needs="administrator" busy={change.isPending} onClick={() => change.mutate({ state: 'paused' })}>
              Take it up again
            </Button>
          ) : (
            <Button
              needs="administrator"
              kind="quiet"
              busy={change.isPending}
              onClick={() => {
                if (
                  window.confirm(
                    `Stop ${data.name}? ${count(data.inStep)} contacts stay here and ${count(data.there ?? 0)} records stay over ` +
                      `there, as they are now; they are no longer kept in step. What was agreed is kept, so that it can be taken up again.`,
                  )
                )
                  change.mutate({ state: 'stopped' });
              }}
            >
              Stop for good
            </Button>
          )}
        </div>
        <ConnectionLists connection={data} />
        <SharedAddresses connection={data} />
        <div>
          <Heading aside="values and records, per day">What it did</Heading>
          {data.days.some(({ here, there }) => here + there > 0) ? (
            <BarChart
              caption="Changes per day and side"
              height={150}
              names={data.days.map(({ day }) => day)}
              labels={data.days.map(({ day }) =>
                new Date(day).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' }),
              )}
              series={[
                { name: 'Here', colour: 'var(--woad)', data: data.days.map(({ here }) => here) },
                { name: 'Over there', colour: 'var(--walnut)', data: data.days.map(({ there }) => there) },
              ]}
            />
          ) : (
            <p className="py-4 text-ink2">Nothing in the last fortnight.</p>
          )}
        </div>
        {data.capabilities.results?.length ? <ConnectionResults connection={data} /> : null}
        <RunList data={data} />
        {data.capabilities.signsCalls ? (
          <May role="administrator">
            <ConnectionCalls connection={data} />
          </May>
        ) : (
          <HookAddress data={data} />
        )}
      </div>
    </div>
  );
}

/** Where a tool that signs nothing can call. */
function HookAddress({ data }: { data: ConnectionDetail }) {
  const { state } = data;
  return (
    <p className="text-[12.5px] text-ink2">
      {state === 'on' ? 'The other side can call when something changed there: ' : 'The other side can call '}
      <code className="font-mono text-[12px] break-all">POST {window.location.origin + data.hook}</code>
      {state === 'on'
        ? '. Whoever knows this address can start a run, and nothing else.'
        : ' once this connection runs by a timetable or when it is called; now nobody answers there.'}
    </p>
  );
}

function RunList({ data }: { data: ConnectionDetail }) {
  return (
    <div>
      <Heading>Runs</Heading>
      <ul>
        {data.runs.map((run) => (
          <li key={run.id} className="flex items-baseline gap-3 border-b border-hair py-1">
            <span className="w-16 shrink-0 text-ink2">
              <When at={run.at} />
            </span>
            <span className="min-w-0 flex-1">
              {run.trial ? 'Trial' : 'Run'}
              {run.state === 'failed' ? (
                <span className="text-alarm">: {run.error}</span>
              ) : (
                `: ${syncInWords(run.counts)}`
              )}
              {run.state === 'stopped' ? ' (ended)' : run.state === 'paused' ? ' (waits)' : ''}
            </span>
            <Link className="link" to={`/syncs/${data.id}/trial?run=${run.id}`}>
              Look
            </Link>
            <a className="link" href={`/api/sync-runs/${run.id}/report`} download>
              Report
            </a>
            <Link className="link" to={`/ledger/${run.id}`}>
              Ledger
            </Link>
          </li>
        ))}
        {data.runs.length ? null : <li className="py-3 text-ink2">It never ran. Try it first; that writes nothing.</li>}
      </ul>
    </div>
  );
}
