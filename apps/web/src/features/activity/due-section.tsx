import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { ActivityChanged, ActivityEntry, ComingDay, Due, DueOf } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useShortcut } from '../../app/keyboard';
import { useOwners } from '../../app/lists';
import { useMay } from '../../app/may';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count } from '../../ui/when';
import { everyInWords, lateness, localDay, localTime, nameOfKind, todayHere, whenFrom, whenOf } from './activity-words';

type Parts = { isOpen?: boolean; at?: string | null; who?: number | null };
/** What is being asked of the entry that is chosen. */
type Asking = 'day' | 'who' | null;

/** Entries of a list that are shown before all of it is asked for. */
const FEW = 5;
const TITLES = {
  tasks: 'Tasks',
  appointments: 'Appointments',
  enquiries: 'Open enquiries',
  days: 'Birthdays and anniversaries',
};

/** What waits to be done, by whom and when; each entry done, moved or handed on by a key. */
export function DueSection() {
  const touch = useTouch();
  const mayEdit = useMay('editor');
  const [of, setOf] = useState<DueOf>('mine');
  const [at, setAt] = useState(0);
  const [asking, setAsking] = useState<Asking>(null);
  const due = useQuery({ queryKey: keys.due(of), queryFn: () => api.get<Due>(`/due?of=${of}`) });
  const change = useMutation({
    mutationFn: ({ entry, parts }: { entry: ActivityEntry; parts: Parts }) =>
      api.patch<ActivityChanged>(`/activities/${entry.id}`, { version: entry.version, ...parts }),
    onSettled: () => {
      setAsking(null);
      return touch('contacts', 'run');
    },
  });
  const [open, setOpen] = useState<readonly string[]>([]);
  const few = <T,>(list: readonly T[] | undefined, title: string): readonly T[] =>
    open.includes(title) ? (list ?? []) : (list ?? []).slice(0, FEW);
  const { totals } = due.data ?? {};
  const tasks = few(due.data?.tasks, TITLES.tasks);
  const appointments = few(due.data?.appointments, TITLES.appointments);
  const enquiries = few(due.data?.enquiries, TITLES.enquiries);
  const comingDays = few(due.data?.comingDays, TITLES.days);
  const entries = [...tasks, ...appointments, ...enquiries];
  const chosen = entries[Math.min(at, entries.length - 1)];
  const step = (by: number) => {
    setAsking(null);
    setAt(Math.max(0, Math.min(entries.length - 1, Math.min(at, entries.length - 1) + by)));
  };
  const act = (parts: Parts) => chosen && change.mutate({ entry: chosen, parts });
  const place = 'Due';
  const options = { enabled: Boolean(chosen), needs: 'editor' as const };
  useShortcut('j / ArrowDown', 'Next entry', place, () => step(1), { enabled: entries.length > 0 });
  useShortcut('k / ArrowUp', 'Entry before', place, () => step(-1), { enabled: entries.length > 0 });
  useShortcut('d', 'Done, or answered', place, () => act({ isOpen: false }), {
    ...options,
    enabled: chosen?.activity.kind !== 'appointment' && options.enabled,
  });
  useShortcut('t', 'Move to tomorrow', place, () => chosen && act({ at: tomorrow(chosen) }), options);
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
  const nothing = due.data && !entries.length && !comingDays.length;
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
      {due.isPending ? <Loading what="what is due" /> : null}
      {due.isLoadingError ? <Failed error={due.error} retry={() => void due.refetch()} /> : null}
      {nothing ? (
        <p className="py-4 text-ink2">
          {of === 'mine' ? 'Nothing waits for you in the next two weeks.' : 'Nothing waits in the next two weeks.'}{' '}
          Tasks, appointments and enquiries are written down on the sheet of a contact.
        </p>
      ) : null}
      <Part title={TITLES.tasks} shown={tasks.length} loaded={due.data?.tasks.length} total={totals?.tasks} onAll={all}>
        {tasks.map(row)}
      </Part>
      <Part
        title={TITLES.appointments}
        shown={appointments.length}
        loaded={due.data?.appointments.length}
        total={totals?.appointments}
        onAll={all}
      >
        {appointments.map(row)}
      </Part>
      <Part
        title={TITLES.enquiries}
        shown={enquiries.length}
        loaded={due.data?.enquiries.length}
        total={totals?.enquiries}
        onAll={all}
      >
        {enquiries.map(row)}
      </Part>
      <Part
        title={TITLES.days}
        shown={comingDays.length}
        loaded={due.data?.comingDays.length}
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
function tomorrow({ activity: { at } }: ActivityEntry): string | null {
  const next = new Date();
  next.setDate(next.getDate() + 1);
  return whenFrom(localDay(next.toISOString()), localTime(at));
}

interface PartProps {
  title: string;
  shown: number;
  /** How many can be shown, and how many there are. */
  loaded?: number | undefined;
  total?: number | undefined;
  onAll: (title: string) => void;
  children: ReactNode;
}

function Part({ title, shown, loaded = shown, total = shown, onAll, children }: PartProps) {
  if (!shown) return null;
  return (
    <section className="mt-3" aria-label={title}>
      <h3 className="text-[12.5px] text-ink3">
        {title}
        {shown === loaded && total > shown ? `, the first ${count(shown)} of ${count(total)}` : ''}
      </h3>
      <ul>{children}</ul>
      {shown < loaded ? (
        <button type="button" className="link mt-1 text-[12.5px]" onClick={() => onAll(title)}>
          {count(total - shown)} more {title.toLowerCase()}
        </button>
      ) : null}
    </section>
  );
}

const CHOSEN = 'border-l-ink bg-cloth';
const NOT_CHOSEN = 'border-l-transparent';
const ON_HOVER = 'opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 max-sm:hidden';

interface DueRowProps {
  entry: ActivityEntry;
  today: string;
  isChosen: boolean;
  asking: Asking;
  mayEdit: boolean;
  busy: boolean;
  onChoose: () => void;
  onAsk: (what: Asking) => void;
  onChange: (parts: Parts) => void;
}

function DueRow({ entry, today, isChosen, asking, mayEdit, busy, onChoose, onAsk, onChange }: DueRowProps) {
  const { activity, contact, who } = entry;
  const { kind, what, text, at, repeat } = activity;
  const late = lateness(at, today);
  const age =
    kind === 'enquiry' && at
      ? Math.max(0, Math.round((Date.parse(today) - Date.parse(localDay(at))) / 86_400_000))
      : null;
  return (
    <li
      aria-current={isChosen ? 'true' : undefined}
      className={`group border-b border-l-2 border-hair py-1.5 pl-2 ${isChosen ? CHOSEN : NOT_CHOSEN} ${busy ? 'opacity-50' : ''}`}
      onClick={onChoose}
    >
      <div className="flex items-baseline gap-3 max-sm:flex-wrap">
        <span
          className={`w-24 shrink-0 text-[12.5px] ${late.isLate && kind === 'task' ? 'font-semibold text-alarm' : 'text-ink2'}`}
        >
          {kind === 'enquiry' ? (age ? `open ${age} d` : 'today') : late.words || 'no day'}
        </span>
        <span className="min-w-0 flex-1">
          <span className="font-semibold break-words">{what || text || nameOfKind(kind)}</span>{' '}
          <Link className="link" to={`/contacts/${contact.id}`}>
            {contact.name}
          </Link>
          <span className="block text-[12.5px] text-ink2">
            {whenOf(activity)}
            {who ? ` · ${who}` : ' · nobody yet'}
            {activity.place ? ` · ${activity.place}` : ''}
            {repeat ? ` · ${everyInWords(repeat)}` : ''}
          </span>
        </span>
        {mayEdit ? (
          <span
            className={`flex shrink-0 gap-2 text-[12.5px] text-ink2 max-sm:w-full max-sm:justify-end ${isChosen ? '' : ON_HOVER}`}
          >
            {kind === 'appointment' ? null : (
              <button type="button" className="hover:text-ink" onClick={() => onChange({ isOpen: false })}>
                {kind === 'enquiry' ? 'answered' : 'done'}
              </button>
            )}
            <button type="button" className="hover:text-ink" onClick={() => onAsk('day')}>
              move
            </button>
            <button type="button" className="hover:text-ink" onClick={() => onAsk('who')}>
              hand on
            </button>
          </span>
        ) : null}
      </div>
      {asking === 'day' ? <MoveForm entry={entry} onDone={onAsk} onChange={onChange} /> : null}
      {asking === 'who' ? <HandForm entry={entry} onDone={onAsk} onChange={onChange} /> : null}
    </li>
  );
}

interface AskProps {
  entry: ActivityEntry;
  onDone: (what: Asking) => void;
  onChange: (parts: Parts) => void;
}

function MoveForm({ entry, onDone, onChange }: AskProps) {
  const { at } = entry.activity;
  const [day, setDay] = useState(at ? localDay(at) : todayHere());
  return (
    <form
      className="mt-1.5 ml-27 flex items-center gap-2"
      aria-label="Move to another day"
      onSubmit={(event) => {
        event.preventDefault();
        onChange({ at: whenFrom(day, localTime(at)) });
      }}
      onKeyDown={(event) => event.key === 'Escape' && onDone(null)}
    >
      <input
        type="date"
        aria-label="Day"
        className="field"
        autoFocus
        required
        value={day}
        onChange={(event) => setDay(event.target.value)}
      />
      <Button type="submit">Move</Button>
      <Button kind="quiet" onClick={() => onDone(null)}>
        Cancel
      </Button>
    </form>
  );
}

function HandForm({ entry, onDone, onChange }: AskProps) {
  const owners = useOwners().data ?? [];
  const [who, setWho] = useState('');
  return (
    <form
      className="mt-1.5 ml-27 flex items-center gap-2"
      aria-label="Hand on to somebody else"
      onSubmit={(event) => {
        event.preventDefault();
        onChange({ who: Number(who) });
      }}
      onKeyDown={(event) => event.key === 'Escape' && onDone(null)}
    >
      <select
        aria-label="Who"
        className="field"
        autoFocus
        required
        value={who}
        onChange={(event) => setWho(event.target.value)}
      >
        <option value="">choose a colleague</option>
        {owners
          .filter(({ id }) => id !== entry.activity.who)
          .map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
      </select>
      <Button type="submit" disabled={!who}>
        Hand on
      </Button>
      <Button kind="quiet" onClick={() => onDone(null)}>
        Cancel
      </Button>
    </form>
  );
}

function ComingDayRow({ day, today }: { day: ComingDay; today: string }) {
  const { contact, what, date, on } = day;
  const years = /^\d{4}/.test(date) ? Number(on.slice(0, 4)) - Number(date.slice(0, 4)) : null;
  return (
    <li className="flex items-baseline gap-3 border-b border-l-2 border-hair border-l-transparent py-1 pl-2">
      <span className="w-24 shrink-0 text-[12.5px] text-ink2">{lateness(on, today).words}</span>
      <span className="min-w-0 flex-1">
        <Link className="link" to={`/contacts/${contact.id}`}>
          {contact.name}
        </Link>{' '}
        <span className="text-ink2">
          {what === 'birthday'
            ? years
              ? `turns ${years}`
              : 'has a birthday'
            : years
              ? `anniversary, ${years} years`
              : 'anniversary'}
        </span>
      </span>
    </li>
  );
}
