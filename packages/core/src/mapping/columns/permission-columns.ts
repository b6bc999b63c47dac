import type { Channel } from '../../writing';
import { isOfAddress } from '../targets';
import { PERMISSION_DATE, PERMISSION_HOW, readsAsPermission } from '../rows/permission-cells';
import type { Opinion } from './column-opinion';
import type { ColumnProfile } from './column-values';
import { permissionHeading, saysWhen, type PermissionHeading } from './permission-words';

/** Share of filled cells that have to read as permissions: where the heading is sure, and where it may be something else. */
const SURE01 = 0.5;
const UNSURE01 = 0.9;
/** Cells of a column that are read to find out. */
const LOOKED_AT = 60;

/** What a column means that is about several channels: the first, and the others beside it. */
export interface PermissionColumn {
  field: string;
  also: string[];
}

function fits(heading: PermissionHeading, profile: ColumnProfile, cells: readonly string[]): boolean {
  if (heading.role === 'how') return profile.email01 < 0.5 && profile.yesNo01 < 0.8;
  // "Agreed on" says when, if something beside it says what.
  if (heading.role === 'date' && !heading.isSure) return profile.date01 > SURE01;
  const filled = cells.filter((cell) => cell.trim() !== '').slice(0, LOOKED_AT);
  if (!filled.length) return heading.isSure;
  // Marks alone show nothing where the heading may mean anything.
  if (!heading.isSure && !filled.some((cell) => /\p{L}{2}/u.test(cell))) return false;
  const read = filled.filter((cell) => readsAsPermission(cell, profile.dateOrder, heading.isSure)).length;
  return read >= (heading.isSure ? SURE01 : UNSURE01) * filled.length;
}

const keysOf = (polarity: 'may' | 'stop', channels: readonly Channel[]): PermissionColumn => {
  const [first, ...also] = channels.length ? channels.map((channel) => `${polarity}.${channel}`) : [`${polarity}.any`];
  return { field: first ?? '', also };
};

/**
 * Settles which columns say that somebody may be written to or called, or may not, when they said so and how. Dates of an
 * agreement stand beside the column that has it, where there is one, and are it otherwise.
 */
export function settlePermissions(
  headers: readonly (string | null)[],
  rows: readonly (readonly string[])[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): Map<number, string[]> {
  const headings = headers.map((header, i) => {
    const heading = header ? permissionHeading(header) : null;
    const profile = profiles[i];
    const taken = opinions[i]?.target;
    // An address is one whatever stands above it.
    if (!heading || !profile || taken === 'externalId' || profile.email01 > 0.5) return null;
    if (profile.phone01 > 0.5 && profile.date01 <= 0.5 && profile.yesNo01 <= 0.5) return null;
    return fits(
      heading,
      profile,
      rows.map((cells) => cells[i] ?? ''),
    )
      ? heading
      : null;
  });
  const also = new Map<number, string[]>();
  const hasPostal = opinions.some(({ target }) => target !== null && isOfAddress(target));
  const hasEmail = opinions.some(({ target }) => target === 'email');
  const isDated = (i: number) => (profiles[i]?.date01 ?? 0) > 0.5;
  const says = (i: number) => {
    const role = headings[i]?.role;
    return (role === 'may' || role === 'stop') && !isDated(i);
  };
  const someSay = headings.some((_, i) => says(i));
  /** Whether a column that says something stands beside this one, or only others of the kind between them. */
  const isBesideOne = (i: number) =>
    [-1, 1].some((step) => {
      for (let at = i + step; headings[at]; at += step) if (says(at)) return true;
      return false;
    });
  headings.forEach((found, i) => {
    if (!found || (found.role === 'date' && !found.isSure && !isBesideOne(i))) return;
    const isByEmail = found.isMail && hasEmail && !hasPostal;
    const heading = isByEmail ? { ...found, channels: ['email'] as Channel[] } : found;
    const certainty01 = heading.isSure ? 0.9 : 0.7;
    const set = ({ field, also: others }: PermissionColumn) => {
      opinions[i] = { target: field, certainty01 };
      if (others.length) also.set(i, others);
    };
    const isDate = isDated(i) || (heading.role === 'date' && !profiles[i]?.filled);
    if (heading.role === 'stop') return set(keysOf('stop', heading.channels));
    if (isDate && heading.role !== 'how' && (heading.role === 'date' || saysWhen(headers[i] ?? '')))
      return set(someSay ? { field: PERMISSION_DATE, also: [] } : keysOf('may', heading.channels));
    if (heading.role === 'how') {
      if (someSay || headings.some((one) => one?.role === 'date')) set({ field: PERMISSION_HOW, also: [] });
      return;
    }
    set(keysOf('may', heading.channels));
  });
  return also;
}
