import { parseDate, parseYesNo, isPlaceholderText, tidyText, type DateOrder } from '../../fields';
import type { Issue, IssuePath } from '../../model';
import { CHANNELS, type CandidateValue, type Channel } from '../../writing';
import { channelsListed, saidState } from '../columns/permission-words';

const NAMES: Record<Channel, [may: string, stop: string]> = {
  email: ['May e-mail', 'Stop e-mail'],
  text: ['May text', 'Stop texts'],
  call: ['May call', 'Stop calls'],
  voicemail: ['May leave voicemail', 'Stop voicemail'],
  post: ['May send post', 'Stop post'],
};

export const PERMISSION_DATE = 'permissionDate';
export const PERMISSION_HOW = 'permissionHow';

/** What a column can say of permissions: yes opens or closes a channel; when and how it was said stand beside. */
export const PERMISSION_TARGETS: readonly (readonly [key: string, name: string])[] = [
  ...CHANNELS.flatMap((channel) => [
    [`may.${channel}`, NAMES[channel][0]] as const,
    [`stop.${channel}`, NAMES[channel][1]] as const,
  ]),
  ['may.any', 'May contact in every way'],
  ['stop.any', 'Stop everything'],
  [PERMISSION_DATE, 'Permission: date'],
  [PERMISSION_HOW, 'Permission: wording or evidence'],
];
const TARGETS: ReadonlySet<string | null> = new Set(PERMISSION_TARGETS.map(([key]) => key));

export const isPermissionTarget = (key: string | null): key is string => TARGETS.has(key);

/** Channels that a target is about. */
function channelsOf(target: string): readonly Channel[] {
  const channel = target.slice(target.indexOf('.') + 1);
  return channel === 'any' ? CHANNELS : CHANNELS.filter((one) => one === channel);
}

/** Where what a row says of permissions stands in its candidate; no field of a contact. */
export const PERMISSIONS = '*permissions';

export interface PermissionCell {
  target: string;
  text: string;
  dateOrder: DateOrder;
  path: IssuePath;
}

interface Said {
  state: 'allowed' | 'optedOut';
  channels: readonly Channel[];
  atMs: number | null;
}

/** A day within a text, with what stands beside it. */
const TIME = String.raw`\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?\s*(?:Z|[+-]\d{2}:?\d{2}|UTC|GMT|[ap]m)?`;
const DAY = new RegExp(
  String.raw`\d{4}-\d{1,2}-\d{1,2}(?:[T ]${TIME})?|\d{1,2}[./-]\d{1,2}[./-]\d{2,4}(?: ${TIME})?|` +
    String.raw`\d{1,2}\.? \p{L}{3,9}\.? \d{4}`,
  'iu',
);

function dayOf(text: string, order: DateOrder): number | null {
  const plain = text.trim().replace(/[T ]\d{1,2}:\d{2}.*$/, '');
  const read = parseDate(plain, order);
  return read.ok && /^\d{4}-\d{2}-\d{2}$/.test(read.value) ? Date.parse(`${read.value}T00:00:00Z`) : null;
}

/** What one cell says; undefined where it says nothing, null where nobody can tell. */
function saidIn({ target, text, dateOrder }: PermissionCell): Said | undefined | null {
  const plain = tidyText(text);
  const answered = TICKS.get(plain.toLowerCase()) ?? parseYesNo(plain);
  // A cross stands for "not known" elsewhere; here it is a mark that was made.
  if (!plain || (isPlaceholderText(plain) && answered !== true)) return undefined;
  const yes = target.startsWith('may.') ? ('allowed' as const) : ('optedOut' as const);
  const channels = channelsOf(target);
  const said = (state: Said['state'], atMs: number | null, about = channels): Said => ({
    state,
    channels: about,
    atMs,
  });
  const read = (part: string, atMs: number | null): Said | undefined | null => {
    const state = saidState(part);
    if (state === 'unknown') return undefined;
    if (state) return said(state, atMs);
    const answer = TICKS.get(part.toLowerCase()) ?? parseYesNo(part);
    if (answer === true) return said(yes, atMs);
    // Not having said stop is no consent.
    if (answer === false) return yes === 'allowed' ? said('optedOut', atMs) : undefined;
    const listed = channelsListed(part)?.filter((channel) => channels.includes(channel));
    return listed?.length ? said(yes, atMs, listed) : null;
  };
  const whole = read(plain, null);
  if (whole !== null) return whole;
  const day = DAY.exec(plain);
  const atMs = day ? dayOf(day[0], dateOrder) : null;
  if (!day || atMs === null) return null;
  const beside = plain
    .replace(day[0], ' ')
    .replace(/[()[\],;:]|\b(?:on|since|am|seit|le|el|il|op|den|dne|at)\b/gi, ' ')
    .trim();
  return beside ? read(tidyText(beside), atMs) : said(yes, atMs);
}

