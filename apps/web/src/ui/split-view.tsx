import { useRef, type ReactNode } from 'react';
import { setPreference, usePreferences } from '../app/preferences';

const LEAST = 320;

/** A list and, docked beside it, the sheet of what is picked. The edge between can be dragged, or moved with the arrow keys. */
export function SplitView({ list, sheet }: { list: ReactNode; sheet: ReactNode }) {
  const { sheetWidth } = usePreferences();
  const frame = useRef<HTMLDivElement>(null);
  const most = () => Math.max(LEAST, (frame.current?.clientWidth ?? 1200) - 380);
  const set = (width: number) => setPreference('sheetWidth', Math.round(Math.min(most(), Math.max(LEAST, width))));
  return (
    <div ref={frame} className="flex h-full min-h-0">
      <div className="flex min-w-0 flex-1 flex-col">{list}</div>
      {sheet ? (
        <>
          <div
            role="separator"
            aria-orientation="vertical"
            aria-label="Width of the sheet"
            aria-valuenow={sheetWidth}
            aria-valuemin={LEAST}
            tabIndex={0}
            className="w-1 shrink-0 cursor-col-resize border-l border-strong hover:bg-wash max-sm:hidden"
            onKeyDown={(event) => {
              if (event.key === 'ArrowLeft') set(sheetWidth + 24);
              if (event.key === 'ArrowRight') set(sheetWidth - 24);
            }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => {
              if (event.buttons & 1 && frame.current) set(frame.current.getBoundingClientRect().right - event.clientX);
            }}
          />
          <aside
            aria-label="Sheet"
            className="min-h-0 overflow-y-auto bg-page sm:relative max-sm:fixed max-sm:inset-0 max-sm:top-11 max-sm:z-20 max-sm:w-full!"
            style={{ width: Math.max(LEAST, sheetWidth), flexShrink: 0 }}
          >
            {sheet}
          </aside>
        </>
      ) : null}
    </div>
  );
}
