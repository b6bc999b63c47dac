import { useState } from 'react';
import { Link } from 'react-router';
import type { ActivityEntry, ComingDay, ToHearFrom } from '@gray-loom/wire';
import { useOwners } from '../../app/lists';
import { Button } from '../../ui/controls';
import { count } from '../../ui/when';
import { everyInWords, lateness, localDay, localTime, nameOfKind, todayHere, whenFrom, whenOf } from './activity-words';

export type Parts = { isOpen?: boolean; at?: string | null; who?: number | null };
/** What is being asked of the entry that is chosen. */
export type Asking = 'day' | 'who' | 'talk' | null;

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

export function DueRow({ entry, today, isChosen, asking, mayEdit, busy, onChoose, onAsk, onChange }: DueRowProps) {
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
      {asking === 'day' ? <MoveForm at={at} onDone={onAsk} onChange={onChange} /> : null}
      {asking === 'who' ? <HandForm not={activity.who} onDone={onAsk} onChange={onChange} /> : null}
    </li>
  );
}

interface AskProps {
  onDone: (what: Asking) => void;
  onChange: (parts: Parts) => void;
}

function MoveForm({ at, onDone, onChange }: AskProps & { at: string | null }) {
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

function HandForm({ not, onDone, onChange }: AskProps & { not: number | null }) {
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
          .filter(({ id }) => id !== not)
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

export function ComingDayRow({ day, today }: { day: ComingDay; today: string }) {
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

/** "called", "met": what a talk was, and what was said. */
export interface Talk {
  way: 'call' | 'meeting';
  text: string;
}

interface TouchRowProps {
  person: ToHearFrom;
  isChosen: boolean;
  asking: Asking;
  mayEdit: boolean;
  busy: boolean;
  onChoose: () => void;
  onAsk: (what: Asking) => void;
  onPlan: (parts: Parts) => void;
  onTalk: (talk: Talk) => void;
}

/** Somebody who is to be heard from: a talk is logged, or something is planned. */
export function TouchRow({ person, isChosen, asking, mayEdit, busy, onChoose, onAsk, onPlan, onTalk }: TouchRowProps) {
  const { contact, owner, last, by, overdue } = person;
  return (
    <li
      aria-current={isChosen ? 'true' : undefined}
      className={`group border-b border-l-2 border-hair py-1.5 pl-2 ${isChosen ? CHOSEN : NOT_CHOSEN} ${busy ? 'opacity-50' : ''}`}
      onClick={onChoose}
    >
      <div className="flex items-baseline gap-3 max-sm:flex-wrap">
        <span className={`w-24 shrink-0 text-[12.5px] ${overdue > 0 ? 'font-semibold text-alarm' : 'text-ink2'}`}>
          {overdue > 0 ? `${count(overdue)} d overdue` : 'today'}
        </span>
        <span className="min-w-0 flex-1">
          <Link className="link" to={`/contacts/${contact.id}`}>
            {contact.name}
          </Link>
          <span className="block text-[12.5px] text-ink2">
            {last
              ? `last touch ${whenOf({ at: last, end: null })}${by ? ` by ${by}` : ''}`
              : 'nobody was ever in touch'}
            {owner ? ` · owner ${owner}` : ' · no owner'}
          </span>
        </span>
        {mayEdit ? (
          <span
            className={`flex shrink-0 gap-2 text-[12.5px] text-ink2 max-sm:w-full max-sm:justify-end ${isChosen ? '' : ON_HOVER}`}
          >
            <button type="button" className="hover:text-ink" onClick={() => onAsk('talk')}>
              log a talk
            </button>
            <button type="button" className="hover:text-ink" onClick={() => onAsk('day')}>
              plan
            </button>
            <button type="button" className="hover:text-ink" onClick={() => onAsk('who')}>
              hand on
            </button>
          </span>
        ) : null}
      </div>
      {asking === 'talk' ? <TalkForm onDone={onAsk} onTalk={onTalk} /> : null}
      {asking === 'day' ? <MoveForm at={null} onDone={onAsk} onChange={onPlan} /> : null}
      {asking === 'who' ? <HandForm not={null} onDone={onAsk} onChange={onPlan} /> : null}
    </li>
  );
}

function TalkForm({ onDone, onTalk }: { onDone: (what: Asking) => void; onTalk: (talk: Talk) => void }) {
  const [way, setWay] = useState<Talk['way']>('call');
  const [text, setText] = useState('');
  return (
    <form
      className="mt-1.5 ml-27 flex flex-wrap items-center gap-2"
      aria-label="Log a talk"
      onSubmit={(event) => {
        event.preventDefault();
        onTalk({ way, text });
      }}
      onKeyDown={(event) => event.key === 'Escape' && onDone(null)}
    >
      <select
        aria-label="How"
        className="field"
        value={way}
        onChange={(event) => setWay(event.target.value as Talk['way'])}
      >
        <option value="call">call</option>
        <option value="meeting">meeting</option>
      </select>
      <input
        aria-label="What was said"
        placeholder="What was said"
        className="field min-w-60 flex-1"
        autoFocus
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit">Log it</Button>
      <Button kind="quiet" onClick={() => onDone(null)}>
        Cancel
      </Button>
    </form>
  );
}
