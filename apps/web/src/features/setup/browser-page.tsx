import { keys } from '../../app/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { SessionInfo } from '@gray-loom/wire';
import { api } from '../../app/api';
import { setPreference, usePreferences, type Preferences } from '../../app/preferences';
import { Button, Heading } from '../../ui/controls';
import { THREAD_NAMES, ThreadSwatch } from '../../ui/thread-swatch';

/** Looks and keys of this browser, what the threads look like, and the way out. */
export function BrowserPage() {
  const client = useQueryClient();
  const { theme, singleKeys } = usePreferences();
  const session = useQuery({ queryKey: keys.session(), queryFn: () => api.get<SessionInfo>('/session') });
  const out = useMutation({
    mutationFn: () => api.delete('/session'),
    onSuccess: () => client.resetQueries({ queryKey: keys.session() }),
  });
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
        <div className="flex items-center gap-4 py-2">
          <span className="w-24 text-ink2">Signed in</span>
          {session.data?.name}, {session.data?.role}
          <Button className="ml-auto" busy={out.isPending} onClick={() => out.mutate()}>
            Sign out
          </Button>
        </div>
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
