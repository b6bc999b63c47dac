import { foldText, mendLetters, repairCase } from '../../fields';

/** What is done to the text of a cell before it is read. Steps of a column are taken in order. */
export type Transform =
  | { kind: 'case'; to: 'capitals' | 'small' | 'name' }
  /** Every place of a text, as it stands; no patterns. */
  | { kind: 'replace'; find: string; with: string }
  /** One part of a text that is parted by `separator`: 1 is the first, -1 the last. */
  | { kind: 'part'; separator: string; nth: number }
  /** Whole cells, whatever their case and marks: "oui" becomes "yes". */
  | { kind: 'values'; pairs: [from: string, to: string][] }
  /** The text of another column of the row behind it. */
  | { kind: 'join'; column: number; with: string }
  /** Zeros in front of a number until it has so many digits, as codes have that a spreadsheet took for numbers. */
  | { kind: 'zeros'; places: number }
  /** Letters that came in broken ('JosÃ©', 'Jos&eacute;') made whole. */
  | { kind: 'letters' }
  | { kind: 'ifEmpty'; use: string }
  /** The same in every row, whatever stands there. */
  | { kind: 'fixed'; value: string };

export const TRANSFORM_KINDS: readonly Transform['kind'][] = [
  'case',
  'replace',
  'part',
  'values',
  'join',
  'zeros',
  'letters',
  'ifEmpty',
  'fixed',
];

/** Digits alone, or those before a hyphen and more of them. Anything else stays as it is. */
function withZeros(text: string, places: number): string {
  const [, digits, rest = ''] = /^\s*(\d{1,20})(-\d{1,20})?\s*$/.exec(text) ?? [];
  return digits === undefined ? text : digits.padStart(places, '0') + rest;
}

function apply(text: string, transform: Transform, cells: readonly string[]): string {
  switch (transform.kind) {
    case 'case':
      if (transform.to === 'name') return repairCase(text);
      return transform.to === 'capitals' ? text.toUpperCase() : text.toLowerCase();
    case 'replace':
      return transform.find ? text.replaceAll(transform.find, () => transform.with) : text;
    case 'part': {
      if (!transform.separator || text.trim() === '') return text;
      const parts = text.split(transform.separator).map((part) => part.trim());
      return parts.at(transform.nth > 0 ? transform.nth - 1 : transform.nth) ?? '';
    }
    case 'values': {
      const wanted = foldText(text) || text.trim();
      const pair = transform.pairs.find(([from]) => (foldText(from) || from.trim()) === wanted);
      return pair ? pair[1] : text;
    }
    case 'join': {
      const other = (cells[transform.column] ?? '').trim();
      return [text.trim(), other].filter(Boolean).join(transform.with);
    }
    case 'zeros':
      return withZeros(text, transform.places);
    case 'letters':
      return mendLetters(text);
    case 'ifEmpty':
      return text.trim() === '' ? transform.use : text;
    case 'fixed':
      return transform.value;
  }
}

/** A cell after its column's steps. `cells` is its row. Pure; an empty list of steps gives the text as it is. */
export function applyTransforms(text: string, transforms: readonly Transform[], cells: readonly string[]): string {
  let result = text;
  for (const transform of transforms) result = apply(result, transform, cells);
  return result;
}

/** Whether the outcome hangs on nothing but the cell itself, so that it can be kept by its text. */
export function isOfCellAlone(transforms: readonly Transform[]): boolean {
  return transforms.every((transform) => transform.kind !== 'join');
}

/** Whether an empty cell may become something. */
export function fillsEmpty(transforms: readonly Transform[]): boolean {
  return transforms.some(({ kind }) => kind === 'ifEmpty' || kind === 'fixed' || kind === 'join' || kind === 'values');
}

/** Digits that a code has at most. */
const MOST_PLACES = 20;
const isText = (value: unknown, limit = 200): value is string => typeof value === 'string' && value.length <= limit;

/** Whether something from outside is a transform. */
export function isTransform(value: unknown): value is Transform {
  if (typeof value !== 'object' || value === null) return false;
  const one = value as Record<string, unknown>;
  switch (one.kind) {
    case 'case':
      return one.to === 'capitals' || one.to === 'small' || one.to === 'name';
    case 'replace':
      return isText(one.find) && isText(one.with);
    case 'part':
      return isText(one.separator, 20) && Number.isInteger(one.nth) && one.nth !== 0;
    case 'values':
      return (
        Array.isArray(one.pairs) &&
        one.pairs.length <= 500 &&
        one.pairs.every((pair) => Array.isArray(pair) && pair.length === 2 && isText(pair[0]) && isText(pair[1]))
      );
    case 'join':
      return isText(one.with, 20) && Number.isInteger(one.column) && (one.column as number) >= 0;
    case 'zeros':
      return Number.isInteger(one.places) && (one.places as number) >= 2 && (one.places as number) <= MOST_PLACES;
    case 'letters':
      return true;
    case 'ifEmpty':
      return isText(one.use);
    case 'fixed':
      return isText(one.value);
    default:
      return false;
  }
}