/** Marks that answer beside the words for yes and no. */
const TICKS = new Map([
  ['xx', true],
  ['xxx', true],
  ['checked', true],
  ['ticked', true],
  ['unchecked', false],
  ['unticked', false],
]);

/** Whether a cell can be read as a permission, of whatever kind; for finding out what a column is. A list of channels may be one. */
export function readsAsPermission(text: string, dateOrder: DateOrder, isListOne: boolean): boolean {
  if (!isListOne && channelsListed(text)) return false;
  return saidIn({ target: 'may.any', text, dateOrder, path: {} }) !== null;
}

/**
 * What a row says of permissions, a value for each channel and word: its state, when it was said (in ms since 1970 UTC) where that
 * stands there, and how. Of an allowing and a stopping word for one channel the stricter counts, unless it was allowed at a
 * later day. Issues: cells of which nobody can tell what they say.
 */
export function readPermissions(cells: readonly PermissionCell[]): { values: CandidateValue[]; issues: Issue[] } {
  const issues: Issue[] = [];
  const filled = cells.filter(({ text }) => text.trim() !== '');
  const dates = filled
    .filter(({ target }) => target === PERMISSION_DATE)
    .flatMap(({ text, dateOrder }) => dayOf(DAY.exec(text)?.[0] ?? text, dateOrder) ?? []);
  const beside = filled
    .filter(({ target, text }) => target === PERMISSION_HOW && !isPlaceholderText(text))
    .map(({ text, path }) => `${path.name ?? 'Evidence'}: ${tidyText(text)}`);
  const all: (Said & { how: string })[] = [];
  for (const cell of filled) {
    if (cell.target === PERMISSION_DATE || cell.target === PERMISSION_HOW) continue;
    const said = saidIn(cell);
    if (said === null) issues.push({ code: 'unclearPermission', value: cell.text, path: cell.path });
    if (said) all.push({ ...said, how: `${cell.path.name ?? 'Column'}: ${tidyText(cell.text)}` });
  }
  const values = CHANNELS.flatMap((channel): CandidateValue[] => {
    const own = all.filter(({ channels }) => channels.includes(channel));
    const timed = own.map((one) => ({ ...one, atMs: one.atMs ?? (dates.length ? Math.max(...dates) : null) }));
    const stops = timed.filter(({ state }) => state === 'optedOut');
    const lastStop = Math.max(...stops.map(({ atMs }) => atMs ?? Infinity));
    const kept = timed.filter(
      ({ state, atMs }) => state === 'optedOut' || !stops.length || (atMs !== null && atMs > lastStop),
    );
    return kept.map(({ state, atMs, how }) => ({
      v: state,
      label: channel,
      norm: [how, ...beside].join('; ').slice(0, HOW_LIMIT),
      ...(atMs === null ? {} : { atMs }),
    }));
  });
  return { values, issues };
}

const HOW_LIMIT = 1000;

/** What one cell says by itself, in words; for looking at a column. */
export function showPermissionCell(cell: PermissionCell): { text: string; issues: Issue[] } {
  if (cell.target === PERMISSION_DATE || cell.target === PERMISSION_HOW)
    return { text: tidyText(cell.text), issues: [] };
  const { values, issues } = readPermissions([cell]);
  const states = new Set(values.map(({ v }) => (v === 'optedOut' ? 'stop' : 'allowed')));
  const day = values[0]?.atMs === undefined ? '' : `, ${new Date(values[0].atMs).toISOString().slice(0, 10)}`;
  const about =
    values.length > 1 && values.length < CHANNELS.length ? `: ${values.map(({ label }) => label).join(', ')}` : '';
  return {
    text: states.size ? `${[...states].join(' and ')}${about}${day}` : cell.text.trim() ? 'says nothing' : '',
    issues,
  };
}
