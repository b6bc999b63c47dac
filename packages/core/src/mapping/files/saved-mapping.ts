import { foldText, parseNumber, type DecimalMark } from '../../fields';
import type { ColumnGuess } from '../columns/guess-columns';
import { NO_COLUMN, type ColumnMapping, type Mapping } from '../mapping';
import type { Transform } from '../rows/transform';

export interface SavedLayout {
  headers: readonly (string | null)[];
  mapping: Mapping;
}

/** What a saved mapping makes of a file, and in what the file differs from the one it was made for. */
export interface LayoutFit {
  mapping: Mapping;
  /** Headings that were not there then; they are guessed. */
  added: string[];
  /** Headings that were there then and are not now. */
  missing: string[];
  /** Columns whose field is not there any more; they are guessed. */
  lost: string[];
  /** Columns whose dates now look as if day and month stood otherwise; they are read as then. */
  doubtful: string[];
  /** What each column of the file meant then, by its place; null for one that was left out, undefined for one that is guessed. */
  meant?: Record<number, string | null>;
}

/** From this likeness on, two layouts are taken for one kind of file. */
export const LIKE_FROM01 = 0.6;

/** Headings, folded, each with how many of the same came before it. Columns without a heading tell nothing. */
function namesOf(headers: readonly (string | null)[]): string[] {
  const seen = new Map<string, number>();
  return headers.map((header) => {
    const name = header ? foldText(header) || header.trim() : '';
    if (!name) return '';
    const nth = seen.get(name) ?? 0;
    seen.set(name, nth + 1);
    return nth ? `${name}\n${nth}` : name;
  });
}

/** The text by which a layout is found again: its headings in order. Null for a file without headings. */
export function layoutKey(headers: readonly (string | null)[]): string | null {
  const names = namesOf(headers);
  return names.some(Boolean) ? names.join('\u001f') : null;
}

/** How much two layouts have in common: shared headings of all headings (Jaccard 1901), order aside. */
export function layoutLikeness01(a: readonly (string | null)[], b: readonly (string | null)[]): number {
  const [x, y] = [new Set(namesOf(a).filter(Boolean)), new Set(namesOf(b).filter(Boolean))];
  const all = new Set([...x, ...y]).size;
  return all ? [...x].filter((name) => y.has(name)).length / all : 0;
}

/** A column that goes by others (its label's, those that are joined to it) with their places; what is missing falls away. */
function withColumns(
  { labelFrom, ...column }: ColumnMapping,
  placeNow: (column: number) => number | null,
): ColumnMapping {
  const label = labelFrom === undefined ? null : placeNow(labelFrom);
  const transforms = column.transforms?.flatMap((step): Transform[] => {
    if (step.kind !== 'join') return [step];
    const place = placeNow(step.column);
    return place === null ? [] : [{ ...step, column: place }];
  });
  return { ...column, ...(label === null ? {} : { labelFrom: label }), ...(transforms ? { transforms } : {}) };
}

/** The decimal mark of then, unless amounts of this file can be read by the other one only. */
function markOf({ samples, decimal }: ColumnGuess, then: DecimalMark): DecimalMark {
  const isNumber = (mark: DecimalMark) => samples.filter((text) => parseNumber(text, mark) !== null).length;
  return isNumber(decimal) > isNumber(then) ? decimal : then;
}

/**
 * Reads a file as one of its kind was read before. Columns are told by their headings, wherever they stand now; what is
 * new is guessed. `fallback` is the mapping by guesses, `known` the targets there are.
 */
export function fitMapping(
  saved: SavedLayout,
  guesses: readonly ColumnGuess[],
  fallback: Mapping,
  known: ReadonlySet<string>,
): LayoutFit {
  const then = new Map<string, ColumnMapping[]>();
  const savedNames = namesOf(saved.headers);
  for (const column of saved.mapping.columns) {
    const name = savedNames[column.column];
    if (name) then.set(name, [...(then.get(name) ?? []), column]);
  }
  const now = namesOf(guesses.map((guess) => guess.header));
  const { segment: _, ...wholeFile } = saved.mapping.wholeFile;
  const fit: LayoutFit = {
    // What people agreed to was said of that list, and a segment finds its people; neither is of the next.
    mapping: {
      ...saved.mapping,
      wholeFile: { ...wholeFile, consent: null },
      country: fallback.country,
      columns: [],
    },
    added: [],
    missing: [],
    lost: [],
    doubtful: [],
    meant: {},
  };
  const meant: Record<number, string | null> = (fit.meant = {});
  /** Where a column of then stands now; null where it is missing. */
  const placeNow = (column: number): number | null => {
    const at = now.indexOf(savedNames[column] || '\0');
    return at < 0 ? null : at;
  };
  fit.mapping.columns = guesses.flatMap((guess, i): ColumnMapping[] => {
    const guessed = fallback.columns[i] as ColumnMapping;
    const shown = guess.header ?? `Column ${i + 1}`;
    const before = then.get(now[i] ?? '');
    if (!before) {
      fit.added.push(shown);
      return [guessed];
    }
    const kept = before.filter(({ target }) => !target || known.has(target));
    if (kept.length < before.length) fit.lost.push(shown);
    if (!kept.length) return [guessed];
    meant[guess.index] = kept[0]?.target ?? null;
    const tellsOrder = guess.samples.length > 0 && (guess.type === 'date' || guess.type === 'partialDate');
    if (tellsOrder && kept.some(({ target, dateOrder }) => target && guess.dateOrder !== dateOrder))
      fit.doubtful.push(shown);
    const { nameOrder } = guess;
    if (nameOrder && kept.some((one) => one.target === 'fullName' && (one.nameOrder ?? 'givenFirst') !== nameOrder))
      fit.doubtful.push(shown);
    return kept.map((column) => ({
      ...withColumns(column, placeNow),
      column: guess.index,
      header: guess.header,
      newField: null,
      decimal: markOf(guess, column.decimal),
    }));
  });
  fit.mapping.columns.push(
    ...saved.mapping.columns.filter(({ column, target }) => column === NO_COLUMN && target && known.has(target)),
  );
  const changed = saved.mapping.changedColumn;
  fit.mapping.changedColumn = changed === undefined || changed === null ? null : placeNow(changed);
  const here = new Set(now);
  saved.headers.forEach((header, i) => {
    if (header && !here.has(savedNames[i] ?? '')) fit.missing.push(header);
  });
  return fit;
}
