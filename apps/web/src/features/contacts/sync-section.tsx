import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ContactSync } from '@gray-loom/wire';
import { api } from '../../app/api';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count, When } from '../../ui/when';
import { changeWords } from '../syncs/sync-words';

/** How one contact stands with every connection: whether it takes part and why, and what went each way. */
export function SyncSection({ contactId }: { contactId: number }) {
  const touch = useTouch();
  const mayEdit = useMay('editor');
  const syncs = useQuery({
    queryKey: keys.contact(contactId, 'syncs'),
    queryFn: () => api.get<ContactSync[]>(`/contacts/${contactId}/syncs`),
  });
  const refresh = () => touch('syncs', 'run');
  const send = useMutation({
    mutationFn: (id: number) => api.post(`/contacts/${contactId}/syncs/${id}/send`),
    onSettled: refresh,
  });
  const choose = useMutation({
    mutationFn: ({ id, choice }: { id: number; choice: 'never' | null }) =>
      api.put(`/contacts/${contactId}/syncs/${id}`, { choice }),
    onSettled: refresh,
  });
  const next = useMutation({
    mutationFn: (id: number) => api.post(`/contacts/${contactId}/syncs/${id}/next`),
  });
  const [all, setAll] = useState(false);
  if (!syncs.data?.length) return null;
  const fault = send.error ?? choose.error ?? next.error;
  const story = storyAcross(syncs.data);
  return (
    <section className="mt-5" aria-label="Kept in step">
      <h3 className="border-b border-strong pb-1 font-semibold">Kept in step</h3>
      {fault ? (
        <p role="alert" className="mt-1 text-alarm">
          {fault.message}
        </p>
      ) : null}
      {syncs.data.map((sync) => (
        <div key={sync.connectionId} className="border-b border-hair py-2">
          <p className="flex items-baseline gap-2">
            <ThreadSwatch kind={sync.tool} look={sync.look} />
            <Link to={`/syncs/${sync.connectionId}`} className="font-semibold hover:underline">
              {sync.connection}
            </Link>
            {sync.stopped || !mayEdit ? null : (
              <span className="ml-auto flex gap-3 text-ink2">
                {sync.canCallNext ? (
                  <button
                    type="button"
                    className="hover:text-ink disabled:opacity-50"
                    disabled={next.isPending}
                    onClick={() => next.mutate(sync.connectionId)}
                  >
                    {next.isSuccess && next.variables === sync.connectionId ? 'Is called next' : 'Call next'}
                  </button>
                ) : null}
                <button
                  type="button"
                  className="hover:text-ink disabled:opacity-50"
                  disabled={send.isPending || sync.choice === 'never'}
                  onClick={() => send.mutate(sync.connectionId)}
                >
                  Send now
                </button>
                <button
                  type="button"
                  className="hover:text-ink"
                  onClick={() =>
                    choose.mutate({ id: sync.connectionId, choice: sync.choice === 'never' ? null : 'never' })
                  }
                >
                  {sync.choice === 'never' ? 'Let it take part' : 'Never'}
                </button>
              </span>
            )}
          </p>
          <p className="text-ink2">{sync.why}</p>
          {sync.outsideId ? (
            <p className="text-[12.5px] break-all text-ink2">
              Known there as {sync.outsideId}
              {sync.linkedSince ? (
                <>
                  {' '}
                  since <When at={sync.linkedSince} />
                </>
              ) : null}
            </p>
          ) : null}
        </div>
      ))}
      {story.length ? (
        <>
          <h4 className="mt-2 text-[12.5px] text-ink3">
            What went between here and {several(syncs.data) ? 'them' : 'there'}
          </h4>
          <ol className="mt-1 text-[12.5px]">
            {(all ? story : story.slice(0, FIRST)).map((entry) => {
              const words = changeWords(entry);
              return (
                <li key={entry.id} className="flex gap-2">
                  <span className="w-14 shrink-0 text-ink3">
                    <When at={entry.at} />
                  </span>
                  <ThreadSwatch kind={entry.tool} look={entry.look} />
                  <span className="min-w-0 break-words">
                    {words.what}
                    {entry.field ? `: ${words.before || 'nothing'} → ${words.after || 'nothing'}` : ''}
                    {several(syncs.data) ? <span className="text-ink3"> · {entry.connection}</span> : null}
                  </span>
                </li>
              );
            })}
          </ol>
          {story.length > FIRST && !all ? (
            <button type="button" className="link text-[12.5px]" onClick={() => setAll(true)}>
              {count(story.length - FIRST)} more
            </button>
          ) : null}
        </>
      ) : null}
    </section>
  );
}

/** Entries of the story that are shown at first. */
const FIRST = 8;
const several = (syncs: readonly ContactSync[]) => syncs.length > 1;

/** What went between the contact here and all tools, as one stream, the latest first. */
export const storyAcross = (syncs: readonly ContactSync[]) =>
  syncs
    .flatMap(({ story, tool, look }) => story.map((entry) => ({ ...entry, tool, look })))
    .sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : b.id - a.id));
