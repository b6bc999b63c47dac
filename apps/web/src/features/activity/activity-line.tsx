import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ActivityChanged, ActivityEntry, ActivityHistory } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Fault, Loading } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { When } from '../../ui/when';
import { factsOf, lateness, nameOfKind, todayHere, whenOf } from './activity-words';

/** Says that something open is done or answered, or open again. */
export function useDone(entry: ActivityEntry) {
  const touch = useTouch();
  return useMutation({
    mutationFn: (isOpen: boolean) =>
      api.patch<ActivityChanged>(`/activities/${entry.id}`, { version: entry.version, isOpen }),
    onSettled: () => touch('contacts', 'run'),
  });
}

interface ActivityLineProps {
  entry: ActivityEntry;
  /** The contact whose stream it stands in; an entry of somebody else says whose it is. */
  contactId: number;
  readOnly: boolean;
  onChange: () => void;
  onRemove: () => void;
}

/** One entry of the stream: what, when and who; how it came to be on asking. */
export function ActivityLine({ entry, contactId, readOnly, onChange, onRemove }: ActivityLineProps) {
  const { activity, contact, who, by, thread, runId, version } = entry;
  const { kind, what, text, isOpen, at } = activity;
  const done = useDone(entry);
  const [showsHistory, setShowsHistory] = useState(false);
  const canBeDone = kind === 'task' || kind === 'enquiry';
  const late = isOpen ? lateness(at, todayHere()) : { words: '', isLate: false };
  const facts = factsOf(activity);
  const doer = kind === 'note' ? by : who;
  const others = [...entry.people, ...entry.colleagues].map(({ name }) => name);
  return (
    <li className="group border-b border-hair py-1.5">
      <Fault error={done.error} onClose={() => done.reset()} />
      <div className="flex items-baseline gap-2">
        <ThreadSwatch kind={thread.kind} title={thread.name} />
        {canBeDone ? (
          <input
            type="checkbox"
            aria-label={`${isOpen ? 'Say that it is' : 'Not'} ${kind === 'task' ? 'done' : 'answered'}: ${what}`}
            checked={!isOpen}
            disabled={readOnly || done.isPending}
            onChange={() => done.mutate(!isOpen)}
          />
        ) : null}
        <div className="min-w-0 flex-1">
          <p className="break-words">
            <span className="text-ink2">{nameOfKind(kind)}</span>{' '}
            {activity.file ? (
              <a className="link break-all" href={`/api/activities/${entry.id}/file`} download={what}>
                {what}
              </a>
            ) : what ? (
              <span className={`font-semibold ${canBeDone && !isOpen ? 'text-ink2 line-through decoration-1' : ''}`}>
                {what}
              </span>
            ) : null}
            {facts.length ? <span className="text-ink2"> · {facts.join(' · ')}</span> : null}
          </p>
          {text ? <p className="break-words whitespace-pre-wrap">{text}</p> : null}
          <p className="text-[12.5px] text-ink2">
            {readOnly ? null : (
              <span className="float-right flex gap-2 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 max-sm:opacity-100">
                {activity.file ? null : (
                  <button
                    type="button"
                    className="hover:text-ink"
                    aria-label={`Change: ${what || text}`}
                    onClick={onChange}
                  >
                    change
                  </button>
                )}
                <button
                  type="button"
                  className="hover:text-alarm"
                  aria-label={`Remove: ${what || text}`}
                  onClick={onRemove}
                >
                  remove
                </button>
              </span>
            )}
            {whenOf(activity)}
            {late.words ? (
              <>
                {' · '}
                <span className={late.isLate ? 'font-semibold text-alarm' : ''}>{late.words}</span>
              </>
            ) : null}
            {doer ? ` · ${doer}` : ''}
            {others.length ? ` with ${others.join(', ')}` : ''}
            {contact.id === contactId ? null : (
              <>
                {' · '}
                <Link className="link" to={`/contacts/${contact.id}`}>
                  {contact.name}
                </Link>
              </>
            )}
            {thread.kind === 'hand' ? null : (
              <>
                {' · '}
                <Link className="link" to={`/ledger/${runId}`}>
                  {thread.name}
                </Link>
              </>
            )}
            {version > 1 ? (
              <>
                {' · '}
                <button
                  type="button"
                  className="underline"
                  aria-expanded={showsHistory}
                  onClick={() => setShowsHistory(!showsHistory)}
                >
                  changed
                </button>
              </>
            ) : null}
          </p>
          {showsHistory ? <EntryHistory id={entry.id} /> : null}
        </div>
      </div>
    </li>
  );
}

/** What an entry said before, the latest first. */
function EntryHistory({ id }: { id: number }) {
  const history = useQuery({
    queryKey: keys.activityHistory(id),
    queryFn: () => api.get<ActivityHistory>(`/activities/${id}/history`),
  });
  if (!history.data) return <Loading what="what it said before" />;
  return (
    <ol className="mt-1 border-l-2 border-hair pl-2 text-[12.5px] text-ink2">
      {history.data.map(({ version, at, by, before }) => (
        <li key={version}>
          {by || 'Gray Loom'} <When at={at} />
          {before ? (
            <>
              : before it said “{[before.what, before.text].filter(Boolean).join(' – ')}”, {whenOf(before)}
              {before.isOpen ? ', open' : ''}
            </>
          ) : (
            ': written down'
          )}
        </li>
      ))}
    </ol>
  );
}
