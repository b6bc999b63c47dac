import { QueryClient } from '@tanstack/react-query';
import { Refused } from './api';

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      refetchOnWindowFocus: true,
      retry: (count, error) => !(error instanceof Refused) && count < 2,
    },
  },
});

// A session that ended shows the sign-in page again, over whatever was typed.
queryClient.getQueryCache().subscribe((event) => {
  if (event.type === 'updated' && event.action.type === 'error' && event.query.queryKey[0] !== 'session') {
    const error = event.action.error;
    if (error instanceof Refused && error.problem.status === 401)
      void queryClient.invalidateQueries({ queryKey: ['session'] });
  }
});

const TOUCHES: Record<string, string[]> = {
  run: ['tape', 'runs', 'run', 'worklist', 'connections', 'connection'],
  contacts: ['contacts', 'contact', 'lists', 'worklist', 'board'],
  groups: ['duplicates', 'board', 'households', 'worklist', 'contact'],
  looks: ['duplicates'],
  intakes: ['intakes', 'intake', 'worklist', 'lists'],
  held: ['held', 'intakes', 'worklist'],
  syncs: ['connections', 'connection', 'conflicts', 'sync-changes', 'worklist', 'contact'],
};

const PAUSE_MS = 250;

/**
 * Listens to what the server tells and looks again at what it touches, a few times a second at most. Browsers allow six
 * connections to one server for all its tabs, so only a tab in sight keeps one; a tab that comes back looks at all anew.
 */
export function listenToServer(): () => void {
  let source: EventSource | null = null;
  const pending = new Set<string>();
  let timer: ReturnType<typeof setTimeout> | null = null;
  const flush = () => {
    timer = null;
    for (const key of pending) void queryClient.invalidateQueries({ queryKey: [key] });
    pending.clear();
  };
  const open = () => {
    if (source) return;
    source = new EventSource('/api/events');
    for (const [topic, keys] of Object.entries(TOUCHES)) {
      source.addEventListener(topic, () => {
        keys.forEach((key) => pending.add(key));
        timer ??= setTimeout(flush, PAUSE_MS);
      });
    }
  };
  const close = () => {
    source?.close();
    source = null;
  };
  const onSight = () => {
    if (document.visibilityState === 'hidden') close();
    else if (!source) {
      open();
      void queryClient.invalidateQueries();
    }
  };
  open();
  document.addEventListener('visibilitychange', onSight);
  window.addEventListener('pagehide', close);
  window.addEventListener('pageshow', onSight);
  return () => {
    close();
    if (timer) clearTimeout(timer);
    document.removeEventListener('visibilitychange', onSight);
    window.removeEventListener('pagehide', close);
    window.removeEventListener('pageshow', onSight);
  };
}
