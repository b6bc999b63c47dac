import { keys, useTouch } from './keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { RunSummary, TapeState } from '@gray-loom/wire';
import { ThreadSwatch, THREAD_COLOURS } from '../ui/thread-swatch';
import { count } from '../ui/when';
import { api } from './api';
import { useIsCutOff } from './query-client';

/** The strip along the bottom: work in progress, and the latest finished run with its Undo. */
export function Tape() {
  const cutOff = useIsCutOff();
  const { data } = useQuery({
    queryKey: keys.tape(),
    queryFn: () => api.get<TapeState>('/tape'),
    // The server tells of changes; asking now and then covers a lost connection while something runs.
    refetchInterval: (query) => (query.state.data?.running.length ? 1500 : 30_000),
  });
  return (
    <footer
      aria-label="Tape"
      className="flex items-center gap-5 overflow-hidden border-t border-strong bg-wash px-3.5 text-[12.5px] whitespace-nowrap"
    >
      {cutOff ? (
        <span role="status" className="font-semibold text-alarm">
          Gray Loom does not answer. What is on screen may have changed; trying again.
        </span>
      ) : null}
      {data && !data.hasWorker && !cutOff ? (
        <span role="status" className="font-semibold text-alarm">
          No worker runs just now. What waits goes on as soon as one is back.
        </span>
      ) : null}
      {data?.running.slice(0, 2).map((run) => (
        <Running key={run.id} run={run} />
      ))}
      {data && data.running.length === 0 && !data.latest ? (
        <span className="text-ink3">Nothing has run yet</span>
      ) : null}
      {data?.latest ? <Latest run={data.latest} /> : null}
    </footer>
  );
}

function Running({ run }: { run: RunSummary }) {
  const touch = useTouch();
  const stop = useMutation({
    mutationFn: () => api.post(`/runs/${run.id}/stop`),
    onSuccess: () => touch('run'),
  });
  const { done, total } = run.progress;
  const share = total > 0 ? Math.min(1, done / total) : 0;
  return (
    <span className="flex items-center gap-3" role="status">
      <ThreadSwatch kind={run.thread.kind} />
      <span>
        {run.doing ? `${run.doing} ` : ''}
        <Link to={`/ledger/${run.id}`} className="font-semibold">
          {run.title}
        </Link>
      </span>
      <span
        role="progressbar"
        aria-label={run.title}
        aria-valuenow={Math.round(share * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
        className="h-1.5 w-36 bg-hair"
        style={{
          backgroundImage: `repeating-linear-gradient(90deg, ${THREAD_COLOURS[run.thread.kind]} 0 7px, transparent 7px 9px)`,
          backgroundSize: `${share * 100}% 100%`,
          backgroundRepeat: 'no-repeat',
        }}
      />
      <span className="text-ink2">
        {run.state === 'queued'
          ? run.waits
          : run.state === 'paused'
            ? run.braked
              ? 'held by the brake'
              : `paused at ${count(done)} of ${count(total)}`
            : run.kind === 'scan' || run.kind === 'check'
              ? `${Math.round(share * 100)}%`
              : `${count(done)} of ${count(total)}`}
        {run.counts.held ? ` · ${count(run.counts.held)} held` : ''}
      </span>
      {run.pausable ? <PauseButton run={run} /> : null}
      {run.stoppable ? (
        <button
          type="button"
          className="link"
          disabled={stop.isPending || stop.isSuccess}
          onClick={() => stop.mutate()}
        >
          {stop.isSuccess ? 'Stopping' : 'Stop'}
        </button>
      ) : null}
    </span>
  );
}

/** Lets a run wait at its marker, or go on from there. */
export function PauseButton({ run }: { run: RunSummary }) {
  const touch = useTouch();
  const waits = run.state === 'paused';
  const change = useMutation({
    mutationFn: () => api.post(`/runs/${run.id}/${waits ? 'go-on' : 'pause'}`),
    onSuccess: () => touch('run', 'intakes'),
  });
  return (
    <button type="button" className="link" disabled={change.isPending} onClick={() => change.mutate()}>
      {waits ? 'Go on' : 'Pause'}
    </button>
  );
}

function Latest({ run }: { run: RunSummary }) {
  const client = useQueryClient();
  const undo = useMutation({
    mutationFn: () => api.post(`/runs/${run.id}/undo`),
    onSettled: () => client.invalidateQueries(),
  });
  return (
    <span className="ml-auto flex min-w-0 items-center gap-3">
      <ThreadSwatch kind={run.thread.kind} />
      <span className="truncate text-ink2" title={run.words}>
        {undo.error ? <span className="text-alarm">{undo.error.message}</span> : run.words}
      </span>
      {run.undoable ? (
        <button type="button" className="link" disabled={undo.isPending} onClick={() => undo.mutate()}>
          Undo
        </button>
      ) : null}
      <Link to="/ledger" className="link">
        Ledger
      </Link>
    </span>
  );
}
