import { useSyncExternalStore } from 'react';

const narrow = matchMedia('(max-width: 640px)');

/** Whether the page is as narrow as a telephone, where a list shows little beside the name. */
export function useNarrow(): boolean {
  return useSyncExternalStore(
    (listener) => {
      narrow.addEventListener('change', listener);
      return () => narrow.removeEventListener('change', listener);
    },
    () => narrow.matches,
  );
}
