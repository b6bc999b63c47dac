import { ACTIVITY_KINDS } from '@gray-loom/core/activity';
import type { ActivitySpan, DaySpan, NumberSpan } from '@gray-loom/core/segments';
import { Combobox } from '../../ui/combobox';
import { NumbersEditor } from './number-boxes';
import { SpanEditor } from './span-editor';

type Days = 'ever' | 'days';

const daysOf = ({ since, until }: ActivitySpan): DaySpan => ({
  ...(since ? { from: since } : {}),
  ...(until ? { to: until } : {}),
});
const isOpen = (span: NumberSpan | undefined): boolean => !span || (span.from === undefined && span.to === undefined);

/** What of the activities of somebody is asked for: kinds, what about, when, how many, and what they come to. */
export function ActivityEditor({ asked, onChange }: { asked: ActivitySpan; onChange: (asked: ActivitySpan) => void }) {
  const { kinds = [], what = '', times, sum } = asked;
  const days: Days = asked.since || asked.until ? 'days' : 'ever';
  const set = (changes: Partial<ActivitySpan>) =>
    onChange(
      Object.fromEntries(
        Object.entries({ ...asked, ...changes }).filter(([, value]) => value !== undefined && value !== ''),
      ) as ActivitySpan,
    );
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {kinds.map((kind, i) => (
        <span key={kind} className="inline-flex items-center gap-1">
          {i ? <span className="text-ink2">or</span> : null}
          <span className="inline-flex items-center rounded-loom border border-strong bg-page pl-1.5 font-semibold">
            {kind}
            <button
              type="button"
              aria-label={`Take away ${kind}`}
              className="min-h-6 px-1.5 text-ink3 hover:text-ink"
              onClick={() => set({ kinds: kinds.filter((one) => one !== kind) })}
            >
              ×
            </button>
          </span>
        </span>
      ))}
      <Combobox
        label={kinds.length ? 'Another kind' : 'Choose a kind'}
        value={null}
        choices={ACTIVITY_KINDS.filter((kind) => !kinds.includes(kind)).map((kind) => ({ value: kind, text: kind }))}
        className="min-h-6 rounded-loom border border-dashed border-strong px-1.5 text-ink2 hover:text-ink"
        onChoose={(kind) => set({ kinds: [...kinds, kind] })}
      >
        {kinds.length ? '+ or' : 'any kind'}
      </Combobox>
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
    </span>
  );
}
