import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import { useRef, useState, type ReactNode } from 'react';
import type { ActivityChanged, ActivityEntry, Due, DueOf, ToHearFrom } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useShortcut } from '../../app/keyboard';
import { useMay, useMe } from '../../app/may';
import { Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count } from '../../ui/when';
import { localDay, localTime, todayHere, whenFrom } from './activity-words';
import { ComingDayRow, DueRow, TouchRow, type Asking, type Parts, type Talk } from './due-row';

/** What can be chosen: an entry, or somebody who is to be heard from. */
type Item = { entry: ActivityEntry } | { person: ToHearFrom };

/** Entries of a list that are shown before all of it is asked for. */
const FEW = 5;
/** Entries of a list that are shown at most. */
const ALL = 100;
const TITLES = {
  tasks: 'Tasks',
  appointments: 'Appointments',
  enquiries: 'Open enquiries',
  touch: 'Keeping in touch',
  days: 'Birthdays and anniversaries',
};

/** What waits to be done, by whom and when; each entry done, moved or handed on by a key. */
export function DueSection() {
  const touch = useTouch();
  const mayEdit = useMay('editor');
  const [of, setOf] = useState<DueOf>('mine');
  const [at, setAt] = useState(0);
  const [asking, setAsking] = useState<Asking>(null);
  const [open, setOpen] = useState<readonly string[]>([]);
  const limit = open.length ? ALL : FEW;
  const due = useQuery({
    queryKey: keys.due(of, limit),
    queryFn: () => api.get<Due>(`/due?of=${of}&limit=${limit}`),
    placeholderData: keepPreviousData,
  });
  const change = useMutation({
    mutationFn: ({ entry, parts }: { entry: ActivityEntry; parts: Parts }) =>
      api.patch<ActivityChanged>(`/activities/${entry.id}`, { version: entry.version, ...parts }),
    onSettled: () => {
      setAsking(null);
      return touch('contacts', 'run');
    },
  });
  const me = useMe();
  // A person who has something planned, or was just heard from, waits no longer.
  const write = useMutation({
    mutationFn: ({ person, body }: { person: ToHearFrom; body: object }) =>
      api.post(`/contacts/${person.contact.id}/activities`, body),
    onSuccess: async () => {
      setAsking(null);
      await touch('contacts', 'run');
      isSent.current = false;
    },
    // What was typed is still there, and can be sent again at once.
    onError: () => {
      isSent.current = false;
    },
  });
  /** Whether one is on its way; a second press comes before the row shows that it is busy. */
  const isSent = useRef(false);
  const send = (person: ToHearFrom, body: object) => {
    if (isSent.current) return;
    isSent.current = true;
    write.mutate({ person, body });
  };
  const plan = (person: ToHearFrom, { at = todayHere(), who = me }: Parts) =>
    send(person, { kind: 'task', what: 'Get in touch', at, who });
  const logTalk = (person: ToHearFrom, { way, text }: Talk) =>
    send(person, { kind: 'talk', way, text, at: new Date().toISOString(), who: me });
  const few = <T,>(list: readonly T[] | undefined, title: string): readonly T[] =>
    open.includes(title) ? (list ?? []) : (list ?? []).slice(0, FEW);
  const { totals } = due.data ?? {};
  const tasks = few(due.data?.tasks, TITLES.tasks);
  const appointments = few(due.data?.appointments, TITLES.appointments);
  const enquiries = few(due.data?.enquiries, TITLES.enquiries);
  const comingDays = few(due.data?.comingDays, TITLES.days);
  const people = few(due.data?.toHearFrom, TITLES.touch);
  const entries = [...tasks, ...appointments, ...enquiries];
  const items: Item[] = [...entries.map((entry) => ({ entry })), ...people.map((person) => ({ person }))];
  const item = items[Math.min(at, items.length - 1)];
  const chosen = item && 'entry' in item ? item.entry : null;
  const chosenPerson = item && 'person' in item ? item.person : null;
  const step = (by: number) => {
    setAsking(null);
    setAt(Math.max(0, Math.min(items.length - 1, Math.min(at, items.length - 1) + by)));
  };
  const act = (parts: Parts) => {
    if (chosen) change.mutate({ entry: chosen, parts });
    if (chosenPerson) plan(chosenPerson, parts);
  };
  const place = 'Due';
  const options = { enabled: Boolean(item), needs: 'editor' as const };
  useShortcut('j / ArrowDown', 'Next entry', place, () => step(1), { enabled: items.length > 0 });
  useShortcut('k / ArrowUp', 'Entry before', place, () => step(-1), { enabled: items.length > 0 });
  useShortcut(
    'd',
    'Done, answered, or talked to',
    place,
    () => (chosenPerson ? setAsking('talk') : act({ isOpen: false })),
    { ...options, enabled: chosen?.activity.kind !== 'appointment' && options.enabled },
  );
  useShortcut('t', 'Move to tomorrow', place, () => act({ at: tomorrow(chosen) }), options);
  useShortcut('m', 'Move to another day', place, () => setAsking('day'), options);
  useShortcut('h', 'Hand on to somebody else', place, () => setAsking('who'), options);
  const row = (entry: ActivityEntry) => (
    <DueRow
      key={entry.id}
      entry={entry}
      today={todayHere()}
      isChosen={entry.id === chosen?.id}
      asking={entry.id === chosen?.id ? asking : null}
      mayEdit={mayEdit}
      busy={change.isPending && change.variables.entry.id === entry.id}
      onChoose={() => setAt(entries.indexOf(entry))}
      onAsk={(what) => {
        setAt(entries.indexOf(entry));
        setAsking(what);
      }}
      onChange={(parts) => change.mutate({ entry, parts })}
    />
  );
  const all = (title: string) => setOpen([...open, title]);
  const nothing = due.data && !items.length && !comingDays.length;
  return (
    <div aria-label="Due" role="region" className="mb-6">
      <Heading
        aside={
          <span role="group" aria-label="Whose" className="flex gap-3">
            {(['mine', 'team'] as const).map((whose) => (
              <button
                key={whose}
                type="button"
                aria-pressed={of === whose}
                className={of === whose ? 'font-semibold text-ink underline' : 'hover:text-ink'}
                onClick={() => {
                  setOf(whose);
                  setAt(0);
                }}
              >
                {whose === 'mine' ? 'Yours' : 'Everybody’s'}
              </button>
            ))}
          </span>
        }
      >
        Due
        {totals?.late ? <span className="ml-2 font-normal text-alarm">{count(totals.late)} late</span> : null}
      </Heading>
      <Fault error={change.error} onClose={() => change.reset()} />
      <Fault error={write.error} onClose={() => write.reset()} />
      {due.isPending ? <Loading what="what is due" /> : null}
      {due.isLoadingError ? <Failed error={due.error} retry={() => void due.refetch()} /> : null}
      {nothing ? (
        <p className="py-4 text-ink2">
          {of === 'mine' ? 'Nothing waits for you in the next two weeks.' : 'Nothing waits in the next two weeks.'}{' '}
          Tasks, appointments and enquiries are written down on the sheet of a contact.
        </p>
      ) : null}
      <Part
        title={TITLES.tasks}
        shown={tasks.length}
        isAll={open.includes(TITLES.tasks)}
        total={totals?.tasks}
        onAll={all}
      >
        {tasks.map(row)}
      </Part>
      <Part
        title={TITLES.appointments}
        shown={appointments.length}
        isAll={open.includes(TITLES.appointments)}
        total={totals?.appointments}
        onAll={all}
      >
        {appointments.map(row)}
      </Part>
      <Part
        title={TITLES.enquiries}
        shown={enquiries.length}
        isAll={open.includes(TITLES.enquiries)}
        total={totals?.enquiries}
        onAll={all}
      >
        {enquiries.map(row)}
      </Part>
      <Part
        title={TITLES.touch}
        shown={people.length}
        isAll={open.includes(TITLES.touch)}
        total={totals?.toHearFrom}
        onAll={all}
      >
        {people.map((person, i) => (
          <TouchRow
            key={person.contact.id}
            person={person}
            isChosen={person === chosenPerson}
            asking={person === chosenPerson ? asking : null}
            mayEdit={mayEdit}
            busy={write.isPending && write.variables.person.contact.id === person.contact.id}
            onChoose={() => setAt(entries.length + i)}
            onAsk={(what) => {
              setAt(entries.length + i);
              setAsking(what);
            }}
            onPlan={(parts) => plan(person, parts)}
            onTalk={(talk) => logTalk(person, talk)}
          />
        ))}
      </Part>
      <Part
        title={TITLES.days}
        shown={comingDays.length}
        isAll={open.includes(TITLES.days)}
        total={due.data?.comingDays.length}
        onAll={all}
      >
        {comingDays.map((day) => (
          <ComingDayRow key={`${day.contact.id} ${day.what}`} day={day} today={todayHere()} />
        ))}
      </Part>
    </div>
  );
}

/** The day after today, at the time that an entry has. */
function tomorrow(entry: ActivityEntry | null): string | null {
  const next = new Date();
  next.setDate(next.getDate() + 1);
  return whenFrom(localDay(next.toISOString()), localTime(entry?.activity.at ?? null));
}

interface PartProps {
  title: string;
  shown: number;
  /** How many there are. */
  total?: number | undefined;
  /** Whether all of it was asked for. */
  isAll: boolean;
  onAll: (title: string) => void;
  children: ReactNode;
}

function Part({ title, shown, total = shown, isAll, onAll, children }: PartProps) {
  if (!shown) return null;
  return (
    <section className="mt-3" aria-label={title}>
      <h3 className="text-[12.5px] text-ink3">
        {title}
        {isAll && total > shown ? `, the first ${count(shown)} of ${count(total)}` : ''}
      </h3>
      <ul>{children}</ul>
      {shown < total && !isAll ? (
        <button type="button" className="link mt-1 text-[12.5px]" onClick={() => onAll(title)}>
          {count(total - shown)} more
        </button>
      ) : null}
    </section>
  );
}
