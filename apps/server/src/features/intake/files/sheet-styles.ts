import type { Archive } from './archive';
import { readPart } from './sheet-parts';

/** Number formats that every spreadsheet knows as dates or times (ECMA-376 18.8.30 with those of the East and of Thailand). */
const isBuiltInDate = (id: number) =>
  (id >= 14 && id <= 22) ||
  (id >= 27 && id <= 36) ||
  (id >= 45 && id <= 47) ||
  (id >= 50 && id <= 58) ||
  (id >= 71 && id <= 81);

/** Whether a number format shows a day or a time: letters of days and hours and none of a number's signs. */
function isDateFormat(format: string): boolean {
  return format
    .toLowerCase()
    .replace(/;@$/, '')
    .replace(/\\./g, ' ')
    .split(';')
    .some((part) => {
      const plain = part
        .replace(/"[^"]*"/g, ' ')
        .replace(/(\[?[smhd]{1,2}\]?)[.,]00?0?/g, '$1')
        .replace(/\[([smhd]{1,2})\]/g, '$1')
        .replace(/\[[^\]]*\]/g, '');
      const words = plain.split(/[^a-z0#?%]+/).filter(Boolean);
      return (
        words.length > 0 &&
        words.every((word) => /^(?:[smhd]{1,2}|[md]{3,5}|a{3,5}|[ap]m?|y{2,4}|e{1,4}|g{1,3}|b{2,4}|r{1,2})$/.test(word))
      );
    });
}

/**
 * What a number format shows of every digit, as "00000" or "000-0000": noughts for digits and what stands between them. Null for
 * a format that keeps no noughts in front, or shows less or more than the digits.
 */
function maskOf(format: string): string | null {
  const [first = ''] = format.split(';');
  const plain = first
    .replace(/\[[^\]]*\]/g, '')
    .replace(/"([^"]*)"/g, (_, text: string) => text.replace(/0/g, ''))
    .replace(/\\(.)/g, (_, c: string) => (c === '0' ? '' : c))
    .replace(/[_*]./g, '');
  return /^[^#?.,%@eE/]*$/.test(plain) && plain.replace(/[^0]/g, '').length >= 2 ? plain : null;
}

/** A whole number as a mask shows it: 4101 as "00000" is 04101. Others stay as they are. */
export function showMasked(number: number, mask: string): string {
  if (!Number.isSafeInteger(number) || number < 0) return String(number);
  const places = mask.replace(/[^0]/g, '').length;
  const digits = String(number).padStart(places, '0');
  // More digits than places stand before the first.
  let at = digits.length - places;
  let shown = '';
  for (const c of mask) {
    if (c !== '0') shown += c;
    else if (shown.search(/\d/) < 0) shown += digits.slice(0, ++at);
    else shown += digits[at++] ?? '';
  }
  return shown.trim();
}

/** How a style of cells shows numbers: as a day or a time, through a mask, or as they are. */
export type NumberStyle = 'date' | { mask: string } | null;

/** The styles of cells by number. */
export async function readStyles(archive: Archive, path: string): Promise<NumberStyle[]> {
  const formats = new Map<number, string>();
  const styles: NumberStyle[] = [];
  let inCells = false;
  const styleOf = (id: number): NumberStyle => {
    const own = id >= 100 ? formats.get(id) : undefined;
    if (isBuiltInDate(id) || (own !== undefined && isDateFormat(own))) return 'date';
    const mask = own === undefined ? null : maskOf(own);
    return mask === null ? null : { mask };
  };
  await readPart(archive, path, {
    open: (name, { numFmtId, formatCode }) => {
      if (name === 'numFmt') formats.set(Number(numFmtId), formatCode ?? '');
      else if (name === 'cellXfs') inCells = true;
      else if (name === 'xf' && inCells) styles.push(styleOf(Number(numFmtId ?? 0)));
    },
    close: (name) => {
      if (name === 'cellXfs') inCells = false;
    },
  });
  return styles;
}
