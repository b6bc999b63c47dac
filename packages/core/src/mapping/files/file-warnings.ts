import type { Issue } from '../../model';
import type { ColumnGuess } from '../columns/guess-columns';
import type { Mapping } from '../mapping';
import { isPermissionTarget } from '../rows/permission-cells';
import { applyTransforms } from '../rows/transform';

/** What is odd about a file as a whole, beside what is wrong in its rows. */
export type FileWarning =
  | { code: 'lostDigits'; rows: number }
  | { code: 'unclearDates'; column: string; values: number }
  | { code: 'zerosPutBack'; column: string; example: string; places: number }
  | { code: 'lettersMended'; column: string; columns: number; example: string }
  | { code: 'onlyNames'; rows: number; examples: { row: number; name: string }[] }
  | { code: 'oneAddressManyRows'; value: string; rows: number }
  | { code: 'onePersonManyRows'; row: number; rows: number }
  | { code: 'mostRowsHeld'; held: number; rows: number }
  | { code: 'otherSize'; rows: number; lastRows: number }
  | { code: 'permissionLeftOut'; column: string }
  | { code: 'leftInFolding'; columns: { name: string; rows: number }[] }
  | { code: 'heldInFolding'; columns: { name: string; rows: number }[] }
  | { code: 'unknownOwners'; owners: { name: string; rows: number }[] }
  | { code: 'columnsLeftOut'; columns: string[] };

/** From so many rows on, a shared mailbox or one person is more than a slip. */
const MANY = 10;
/** Rows with nothing but a name are odd where they are one in so many at most. */
const FEW = 4;
const EXAMPLES = 3;
const LONGEST_EXAMPLE = 60;
const NAME_FIELDS: ReadonlySet<string> = new Set(
  'fullName givenName additionalNames familyName prefix suffix nickname'.split(' '),
);
/** Values told apart; a file that has more odd ones than that is odd enough already. */
const LIMIT = 20_000;

/** Counts, row by row of a trial, what makes a file odd. Memory is bounded. */
export class WarningCounter {
  private lostDigits = 0;
  private readonly shared = new Map<string, number>();
  private readonly folded = new Map<number, number>();
  /** Rows that fold, or wait instead, since they say something else in a column, by its name. */
  private readonly leftOut = new Map<string, number>();
  private readonly waiting = new Map<string, number>();
  /** Owners that are no account. */
  private readonly owners = new Map<string, number>();

  /** Rows that would be somebody new of whom nothing but a name is known. */
  private readonly nameColumns = new Set<number>();
  private readonly onlyNames = { rows: 0, examples: [] as { row: number; name: string }[] };

  constructor(private readonly mapping: Mapping) {
    for (const { column, target } of mapping.columns)
      if (target && NAME_FIELDS.has(target)) this.nameColumns.add(column);
  }

  /** A row with its issues, and what stands in it where it would be somebody new. */
  note(issues: readonly Issue[], fresh?: { row: number; cells: readonly string[] }): void {
    if (fresh) this.noteName(fresh);

    let lost = false;
    for (const issue of issues) {
      if (issue.code === 'lossyPhone') lost = true;
      else if (issue.code === 'sharedIdentifier') count(this.shared, issue.value);
      else if (issue.code === 'foldedInto') count(this.folded, issue.row);
      else if (issue.code === 'unknownOwner') count(this.owners, issue.value);
      else if (issue.code === 'leftInFolding') count(this.leftOut, issue.path.name ?? '');
      else if (issue.code === 'repeatSaysMore') count(this.waiting, issue.path.name ?? '');
    }
    if (lost) this.lostDigits++;
  }

  private noteName({ row, cells }: { row: number; cells: readonly string[] }): void {
    const names: string[] = [];
    for (const [i, cell] of cells.entries()) {
      if (cell.trim() === '') continue;
      if (!this.nameColumns.has(i)) return;
      names.push(cell.trim());
    }
    if (!names.length) return;
    this.onlyNames.rows++;
    if (this.onlyNames.examples.length < EXAMPLES)
      this.onlyNames.examples.push({ row, name: names.join(' ').slice(0, LONGEST_EXAMPLE) });
  }

