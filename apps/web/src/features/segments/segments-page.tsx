import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { blanksOf, sayCondition } from '@gray-loom/core/segments';
import type { SegmentList, SegmentSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { useShortcut } from '../../app/keyboard';
import { useMay } from '../../app/may';
import { Failed, Loading, Notice } from '../../ui/controls';
import { SplitView } from '../../ui/split-view';
import { count } from '../../ui/when';
import { Course } from './course';
import { useKnown, type Known } from './names';
import { SegmentSheet } from './segment-sheet';

const ACTION =
  'ml-auto inline-flex min-h-7 items-center rounded-loom border border-action bg-action px-2.5 font-semibold text-onaction hover:opacity-90';

/** Every segment with how many are in it and how that went, and the sheet of the one that is picked. */
export function SegmentsPage() {
  const id = Number(useParams().id) || null;
  const navigate = useNavigate();
  const mayEdit = useMay('editor');
  const known = useKnown();
  const [find, setFind] = useState('');
  const list = useQuery({ queryKey: keys.segments(), queryFn: () => api.get<SegmentList>('/segments') });
  const pick = (next: number | null) =>
    void navigate(next ? `/segments/${next}` : '/segments', { replace: !!id && !!next });
  const shown = (list.data?.segments ?? []).filter(({ name, description }) =>
    `${name} ${description}`.toLowerCase().includes(find.trim().toLowerCase()),
  );
  const move = (step: number) => {
    const at = shown.findIndex((one) => one.id === id);
    const next = shown[at < 0 ? 0 : Math.min(shown.length - 1, Math.max(0, at + step))];
    if (next) pick(next.id);
  };
  useShortcut('ArrowDown / j', 'Next segment', 'Segments', () => move(1));
  useShortcut('ArrowUp / k', 'Segment before', 'Segments', () => move(-1));
  useShortcut('b', 'Build a segment', 'Segments', () => void navigate('/segments/new'), { needs: 'editor' });
  return (
    <SplitView
      list={
        <>
          <div className="flex items-center gap-3 border-b border-strong px-3.5 py-2">
            <h1 className="text-[15px] font-bold">Segments</h1>
            <span className="text-[12px] text-ink2">{list.data ? count(list.data.segments.length) : ''}</span>
            <input
              type="search"
              className="field w-52"
              aria-label="Find a segment"
              placeholder="name or description"
              value={find}
              onChange={(event) => setFind(event.target.value)}
            />
            {mayEdit ? (
              <Link to="/segments/new" className={ACTION}>
                Build a segment
              </Link>
            ) : null}
          </div>
          {list.isPending ? <Loading what="the segments" /> : null}
          {list.isLoadingError ? <Failed error={list.error} retry={() => void list.refetch()} /> : null}
          {list.data ? (
            list.data.segments.length === 0 ? (
              <Notice title="No segment yet">
                A segment is a question that is kept, such as “tag is regatta and e-mail is missing”. Its people are
                always those who fit now. Build one, or keep the conditions of a list of contacts.
              </Notice>
            ) : (
              <div className="min-h-0 flex-1 overflow-auto bg-cloth">
                <table className="w-full">
                  <thead className="sticky top-0 bg-ground text-left text-[12px] text-ink2">
                    <tr className="border-b border-strong">
                      <th className="px-3.5 py-1 font-normal">Segment</th>
                      <th className="px-2 py-1 text-right font-normal">
                        {shown.some(({ isPart }) => isPart) ? 'In it, within your remit' : 'In it'}
                      </th>
                      <th className="px-2 py-1 font-normal max-sm:hidden">60 days</th>
                      <th className="px-2 py-1 text-right font-normal whitespace-nowrap max-sm:hidden">
                        Entered, left in 30 days
                      </th>
                    </tr>
                  </thead>
                  <tbody>
                    {shown.map((one) => (
                      <SegmentRow
                        key={one.id}
                        segment={one}
                        known={known}
                        isPicked={one.id === id}
                        onPick={() => pick(one.id)}
                      />
                    ))}
                  </tbody>
                </table>
                {shown.length ? null : <Notice title="None of that name">Look for less.</Notice>}
              </div>
            )
          ) : null}
        </>
      }
      sheet={id ? <SegmentSheet key={id} id={id} known={known} onClose={() => pick(null)} /> : null}
    />
  );
}

interface RowProps {
  segment: SegmentSummary;
  known: Known;
  isPicked: boolean;
  onPick: () => void;
}

function SegmentRow({ segment, known, isPicked, onPick }: RowProps) {
  const { id, name, kind, members, days, entered, left, isShared, problem } = segment;
  const isAsking = blanksOf(segment.condition).length > 0;
  return (
    <tr
      aria-selected={isPicked}
      onClick={onPick}
      className={`cursor-pointer border-b border-hair align-top ${isPicked ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-page'}`}
    >
      <td className="px-3.5 py-1.5">
        <Link to={`/segments/${id}`} className="font-semibold" onClick={(event) => event.stopPropagation()}>
          {name}
        </Link>
        <span className="ml-2 text-[12px] text-ink2">
          {[kind === 'organization' ? 'organizations' : '', isShared ? '' : 'yours alone'].filter(Boolean).join(' · ')}
        </span>
        <span className="block text-[12.5px] text-ink2">{sayCondition(segment.condition, known)}</span>
        {problem ? <span className="block text-[12.5px] text-alarm">{problem}</span> : null}
      </td>
      <td className="px-2 py-1.5 text-right font-semibold tabular-nums">
        {isAsking ? <span className="font-normal text-ink2">asks first</span> : members === null ? '…' : count(members)}
      </td>
      <td className="px-2 py-1.5">{isAsking ? null : <Course days={days} />}</td>
      <td className="px-2 py-1.5 text-right whitespace-nowrap tabular-nums max-sm:hidden">
        {isAsking ? null : entered || left ? (
          `+${count(entered)}  −${count(left)}`
        ) : (
          <span className="text-ink2">nobody</span>
        )}
      </td>
    </tr>
  );
}
