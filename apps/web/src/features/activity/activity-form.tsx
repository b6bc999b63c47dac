import { useMutation } from '@tanstack/react-query';
import { useRef, useState, type ReactNode } from 'react';
import { activityOf, type ActivityKind, type Repeat } from '@gray-loom/core/activity';
import { currencyOf } from '@gray-loom/core/fields';
import type { ActivityChanged, ActivityEntry } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';
import { useLists, useOwners } from '../../app/lists';
import { Button, Fault } from '../../ui/controls';
import { ContactPicker } from '../contacts/contact-picker';
import { draftOf, partsOf, type Draft } from './activity-draft';
import { nameOfKind, todayHere } from './activity-words';

interface ActivityFormProps {
  kind: ActivityKind;
  contactId: number;
  /** The stage that the contact is at, to offer another one with a talk. */
  stage: string;
  me: number | null;
  /** The one that is changed; null for a new one. */
  entry: ActivityEntry | null;
  onDone: (booked: readonly string[]) => void;
}

/** One entry of the stream in a form of its kind: written down anew, or changed. */
export function ActivityForm({ kind, contactId, stage, me, entry, onDone }: ActivityFormProps) {
  const touch = useTouch();
  const lists = useLists().data;
  const owners = useOwners().data ?? [];
  const [draft, setDraft] = useState<Draft>(() => {
    const first =
      entry?.activity ?? activityOf(kind, { at: kind === 'talk' || kind === 'enquiry' ? todayHere() : null });
    return draftOf(first, { me, currency: currencyOf(lists?.country ?? ''), people: entry?.people ?? [] });
  });
  const set = (changes: Partial<Draft>) => setDraft({ ...draft, ...changes });
  /** Whether it was sent already; a second click comes before the button shows that it is busy. */
  const isSent = useRef(false);
  const save = useMutation({
    mutationFn: () => {
      const parts = partsOf(kind, draft);
      return entry
        ? api.patch<ActivityChanged>(`/activities/${entry.id}`, { version: entry.version, ...parts })
        : api.post<{ booked: string[] }>(`/contacts/${contactId}/activities`, {
            kind,
            ...parts,
            ...(draft.stage ? { stage: draft.stage } : {}),
          });
    },
    onSuccess: async ({ booked }) => {
      await touch('contacts', 'run');
      onDone(booked);
    },
    onError: () => {
      isSent.current = false;
    },
  });
  const send = () => {
    if (isSent.current) return;
    isSent.current = true;
    save.mutate();
  };
  const field = (name: string, control: ReactNode, className = '') => (
    <label className={`block ${className}`}>
      <span className="block text-[12.5px] text-ink2">{name}</span>
      {control}
    </label>
  );
  const text = (part: 'what' | 'outcome' | 'place' | 'from', most: number, more = {}) => (
    <input
      className="field w-full"
      maxLength={most}
      value={draft[part]}
      onChange={(event) => set({ [part]: event.target.value })}
      {...more}
    />
  );
  const when = (name: string, dayPart: 'day' | 'endDay', timePart: 'time' | 'endTime') => (
    <div className="flex items-end gap-1.5">
      {field(
        name,
        <input
          type="date"
          className="field"
          value={draft[dayPart]}
          onChange={(event) => set({ [dayPart]: event.target.value })}
        />,
      )}
      <input
        type="time"
        aria-label={`${name}, time`}
        className="field"
        value={draft[timePart]}
        onChange={(event) => set({ [timePart]: event.target.value })}
      />
    </div>
  );
  const who = (name: string) =>
    field(
      name,
      <select
        className="field w-full"
        value={draft.who ?? ''}
        onChange={(event) => set({ who: event.target.value ? Number(event.target.value) : null })}
      >
        <option value="">nobody yet</option>
        {owners.map(({ id, name: owner }) => (
          <option key={id} value={id}>
            {owner}
          </option>
        ))}
      </select>,
      'min-w-32 flex-1',
    );
  const isNote = kind === 'note';
  const isOther = !['note', 'talk', 'task', 'appointment', 'enquiry'].includes(kind);
  const words = nameOfKind(kind).toLowerCase();
  return (
    <form
      className="mt-2 space-y-2 border border-hair bg-cloth p-3"
      aria-label={entry ? `Change the ${words}` : `New ${words}`}
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onDone([]);
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          send();
        }
      }}
    >
      <Fault error={save.error} onClose={() => save.reset()} />
      {isNote
        ? null
        : field(
            kind === 'enquiry' ? 'What they asked' : kind === 'task' ? 'What is to be done' : 'What it is about',
            text('what', 300, { autoFocus: true }),
          )}
      {isNote ? null : (
        <div className="flex flex-wrap items-end gap-2">
          {when(kind === 'task' ? 'Due' : kind === 'appointment' ? 'From' : 'When', 'day', 'time')}
          {kind === 'appointment' ? when('To', 'endDay', 'endTime') : null}
          {who(kind === 'task' ? 'Who does it' : kind === 'enquiry' ? 'Who answers' : 'Who of us')}
        </div>
      )}
      {kind === 'talk' ? (
        <div className="grid grid-cols-[auto_80px_minmax(0,1fr)] items-end gap-2">
          {field(
            'How',
            <select
              className="field"
              value={draft.way}
              onChange={(event) => set({ way: event.target.value as Draft['way'] })}
            >
              <option value="call">by phone</option>
              <option value="meeting">met</option>
            </select>,
          )}
          {field(
            'Minutes',
            <input
              className="field w-full"
              inputMode="numeric"
              value={draft.minutes}
              onChange={(event) => set({ minutes: event.target.value.replace(/\D/g, '') })}
            />,
          )}
          {field('What came of it', text('outcome', 200))}
        </div>
      ) : null}
      {kind === 'task' ? (
        <div className="flex flex-wrap items-end gap-2">
          {field(
            'Comes again every',
            <input
              className="field w-16"
              inputMode="numeric"
              value={draft.repeatEvery}
              onChange={(event) => set({ repeatEvery: event.target.value.replace(/\D/g, '') })}
            />,
          )}
          <select
            aria-label="Unit of the repeat"
            className="field"
            value={draft.repeatUnit}
            onChange={(event) => set({ repeatUnit: event.target.value as Repeat['unit'] })}
          >
            <option value="day">days</option>
            <option value="week">weeks</option>
            <option value="month">months</option>
            <option value="year">years</option>
          </select>
          {draft.repeatEvery
            ? field(
                'Until (or for ever)',
                <input
                  type="date"
                  className="field"
                  value={draft.repeatUntil}
                  onChange={(event) => set({ repeatUntil: event.target.value })}
                />,
              )
            : null}
        </div>
      ) : null}
      {kind === 'appointment' ? (
        <>
          {field('Place', text('place', 300))}
          {owners.some(({ id }) => id !== draft.who) ? (
            <fieldset>
              <legend className="text-[12.5px] text-ink2">Also there</legend>
              <span className="flex flex-wrap gap-x-3">
                {owners
                  .filter(({ id }) => id !== draft.who)
                  .map(({ id, name }) => (
                    <label key={id} className="flex items-center gap-1.5">
                      <input
                        type="checkbox"
                        checked={draft.colleagues.includes(id)}
                        onChange={(event) =>
                          set({
                            colleagues: event.target.checked
                              ? [...draft.colleagues, id]
                              : draft.colleagues.filter((one) => one !== id),
                          })
                        }
                      />
                      {name}
                    </label>
                  ))}
              </span>
            </fieldset>
          ) : null}
        </>
      ) : null}
      {kind === 'appointment' ? (
        <PeopleWithIt
          people={draft.people}
          exceptId={entry?.contact.id ?? contactId}
          onChange={(people) => set({ people })}
        />
      ) : null}
      {kind === 'enquiry' ? field('Where it came from', text('from', 200)) : null}
      {isOther ? (
        <div className="grid grid-cols-[minmax(0,1fr)_70px] gap-2">
          {field(
            'Amount',
            <input
              className="field w-full"
              inputMode="decimal"
              value={draft.amount}
              onChange={(event) => set({ amount: event.target.value })}
            />,
          )}
          {field(
            'Currency',
            <input
              className="field w-full uppercase"
              maxLength={3}
              value={draft.currency}
              onChange={(event) => set({ currency: event.target.value })}
            />,
          )}
        </div>
      ) : null}
      {field(
        isNote ? 'Note' : 'Remark',
        <textarea
          className="field w-full"
          rows={isNote ? 3 : 2}
          autoFocus={isNote}
          value={draft.text}
          onChange={(event) => set({ text: event.target.value })}
        />,
      )}
      {kind === 'talk' && !entry && lists
        ? field(
            'Stage from now on',
            <select className="field" value={draft.stage} onChange={(event) => set({ stage: event.target.value })}>
              <option value="">{stage ? `stays ${stage}` : 'stays none'}</option>
              {lists.stages
                .filter(({ label }) => label !== stage)
                .map(({ label }) => (
                  <option key={label}>{label}</option>
                ))}
            </select>,
          )
        : null}
      <div className="flex gap-2">
        <Button kind="action" type="submit" busy={save.isPending}>
          {entry ? 'Save' : `Add the ${words}`}
        </Button>
        <Button kind="quiet" onClick={() => onDone([])}>
          Cancel
        </Button>
      </div>
    </form>
  );
}

interface PeopleProps {
  people: Draft['people'];
  exceptId: number;
  onChange: (people: Draft['people']) => void;
}

/** Further contacts who take part, found by name. */
function PeopleWithIt({ people, exceptId, onChange }: PeopleProps) {
  const [finding, setFinding] = useState(false);
  return (
    <fieldset>
      <legend className="text-[12.5px] text-ink2">Further people</legend>
      <span className="flex flex-wrap items-center gap-x-3">
        {people.map(({ id, name }) => (
          <span key={id}>
            {name}{' '}
            <button
              type="button"
              aria-label={`Take ${name} out`}
              className="min-w-4 text-ink3 hover:text-alarm"
              onClick={() => onChange(people.filter((one) => one.id !== id))}
            >
              ×
            </button>
          </span>
        ))}
        <button type="button" className="text-ink2 hover:text-ink" onClick={() => setFinding(!finding)}>
          + somebody
        </button>
      </span>
      {finding ? (
        <ContactPicker
          label="Find somebody who takes part"
          exceptId={exceptId}
          autoFocus
          onChoose={(chosen) => {
            setFinding(false);
            if (!people.some(({ id }) => id === chosen.id)) onChange([...people, chosen]);
          }}
        />
      ) : null}
    </fieldset>
  );
}
