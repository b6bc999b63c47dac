import { foldText } from '../../fields';
import type { Issue } from '../../model';
import type { ColumnMapping, Mapping } from '../mapping';
import { isOpportunityTarget } from './opportunity-cells';

const differ = (a: string, b: string) => a !== '' && b !== '' && (foldText(a) || a) !== (foldText(b) || b);

/**
 * In a table of contacts and their opportunities a contact stands in several rows, which repeat what is said of it. Where
 * two rows do not repeat the same, one of them is wrong, and a person has to say which. Other files add to what earlier
 * rows say of somebody; for them nothing is kept here.
 */
export class Repeats {
  /** Whether the file has opportunities at all. */
  readonly on: boolean;
  private readonly contactColumns: ColumnMapping[];
  private readonly opportunityColumns: ColumnMapping[];
  private readonly people = new Map<number, readonly string[]>();
  private readonly opportunities = new Map<string, { row: number; contactRow: number; cells: readonly string[] }>();

  constructor({ columns }: Mapping) {
    this.contactColumns = columns.filter(({ target, column }) => target && column >= 0 && !isOpportunityTarget(target));
    this.opportunityColumns = columns.filter(({ target, column }) => column >= 0 && isOpportunityTarget(target));
    this.on = this.opportunityColumns.length > 0;
  }

  /** Keeps the first row of a person. */
  first(row: number, cells: readonly string[]): void {
    if (this.on) this.people.set(row, cells);
  }

  /** What a further row of a person says otherwise than the first did; null where it repeats it or leaves it out. */
  ofPerson(firstRow: number, row: number, cells: readonly string[]): Issue | null {
    const first = this.people.get(firstRow);
    return first ? conflict(this.contactColumns, firstRow, first, row, cells) : null;
  }

  /**
   * Looks at an opportunity with an outside id: new in the file, the same once more, or in conflict with the row it stood
   * in first. `contactRow` is the first row of its contact.
   */
  ofOpportunity(id: string, row: number, contactRow: number, cells: readonly string[]): 'fresh' | 'again' | Issue {
    const key = foldText(id) || id;
    const earlier = this.opportunities.get(key);
    if (!earlier) {
      this.opportunities.set(key, { row, contactRow, cells });
      return 'fresh';
    }
    const wrong = conflict(this.opportunityColumns, earlier.row, earlier.cells, row, cells);
    if (wrong) return wrong;
    if (earlier.contactRow === contactRow) return 'again';
    return { code: 'conflictingRepeat', row: earlier.row, value: id, other: `${id} of somebody else`, path: { row } };
  }
}

function conflict(
  columns: readonly ColumnMapping[],
  firstRow: number,
  first: readonly string[],
  row: number,
  cells: readonly string[],
): Issue | null {
  for (const { column, header } of columns) {
    const [other, value] = [(first[column] ?? '').trim(), (cells[column] ?? '').trim()];
    if (differ(other, value))
      return {
        code: 'conflictingRepeat',
        row: firstRow,
        value,
        other,
        path: { row, column, name: header || `Column ${column + 1}` },
      };
  }
  return null;
}
