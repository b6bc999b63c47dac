import type { ReactNode } from 'react';

/** A tag in its colour: the colour is a bar beside the word, so that the word stays readable in both themes. */
export function Tag({ label, colour, children }: { label: string; colour: number; children?: ReactNode }) {
  return (
    <span
      className="inline-flex items-center gap-1.5 border border-hair bg-wash px-1.5 py-px text-[12.5px]"
      style={{
        boxShadow: colour ? `inset 3px 0 0 var(--tag${colour})` : undefined,
        paddingLeft: colour ? 9 : undefined,
      }}
    >
      {label}
      {children}
    </span>
  );
}

export const COLOUR_NAMES = [
  'none',
  'tan',
  'brick',
  'plum',
  'violet',
  'slate blue',
  'teal',
  'sea green',
  'moss',
  'ochre',
  'stone',
];
