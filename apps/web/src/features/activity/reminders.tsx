import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ActivityChanged, ActivityEntry } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useMay } from '../../app/may';
import { Fault } from '../../ui/controls';
import { localTime } from './activity-words';

const EVERY_MS = 60_000;
const HOUR_MS = 3_600_000;
const SEEN = 'gray-loom-reminders-seen';
/** Reminders that are remembered as seen. */
const MOST_SEEN = 200;

const keyOf = ({ id, activity }: ActivityEntry) => `${id}/${activity.at ?? ''}`;
function seenHere(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(SEEN) ?? '[]');
    return Array.isArray(kept) ? kept.map(String) : [];
  } catch {
    return [];
  }
}

/** "in 10 min", "now", "40 min ago". */
function nearness(at: string | null, nowMs: number): string {
  const minutes = Math.round((Date.parse(at ?? '') - nowMs) / 60_000);
  if (minutes > 0) return `in ${minutes} min`;
  if (minutes > -2) return 'now';
  return minutes > -90 ? `${-minutes} min ago` : `${Math.round(-minutes / 60)} h ago`;
}

/** Tasks and appointments of one’s own whose time has come, above the tape, on every page; each done, put off or closed. */
export function Reminders() {
  const touch = useTouch();
  const mayEdit = useMay('editor');
  const [seen, setSeen] = useState(seenHere);
  const { data, dataUpdatedAt } = useQuery({
    queryKey: keys.reminders(),
    queryFn: () => api.get<ActivityEntry[]>('/reminders'),
    refetchInterval: EVERY_MS,
  });
  const change = useMutation({
    mutationFn: ({ entry, parts }: { entry: ActivityEntry; parts: { isOpen?: boolean; at?: string } }) =>
      api.patch<ActivityChanged>(`/activities/${entry.id}`, { version: entry.version, ...parts }),
    onSettled: () => touch('contacts', 'run'),
  });
  const close = (entry: ActivityEntry) => {
    const next = [...seen, keyOf(entry)].slice(-MOST_SEEN);
    localStorage.setItem(SEEN, JSON.stringify(next));
    setSeen(next);
  };
  const waiting = (data ?? []).filter((entry) => !seen.includes(keyOf(entry)));
  if (!waiting.length) return null;
  return (
    <section aria-label="Reminders" className="max-h-40 overflow-y-auto border-t border-strong bg-cloth">
      <Fault error={change.error} onClose={() => change.reset()} />
      <ul role="status">
        {waiting.map((entry) => (
          <li key={keyOf(entry)} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair px-3.5 py-1">
            <span className="w-20 font-semibold">{nearness(entry.activity.at, dataUpdatedAt)}</span>
            <span className="min-w-0 flex-1">
              <span className="font-semibold">{entry.activity.what}</span>{' '}
              <Link className="link" to={`/contacts/${entry.contact.id}`}>
                {entry.contact.name}
              </Link>
              <span className="text-ink2">
                {' '}
                {localTime(entry.activity.at)}
                {entry.activity.place ? ` · ${entry.activity.place}` : ''}
              </span>
            </span>
            {entry.activity.kind === 'task' && mayEdit ? (
              <>
                <button
                  type="button"
                  className="link"
                  disabled={change.isPending}
                  onClick={() => change.mutate({ entry, parts: { isOpen: false } })}
                >
                  done
                </button>
                <button
                  type="button"
                  className="link"
                  disabled={change.isPending}
                  onClick={() => change.mutate({ entry, parts: { at: new Date(Date.now() + HOUR_MS).toISOString() } })}
                >
                  in an hour
                </button>
              </>
            ) : null}
            <button
              type="button"
              className="link"
              aria-label={`Close: ${entry.activity.what}`}
              onClick={() => close(entry)}
            >
              close
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
