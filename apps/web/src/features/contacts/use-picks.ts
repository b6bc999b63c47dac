import { useCallback, useState } from 'react';
import { isOneOf, type Condition } from '@gray-loom/core/segments';
import type { BatchWhat, ContactPage } from '@gray-loom/wire';
import { api } from '../../app/api';

/** Who is picked in a list: single ones, or all that it finds but some. */
export interface Picks {
  isAll: boolean;
  /** Those that are picked; of all, those that are not. */
  ids: ReadonlySet<number>;
}

export const NO_PICKS: Picks = { isAll: false, ids: new Set() };
/** Contacts that can be named one by one; beyond them one picks by conditions. */
export const MOST_PICKED = 5000;
const PAGE = 500;

export const isPicked = ({ isAll, ids }: Picks, id: number): boolean => isAll !== ids.has(id);

/** How many are picked, of so many in the list. */
export const pickedOf = ({ isAll, ids }: Picks, total: number): number =>
  isAll ? Math.max(0, total - ids.size) : ids.size;

/** Picks with some of them turned to picked or not. */
export function withPicked({ isAll, ids }: Picks, some: readonly number[], on: boolean): Picks {
  const next = new Set(ids);
  for (const id of some)
    if (on === isAll) next.delete(id);
    else next.add(id);
  return { isAll, ids: next };
}

/** Whom picks are, for a batch. `query` is the list's filter. */
export function whatOf({ isAll, ids }: Picks, query: string): Partial<BatchWhat> {
  return isAll
    ? { filter: Object.fromEntries(new URLSearchParams(query)) as never, except: [...ids] }
    : { ids: [...ids] };
}

/** Whom picks are, as a condition beside those of the list; null where they are too many to be named. */
export function conditionOfPicks({ isAll, ids }: Picks): Condition | null {
  if (!ids.size) return isAll ? { join: 'all', of: [] } : null;
  if (ids.size > 1000) return null;
  const test = isOneOf('@id', ...[...ids].map(String));
  return isAll ? { ...test, not: true } : test;
}

/** Who is picked in the list of a query; another query begins anew. */
export function usePicks(query: string) {
  const [state, setState] = useState({ query, picks: NO_PICKS, last: null as number | null });
  const now = state.query === query ? state : { query, picks: NO_PICKS, last: null };
  const [error, setError] = useState<Error | null>(null);
  const set = useCallback(
    (picks: Picks, last: number | null = null) => {
      setError(null);
      setState({ query, picks, last });
    },
    [query],
  );
  /** Turns one over; with `from` everybody from the place that was turned last, through pages that are not loaded as well. */
  const turn = async (id: number, place: number, isRange: boolean) => {
    const on = !isPicked(now.picks, id);
    if (!isRange || now.last === null) return set(withPicked(now.picks, [id], on), place);
    const [first, last] = [Math.min(now.last, place), Math.max(now.last, place)];
    if (last - first >= MOST_PICKED) {
      setError(
        new Error(`At most ${MOST_PICKED.toLocaleString('en-GB')} are picked in one go. Pick all, or narrow the list.`),
      );
      return;
    }
    try {
      const ids: number[] = [];
      for (let at = first; at <= last; at += PAGE) {
        const page = await api.get<ContactPage>(`/contacts?${query}&at=${at}&limit=${Math.min(PAGE, last - at + 1)}`);
        ids.push(...page.rows.map((row) => row.id));
      }
      set(withPicked(now.picks, ids, on), place);
    } catch (failed) {
      setError(failed as Error);
    }
  };
  return { picks: now.picks, set, turn, error };
}
