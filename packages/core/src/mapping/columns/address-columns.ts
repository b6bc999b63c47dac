import { foldText, isWholeAddress } from '../../fields';
import { NONE, type Opinion } from './column-opinion';
import type { ColumnProfile } from './column-values';
import { isOfAddress, TOWN_LINE } from '../targets';

/** Share of cells that can be taken apart, from which on a column is one of whole addresses. */
const WHOLE_FROM01 = 0.6;

/** Words for the part of a country that are words for how things stand as well. */
const STATE_WORDS = /^(?:estado|stato|stav|stan|etat)$/;

/** "Estado" is a region where the rest of an address stands beside it, or its cells are regions or countries; else it may be anything. */
export function settleStates(
  headers: readonly (string | null)[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): void {
  const isBeside = opinions.some(({ target }) =>
    ['street', 'locality', 'postalCode', TOWN_LINE].includes(target ?? ''),
  );
  if (isBeside) return;
  opinions.forEach(({ target }, i) => {
    const p = profiles[i];
    const isState = (target === 'region' || target === 'country') && STATE_WORDS.test(foldText(headers[i] ?? ''));
    if (isState && p && p.country01 + p.regionCode01 < 0.5) opinions[i] = NONE;
  });
}

/** The parts of an address that a column says. */
function partsOf(target: string, isWhole: boolean): string[] {
  if (target === TOWN_LINE) return ['locality'];
  return isWhole ? ['street', 'locality'] : [target];
}

/** Whether the cells of a column of streets are whole addresses, as far as they are filled. */
export function isWholeColumn(cells: readonly string[]): boolean {
  const filled = cells.filter((cell) => cell.trim() !== '');
  const whole = filled.filter(isWholeAddress).length;
  return whole > 0 && whole >= WHOLE_FROM01 * filled.length;
}

/** The columns of streets that are whole addresses: their cells have a town, and no column of its own does. */
export function wholeAddresses(
  opinions: readonly Opinion[],
  labels: readonly (string | null)[],
  profiles: readonly ColumnProfile[],
): ReadonlySet<number> {
  const found = opinions.flatMap(({ target }, i) => {
    if (target !== 'street') return [];
    const isBeside = opinions.some(
      (other, k) => ['locality', TOWN_LINE].includes(other.target ?? '') && (!labels[k] || labels[k] === labels[i]),
    );
    return !isBeside && isWholeColumn(profiles[i]?.values ?? []) ? [i] : [];
  });
  return new Set(found);
}

/**
 * "Home address, Town, Postcode" is one address: parts without a label belong to the labelled street before them, or to the
 * first, where that has no such part and there is no street without a label.
 */
export function joinAddress(opinions: readonly Opinion[], labels: (string | null)[], whole: ReadonlySet<number>): void {
  const parts = opinions.flatMap(({ target }, i) =>
    target && isOfAddress(target) ? partsOf(target, whole.has(i)).map((part) => ({ part, i })) : [],
  );
  if (parts.some(({ part, i }) => part === 'street' && !labels[i])) return;
  const streets = parts.filter(({ part }) => part === 'street');
  for (const { part, i } of parts) {
    if (labels[i]) continue;
    const label = labels[(streets.filter((street) => street.i < i).at(-1) ?? streets[0])?.i ?? -1];
    const has = parts.some((other) => other.part === part && labels[other.i] === label);
    if (label && !has) labels[i] = label;
  }
}

/**
 * Which of several addresses of one label a column belongs to, from 1: the next one begins where a part comes again. Streets in
 * a row are the lines of one address.
 */
export function numberAddresses(
  opinions: readonly Opinion[],
  labels: readonly (string | null)[],
  whole: ReadonlySet<number>,
): Map<number, number> {
  const groups = new Map<string, { columns: number[]; parts: Set<string> }[]>();
  opinions.forEach(({ target }, i) => {
    if (!target || !isOfAddress(target)) return;
    const own = partsOf(target, whole.has(i));
    const label = labels[i] ?? '';
    const addresses = groups.get(label) ?? [{ columns: [], parts: new Set<string>() }];
    groups.set(label, addresses);
    const current = addresses[addresses.length - 1];
    const line = target === 'street' && !whole.has(i) && opinions[current?.columns.at(-1) ?? -2]?.target === 'street';
    if (current && (line || own.every((part) => !current.parts.has(part)))) {
      current.columns.push(i);
      for (const part of own) current.parts.add(part);
    } else addresses.push({ columns: [i], parts: new Set(own) });
  });
  const numbered = new Map<number, number>();
  for (const addresses of groups.values()) {
    let nth = 0;
    addresses.forEach(({ columns, parts }, k) => {
      // A street that stands apart is another line of the address before it.
      if (k > 0 && (parts.size > 1 || !parts.has('street'))) nth++;
      if (nth > 0) for (const column of columns) numbered.set(column, nth);
    });
  }
  return numbered;
}
