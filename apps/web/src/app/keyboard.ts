import { useMay, type Role } from './may';
import { useEffect, useRef } from 'react';
import { usePreferences } from './preferences';

export interface Shortcut {
  keys: string;
  text: string;
  /** Where it works, as a heading of the list. */
  place: string;
}

interface Registered extends Shortcut {
  run: (event: KeyboardEvent) => void;
  always: boolean;
}

const registered = new Set<Registered>();

/** The shortcuts that work right now, for the list on "?". */
export function activeShortcuts(): Shortcut[] {
  const seen = new Set<string>();
  return [...registered].filter(({ keys, place }) => !seen.has(keys + place) && seen.add(keys + place));
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    // Nothing is typed into a box that is ticked.
    !(target instanceof HTMLInputElement && ['checkbox', 'radio'].includes(target.type)) &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  );
}

function pressed(event: KeyboardEvent): string {
  const key = event.key === ' ' ? 'Space' : event.key;
  return event.ctrlKey || event.metaKey ? `Ctrl ${key}` : key;
}

/** Handles key presses for all registered shortcuts; the latest registered wins. */
export function handleKey(event: KeyboardEvent, singleKeys: boolean): void {
  if (event.defaultPrevented || event.altKey) return;
  const key = pressed(event);
  const typing = isTyping(event.target);
  const inDialog =
    event.target instanceof HTMLElement &&
    event.target.closest('[role="dialog"],[role="menu"],[role="listbox"]') !== null;
  for (const shortcut of [...registered].reverse()) {
    if (!shortcut.keys.split(' / ').includes(key)) continue;
    const single = key.length === 1;
    if ((typing || inDialog) && !shortcut.always) continue;
    if (single && !singleKeys && !shortcut.always) continue;
    // Enter and Space on a focused button belong to the button.
    if (
      (key === 'Enter' || key === 'Space') &&
      event.target instanceof HTMLElement &&
      event.target.closest('button,a,summary')
    )
      continue;
    event.preventDefault();
    shortcut.run(event);
    return;
  }
}

export function useKeyboard(): void {
  const { singleKeys } = usePreferences();
  useEffect(() => {
    const listener = (event: KeyboardEvent) => handleKey(event, singleKeys);
    window.addEventListener('keydown', listener);
    return () => window.removeEventListener('keydown', listener);
  }, [singleKeys]);
}

/** Registers a shortcut while a component is on screen, for those who have the role it needs. `keys` may name several, parted by " / ". */
export function useShortcut(
  keys: string,
  text: string,
  place: string,
  run: (event: KeyboardEvent) => void,
  { enabled: wanted = true, always = false, needs }: { enabled?: boolean; always?: boolean; needs?: Role } = {},
): void {
  const enabled = useMay(needs) && wanted;
  const latest = useRef(run);
  useEffect(() => {
    latest.current = run;
  });
  useEffect(() => {
    if (!enabled) return;
    const shortcut: Registered = { keys, text, place, always, run: (event) => latest.current(event) };
    registered.add(shortcut);
    return () => {
      registered.delete(shortcut);
    };
  }, [keys, text, place, enabled, always]);
}
