import { LABEL_MARK } from '@gray-loom/core/formats';
import { compile, type DomNode, type FormatCallback } from 'html-to-text';

type BlockTextBuilder = Parameters<FormatCallback>[2];

const CELLS = new Set(['td', 'th']);

/** Text of a node with its line breaks; blanks as the page would show them. */
function textOf(node: DomNode): string {
  if (node.type === 'text') return (node.data ?? '').replace(/\s+/g, ' ');
  if (node.name === 'br') return '\n';
  const inside = (node.children ?? []).map(textOf).join('');
  return /^(?:p|div|li|h\d)$/.test(node.name ?? '') ? `\n${inside}\n` : inside;
}

function lines(text: string): string[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
}

function has(node: DomNode, name: string): boolean {
  return (node.children ?? []).some((child) => child.name === name || has(child, name));
}

/** Rows of a table with their cells; those of tables inside are not looked at. */
function rowsOf(node: DomNode): DomNode[][] {
  return (node.children ?? []).flatMap((child) => {
    if (child.name === 'tr') return [(child.children ?? []).filter(({ name }) => CELLS.has(name ?? ''))];
    return child.name === 'table' ? [] : rowsOf(child);
  });
}

function addPair(builder: BlockTextBuilder, label: string, text: string[]): void {
  builder.openBlock({ leadingLineBreaks: 1 });
  // A cell that is empty labels nothing.
  const named = label.replace(/[:\s]+$/, '');
  builder.addInline(named ? `${LABEL_MARK}${named}${LABEL_MARK}: ` : '');
  text.forEach((line, i) => {
    if (i > 0) builder.addLineBreak();
    builder.addInline(line);
  });
  builder.closeBlock({ trailingLineBreaks: 1 });
}

/** A label and what it says, where cells or the parts of a list are such pairs; null where they are not. */
function pairsOf(rows: readonly (readonly DomNode[])[]): [label: string, text: string[]][] | null {
  if (rows.flat().some((cell) => has(cell, 'table'))) return null;
  const texts = rows.map((cells) => cells.map((cell) => lines(textOf(cell))));
  if (texts.length > 0 && texts.every((cells) => cells.length === 2 && cells[0]?.length === 1))
    return texts.map(([label = [], text = []]) => [label[0] ?? '', text]);
  const [labels = [], values = []] = texts;
  // A heading row with one row below it.
  if (texts.length === 2 && labels.length > 2 && labels.length === values.length)
    return labels.map((label, i) => [label.join(' '), values[i] ?? []]);
  return null;
}

const labelTable: FormatCallback = (table, walk, builder) => {
  const rows = rowsOf(table);
  const pairs = pairsOf(rows);
  builder.openBlock({ leadingLineBreaks: 1 });
  if (pairs) for (const [label, text] of pairs) addPair(builder, label, text);
  else
    for (const cells of rows)
      for (const cell of cells) {
        builder.openBlock({ leadingLineBreaks: 1 });
        walk(cell.children ?? [], builder);
        builder.closeBlock({ trailingLineBreaks: 1 });
      }
  builder.closeBlock({ trailingLineBreaks: 1 });
};

const labelList: FormatCallback = (list, _walk, builder) => {
  let label = '';
  for (const part of list.children ?? []) {
    const text = lines(textOf(part));
    if (part.name === 'dt') label = text.join(' ');
    else if (part.name === 'dd') addPair(builder, label, text);
  }
};

/** Most signs of a label in bold. */
const LONGEST_LABEL = 60;

/** What is bold at the beginning of its block is the label of what follows it there. */
const boldLabel: FormatCallback = (node, walk, builder) => {
  const text = lines(textOf(node))
    .join(' ')
    .replace(/[:\s]+$/, '');
  const before = (node.parent?.children ?? []).slice(0, node.parent?.children?.indexOf(node) ?? 0);
  const last = lastOf(before);
  const startsLine = !last || last.name === 'br';
  const follows = (node.parent?.children ?? []).slice(before.length + 1).some((one) => textOf(one).trim() !== '');
  if (text && text.length <= LONGEST_LABEL && startsLine && follows) {
    builder.addInline(`${LABEL_MARK}${text}${LABEL_MARK}: `);
    return;
  }
  walk(node.children ?? [], builder);
};

const isBlank = (node: DomNode) => node.type === 'text' && (node.data ?? '').trim() === '';
const lastOf = (nodes: readonly DomNode[]) => nodes.filter((node) => !isBlank(node)).at(-1);

/** What an HTML message says as plain text; where it is laid out as labels with their texts, as lines "label: text". */
export const htmlText = compile({
  wordwrap: false,
  formatters: { boldLabel, labelTable, labelList },
  selectors: [
    { selector: 'a', options: { ignoreHref: true } },
    { selector: 'img', format: 'skip' },
    { selector: 'table', format: 'labelTable' },
    { selector: 'dl', format: 'labelList' },
    ...['b', 'strong'].map((selector) => ({ selector, format: 'boldLabel' })),
    ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((selector) => ({ selector, options: { uppercase: false } })),
  ],
});

function tablesIn(node: DomNode): DomNode[] {
  return (node.children ?? []).flatMap((child) => [...(child.name === 'table' ? [child] : []), ...tablesIn(child)]);
}

/** The cells of a row; one that spans several columns has blank ones behind it. */
function cellsOf(row: readonly DomNode[]): string[] {
  return row.flatMap((cell) => {
    const span = Math.min(100, Number(cell.attribs?.colspan) || 1);
    return [lines(textOf(cell)).join('\n'), ...Array.from({ length: span - 1 }, () => '')];
  });
}

/** The largest table of a web page as rows; null where it has none of two rows and more. */
export function htmlTable(html: string): string[][] | null {
  const found: string[][][] = [];
  const collect: FormatCallback = (node) => {
    for (const table of [node, ...tablesIn(node)])
      found.push(
        rowsOf(table)
          .map(cellsOf)
          .filter((cells) => cells.some((text) => text !== '')),
      );
  };
  compile({
    formatters: { collect },
    selectors: [{ selector: 'table', format: 'collect' }],
    limits: { maxInputLength: Number.MAX_SAFE_INTEGER },
  })(html);
  const size = (rows: readonly string[][]) => rows.reduce((sum, cells) => sum + cells.length, 0);
  const largest = found.reduce<string[][]>((best, rows) => (size(rows) > size(best) ? rows : best), []);
  return largest.length > 1 ? largest : null;
}
