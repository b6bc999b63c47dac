import { foldText, mailboxesIn, namesOfTwo, splitName, twoGivenNames, twoTitles } from '../../fields';
import type { Issue } from '../../model';
import type { ColumnMapping, Mapping } from '../mapping';

/** Meanings that only one of two people has where a row says them once. */
const OF_ONE: ReadonlySet<string | null> = new Set(
  'externalId bday anniversary nickname title additionalNames suffix'.split(' '),
);

/** The words of a name as mailboxes have them, whichever part they are of. */
function wordsOf(name: string): string[] {
  const { givenName, additionalNames, familyName } = splitName(name).name;
  return foldText(`${givenName} ${additionalNames} ${familyName}`).split(' ');
}

/** Whose of two a mailbox is by a word of one's name alone; null where it says neither or both. */
function whoseMailbox(mailbox: string, names: readonly [string, string]): 0 | 1 | null {
  const local = foldText((mailbox.split('@')[0] ?? '').replace(/[^\p{L}]+/gu, ' '));
  const [a, b] = [wordsOf(names[0]), wordsOf(names[1])];
  const holds = (own: string[], other: string[]) =>
    own.some((word) => word.length > 1 && !other.includes(word) && local.includes(word));
  const [first, second] = [holds(a, b), holds(b, a)];
  return first === second ? null : first ? 0 : 1;
}

/** What the two have of a cell of mailboxes: each the one with his or her name, both what has neither's. */
function mailboxesOf(cell: string, names: readonly [string, string]): [string, string] {
  const each: [string[], string[]] = [[], []];
  for (const mailbox of mailboxesIn(cell)) {
    const whose = whoseMailbox(mailbox, names);
    if (whose !== 1) each[0].push(mailbox);
    if (whose !== 0) each[1].push(mailbox);
  }
  return [each[0].join('; '), each[1].join('; ')];
}

function namesIn(text: string, { target, nameOrder }: ColumnMapping): [string, string] | null {
  if (target === 'fullName') return namesOfTwo(text, nameOrder);
  return target === 'givenName' ? twoGivenNames(text) : null;
}

/**
 * The cells of a row that names two people, once for each of them: what is both's stands in both, a mailbox with the one whose name
 * is in it, what one alone can have with the first. Null where the row does not name two, or not clearly. Nothing is certain: a
 * person looks at it.
 */
export function rowsOfTwo(
  cells: readonly string[],
  { columns }: Pick<Mapping, 'columns'>,
  issues: readonly Issue[],
): [string[], string[]] | null {
  const at = issues.flatMap(({ code, path }) => (code === 'twoPeople' ? (path.column ?? []) : []));
  const naming = columns.find(
    ({ column, target }) => at.includes(column) && (target === 'fullName' || target === 'givenName'),
  );
  if (!naming) return null;
  const names = namesIn(cells[naming.column] ?? '', naming);
  if (!names) return null;
  const rows: [string[], string[]] = [[...cells], [...cells]];
  for (const { column, target } of columns) {
    const cell = cells[column] ?? '';
    const parts: readonly [string, string] | null =
      column === naming.column
        ? names
        : target === 'prefix'
          ? twoTitles(cell)
          : target === 'email'
            ? mailboxesOf(cell, names)
            : OF_ONE.has(target)
              ? [cell, '']
              : null;
    if (!parts) continue;
    rows[0][column] = parts[0];
    rows[1][column] = parts[1];
  }
  return rows;
}