  list(file: {
    rows: number;
    held: number;
    /** Rows of the last file of the layout; null for the first. */
    lastRows: number | null;
    guesses: readonly ColumnGuess[];
  }): FileWarning[] {
    const { rows, held, lastRows } = file;
    const warnings: FileWarning[] = [];
    if (this.lostDigits) warnings.push({ code: 'lostDigits', rows: this.lostDigits });
    warnings.push(...unclearDates(this.mapping, file.guesses), ...zerosPutBack(this.mapping, file.guesses));
    warnings.push(...lettersMended(this.mapping, file.guesses), ...permissionsLeftOut(this.mapping, file.guesses));
    const named = (counts: ReadonlyMap<string, number>) => [...counts].map(([name, rows]) => ({ name, rows }));
    if (this.owners.size) warnings.push({ code: 'unknownOwners', owners: named(this.owners) });
    if (this.waiting.size) warnings.push({ code: 'heldInFolding', columns: named(this.waiting) });
    if (this.leftOut.size) warnings.push({ code: 'leftInFolding', columns: named(this.leftOut) });
    const left = columnsLeftOut(this.mapping, file.guesses);
    if (left.length) warnings.push({ code: 'columnsLeftOut', columns: left });
    const others = this.mapping.columns.filter(({ column, target }) => target && !this.nameColumns.has(column));
    const { rows: nameless } = this.onlyNames;
    if (nameless && others.length >= 2 && nameless * FEW <= rows)
      warnings.push({ code: 'onlyNames', ...this.onlyNames });
    const [value, sharing] = most(this.shared);
    if (value !== undefined && sharing >= MANY) warnings.push({ code: 'oneAddressManyRows', value, rows: sharing });
    const [row, repeats] = most(this.folded);
    if (row !== undefined && repeats >= MANY) warnings.push({ code: 'onePersonManyRows', row, rows: repeats + 1 });
    if (rows >= MANY && held > rows / 2) warnings.push({ code: 'mostRowsHeld', held, rows });
    if (lastRows !== null && Math.max(rows, lastRows) >= MANY && (rows >= lastRows * 1.8 || rows * 1.8 <= lastRows))
      warnings.push({ code: 'otherSize', rows, lastRows });
    return warnings;
  }
}

/** Date columns of which no cell tells whether the day or the month comes first. */
function unclearDates(mapping: Mapping, guesses: readonly ColumnGuess[]): FileWarning[] {
  return mapping.columns.flatMap(({ column, target, dateOrder, header }): FileWarning[] => {
    const guess = guesses[column];
    if (!target || !guess?.unclearDates || guess.dateOrder !== dateOrder) return [];
    return [{ code: 'unclearDates', column: header ?? `column ${column + 1}`, values: guess.unclearDates }];
  });
}

/** Columns of postal codes that are read with zeros in front which the file has lost. */
function zerosPutBack(mapping: Mapping, guesses: readonly ColumnGuess[]): FileWarning[] {
  return mapping.columns.flatMap(({ column, target, transforms, header }): FileWarning[] => {
    const zeros = guesses[column]?.zeros;
    const step = transforms?.find((one) => one.kind === 'zeros');
    if (!target || !zeros || !step) return [];
    const name = header ?? `column ${column + 1}`;
    return [{ code: 'zerosPutBack', column: name, example: zeros.example, places: step.places }];
  });
}

/** Columns with something in them that means nothing, and that no other column goes by. */
function columnsLeftOut({ columns, changedColumn, numberColumn }: Mapping, guesses: readonly ColumnGuess[]): string[] {
  const used = new Set(
    columns.flatMap(({ column, target, newField, labelFrom, transforms = [] }) =>
      target || newField
        ? [column, labelFrom, ...transforms.map((step) => (step.kind === 'join' ? step.column : undefined))]
        : [],
    ),
  );
  used.add(changedColumn ?? undefined);
  used.add(numberColumn);
  return guesses
    .filter(({ index, samples, field }) => samples.length > 0 && !used.has(index) && !isPermissionTarget(field))
    .map(({ index, header }) => header ?? `column ${index + 1}`);
}

/** Columns that say who may be contacted, and are left out or taken for something else. */
function permissionsLeftOut(mapping: Mapping, guesses: readonly ColumnGuess[]): FileWarning[] {
  return guesses.flatMap(({ index, field, header }): FileWarning[] => {
    const isTaken = mapping.columns.some(({ column, target }) => column === index && isPermissionTarget(target));
    if (!isPermissionTarget(field) || isTaken) return [];
    return [{ code: 'permissionLeftOut', column: header ?? `column ${index + 1}` }];
  });
}

/** Columns whose broken letters are mended: one of them, with how many there are. */
function lettersMended(mapping: Mapping, guesses: readonly ColumnGuess[]): FileWarning[] {
  const mended = mapping.columns.flatMap(({ column, target, transforms, header }) => {
    const example = guesses[column]?.brokenLetters;
    if (!target || example === undefined || !transforms?.some(({ kind }) => kind === 'letters')) return [];
    return [{ column: header ?? `column ${column + 1}`, example }];
  });
  const [first] = mended;
  return first ? [{ code: 'lettersMended', ...first, columns: mended.length }] : [];
}

function count<K>(counts: Map<K, number>, key: K): void {
  const known = counts.get(key);
  if (known !== undefined) counts.set(key, known + 1);
  else if (counts.size < LIMIT) counts.set(key, 1);
}

