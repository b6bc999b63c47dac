import { ACTIVITY_KINDS } from '@gray-loom/core/activity';
import type { ActivitySpan, DaySpan, NumberSpan } from '@gray-loom/core/segments';
import { Combobox } from '../../ui/combobox';
import { NumberBox, NumbersEditor } from './number-boxes';
import { SpanEditor } from './span-editor';

type Days = 'ever' | 'days';

/** What comes of mailings and of calls, as tools say it; others can be typed. */
const OUTCOMES = [
  ...['opened', 'clicked', 'sent', 'mail came back', 'unsubscribed'],
  ...['reached', 'no answer', 'voicemail', 'call back', 'refused'],
];
/** Mailings back that are asked of until somebody says how many. */
const LAST_MAILINGS = 5;

const daysOf = ({ since, until }: ActivitySpan): DaySpan => ({
  ...(since ? { from: since } : {}),
  ...(until ? { to: until } : {}),
});
const isOpen = (span: NumberSpan | undefined): boolean => !span || (span.from === undefined && span.to === undefined);

/** Texts of which any will do, each to be taken away, and one more to be chosen. */
function AnyOf({
  all,
  choices,
  words: { none, one },
  onCreate,
  onChange,
}: {
  all: readonly string[];
  choices: readonly string[];
  words: { none: string; one: string };
  onCreate?: (text: string) => string;
  onChange: (all: string[]) => void;
}) {
  const add = (text: string) => onChange([...all, text]);
  return (
    <>
      {all.map((text, i) => (
        <span key={text} className="inline-flex items-center gap-1">
          {i ? <span className="text-ink2">or</span> : null}
          <span className="inline-flex items-center rounded-loom border border-strong bg-page pl-1.5 font-semibold">
            {text}
            <button
              type="button"
              aria-label={`Take away ${text}`}
              className="min-h-6 px-1.5 text-ink3 hover:text-ink"
              onClick={() => onChange(all.filter((other) => other !== text))}
            >
              ×
            </button>
          </span>
        </span>
      ))}
      <Combobox
        label={all.length ? `Another ${one}` : `Choose ${/^[aeiou]/.test(one) ? 'an' : 'a'} ${one}`}
        value={null}
        choices={choices.filter((text) => !all.includes(text)).map((text) => ({ value: text, text }))}
        className="min-h-6 rounded-loom border border-dashed border-strong px-1.5 text-ink2 hover:text-ink"
        onChoose={add}
        {...(onCreate ? { onCreate: add, createText: onCreate } : {})}
      >
        {all.length ? '+ or' : none}
      </Combobox>
    </>
  );
}

/** What of the activities of somebody is asked for: kinds, what came of it, what about, when, how many, and what they come to. */
export function ActivityEditor({ asked, onChange }: { asked: ActivitySpan; onChange: (asked: ActivitySpan) => void }) {
  const { kinds = [], outcomes = [], ofLast, what = '', times, sum } = asked;
  const days: Days = asked.since || asked.until ? 'days' : 'ever';
  const isOfMailings = ofLast !== undefined;
  const set = (changes: Partial<ActivitySpan>) =>
    onChange(
      Object.fromEntries(
        Object.entries({ ...asked, ...changes }).filter(([, value]) => value !== undefined && value !== ''),
      ) as ActivitySpan,
    );
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      <select
        className="field"
        aria-label="What is counted"
        value={isOfMailings ? 'mailings' : 'each'}
        onChange={({ target }) =>
          set(
            target.value === 'mailings'
              ? {
                  ofLast: LAST_MAILINGS,
                  outcomes: outcomes.length ? outcomes : ['opened'],
                  kinds: undefined,
                  sum: undefined,
                  currency: undefined,
                }
              : { ofLast: undefined },
          )
        }
      >
        <option value="each">each activity</option>
        <option value="mailings">the last mailings they were sent</option>
      </select>
      {isOfMailings ? (
        <NumberBox
          label="How many mailings back"
          value={ofLast}
          onChange={(n) => set({ ofLast: n ?? LAST_MAILINGS })}
        />
      ) : (
        <AnyOf
          all={kinds}
          choices={ACTIVITY_KINDS}
          words={{ none: 'any kind', one: 'kind' }}
          onChange={(all) => set({ kinds: all as ActivitySpan['kinds'] })}
        />
      )}
      <span className="text-ink2">with</span>
      <AnyOf
        all={outcomes}
        choices={OUTCOMES}
        words={{ none: 'any outcome', one: 'outcome' }}
        onCreate={(text) => `Outcome “${text}”`}
        onChange={(all) => set({ outcomes: all.length || isOfMailings ? all : undefined })}
      />
      <label className="flex items-center gap-1.5">
        <span className="text-ink2">about</span>
        <input
          className="field w-32"
          placeholder="anything"
          value={what}
          onChange={(event) => set({ what: event.target.value })}
        />
      </label>
      <select
        className="field"
        aria-label="When"
        value={days}
        onChange={(event) =>
          set(
            event.target.value === 'ever'
              ? { since: undefined, until: undefined }
              : { since: { n: -6, unit: 'month' }, until: { n: 0, unit: 'day' } },
          )
        }
      >
        <option value="ever">at any time</option>
        <option value="days">on days</option>
      </select>
      {days === 'days' ? (
        <SpanEditor span={daysOf(asked)} onChange={({ from, to }) => set({ since: from, until: to })} />
      ) : null}
      <span className="flex items-center gap-1.5">
        <span className="text-ink2">how many</span>
        <NumbersEditor
          span={times ?? { from: 1 }}
          onChange={(span) => set({ times: isOpen(span) ? undefined : span })}
        />
      </span>
      {isOfMailings ? null : (
        <span className="flex items-center gap-1.5">
          <span className="text-ink2">that come to</span>
          <NumbersEditor span={sum ?? {}} onChange={(span) => set({ sum: isOpen(span) ? undefined : span })} />
          <input
            className="field w-14 uppercase"
            aria-label="Currency"
            placeholder="any"
            maxLength={3}
            value={asked.currency ?? ''}
            onChange={(event) => set({ currency: event.target.value.toUpperCase() })}
          />
        </span>
      )}
    </span>
  );
}
