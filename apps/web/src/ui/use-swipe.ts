import { useRef, type TouchEvent } from 'react';

/** A finger drawn across by this many pixels means it. */
const SWIPE = 60;

/** Hears a finger that is drawn across a part of the page: 1 for what is to the right of it, -1 for what is to the left. */
export function useSwipe(onSwipe: (step: 1 | -1) => void) {
  const begun = useRef<{ x: number; y: number } | null>(null);
  return {
    onTouchStart: ({ touches }: TouchEvent) => {
      const touch = touches[0];
      begun.current = touch ? { x: touch.clientX, y: touch.clientY } : null;
    },
    onTouchEnd: ({ changedTouches }: TouchEvent) => {
      const [from, touch] = [begun.current, changedTouches[0]];
      if (!from || !touch) return;
      const across = touch.clientX - from.x;
      // Scrolling goes down more than across.
      if (Math.abs(across) >= SWIPE && Math.abs(across) > Math.abs(touch.clientY - from.y))
        onSwipe(across < 0 ? 1 : -1);
    },
  };
}
