import { keys, useTouch } from '../../app/keys';
import { showValue } from '@gray-loom/core/fields';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { BatchLook, MatchBoard, RunSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { Button, Failed, Loading, Notice } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';

/** All certain groups at once: what would happen, a random few to check, and one merge that can be taken back whole. */
export function BatchPanel() {
  const touch = useTouch();
  const look = useQuery({
    queryKey: keys.duplicates('batch'),
    queryFn: () => api.get<BatchLook>('/duplicates/batch'),
    staleTime: Infinity,
  });
  const [except, setExcept] = useState<ReadonlySet<number>>(new Set());
  const merge = useMutation({
    mutationFn: () => api.post<{ runId: number }>('/duplicates/batch', { except: [...except] }),
    onSuccess: () => touch('run'),
  });
  const groups = (look.data?.groups ?? 0) - except.size;
  // Groups that stay for a person come from the sample, so their records are known.
  const left = look.data?.sample.filter(({ group }) => except.has(group.id)) ?? [];
  const records = (look.data?.records ?? 0) - left.reduce((n, { members }) => n + members.length, 0);
  const ready = !!look.data && groups > 0 && !merge.isPending && !merge.isSuccess;
  useShortcut('Enter', 'Merge all certain groups', 'Certain groups', () => merge.mutate(), {
    enabled: ready,
    needs: 'editor',
  });
  useShortcut('r', 'Look at another sample', 'Certain groups', () => void look.refetch(), { enabled: ready });
  if (look.isPending) return <Loading what="the certain groups" />;
  if (look.isLoadingError) return <Failed error={look.error} retry={() => void look.refetch()} />;
  if (merge.isSuccess) return <BatchRun runId={merge.data.runId} />;
  if (!look.data.groups)
    return <Notice title="No certain group is open">What is likely or possible waits for a person.</Notice>;
  return (
    <div className="flex h-full flex-col">
      <div className="relative min-h-0 flex-1 overflow-auto px-4.5 pt-3">
        <h1 className="text-[18px] font-bold">Merge the certain ones</h1>
        <p className="mt-1 max-w-2xl">
          {count(groups)} groups: {count(records)} records become {count(groups)} contacts. In each, all records agree
          on the name and something that only one person has. Nothing is lost: every value stays with the contact, and
          the whole batch can be taken back.
        </p>
        <p className="mt-1 mb-2.5 max-w-2xl text-ink2">
          Check these {look.data.sample.length}, picked at random. Where records differ, what is bold stays. One that is
          not right can stay for a person; if one is wrong, look at another sample before you merge.
        </p>
        <ul className="grid gap-3 pb-3 xl:grid-cols-2">
          {look.data.sample.map((board) => (
            <SampleGroup
              key={board.group.id}
              board={board}
              left={except.has(board.group.id)}
              onLeave={(leave) => {
                const next = new Set(except);
                if (leave) next.add(board.group.id);
                else next.delete(board.group.id);
                setExcept(next);
              }}
            />
          ))}
        </ul>
      </div>
      <div className="flex items-center gap-2 border-t border-strong px-4.5 py-2.5">
        <Button
          needs="editor"
          kind="action"
          keys="Enter"
          disabled={!ready}
          busy={merge.isPending}
          onClick={() => merge.mutate()}
        >
          Merge {count(groups)} groups
        </Button>
        <Button keys="R" busy={look.isFetching} onClick={() => void look.refetch()}>
          Another sample
        </Button>
        {merge.error ? (
          <span role="alert" className="text-alarm">
            {merge.error.message}
          </span>
        ) : null}
        {except.size ? <span className="ml-auto text-ink2">{count(except.size)} stay for a person</span> : null}
      </div>
    </div>
  );
}

function SampleGroup({
  board,
  left,
  onLeave,
}: {
  board: MatchBoard;
  left: boolean;
  onLeave: (leave: boolean) => void;
}) {
  const rows = board.rows.filter((row) => row.kind !== 'one' || ['email', 'tel', 'bday'].includes(row.field));
  const weakest = [...board.reasons].sort((a, b) => a.bits - b.bits)[0];
  return (
    <li className={`border border-strong ${left ? 'opacity-60' : ''}`}>
      <div className="flex items-baseline gap-2 border-b border-hair bg-wash px-2.5 py-1">
        <Link to={`/duplicates/${board.group.id}`} className="truncate font-semibold hover:underline">
          {board.group.name}
        </Link>
        <span className="text-[12.5px] text-ink2">{board.members.length} records</span>
        <label className="ml-auto flex items-center gap-1.5 text-[12.5px] whitespace-nowrap">
          <input type="checkbox" checked={left} onChange={(event) => onLeave(event.target.checked)} />
          leave to a person
        </label>
      </div>
      <table className="w-full table-fixed text-[13px]">
        <thead className="sr-only">
          <tr>
            <th scope="col">Field</th>
            {board.members.map((member) => (
              <th key={member.id} scope="col">
                {member.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 8).map((row) => (
            <tr key={row.field} className="border-b border-hair align-top">
              <th scope="row" className="w-24 px-2.5 py-0.5 text-left text-[12.5px] font-normal text-ink2">
                {row.name}
              </th>
              {row.cells.map((cell) => (
                <td key={cell.memberId} className="px-2 py-0.5 break-words">
                  <Standing row={row} cell={cell} />
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row" className="px-2.5 py-0.5 text-left text-[12.5px] font-normal text-ink2">
              From
            </th>
            {board.members.map((member) => (
              <td key={member.id} className="truncate px-2 py-0.5 text-[12.5px] text-ink2" title={member.thread?.name}>
                {member.thread ? <ThreadSwatch kind={member.thread.kind} /> : null} {member.thread?.name}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      {weakest ? (
        <p className="border-t border-hair px-2.5 py-1 text-[12.5px] text-ink2">
          {weakest.reasons
            .filter((reason) => reason.bits > 0 && reason.field !== 'prior')
            .sort((a, b) => b.bits - a.bits)
            .slice(0, 3)
            .map((reason) => reason.text)
            .join(' · ')}
        </p>
      ) : null}
    </li>
  );
}

/** What one record says of a field: what stays stands out where they differ, and what is set aside is said to be. */
function Standing({
  row,
  cell,
}: {
  row: MatchBoard['rows'][number];
  cell: MatchBoard['rows'][number]['cells'][number];
}) {
  const text = cell.values.map((value) => showValue(row.field, value)).join(', ');
  if (!text) return <span className="text-ink3">·</span>;
  if (row.kind !== 'differ' || row.chosen === null) return text;
  const stays = row.result.some((value) => showValue(row.field, value) === text);
  return stays ? (
    <strong className="font-semibold">
      {text}
      <span className="sr-only"> (stays)</span>
    </strong>
  ) : (
    <span className="text-ink3 line-through" title="Set aside; it stays with the contact's history">
      {text}
    </span>
  );
}

/** How far the batch is, and what it did; it goes on when the page is left. */
function BatchRun({ runId }: { runId: number }) {
  const touch = useTouch();
  const run = useQuery({
    queryKey: keys.run(runId, 'batch'),
    queryFn: () => api.get<RunSummary>(`/runs/${runId}`),
    refetchInterval: (query) => (isUnderWay(query.state.data?.state) ? 700 : false),
  });
  const refresh = () => touch('run', 'groups', 'contacts');
  const state = run.data?.state;
  useEffect(() => {
    if (state && !isUnderWay(state)) void touch('groups');
  }, [touch, state]);
  const undo = useMutation({ mutationFn: () => api.post(`/runs/${runId}/undo`), onSettled: refresh });
  if (run.isPending) return <Loading what="the batch" />;
  if (run.isLoadingError) return <Failed error={run.error} retry={() => void run.refetch()} />;
  const { counts, progress, error } = run.data;
  if (isUnderWay(state))
    return (
      <Notice title="The certain groups are being merged">
        <p>
          {count(progress.done)} of {count(progress.total)} groups. The tape below has Stop; you can leave this page.
        </p>
      </Notice>
    );
  if (state === 'failed')
    return (
      <Notice title="The batch could not be ended" tone="alarm">
        <p>{error}</p>
      </Notice>
    );
  return (
    <Notice title={`${count(counts.groups ?? 0)} groups are merged`}>
      <p>
        {count(counts.merged ?? 0)} records became {count(counts.groups ?? 0)} contacts
        {counts.left
          ? `; ${count(counts.left)} ${counts.left === 1 ? 'group was' : 'groups were'} left to a person, because something changed since the scan.`
          : '.'}{' '}
        <Link to={`/ledger/${runId}`} className="link">
          In the ledger
        </Link>
      </p>
      <p className="mt-3">
        {run.data.undoneBy ? (
          'It was taken back.'
        ) : (
          <Button needs="editor" busy={undo.isPending} onClick={() => undo.mutate()}>
            Undo the whole batch
          </Button>
        )}
      </p>
      {undo.error ? (
        <p role="alert" className="text-alarm">
          {undo.error.message}
        </p>
      ) : null}
    </Notice>
  );
}

const isUnderWay = (state: RunSummary['state'] | undefined) => state === 'queued' || state === 'running';
