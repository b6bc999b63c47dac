/** Blanks that part two columns. */
const GUTTER = 2;
/** Lines that tell where columns stand. */
const LOOKED_AT = 200;
/** Rows that have to have something in a second column. */
const FILLED01 = 0.5;

/** Lines of a frame around a table: dashes, crosses, colons and bars alone. */
const FRAME = /^(?=(?:[^-=─═]*[-=─═]){3})[\s|+:=\-─═│┼╪├┤]+$/;

const linesOf = (text: string) =>
  text
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '');

/** Whether the beginning of a file is a table with bars between its columns and a line below its heading. */
export function looksRuled(beginning: string): boolean {
  const lines = linesOf(beginning).slice(0, LOOKED_AT);
  const frames = lines.filter((line) => FRAME.test(line));
  const rows = lines.filter((line) => !FRAME.test(line) && /[|│]/.test(line));
  return frames.length > 0 && rows.length > 1 && frames.length + rows.length >= lines.length - 2;
}

/** A table with bars between its columns as rows; lines of its frame are none. */
export function rowsOfRuled(text: string): string[][] {
  return linesOf(text)
    .filter((line) => !FRAME.test(line) && /[|│]/.test(line))
    .map((line) => {
      const isFramed = /^\s*[|│]/.test(line);
      const inside = isFramed ? line.trim().replace(/^[|│]|[|│]$/g, '') : line;
      return inside.split(/[|│]/).map((cell) => cell.trim());
    });
}

/** Where columns begin that all lines leave room between; empty where there are not two. */
function columnsIn(lines: readonly string[]): number[] {
  const width = Math.max(...lines.map((line) => line.length));
  const blank = Array.from({ length: width }, (_, at) => lines.every((line) => (line[at] ?? ' ') === ' '));
  const starts: number[] = [];
  let run = GUTTER;
  blank.forEach((isBlank, at) => {
    if (!isBlank && run >= GUTTER) starts.push(at);
    run = isBlank ? run + 1 : 0;
  });
  return starts.length > 1 ? starts : [];
}

const cellsOf = (line: string, starts: readonly number[]) =>
  starts.map((from, i) => line.slice(from, starts[i + 1] ?? undefined).trim());

/** Whether the beginning of a file is a table whose columns stand below each other, with blanks between them and no other mark. */
export function looksAligned(beginning: string): boolean {
  const lines = linesOf(beginning).slice(0, LOOKED_AT);
  // The last one may be cut off.
  const whole = lines.length > 3 ? lines.slice(0, -1) : lines;
  const [heading = ''] = whole;
  if (whole.length < 2 || /[\t;|]/.test(whole.join('')) || heading.includes(',')) return false;
  const starts = columnsIn(whole);
  if (!starts.length || cellsOf(heading, starts).some((cell) => cell === '')) return false;
  return whole.filter((line) => cellsOf(line, starts).slice(1).some(Boolean)).length >= whole.length * FILLED01;
}

/** A table whose columns stand below each other as rows. Columns are found over all of it. */
export function rowsOfAligned(text: string): string[][] {
  const lines = linesOf(text).filter((line) => !FRAME.test(line));
  const starts = columnsIn(lines);
  return lines.map((line) => cellsOf(line, starts.length ? starts : [0]));
}
