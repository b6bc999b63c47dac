import { foldText, foldWords, parseDate, parseEmail } from '../fields';
import { labelWord, readHeader } from './header-words';

/** Words of headings that have no meaning of their own among ours. */
const OTHER_WORDS = new Set(
  (
    'number nr no date kind type status currency fee course joined received amount gender sex age datum betrag ' +
    'montant fecha importe data importo bedrag kwota'
  ).split(' '),
);

function kindOf(cell: string): string {
  const plain = cell.trim();
  if (!plain) return 'empty';
  if (parseEmail(plain).ok) return 'email';
  if (/^[\d\s()+./-]{6,}$/.test(plain) && /\d{5}/.test(plain.replace(/\D/g, ''))) return 'digits';
  if (/^[+-]?[\d.,]+$/.test(plain)) return 'number';
  if (parseDate(plain, 'dayFirst').ok || parseDate(plain, 'monthFirst').ok) return 'date';
  return 'text';
}

/** Whether a cell reads as a heading by its words alone. */
function isHeading(cell: string): boolean {
  const { target, kindOf: ofKind, ofOthers } = readHeader(cell);
  return target !== null || ofKind !== null || ofOthers || foldWords(cell).some((word) => OTHER_WORDS.has(word));
}

/** How much one record looks like a heading over the records below it; above 0 it is one. */
function headingScore(candidate: string[], below: string[][]): number {
  let score = 0;
  let filled = 0;
  candidate.forEach((cell, i) => {
    const plain = cell.trim();
    if (!plain) return;
    filled++;
    const kind = kindOf(plain);
    if (kind === 'email' || kind === 'digits' || kind === 'date' || (kind === 'number' && plain.length > 2)) {
      score -= 3;
      return;
    }
    const { target, kindOf: ofKind } = readHeader(plain);
    if (target || ofKind || foldWords(plain).some((word) => OTHER_WORDS.has(word))) score += 2;
    const kinds = below.map((cells) => kindOf(cells[i] ?? '')).filter((k) => k !== 'empty');
    const typed = kinds.filter((k) => k !== 'text').length;
    if (kinds.length && typed > kinds.length / 2) score += 1.5;
    if (below.some((cells) => cells[i]?.trim() === plain)) score -= 1;
    if (plain.length > 40) score -= 1;
  });
  return filled === 0 ? -1 : score - 0.5;
}

function findHeading(records: string[][], width: number): number | null {
  // Titles stand above the heading as records with few filled cells; the heading is the first wide one that reads as one.
  const limit = Math.min(records.length, 12);
  let best: number | null = null;
  let bestScore = 0;
  for (let i = 0; i < limit; i++) {
    const candidate = records[i] ?? [];
    const filled = candidate.filter((cell) => cell.trim()).length;
    if (i > 0 && filled < Math.max(2, width / 2)) continue;
    if (filled < Math.min(2, width)) continue;
    const score = headingScore(candidate, records.slice(i + 1, i + 21));
    if (score > bestScore) {
      best = i;
      bestScore = score;
    }
    // A record of data ends the search: headings do not stand below people.
    if (score < -2) break;
  }
  return best;
}

/**
 * Whether `below` goes on with a heading that takes two records, as where cells over one another were joined: it stands under cells
 * that are said for several columns, is blank under those that are said for one, and reads as a heading wherever it says something.
 */
function goesOn(heading: readonly string[], below: readonly string[]): boolean {
  let opens = false;
  for (let i = 0; i < Math.max(heading.length, below.length); i++) {
    const over = heading[i]?.trim() ?? '';
    const own = below[i]?.trim() ?? '';
    if (own === '') continue;
    if (!isHeading(own) || kindOf(own) !== 'text') return false;
    if (over === '') opens = true;
  }
  return opens;
}

/** What a record above a heading says for several columns at once, by column. */
function groupsOf(above: readonly string[], heading: readonly string[]): string[] {
  let group = '';
  return heading.map((own, i) => {
    const cell = above[i]?.trim() ?? '';
    // A cell above a column that has no heading of its own is that column's, and no group.
    group = own.trim() === '' ? '' : cell || group;
    return own.trim() === '' ? cell : group;
  });
}

/** Whether a group is a label; a longer text that has such a word is a remark. */
function saysLabel(group: string): boolean {
  const words = group.split(/\s+/);
  return words.length <= 3 && words.some((word) => labelWord(word) !== null);
}

/** Meanings that somebody else's data has, whom a group is about. */
const OF_SOMEBODY: ReadonlySet<string> = new Set(
  'fullName givenName familyName tel email street locality region postalCode country'.split(' '),
);

/**
 * The headings of a table by the record that is its heading and the one above it. A group ("Home", "Emergency contact") becomes part
 * of a heading where it says whose or which one it is, or where without it two columns would be called alike.
 */
function joined(above: readonly string[] | null, heading: readonly string[], columns: number): (string | null)[] {
  const own = Array.from({ length: columns }, (_, i) => heading[i]?.trim() ?? null);
  const filled = (above ?? []).filter((cell) => cell.trim() !== '');
  if (!above || filled.length === 0 || filled.length === heading.length) return own;
  if (filled.some((cell) => cell.length > 40 || kindOf(cell) !== 'text')) return own;
  const groups = groupsOf(above, heading);
  // One text at the beginning is the title of the whole.
  if (filled.length === 1 && above[0]?.trim()) return own;
  const seen = new Set<string>();
  let others: string | null = null;
  return own.map((cell, i) => {
    const group = groups[i] ?? '';
    if (!cell) return group || cell;
    const key = foldText(cell);
    const isRepeated = seen.has(key);
    seen.add(key);
    if (!group) return cell;
    const { ofOthers } = readHeader(group);
    if (ofOthers) {
      // How far a group goes is not said: somebody else's ends with what only the person of the row has.
      const { target } = readHeader(cell);
      if (above[i]?.trim()) others = group;
      else if (others !== group || (target !== null && !OF_SOMEBODY.has(target))) {
        others = null;
        return cell;
      }
      return `${group} ${cell}`;
    }
    return saysLabel(group) || isRepeated ? `${group} ${cell}` : cell;
  });
}

export interface Heading {
  /** Number of the last record that belongs to the heading, from 1; null where there is none. */
  row: number | null;
  headers: (string | null)[];
}

/** The headings by a record that is known to hold them, from 1, with what stands above it; null where there is no such record. */
export function headingAt(records: readonly string[][], row: number): (string | null)[] | null {
  const heading = records[row - 1];
  return heading ? joined(row > 1 ? (records[row - 2] ?? null) : null, heading, heading.length) : null;
}

/** Finds the heading of a table that is so many cells wide, in one record or in two over one another. */
export function headingOf(records: string[][], width: number): Heading {
  const found = findHeading(records, width);
  if (found === null) return { row: null, headers: Array.from({ length: width }, () => null) };
  const heading = records[found] ?? [];
  const below = records[found + 1];
  const row = below && goesOn(heading, below) ? found + 2 : found + 1;
  return { row, headers: headingAt(records, row) ?? [] };
}
