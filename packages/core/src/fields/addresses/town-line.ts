import { tidyText } from '../values/fold';

/** The line of an address that has the town, with the postal code before or behind it. */
export interface TownLine {
  locality?: string;
  region?: string;
  postalCode?: string;
}

const BRITISH = '[A-Za-z]{1,2}\\d[A-Za-z\\d]? ?\\d[A-Za-z]{2}';
const CANADIAN = '[A-Za-z]\\d[A-Za-z] ?\\d[A-Za-z]\\d';
/** Codes of digits: 12345, 12345-6789, 123 45, 12-345, 1234-567, 123-4567. */
const DIGITS = '\\d{3} \\d{2}|\\d{2}-\\d{3}|\\d{3}-\\d{4}|\\d{4}-\\d{3}|\\d{4,7}(?:-\\d{4})?';
/** The last four have a letter, which tells them from the number of a passport. */
const IRISH = '[A-Z]\\d{2} ?(?=\\d{0,3}[A-Z])[A-Z\\d]{4}';

/** "Portland, OR 97201", "Sydney NSW 2000", "Toronto, ON M5V 2T6". */
const WITH_STATE = new RegExp(`^(.*?\\p{L})[,\\s]+([A-Z]{2,3})\\.?[,\\s]+(\\d{4,5}(?:-\\d{4})?|${CANADIAN})$`, 'u');
const DUTCH = /^(\d{4} ?[A-Z]{2})[,\s]+(\p{Lu}.*|['’].*)$/u;
/** With the letters of a country before it: "D-12345 Kiel". */
const CODE_FIRST = new RegExp(
  `^(?:[A-Z]{1,3}[- ](?=\\d))?(${DIGITS}|${BRITISH}|${CANADIAN}|${IRISH})[,\\s]+(.*\\p{L}.*)$`,
  'u',
);
const CODE_LAST = new RegExp(`^(.*\\p{L}.*?)[,\\s]+(${BRITISH}|${CANADIAN}|${IRISH}|${DIGITS})$`, 'u');
const ONLY_CODE = new RegExp(`^(?:${DIGITS}|${BRITISH}|${CANADIAN}|${IRISH})$`, 'u');
const TOWN_AND_STATE = /^(.*\p{L}), ?([A-Z]{2})$/u;
/** "16121 Genova (GE)" */
const REGION_IN_BRACKETS = /^(.*\S) ?\(([A-Z]{2})\)$/u;

/** No town is written longer than this. */
const LONGEST = 200;

/** Whether a text is a postal code of some country and nothing else. */
export function isPostalCode(text: string): boolean {
  return text.length < 12 && ONLY_CODE.test(text);
}

function withRegion(locality: string): TownLine {
  const [, town, region] = REGION_IN_BRACKETS.exec(locality) ?? TOWN_AND_STATE.exec(locality) ?? [];
  return town && region ? { locality: town, region } : { locality };
}

/**
 * Takes town, region and postal code of one line apart, as the forms of the Universal Postal Union (S42) have them: code before
 * the town or behind it, the letters of a state between. Never loses a letter or digit, but for the letters of a country
 * before a code.
 */
export function parseTownLine(text: string): TownLine {
  if (text.length > LONGEST) return { locality: text };
  const line = tidyText(text.replace(/[\r\n]+/g, ', ')).replace(/^〒 ?|[,;]+$/g, '');
  if (ONLY_CODE.test(line)) return { postalCode: line };
  const state = WITH_STATE.exec(line);
  if (state) return { locality: state[1] ?? '', region: state[2] ?? '', postalCode: state[3] ?? '' };
  const first = DUTCH.exec(line) ?? CODE_FIRST.exec(line);
  if (first) return { ...withRegion(first[2] ?? ''), postalCode: first[1] ?? '' };
  const last = CODE_LAST.exec(line);
  if (last) return { ...withRegion((last[1] ?? '').replace(/,$/, '')), postalCode: last[2] ?? '' };
  return line ? withRegion(line) : {};
}
