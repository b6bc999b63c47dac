import { keys } from '../../app/keys';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { RunPage, RunSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Failed, Loading, Notice } from '../../ui/controls';
import { SplitView } from '../../ui/split-view';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { RunSheet } from './run-sheet';

function dayOf(run: RunSummary): string {
  return new Date(run.createdAt).toLocaleDateString('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  });
}

/** Every run and change by day, newest first, each with what it did and a way to take it back. */
export function LedgerPage() {
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const kind = params.get('kind') ?? '';
  const kinds = useQuery({
    queryKey: keys.runKinds(),
    queryFn: () => api.get<{ kind: string; name: string }[]>('/run-kinds'),
    staleTime: Infinity,
  });
  const pages = useInfiniteQuery({
    queryKey: keys.runs(kind),
    queryFn: ({ pageParam }) =>
      api.get<RunPage>(`/runs?limit=80${kind ? `&kind=${kind}` : ''}${pageParam ? `&before=${pageParam}` : ''}`),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
  });
  const runs = pages.data?.pages.flatMap((page) => page.runs) ?? [];
  const pick = (runId: number | null) =>
    void navigate({ pathname: runId ? `/ledger/${runId}` : '/ledger', search: params.toString() }, { replace: !!id });
  return (
    <SplitView
      list={
        <>
          <div className="flex items-center gap-3 border-b border-strong px-3.5 py-2">
            <h1 className="text-[15.5px] font-bold">Ledger</h1>
            <label className="text-ink2">
              <span className="sr-only">Show</span>
              <select
                className="bg-transparent"
                value={kind}
                onChange={(event) =>
                  setParams(event.target.value ? { kind: event.target.value } : {}, { replace: true })
                }
              >
                <option value="">everything</option>
                {kinds.data?.map((one) => (
                  <option key={one.kind} value={one.kind}>
                    {one.name}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <div className="min-h-0 flex-1 overflow-y-auto bg-cloth">
            {pages.isPending ? <Loading what="the ledger" /> : null}
            {pages.error ? <Failed error={pages.error} retry={() => void pages.refetch()} /> : null}
            {pages.data && runs.length === 0 ? <Notice title="Nothing of this kind has run" /> : null}
            {runs.map((run, i) => (
              <div key={run.id}>
                {i === 0 || dayOf(run) !== dayOf(runs[i - 1] as RunSummary) ? (
                  <h2 className="border-b border-hair bg-wash px-3.5 py-0.5 text-[12.5px] text-ink2">{dayOf(run)}</h2>
                ) : null}
                <button
                  type="button"
                  aria-current={run.id === Number(id) || undefined}
                  className={
                    `grid w-full grid-cols-[44px_15px_minmax(0,1fr)_auto] items-baseline gap-3 border-b border-hair px-3.5 py-1.5 ` +
                    `text-left ${run.id === Number(id) ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-page'}`
                  }
                  onClick={() => pick(run.id)}
                >
                  <span className="text-[12.5px] text-ink3">
                    {new Date(run.createdAt).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}
                  </span>
                  <ThreadSwatch kind={run.thread.kind} title={run.thread.name} />
                  <span
                    className={`truncate ${run.undoneBy ? 'text-ink3 line-through decoration-1' : run.state === 'failed' ? 'text-alarm' : ''}`}
                  >
                    {run.words}
                  </span>
                  <span className="text-[12.5px] text-ink2">
                    {run.undoneBy ? 'taken back' : run.state === 'done' ? (run.actor ?? '') : run.state}
                  </span>
                </button>
              </div>
            ))}
            {pages.hasNextPage ? (
              <p className="px-3.5 py-3">
                <Button busy={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
                  Show older
                </Button>
              </p>
            ) : null}
          </div>
        </>
      }
      sheet={id ? <RunSheet key={id} id={Number(id)} onClose={() => pick(null)} /> : null}
    />
  );
}