function most<K>(counts: ReadonlyMap<K, number>): [K | undefined, number] {
  let best: [K | undefined, number] = [undefined, 0];
  for (const [key, n] of counts) if (n > best[1]) best = [key, n];
  return best;
}

const number = (n: number) => n.toLocaleString('en-GB');
const inColumns = (columns: readonly { name: string; rows: number }[]) =>
  columns.map(({ name, rows }) => `'${name}' in ${number(rows)}`).join(', ');
const MOST_LISTED = 8;
const listed = (names: readonly string[]) =>
  names
    .slice(0, MOST_LISTED)
    .map((name) => `'${name}'`)
    .join(', ') + (names.length > MOST_LISTED ? ` and ${number(names.length - MOST_LISTED)} more` : '');

/** A warning as a sentence. */
export function wordWarning(warning: FileWarning): string {
  switch (warning.code) {
    case 'lostDigits':
      return (
        `Phones in scientific notation: ${number(warning.rows)} ${warning.rows === 1 ? 'row has' : 'rows have'} ` +
        `lost digits. Have the file made anew, with the phone column as text.`
      );
    case 'unknownOwners':
      return (
        `Owners that are no account: ${warning.owners
          .slice(0, MOST_LISTED)
          .map(({ name, rows }) => `'${name}' in ${number(rows)} ${rows === 1 ? 'row' : 'rows'}`)
          .join(', ')}` +
        `${warning.owners.length > MOST_LISTED ? ` and ${number(warning.owners.length - MOST_LISTED)} more` : ''}. ` +
        `Say who they are in the column, or later under Settings, People; until then they stand as written.`
      );
    case 'unclearDates':
      return (
        `The order of day and month in '${warning.column}' is unclear: ` +
        (warning.values === 1
          ? `a date can be read both ways, and none tells which. It is read day first.`
          : `${number(warning.values)} dates can be read both ways, and none tells which. They are read day first.`)
      );
    case 'zerosPutBack': {
      const whole = applyTransforms(warning.example, [{ kind: 'zeros', places: warning.places }], []);
      return (
        `Postal codes in '${warning.column}' have lost zeros in front, as spreadsheets take codes for numbers. They are ` +
        `put back: ${warning.example} is read as ${whole}. Leave that step out if such codes are another country's.`
      );
    }
    case 'lettersMended': {
      const others = warning.columns - 1;
      const where = `'${warning.column}'${others ? ` and ${others === 1 ? 'one other column' : `${others} other columns`}` : ''}`;
      const whole = applyTransforms(warning.example, [{ kind: 'letters' }], []);
      return `Letters in ${where} came in broken, as from a file that was once read in another encoding. They are mended:
         '${warning.example}' is read as '${whole}'. Leave that step out where it is wrong.`;
    }
    case 'onlyNames': {
      const { rows, examples } = warning;
      const some = examples.map(({ row, name }) => `'${name}' in row ${number(row)}`).join(', ');
      return `${number(rows)} ${rows === 1 ? 'row has' : 'rows have'} nothing but a name (${some}${rows > examples.length ? ', ...' : ''}).
         Look whether that is a heading within the list, and hold it where it is.`;
    }
    case 'heldInFolding':
      return `Rows of one person say different things where a contact has one value, and wait so that nothing is dropped: ${inColumns(warning.columns)}.
         Each can be let in as a contact of its own.`;
    case 'leftInFolding':
      return `Rows that fold into an earlier one say something else there, which is left out: ${inColumns(warning.columns)}. Look at them under
         Folded; each can be kept as a contact of its own, or be held.`;
    case 'columnsLeftOut':
      return `Left out, though there is something in ${warning.columns.length === 1 ? 'it' : 'them'}: ${listed(warning.columns)}.
         Give what you want to keep a meaning or a field of its own.`;
    case 'permissionLeftOut':
      return `'${warning.column}' seems to say who may be contacted and who said stop, and is left out. Whoever said stop would come in as not
         known. Give it a meaning under Permissions, or be sure that it says something else.`;
    case 'oneAddressManyRows':
      return `${number(warning.rows)} rows share '${warning.value}' without being one person.`;
    case 'onePersonManyRows':
      return `${number(warning.rows)} rows are one person, the one of row ${number(warning.row)}.`;
    case 'mostRowsHeld':
      return `${number(warning.held)} of ${number(warning.rows)} rows would be held. Look at the meanings of the columns first.`;
    case 'otherSize':
      return warning.rows > warning.lastRows
        ? `The file has ${number(warning.rows)} rows; the last of its kind had ${number(warning.lastRows)}.`
        : `The file has only ${number(warning.rows)} ${warning.rows === 1 ? 'row' : 'rows'}; the last of its kind had ${number(warning.lastRows)}.`;
  }
}
