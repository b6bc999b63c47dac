import { useSyncExternalStore } from 'react';
import type { Span } from '@gray-loom/wire';

export interface Preferences {
  theme: 'system' | 'light' | 'dark';
  singleKeys: boolean;
  sheetWidth: number;
  /** Columns of the grid from left to right, with widths in pixels. */
  columns: { key: string; width: number }[];
  /** How many of them, from the left, stay in sight when one scrolls sideways. */
  pinned: number;
  /** How close the rows of lists stand. */
  density: 'tight' | 'plain' | 'airy';
  /** Over which time the state of connections is told. */
  span: Span;
}

const KEY = 'gray-loom';
const DEFAULTS: Preferences = {
  theme: 'system',
  singleKeys: true,
  sheetWidth: 430,
  span: 'day',
  pinned: 1,
  density: 'plain',
  columns: [
    { key: 'name', width: 190 },
    { key: 'email', width: 210 },
    { key: 'tel', width: 140 },
    { key: 'stage', width: 100 },
    { key: 'stops', width: 84 },
    { key: 'thread', width: 84 },
  ],
};

function read(): Preferences {
  try {
    return { ...DEFAULTS, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Preferences>) };
  } catch {
    return DEFAULTS;
  }
}

let current = read();
const listeners = new Set<() => void>();
const dark = matchMedia('(prefers-color-scheme: dark)');

export function applyTheme(): void {
  const wanted = current.theme === 'system' ? (dark.matches ? 'dark' : 'light') : current.theme;
  document.documentElement.dataset.theme = wanted;
}
dark.addEventListener('change', applyTheme);

export function setPreference<K extends keyof Preferences>(key: K, value: Preferences[K]): void {
  current = { ...current, [key]: value };
  localStorage.setItem(KEY, JSON.stringify(current));
  applyTheme();
  for (const listener of listeners) listener();
}

/** Choices of this browser: theme, single-key shortcuts, width of the sheet, columns of the grid. */
export function usePreferences(): Preferences {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => current,
  );
}
