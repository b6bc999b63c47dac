import { CUSTOM_PREFIX, foldText, type Catalogue, type FieldType } from '../../fields';
import { keyHash } from '../../matching';
import type { Issue } from '../../model';
import type { Mapping } from '../mapping';
import { isOpportunityTarget } from './opportunity-cells';

/** Parts of a name, which rows of one person write in several ways. */
const NAMES: ReadonlySet<string> = new Set(
  'prefix givenName additionalNames familyName suffix nickname fullName'.split(' '),
);
/** Types of which another value is another thing, and not the same in other words: an amount, a day, a remark. */
const OF_THINGS: ReadonlySet<FieldType> = new Set(['money', 'number', 'range', 'date', 'longText']);

interface Column {
  at: number;
  name: string;
  /** Whether a row that says something else waits; otherwise it is only said. */
  holds: boolean;
}

/**
 * What rows of one person say in columns that hold one value for a person. A further row that says something else would lose it: an
 * amount, a day, a remark or a field of one's own holds the row; anything else is left out and said. Keeps four bytes for each column
 * and row of somebody new.
 */
export class SaidOnce {
  private readonly columns: readonly Column[];
  private readonly rows = new Map<number, Int32Array>();

  constructor({ columns }: Mapping, catalogue: Catalogue) {
    const several = (target: string) => catalogue.find(target)?.several ?? true;
    const isOf = columns.some(({ target }) => isOpportunityTarget(target));
    // In a table of opportunities rows that do not repeat the same are in conflict already.
    this.columns = isOf
      ? []
      : columns.flatMap(({ column, target, header }): Column[] => {
          if (!target || column < 0 || NAMES.has(target) || several(target)) return [];
          const type = catalogue.find(target)?.type ?? 'text';
          const holds = target.startsWith(CUSTOM_PREFIX) || OF_THINGS.has(type);
          return [{ at: column, name: header || `Column ${column + 1}`, holds }];
        });
  }

  /** Keeps what the first row of a person says. */
  first(row: number, cells: readonly string[]): void {
    if (!this.columns.length) return;
    this.rows.set(
      row,
      Int32Array.from(this.columns, ({ at }) => hashOf(cells[at] ?? '')),
    );
  }

  /**
   * What a further row of the person says otherwise; an issue that holds the row comes first. What the first row left blank is
   * kept of it where it is not held.
   */
  further(firstRow: number, row: number, cells: readonly string[]): Issue[] {
    const known = this.rows.get(firstRow);
    if (!known) return [];
    const hashes = this.columns.map(({ at }) => hashOf(cells[at] ?? ''));
    const other = this.columns.filter((_, i) => hashes[i] && known[i] && hashes[i] !== known[i]);
    const held = other.find(({ holds }) => holds);
    const issueOf = ({ at, name }: Column, code: 'repeatSaysMore' | 'leftInFolding'): Issue => ({
      code,
      row: firstRow,
      value: (cells[at] ?? '').trim(),
      path: { row, column: at, name },
    });
    if (held) return [issueOf(held, 'repeatSaysMore')];
    hashes.forEach((hash, i) => {
      if (!known[i]) known[i] = hash;
    });
    return other.map((column) => issueOf(column, 'leftInFolding'));
  }
}

/** The text of a cell as a number, 0 for a blank one; marks and capitals aside. */
function hashOf(cell: string): number {
  const text = cell.trim();
  return text ? keyHash(foldText(text) || text) | 1 : 0;
}
