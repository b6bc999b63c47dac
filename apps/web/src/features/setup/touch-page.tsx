import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ROW_KINDS, type ActivityKind } from '@gray-loom/core/activity';
import type { Lists, SegmentChoices, TouchRhythms, TouchSettingsRequest } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { contactsWhere } from '../../app/where';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count } from '../../ui/when';
import { nameOfKinds } from '../activity/activity-words';
import { Link } from 'react-router';

type Rhythm = TouchSettingsRequest['rhythms'][number];
const kindOf = ({ stage, segmentId }: Rhythm) => (segmentId ? `segment ${segmentId}` : `stage ${stage ?? ''}`);

/** What counts as being in touch, and how often that is expected of whom. */
export function TouchPage({ lists }: { lists: Lists }) {
  const touch = useTouch();
  const kept = useQuery({
    queryKey: keys.keepingInTouch(),
    queryFn: () => api.get<TouchRhythms>('/keeping-in-touch'),
  });
  const segments =
    useQuery({
      queryKey: keys.segmentChoices(),
      queryFn: () => api.get<SegmentChoices>('/segments/choices'),
      staleTime: 30_000,
    }).data?.segments ?? [];
  const [wanted, setWanted] = useState<TouchSettingsRequest | null>(null);
  const save = useMutation({
    mutationFn: (settings: TouchSettingsRequest) => api.put('/keeping-in-touch', settings),
    onSuccess: async () => {
      await touch('setup', 'contacts', 'segments');
      setWanted(null);
    },
  });
  if (kept.isPending) return <Loading what="rhythms" />;
  if (kept.isLoadingError) return <Failed error={kept.error} retry={() => void kept.refetch()} />;
  const settings: TouchSettingsRequest = wanted ?? {
    kinds: kept.data.kinds as ActivityKind[],
    rhythms: kept.data.rhythms.map(({ everyDays, stage, segmentId }) => ({
      everyDays,
      ...(stage ? { stage } : {}),
      ...(segmentId ? { segmentId } : {}),
    })),
  };
  const change = (parts: Partial<TouchSettingsRequest>) => setWanted({ ...settings, ...parts });
  const setRhythm = (at: number, rhythm: Rhythm) =>
    change({ rhythms: settings.rhythms.map((one, i) => (i === at ? rhythm : one)) });
  const counted = (one: Rhythm) =>
    kept.data.rhythms.find((kept) => kindOf(kept) === kindOf(one) && kept.everyDays === one.everyDays);
  const free = [
    ...lists.stages.map(({ label }) => ({ stage: label })),
    ...segments.map(({ id }) => ({ segmentId: id })),
  ].find((one) => !settings.rhythms.some((other) => kindOf(other) === kindOf({ everyDays: 1, ...one })));
  return (
    <form
      className="relative flex h-full min-h-0 flex-col"
      aria-label="Keeping in touch"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(settings);
      }}
    >
      <Fault error={save.error} onClose={() => save.reset()} />
      <div className="min-h-0 flex-1 space-y-6 overflow-y-auto px-6 py-4">
        <section className="max-w-3xl">
          <Heading>How often people are heard from</Heading>
          <p className="my-2 text-ink2">
            Whoever was not heard from for so long stands under Due on the worklist of their owner. Of several rhythms
            the shortest counts; whoever has a task or an appointment ahead waits for that.
          </p>
          {settings.rhythms.length ? (
            <ul>
              {settings.rhythms.map((one, i) => (
                <li key={i} className="flex flex-wrap items-center gap-2 border-b border-hair py-1.5">
                  <select
                    aria-label={`Whom, rhythm ${i + 1}`}
                    className="field w-56"
                    value={kindOf(one)}
                    onChange={(event) => {
                      const [is, ...rest] = event.target.value.split(' ');
                      const name = rest.join(' ');
                      setRhythm(i, {
                        everyDays: one.everyDays,
                        ...(is === 'segment' ? { segmentId: Number(name) } : { stage: name }),
                      });
                    }}
                  >
                    <optgroup label="Stages">
                      {lists.stages.map(({ label }) => (
                        <option key={label} value={`stage ${label}`}>
                          {label}
                        </option>
                      ))}
                    </optgroup>
                    <optgroup label="Segments">
                      {segments.map(({ id, name }) => (
                        <option key={id} value={`segment ${id}`}>
                          {name}
                        </option>
                      ))}
                    </optgroup>
                  </select>
                  <label className="flex items-center gap-2">
                    every
                    <input
                      type="number"
                      min={1}
                      max={3660}
                      required
                      aria-label={`Days, rhythm ${i + 1}`}
                      className="field w-20 text-right"
                      value={Number.isFinite(one.everyDays) ? one.everyDays : ''}
                      onChange={(event) => setRhythm(i, { ...one, everyDays: event.target.valueAsNumber })}
                    />
                    days
                  </label>
                  <span className="text-[12.5px] text-ink2">{sayCounted(counted(one))}</span>
                  <button
                    type="button"
                    className="ml-auto text-[12.5px] text-ink2 hover:text-ink"
                    onClick={() => change({ rhythms: settings.rhythms.filter((_, other) => other !== i) })}
                  >
                    take out
                  </button>
                </li>
              ))}
            </ul>
          ) : (
            <p className="py-2 text-ink3">Nobody is expected to be heard from.</p>
          )}
          <div className="mt-2 flex items-center gap-4">
            <Button
              disabled={!free}
              onClick={() => free && change({ rhythms: [...settings.rhythms, { everyDays: 90, ...free }] })}
            >
              Add a rhythm
            </Button>
            <Link className="link" to={contactsWhere({ field: '@overdue', op: 'number', value: { from: 0 } })}>
              Everybody who is overdue
            </Link>
          </div>
        </section>
        <section className="max-w-3xl">
          <Heading>What counts as being in touch</Heading>
          <div role="group" aria-label="Kinds that count" className="mt-2 grid grid-cols-2 gap-1 sm:grid-cols-4">
            {ROW_KINDS.map((kind) => (
              <label key={kind} className="flex min-h-7 items-center gap-2">
                <input
                  type="checkbox"
                  checked={settings.kinds.includes(kind)}
                  onChange={(event) =>
                    change({
                      kinds: event.target.checked
                        ? [...settings.kinds, kind]
                        : settings.kinds.filter((other) => other !== kind),
                    })
                  }
                />
                {nameOfKinds(kind)}
              </label>
            ))}
          </div>
        </section>
      </div>
      {wanted ? (
        <div className="flex gap-2 border-t border-strong bg-page px-6 py-2">
          <Button kind="action" type="submit" busy={save.isPending}>
            Save
          </Button>
          <Button kind="quiet" onClick={() => setWanted(null)}>
            Do not change
          </Button>
        </div>
      ) : null}
    </form>
  );
}

function sayCounted(one: TouchRhythms['rhythms'][number] | undefined): string {
  if (!one) return 'counted when saved';
  return `${count(one.people)} ${one.people === 1 ? 'contact' : 'contacts'}, ${count(one.overdue)} overdue`;
}
