import { isFirm, parseEmail, parseUrl, splitName } from '../../fields';
import { readHeader } from '../header-words';
import { keyedTable, type KeyedRecord } from './keyed-table';

/** Blocks of lines as on labels and in letters: who, where, and how to reach them, parted by blank lines. */
function blocksOf(text: string): string[][] {
  return text
    .replace(/^\uFEFF/, '')
    .split(/\n[ \t\r]*\n/)
    .map((block) =>
      block
        .split(/\r?\n/)
        .map((line) => line.trim())
        .filter(Boolean),
    )
    .filter((block) => block.length > 0);
}

const MOST_LINES = 9;
const LONGEST_LINE = 60;
/** Shares of the blocks that have several lines, begin with a name, and say where or how somebody is reached. */
const SEVERAL01 = 0.8;
const NAMED01 = 0.8;
const REACHED01 = 0.7;
const LABELLED = /^(\p{L}[\p{L} .()-]{0,20})(?::|\.(?=\s))\s*(?=\S)(.*)$/u;

function isNameLine(line: string): boolean {
  if (/[\d@:;|\t]/.test(line) || !/^\p{Lu}/u.test(line) || !/\s/.test(line) || /[.!?]$/.test(line)) return false;
  return (isFirm(line) || splitName(line).fault !== 'notAPerson') && line.split(/\s+/).length <= 6;
}

interface Reached {
  heading: string;
  text: string;
}

/** A number of a phone, and no postal code: those are shorter, or do not begin with a zero. */
function isPhone(text: string): boolean {
  if (!/^[+(\d][\d\s()+./-]{5,}$/.test(text)) return false;
  const digits = text.replace(/\D/g, '').length;
  return digits >= 9 || (digits >= 7 && /^[+(0]/.test(text));
}

/** A line that says how somebody is reached, with its heading; null for a line of an address. */
function reachedBy(line: string): Reached | null {
  const [, label = '', said = ''] = LABELLED.exec(line) ?? [];
  const { target } = label ? readHeader(label) : { target: null };
  if (target === 'tel' || target === 'email' || target === 'url') return { heading: label.trim(), text: said.trim() };
  if (parseEmail(line).ok) return { heading: 'E-mail', text: line };
  if (isPhone(line)) return { heading: 'Phone', text: line };
  return /^(?:https?:|www\.)/i.test(line) && parseUrl(line) !== null ? { heading: 'Web', text: line } : null;
}

/** Whether the beginning of a text is addresses as on labels, one person or firm a block, parted by blank lines. */
export function looksLikeBlocks(beginning: string): boolean {
  if (!/\n[ \t\r]*\n/.test(beginning)) return false;
  const blocks = blocksOf(beginning);
  // The last one may be cut off.
  const whole = blocks.length > 2 ? blocks.slice(0, -1) : blocks;
  if (whole.length < 2 || whole.some((block) => block.length > MOST_LINES)) return false;
  if (whole.some((block) => block.some((line) => line.length > LONGEST_LINE))) return false;
  const share = (test: (block: string[]) => boolean) => whole.filter(test).length / whole.length;
  return (
    share((block) => block.length > 1) >= SEVERAL01 &&
    share(([first = '']) => isNameLine(first)) >= NAMED01 &&
    share(([, ...lines]) => lines.some((line) => /\d/.test(line) || reachedBy(line))) >= REACHED01
  );
}

/** Such a text as a table: the name, the address in one cell with its lines, and each way to reach somebody. The first row is the heading. */
export function tableOfBlocks(text: string): string[][] {
  return keyedTable(
    blocksOf(text).map(([name = '', ...lines]): KeyedRecord => {
      const reached = lines.map((line) => ({ line, by: reachedBy(line) }));
      const address = reached.filter(({ by }) => !by).map(({ line }) => line);
      return [
        ['Name', name],
        ['Address', address.join('\n')],
        ...reached.flatMap(({ by }) => (by ? [[by.heading, by.text] as const] : [])),
      ];
    }),
  );
}
