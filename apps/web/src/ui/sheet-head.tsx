import type { ReactNode } from 'react';

/** The head of a sheet: what it shows, and the way out. */
export function SheetHead({
  title,
  before,
  children,
  onClose,
}: {
  title: string;
  before?: ReactNode;
  children?: ReactNode;
  onClose: () => void;
}) {
  return (
    <header className="flex items-baseline gap-2">
      {before}
      <h2 className="text-[17px] font-bold break-words">{title}</h2>
      {children}
      <button
        type="button"
        aria-label="Close the sheet"
        className="ml-auto px-1 text-ink3 hover:text-ink"
        onClick={onClose}
      >
        ×
      </button>
    </header>
  );
}
