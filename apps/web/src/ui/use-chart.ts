import { useEffect, useRef, type RefObject } from 'react';
import type ApexCharts from 'apexcharts';
import type { ApexOptions } from 'apexcharts';
import { usePreferences } from '../app/preferences';

type Colour = (name: string) => string;

/**
 * Draws a chart into a frame, in the colours of the theme, and anew where `shown` or the theme changes. `options` is given the value of a
 * colour of the theme by its name, as "var(--woad)".
 */
export function useChart(shown: string, options: (colour: Colour) => ApexOptions): RefObject<HTMLDivElement | null> {
  const frame = useRef<HTMLDivElement>(null);
  const { theme } = usePreferences();
  const made = useRef(options);
  useEffect(() => {
    made.current = options;
  });
  useEffect(() => {
    let chart: ApexCharts | null = null;
    let gone = false;
    void import('apexcharts').then(({ default: Chart }) => {
      if (gone || !frame.current) return;
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string) => style.getPropertyValue(name.replace(/^var\(|\)$/g, '')).trim();
      const { chart: own, ...rest } = made.current(colour);
      chart = new Chart(frame.current, {
        chart: {
          toolbar: { show: false },
          zoom: { enabled: false },
          animations: { enabled: false },
          background: 'transparent',
          fontFamily: 'inherit',
          foreColor: colour('--ink2'),
          ...own,
        },
        dataLabels: { enabled: false },
        fill: { type: 'solid' },
        tooltip: { theme: document.documentElement.dataset.theme ?? 'light' },
        states: { hover: { filter: { type: 'none' } } },
        ...rest,
        grid: { borderColor: colour('--hair'), strokeDashArray: 0, ...rest.grid },
      } as ApexOptions);
      void chart.render();
    });
    return () => {
      gone = true;
      chart?.destroy();
    };
  }, [shown, theme]);
  return frame;
}
