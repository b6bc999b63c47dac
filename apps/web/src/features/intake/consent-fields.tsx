import type { FileConsent } from '@gray-loom/core/mapping';
import { CHANNELS, type Channel } from '@gray-loom/core/writing';
import { CHANNEL_WORDS } from '../../ui/channel-words';

const EMPTY: FileConsent = { channels: [], how: '', statedAt: '', by: '', textShown: '', lastTouch: '', hadFrom: '' };
const ASKED: [key: 'how' | 'by' | 'lastTouch' | 'textShown' | 'hadFrom', text: string][] = [
  ['how', 'how it was obtained, such as "ticked on the sign-up sheet"'],
  ['by', 'by whom'],
  ['lastTouch', 'how recently they were in touch'],
  ['textShown', 'the words they agreed to, if known'],
  ['hadFrom', 'whom the list was had from, if not your own'],
];

/** What a permission still lacks before it can be kept; '' when nothing. */
export function lackingOf(consent: FileConsent | null): string {
  if (!consent) return '';
  if (!consent.how.trim()) return 'Say how the permission was obtained.';
  if (!consent.statedAt) return 'Say on which day.';
  if (!consent.by.trim()) return 'Say who obtained it.';
  return consent.lastTouch.trim() ? '' : 'Say how recently these people were in touch.';
}

interface ConsentFieldsProps {
  consent: FileConsent | null;
  onChange: (consent: FileConsent | null) => void;
}

/** What the people of a list allow, and what stands behind it; nobody who said stop is touched by it. */
export function ConsentFields({ consent, onChange }: ConsentFieldsProps) {
  const now = consent ?? EMPTY;
  const toggle = (channel: Channel, on: boolean) => {
    const channels = CHANNELS.filter((one) => (one === channel ? on : now.channels.includes(one)));
    onChange(channels.length ? { ...now, channels } : null);
  };
  return (
    <div className="space-y-1.5">
      <div className="flex flex-wrap gap-x-3">
        {CHANNELS.map((channel) => (
          <label key={channel} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={now.channels.includes(channel)}
              onChange={(event) => toggle(channel, event.target.checked)}
            />
            {CHANNEL_WORDS[channel]}
          </label>
        ))}
      </div>
      {consent ? (
        <>
          <p className="text-[12.5px] text-ink2">
            Kept with each of them as evidence. Whoever said stop stays as they are.
          </p>
          <label className="flex items-center gap-2 text-ink2">
            obtained on
            <input
              type="date"
              className="field"
              value={now.statedAt}
              onChange={(event) => onChange({ ...now, statedAt: event.target.value })}
            />
          </label>
          {ASKED.map(([key, text]) => (
            <input
              key={key}
              aria-label={text}
              placeholder={text}
              maxLength={key === 'textShown' ? 1000 : key === 'how' ? 300 : 120}
              className="field w-full"
              value={now[key]}
              onChange={(event) => onChange({ ...now, [key]: event.target.value })}
            />
          ))}
        </>
      ) : (
        <p className="text-[12.5px] text-ink3">Nothing is said about permissions.</p>
      )}
    </div>
  );
}
