import { useInfiniteQuery, useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { ActivityKind } from '@gray-loom/core/activity';
import type { ActivityPage, TouchState } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useMe } from '../../app/may';
import { Failed, Fault } from '../../ui/controls';
import { count } from '../../ui/when';
import { ActivityForm } from './activity-form';
import { ActivityLine } from './activity-line';
import { nameOfKind, nameOfKinds, whenOf, WRITTEN } from './activity-words';

/** Entries that are fetched at once. */
const PAGE = 25;

/** Everything dated that happened with a contact, or is to happen, the latest first; written down in place. */
export function ActivitySection({
  contactId,
  stage,
  readOnly,
}: {
  contactId: number;
  stage: string;
  readOnly: boolean;
}) {
  const touch = useTouch();
  const me = useMe();
  const [adding, setAdding] = useState<ActivityKind | null>(null);
  const [changing, setChanging] = useState<number | null>(null);
  const [kinds, setKinds] = useState<readonly ActivityKind[]>([]);
  const [booked, setBooked] = useState<readonly string[]>([]);
  const stream = useInfiniteQuery({
    queryKey: keys.activities(contactId, kinds.join(',')),
    queryFn: ({ pageParam }) =>
      api.get<ActivityPage>(
        `/contacts/${contactId}/activities?kinds=${kinds.join(',')}&skip=${pageParam}&limit=${PAGE}`,
      ),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (last.entries.length < PAGE ? undefined : pages.length * PAGE),
  });
  const remove = useMutation({
    mutationFn: (id: number) => api.delete(`/activities/${id}`),
    onSuccess: () => touch('contacts', 'run'),
  });
  const pages = stream.data?.pages ?? [];
  const entries = pages.flatMap((page) => page.entries);
  const counts = Object.entries(pages[0]?.counts ?? {}) as [ActivityKind, number][];
  const total = counts.reduce((sum, [, n]) => sum + n, 0);
  const done = (said: readonly string[]) => {
    setAdding(null);
    setChanging(null);
    setBooked(said);
  };
  const form = { contactId, stage, me, onDone: done };
  return (
    <section className="mt-5" aria-label="Activity">
      <h3 className="flex flex-wrap items-baseline gap-x-3 border-b border-strong pb-1 font-semibold">
        Activity
        {readOnly || adding ? null : (
          <span className="ml-auto flex flex-wrap gap-x-3 font-normal text-ink2">
            {WRITTEN.map((kind) => (
              <button key={kind} type="button" className="hover:text-ink" onClick={() => setAdding(kind)}>
                + {nameOfKind(kind).toLowerCase()}
              </button>
            ))}
          </span>
        )}
      </h3>
      <Fault error={remove.error} onClose={() => remove.reset()} />
      {booked.length ? (
        <p role="status" className="mt-2 border-l-2 border-alarm bg-alarmwash px-3 py-1.5">
          {booked.join(' ')} It is kept all the same.{' '}
          <button type="button" className="link" onClick={() => setBooked([])}>
            Close
          </button>
        </p>
      ) : null}
      {pages[0] ? <TouchLine touch={pages[0].touch} /> : null}
      {adding ? <ActivityForm key={adding} kind={adding} entry={null} {...form} /> : null}
      {counts.length > 1 ? (
        <p className="flex flex-wrap gap-x-3 py-1 text-[12.5px]" role="group" aria-label="Kinds that are shown">
          {counts.map(([kind, n]) => (
            <button
              key={kind}
              type="button"
              aria-pressed={kinds.includes(kind)}
              className={kinds.includes(kind) ? 'font-semibold underline' : 'text-ink2 hover:text-ink'}
              onClick={() => setKinds(kinds.includes(kind) ? kinds.filter((one) => one !== kind) : [...kinds, kind])}
            >
              {count(n)} {n === 1 ? nameOfKind(kind).toLowerCase() : nameOfKinds(kind)}
            </button>
          ))}
          {kinds.length ? (
            <button type="button" className="link" onClick={() => setKinds([])}>
              all
            </button>
          ) : null}
        </p>
      ) : null}
      {stream.isPending ? <p className="py-1 text-ink3">Loading…</p> : null}
      {stream.isLoadingError ? <Failed error={stream.error} retry={() => void stream.refetch()} /> : null}
      {stream.data && !entries.length && !adding ? (
        <p className="py-1 text-ink3">{total ? 'None of these kinds.' : 'Nothing is written down yet.'}</p>
      ) : null}
      <ol>
        {entries.map((entry) =>
          changing === entry.id ? (
            <li key={entry.id}>
              <ActivityForm kind={entry.activity.kind} entry={entry} {...form} />
            </li>
          ) : (
            <ActivityLine
              key={entry.id}
              entry={entry}
              contactId={contactId}
              readOnly={readOnly}
              onChange={() => setChanging(entry.id)}
              onRemove={() => remove.mutate(entry.id)}
            />
          ),
        )}
      </ol>
      {stream.hasNextPage ? (
        <button
          type="button"
          className="link mt-1"
          disabled={stream.isFetchingNextPage}
          onClick={() => void stream.fetchNextPage()}
        >
          {stream.isFetchingNextPage
            ? 'Loading…'
            : kinds.length
              ? 'Earlier ones'
              : `Earlier ones, ${count(total - entries.length)} more`}
        </button>
      ) : null}
    </section>
  );
}

/** When somebody was last in touch, and whether it is time again; nothing where there is nothing to say. */
function TouchLine({ touch: { last, by, overdue } }: { touch: TouchState }) {
  if (!last && overdue === null) return null;
  return (
    <p className="py-1 text-[12.5px] text-ink2">
      {last ? `Last touch ${whenOf({ at: last, end: null })}${by ? ` by ${by}` : ''}.` : 'Nobody was ever in touch.'}
      {overdue === null ? null : overdue > 0 ? (
        <span className="text-alarm"> Overdue by {daysInWords(overdue)}.</span>
      ) : overdue === 0 ? (
        ' Due today.'
      ) : (
        ` Due again in ${daysInWords(-overdue)}.`
      )}
    </p>
  );
}

const daysInWords = (n: number): string => `${count(n)} ${n === 1 ? 'day' : 'days'}`;
