/** A page of labels, described by what is measured on it; lengths in millimetres. */
export interface LabelSheet {
  key: string;
  page: 'A4' | 'letter';
  across: number;
  down: number;
  width: number;
  height: number;
  /** From the edge of the page to the first label. */
  left: number;
  top: number;
  /** From one label's edge to the next label's. */
  stepX: number;
  stepY: number;
}

export const PAGES = { A4: { width: 210, height: 297 }, letter: { width: 215.9, height: 279.4 } } as const;

const sheet = (
  page: LabelSheet['page'],
  [across, down]: [number, number],
  [width, height]: [number, number],
  [left, top]: [number, number],
  [stepX, stepY]: [number, number],
): LabelSheet => ({
  key: `${page}-${across}x${down}`,
  page,
  across,
  down,
  width,
  height,
  left,
  top,
  stepX,
  stepY,
});

/** Common pages of labels by their measures. */
export const LABEL_SHEETS: readonly LabelSheet[] = [
  sheet('A4', [3, 7], [63.5, 38.1], [7.25, 15.15], [66, 38.1]),
  sheet('A4', [2, 7], [99.1, 38.1], [4.65, 15.15], [101.6, 38.1]),
  sheet('A4', [3, 8], [70, 37], [0, 0.5], [70, 37]),
  sheet('A4', [2, 4], [99.1, 67.7], [4.65, 13.1], [101.6, 67.7]),
  sheet('letter', [3, 10], [66.7, 25.4], [4.75, 12.7], [69.85, 25.4]),
  sheet('letter', [2, 7], [101.6, 33.9], [3.95, 21.2], [106.35, 33.9]),
  sheet('letter', [2, 5], [101.6, 50.8], [3.95, 12.7], [106.35, 50.8]),
];

export const sheetWords = ({ page, across, down, width, height }: LabelSheet): string =>
  `${page === 'A4' ? 'A4' : 'Letter'}, ${across * down} labels of ${width} × ${height} mm`;

/** Labels on their pages: the first page begins at place `skip`, so that a page that was begun can be used up. */
export function layOut<T>(labels: readonly T[], { across, down }: LabelSheet, skip: number): (T | null)[][] {
  const perPage = across * down;
  const places: (T | null)[] = [...Array.from({ length: skip % perPage }, () => null), ...labels];
  const pages: (T | null)[][] = [];
  for (let i = 0; i < places.length; i += perPage) pages.push(places.slice(i, i + perPage));
  return pages;
}
