import type { Health } from '@gray-loom/wire';
import { keys, touch, TOPICS, type Topic } from './keys';
import { QueryClient } from '@tanstack/react-query';
import { useSyncExternalStore } from 'react';
import { Refused, Unreachable } from './api';

export const queryClient = new QueryClient({
  defaultOptions: {
    // What cannot be sent is said at once; nothing is kept back to be done later, when nobody thinks of it any more.
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      staleTime: 10_000,
      refetchOnWindowFocus: true,
      retry: (count, error) => !(error instanceof Refused) && count < 2,
      retryDelay: 400,
    },
  },
});

// A session that ended shows the sign-in page again, over whatever was typed.
queryClient.getQueryCache().subscribe((event) => {
  if (event.type === 'updated' && event.action.type === 'error' && event.query.queryKey[0] !== 'session') {
    const error = event.action.error;
    if (error instanceof Refused && error.problem.status === 401)
      void queryClient.invalidateQueries({ queryKey: keys.session() });
    if (error instanceof Unreachable) setCutOff(true);
    // What is gone is not shown any longer; what cannot be asked about just now stays on screen.
    if (error instanceof Refused && error.problem.status === 404 && event.query.state.data !== undefined)
      event.query.setState({ data: undefined });
  }
});

const PAUSE_MS = 250;
/** How long to wait before a server that does not answer is asked anew. */
const AGAIN_MS = 2_000;

let isCutOff = false;
const listeners = new Set<() => void>();

function setCutOff(now: boolean): void {
  if (now === isCutOff) return;
  isCutOff = now;
  for (const listener of listeners) listener();
  if (now) void askAgain();
  // What happened meanwhile is looked up as soon as the server is there again.
  else void queryClient.invalidateQueries();
}

/** Asks until the server answers. */
async function askAgain(): Promise<void> {
  while (isCutOff) {
    await new Promise((done) => setTimeout(done, AGAIN_MS));
    const answer = await fetch('/api/health').catch(() => null);
    const told = answer?.ok ? ((await answer.json().catch(() => null)) as Health | null) : null;
    if (told && !told.down.includes('database')) setCutOff(false);
  }
}

/** Whether the server is out of reach, as seen by a request that failed or the line on which it tells what changes. */
export function useIsCutOff(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => isCutOff,
  );
}

/**
 * Listens to what the server tells and looks again at what it touches, a few times a second at most. Browsers allow six
 * connections to one server for all its tabs, so only a tab in sight keeps one; a tab that comes back looks at all anew.
 */
export function listenToServer(): () => void {
  let source: EventSource | null = null;
  const pending = new Set<Topic>();
  let timer: ReturnType<typeof setTimeout> | null = null;
  let again: ReturnType<typeof setTimeout> | null = null;
  const flush = () => {
    timer = null;
    void touch(queryClient, ...pending);
    pending.clear();
  };
  const open = () => {
    if (source) return;
    source = new EventSource('/api/events');
    source.onopen = () => setCutOff(false);
    source.onerror = () => {
      setCutOff(true);
      // After some faults a browser tries again by itself, after others it does not.
      if (source?.readyState !== EventSource.CLOSED) return;
      source = null;
      again ??= setTimeout(() => {
        again = null;
        if (document.visibilityState !== 'hidden') open();
      }, AGAIN_MS);
    };
    for (const topic of TOPICS) {
      source.addEventListener(topic, () => {
        pending.add(topic);
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
    if (again) clearTimeout(again);
    document.removeEventListener('visibilitychange', onSight);
    window.removeEventListener('pagehide', close);
    window.removeEventListener('pageshow', onSight);
  };
}
