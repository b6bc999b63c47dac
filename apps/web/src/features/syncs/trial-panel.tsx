import { keys } from '../../app/keys';
import { useInfiniteQuery, useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { SyncChangeEntry } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Failed, Fault, Heading, Loading, Notice } from '../../ui/controls';
import { count, When } from '../../ui/when';
import { syncInWords } from '@gray-loom/wire';
import { useConnection, useRuns } from './connection-state';
import { changeWords } from './sync-words';

const PAGE = 200;

const keyOf = ({ contactId, outsideId }: SyncChangeEntry) => `${contactId}:${outsideId}`;

/** Those that were chosen, by their contact where they have one, else by their record over there. */
function whoOf(rows: readonly SyncChangeEntry[], chosen: ReadonlySet<string>): { only: number[]; onlyThere: string[] } {
  const picked = rows.filter((row) => chosen.has(keyOf(row)));
  return {
    only: [...new Set(picked.flatMap(({ contactId, kind }) => (contactId && kind !== 'linked' ? [contactId] : [])))],
    onlyThere: [...new Set(picked.flatMap(({ outsideId, kind }) => (kind === 'madeThere' ? [] : [outsideId])))],
  };
}

/** What a trial, a held run or a run that is done changes: per record and field, on each side. */
export function TrialPanel({ id }: { id: number }) {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const connection = useConnection(id);
  const { run, refresh } = useRuns(id);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const runId = Number(params.get('run')) || connection.data?.trial?.runId || 0;
  const side = params.get('side') ?? '';
  const isAll = params.get('all') === '1';
  const changes = useInfiniteQuery({
    queryKey: keys.syncChanges(runId, side, isAll),
    enabled: runId > 0,
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      api.get<{ changes: SyncChangeEntry[]; total: number }>(
        `/sync-runs/${runId}/changes?after=${pageParam}&limit=${PAGE}&side=${side}&changes=${!isAll}`,
      ),
    getNextPageParam: (last) => (last.changes.length < PAGE ? undefined : last.changes.at(-1)?.id),
  });
  const release = useMutation({
    mutationFn: () => api.post(`/sync-runs/${runId}/release`),
    onSuccess: () => void navigate(`/syncs/${id}`),
    onSettled: refresh,
  });
  if (connection.isPending) return <Loading what="the trial" />;
  if (connection.isLoadingError) return <Failed error={connection.error} retry={() => void connection.refetch()} />;
  const data = connection.data;
  const shown = data.runs.find((one) => one.id === runId);
  const braked = data.braked?.runId === runId;
  const isTrial = shown?.trial ?? true;
  if (data.running !== null && !shown) return <Loading what="what would change; the trial is being made" />;
  if (!runId)
    return (
      <Notice title="It was never tried">
        <p>A trial computes what would change on each side and writes nothing.</p>
        <p className="mt-3">
          <Button
            needs="editor"
            kind="action"
            busy={run.isPending || data.running !== null}
            onClick={() => run.mutate({ trial: true })}
          >
            Try {data.name}
          </Button>
        </p>
      </Notice>
    );
  const rows = changes.data?.pages.flatMap((page) => page.changes) ?? [];
  const total = changes.data?.pages[0]?.total ?? 0;
  // Once it ran, the trial tells of what was, and is made again.
  const current = isTrial && data.trial?.runId === runId && data.trial.isCurrent && (data.lastRun?.id ?? 0) < runId;
  const show = (asked: { side?: string; all?: string }) =>
    setParams((now) => {
      const next = new URLSearchParams(now);
      for (const [key, value] of Object.entries(asked))
        if (value) next.set(key, value);
        else next.delete(key);
      return next;
    });
  const start = (few?: ReadonlySet<string>) =>
    run.mutate(few ? { trial: false, ...whoOf(rows, few) } : { trial: false }, {
      onSuccess: () => void navigate(`/syncs/${id}`),
    });
  return (
    <div>
      <Fault error={run.error ?? release.error} onClose={() => run.reset()} />
      <div className="px-6 py-5">
        <Heading aside={shown ? <When at={shown.at} /> : undefined}>
          {braked ? 'What the held run would change' : isTrial ? 'What would change' : 'What the run changed'}
        </Heading>
        <p className="mt-2">
          <Link to={`/syncs/${id}`} className="link">
            {data.name}
          </Link>
          : {shown ? syncInWords(shown.counts) : ''}. {isTrial ? 'Nothing of it is written.' : ''}
        </p>
        {isTrial && data.trial && !data.trial.isCurrent ? (
          <p className="mt-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
            The set-up changed since. Try it again to see what it does now.
          </p>
        ) : null}
        {isTrial && data.trial?.reasons.length ? (
          <p className="mt-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
            A run would be held by the brake: {data.trial.reasons.join(' ')}
          </p>
        ) : null}
        <div className="mt-3 flex flex-wrap items-center gap-2">
          {braked ? (
            <Button needs="editor" kind="danger" busy={release.isPending} onClick={() => release.mutate()}>
              Let it run
            </Button>
          ) : null}
          {current ? (
            <>
              <Button
                needs="editor"
                kind="action"
                busy={run.isPending || data.running !== null}
                onClick={() => start()}
              >
                Run all of it
              </Button>
              <Button needs="editor" disabled={!chosen.size} busy={run.isPending} onClick={() => start(chosen)}>
                Run for {chosen.size ? count(chosen.size) : 'a'} chosen {chosen.size === 1 || !chosen.size ? 'few' : ''}
              </Button>
            </>
          ) : null}
          {isTrial ? (
            <Button
              needs="editor"
              busy={run.isPending || data.running !== null}
              onClick={() => run.mutate({ trial: true }, { onSuccess: () => setParams({}) })}
            >
              Try again
            </Button>
          ) : null}
          <span className="ml-auto flex items-center gap-1" role="group" aria-label="Side">
            {(
              [
                ['', 'both sides'],
                ['here', 'here'],
                ['there', 'over there'],
              ] as const
            ).map(([value, words]) => (
              <Button
                key={value}
                kind={side === value ? 'plain' : 'quiet'}
                aria-pressed={side === value}
                onClick={() => show({ side: value })}
              >
                {words}
              </Button>
            ))}
            <label className="ml-2 flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={!isAll}
                onChange={(event) => show({ all: event.target.checked ? '' : '1' })}
              />
              changes only
            </label>
            <a className="link ml-2" href={`/api/sync-runs/${runId}/report`} download>
              Report
            </a>
          </span>
        </div>
        {changes.isPending ? (
          <Loading what="the changes" />
        ) : rows.length === 0 ? (
          <p className="py-8 text-center text-ink2">
            {isAll || side
              ? 'There is nothing to be shown here.'
              : 'No value changes on either side. Take off "changes only" to see who was found to be the same, and who is left.'}
          </p>
        ) : (
          <table className="mt-3 w-full table-fixed border-t border-strong">
            <thead className="text-left text-[12.5px] text-ink2">
              <tr className="border-b border-hair">
                {current ? <th className="w-7" aria-label="Chosen" /> : null}
                <th className="w-48 py-1 font-normal">Who</th>
                <th className="w-48 font-normal">What</th>
                <th className="font-normal">Before</th>
                <th className="font-normal">After</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row, i) => {
                const words = changeWords(row);
                const before = rows[i - 1];
                const same = before !== undefined && keyOf(before) === keyOf(row);
                return (
                  <tr key={row.id} className="border-b border-hair align-baseline">
                    {current ? (
                      <td className="py-1">
                        {same ? null : (
                          <input
                            type="checkbox"
                            aria-label={`Choose ${row.name}`}
                            checked={chosen.has(keyOf(row))}
                            onChange={() => {
                              const next = new Set(chosen);
                              if (!next.delete(keyOf(row))) next.add(keyOf(row));
                              setChosen(next);
                            }}
                          />
                        )}
                      </td>
                    ) : null}
                    <td className="truncate py-1 pr-2">
                      {same ? null : row.contactId ? (
                        <Link to={`/contacts/${row.contactId}`} className="hover:underline">
                          {row.name}
                        </Link>
                      ) : (
                        row.name
                      )}
                    </td>
                    <td className="py-1 pr-2 text-ink2">{words.what}</td>
                    <td className="py-1 pr-2 break-words text-ink2">{words.before}</td>
                    <td className="py-1 break-words">
                      {words.after || (row.field ? <em className="text-ink3">nothing</em> : null)}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
        {changes.hasNextPage ? (
          <p className="mt-3 text-center">
            <Button busy={changes.isFetchingNextPage} onClick={() => void changes.fetchNextPage()}>
              Show more of {count(total)}
            </Button>
          </p>
        ) : null}
      </div>
    </div>
  );
}
