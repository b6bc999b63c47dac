import { createHash, randomUUID } from 'node:crypto';
import type { OutsideField, OutsideFields, OutsideList, OutsideRecord } from '@gray-loom/core/syncing';
import type { Putting } from '../read-before-write';

/** Where an entry is, and whether it may be written to there. */
export interface MailerPlace {
  list: number;
  strands: number[];
  state: 'reachable' | 'off' | 'undeliverable';
  saidAt: string;
}

/** An entry as the mailer has it. */
export interface MailerEntry {
  address: string;
  ref: string;
  given: string;
  family: string;
  columns: Record<string, string>;
  lists: MailerPlace[];
  state: MailerPlace['state'];
  changedAt: string;
}

export interface MailerColumn {
  key: string;
  name: string;
  type: 'text' | 'number' | 'date' | 'choice';
  options: string[];
}

export interface MailerList {
  id: number;
  name: string;
  strands: { id: number; name: string }[];
  members?: number;
}

/** What keys of columns begin with, so that none is one of its own fields. */
const OWN = 'column.';
/** Stands between the name of a list and that of a strand in it. */
export const LISTS_INSIDE = ' / ';

export const keyOf = (address: string): string => address.trim().toLowerCase();
/** An id that was given out for an entry that is to be made; every other one is an address. */
export const isRef = (id: string): boolean => !id.includes('@');

/** The fields it has for an entry: its own, and its columns. */
export const outsideFields = (columns: readonly MailerColumn[], longest: number): OutsideField[] => [
  { key: 'email', name: 'Address', type: 'email', most: 1 },
  { key: 'given', name: 'Given name', type: 'text', most: 1 },
  { key: 'family', name: 'Family name', type: 'text', most: 1 },
  ...columns.map((column) => madeField(column, longest)),
];

/** A column as a field. */
export const madeField = ({ key, name, type, options }: MailerColumn, longest: number): OutsideField => ({
  key: OWN + key,
  name,
  type: type === 'date' ? 'date' : 'text',
  most: 1,
  longest,
  ...(type === 'choice' ? { options } : {}),
});

/** A list, and each strand in it, by names and ids that tell where it is. */
export const listsIn = ({ id, name, strands, members }: MailerList): OutsideList[] => [
  { id: String(id), name, ...(members === undefined ? {} : { members }) },
  ...strands.map((strand) => ({ id: `${id}/${strand.id}`, name: name + LISTS_INSIDE + strand.name })),
];

/** The list and the strand that an id names; null for the list as a whole. */
export function placeIn(id: string): { list: string; strand: number | null } {
  const [list = '', strand] = id.split('/');
  return { list, strand: strand === undefined ? null : Number(strand) };
}

/** The name of a list and of a strand in it, of a name that may have both. */
export function partName(name: string): { list: string; strand: string | null } {
  const at = name.indexOf(LISTS_INSIDE);
  return at < 1
    ? { list: name, strand: null }
    : { list: name.slice(0, at).trim(), strand: name.slice(at + LISTS_INSIDE.length).trim() || null };
}

/** Ids of the lists that an entry is in, and of the strands. */
export const listsOf = ({ lists }: Pick<MailerEntry, 'lists'>): string[] =>
  lists.flatMap(({ list, strands }) => [String(list), ...strands.map((strand) => `${list}/${strand}`)]);

/** An entry has no version but its content: the time of its last change has whole seconds, and two changes may be of one. */
export const versionOf = ({ changedAt: _, ...content }: MailerEntry): string =>
  createHash('sha256').update(JSON.stringify(content)).digest('base64url').slice(0, 22);

const isOff = ({ state, lists }: MailerEntry): boolean => state === 'off' || lists.some((one) => one.state === 'off');

export function recordOf(entry: MailerEntry, lists: readonly OutsideList[]): OutsideRecord {
  const fields: OutsideFields = {};
  const put = (key: string, text: string) => {
    if (text !== '') fields[key] = [{ v: text }];
  };
  put('email', entry.address);
  put('given', entry.given);
  put('family', entry.family);
  for (const [key, text] of Object.entries(entry.columns)) put(OWN + key, text);
  const own = new Set(listsOf(entry));
  return {
    id: keyOf(entry.address),
    ...(entry.ref ? { uid: entry.ref } : {}),
    version: versionOf(entry),
    fields,
    labels: lists.flatMap(({ id, name }) => (own.has(id) ? [name] : [])),
    changedAtMs: Date.parse(entry.changedAt),
    stopped: isOff(entry) ? ['email'] : [],
  };
}

const textIn = (fields: OutsideFields | null, key: string): string => {
  const v = fields?.[key]?.[0]?.v;
  return typeof v === 'string' ? v : '';
};

/** The address that an entry has once this is written. */
export const addressOf = (write: Putting): string =>
  write.fields?.email ? textIn(write.fields, 'email').trim() : write.kind === 'create' ? '' : write.id;

/** An entry that was removed, as its removal gave it; null where it was none. */
export const keptIn = (write: Putting): MailerEntry | null =>
  write.kind === 'create' && write.from !== undefined ? (JSON.parse(write.from) as MailerEntry) : null;

/** What is sent to make an entry, or to change one: the parts that are to be written. Nobody is let be written to again. */
export function sentOf(write: Putting, before: MailerEntry | null): Record<string, unknown> {
  const kept = keptIn(write);
  const { fields } = write;
  const columns: Record<string, string> = { ...kept?.columns };
  const parts: Record<string, unknown> = kept ? { given: kept.given, family: kept.family } : {};
  for (const key of Object.keys(fields ?? {}))
    if (key === 'given' || key === 'family') parts[key] = textIn(fields, key);
    else if (key.startsWith(OWN)) columns[key.slice(OWN.length)] = textIn(fields, key);
  if (Object.keys(columns).length) parts.columns = columns;
  const stop = write.kind === 'create' ? write.stopped : write.stop;
  if (stop.includes('email') || (kept && isOff(kept))) parts.state = 'off';
  if (write.kind === 'create')
    return { op: 'create', address: addressOf(write) || kept?.address, ref: kept?.ref || write.id, ...parts };
  const address = addressOf(write);
  return {
    op: 'put',
    address: before?.address ?? write.id,
    // An entry that was made over there gets a name as well, so that it is found under another address.
    ...(before && !before.ref ? { ref: `gray-loom-${randomUUID()}` } : {}),
    ...(address !== (before?.address ?? write.id) ? { newAddress: address } : {}),
    ...parts,
  };
}
