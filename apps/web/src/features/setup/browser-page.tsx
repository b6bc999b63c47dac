import { setPreference, usePreferences, type Preferences } from '../../app/preferences';
import { Heading } from '../../ui/controls';
import { THREAD_NAMES, ThreadSwatch } from '../../ui/thread-swatch';

/** Looks and keys of this browser, and what the threads look like. */
export function BrowserPage() {
  const { theme, singleKeys } = usePreferences();
  return (
    <div className="h-full max-w-2xl space-y-6 overflow-y-auto px-6 py-4">
      <section>
        <Heading>This browser</Heading>
        <fieldset className="flex items-center gap-4 border-b border-hair py-2">
          <legend className="sr-only">Theme</legend>
          <span className="w-24 text-ink2">Theme</span>
          {(['system', 'light', 'dark'] as Preferences['theme'][]).map((one) => (
            <label key={one} className="flex gap-1.5">
              <input type="radio" name="theme" checked={theme === one} onChange={() => setPreference('theme', one)} />{' '}
              {one === 'system' ? 'as the system' : one}
            </label>
          ))}
        </fieldset>
        <label className="flex items-center gap-4 border-b border-hair py-2">
          <span className="w-24 text-ink2">Keyboard</span>
          <input
            type="checkbox"
            checked={singleKeys}
            onChange={(event) => setPreference('singleKeys', event.target.checked)}
          />{' '}
          Single-key shortcuts
        </label>
      </section>
      <section>
        <Heading>Threads</Heading>
        <ul>
          {Object.entries(THREAD_NAMES).map(([kind, name]) => (
            <li key={kind} className="flex items-center gap-3 border-b border-hair py-1">
              <ThreadSwatch kind={kind as keyof typeof THREAD_NAMES} /> {name}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
