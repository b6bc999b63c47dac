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
  run: ['tape', 'runs', 'run', 'worklist'],
  contacts: ['contacts', 'contact', 'lists', 'worklist', 'board'],
  groups: ['duplicates', 'board', 'worklist', 'contact'],
  intakes: ['intakes', 'intake', 'worklist', 'lists'],
  held: ['held', 'intakes', 'worklist'],
};

/** Listens to what the server tells and looks again at what it touches, at most a few times a second. */
export function listenToServer(): () => void {
  const source = new EventSource('/api/events');
  const pending = new Set<string>();
  let timer: ReturnType<typeof setTimeout> | null = null;
  const flush = () => {
    timer = null;
    for (const key of pending) void queryClient.invalidateQueries({ queryKey: [key] });
    pending.clear();
  };
  for (const [topic, keys] of Object.entries(TOUCHES)) {
    source.addEventListener(topic, () => {
      keys.forEach((key) => pending.add(key));
      timer ??= setTimeout(flush, 250);
    });
  }
  return () => {
    source.close();
    if (timer) clearTimeout(timer);
  };
}
