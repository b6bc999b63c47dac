import { createHash } from 'node:crypto';
import type { OutsideField, OutsideFields, OutsideList, OutsideRecord } from '@gray-loom/core/syncing';
import type { Putting } from '../read-before-write';

/** A person as the dialer has them, as far as they are kept in step. */
export interface DialerPerson {
  id: number;
  ref: string;
  name: string;
  phones: { number: string; doNotCall: boolean }[];
  email: string;
  doNotCall: boolean;
  fields: Record<string, string>;
  /** Ids of calling lists. */
  lists: number[];
  changedAt: string;
}

export interface DialerField {
  key: string;
  label: string;
  type: 'text' | 'number' | 'date' | 'choice';
  length: number;
  options: string[];
}

export interface DialerList {
  id: number;
  name: string;
}

const NAME_LENGTH = 40;
/** What keys of fields that were made over there begin with, so that none is one of its own. */
const OWN = 'field.';

/** A record is known by the ref that we gave it, or by its own number. */
export const idOf = ({ id, ref }: Pick<DialerPerson, 'id' | 'ref'>): string => ref || `#${id}`;
export const numberIn = (id: string): number | null => (/^#\d+$/.test(id) ? Number(id.slice(1)) : null);

/** The fields it has for a person: its own, and those that were made. */
export const outsideFields = (fields: readonly DialerField[], phones: number): OutsideField[] => [
  { key: 'name', name: 'Name', type: 'name', most: 1, longest: NAME_LENGTH, capitals: true },
  { key: 'tel', name: 'Phone', type: 'tel', most: phones },
  { key: 'email', name: 'E-mail', type: 'email', most: 1 },
  ...fields.map(madeField),
];

/** A field that was made over there. */
export const madeField = ({ key, label, type, length, options }: DialerField): OutsideField => ({
  key: OWN + key,
  name: label,
  type: type === 'date' ? 'date' : 'text',
  most: 1,
  longest: length,
  ...(type === 'choice' ? { options } : {}),
});

/** A record's version: it has none but the time of its last change, and two changes may be of one moment. */
export const versionOf = (person: DialerPerson): string =>
  createHash('sha256').update(JSON.stringify(person)).digest('base64url').slice(0, 22);

export const listOf = ({ id, name }: DialerList): OutsideList => ({ id: String(id), name });
export const listsOf = ({ lists }: DialerPerson): string[] => lists.map(String);

export function recordOf(person: DialerPerson, lists: readonly OutsideList[]): OutsideRecord {
  const fields: OutsideFields = {};
  const put = (key: string, ...texts: string[]) => {
    const values = texts.filter((text) => text !== '').map((v) => ({ v }));
    if (values.length) fields[key] = values;
  };
  put('name', person.name);
  put('tel', ...person.phones.map(({ number }) => number));
  put('email', person.email);
  for (const [key, text] of Object.entries(person.fields)) put(OWN + key, text);
  return {
    id: idOf(person),
    version: versionOf(person),
    fields,
    labels: lists.flatMap(({ id, name }) => (listsOf(person).includes(id) ? [name] : [])),
    changedAtMs: Date.parse(person.changedAt),
    stopped: person.doNotCall ? ['call'] : [],
  };
}

const textsOf = (fields: OutsideFields, key: string): string[] =>
  (fields[key] ?? []).flatMap(({ v }) => (typeof v === 'string' ? [v] : []));

/**
 * What is sent to make a person, or to change one: the parts that are to be written. A phone that stays keeps its own stop; nobody is let
 * be called again.
 */
export function sentOf(write: Putting, before: DialerPerson | null): Record<string, unknown> {
  const { fields } = write;
  const parts: Record<string, unknown> = write.kind === 'create' ? { ref: write.id } : { id: before?.id };
  const stop = write.kind === 'create' ? write.stopped : write.stop;
  const own: Record<string, string> = {};
  for (const key of Object.keys(fields ?? {})) {
    const texts = textsOf(fields ?? {}, key);
    if (key === 'name' || key === 'email') parts[key] = texts[0] ?? '';
    else if (key === 'tel')
      parts.phones = texts.map((number) => ({
        number,
        doNotCall: before?.phones.find((phone) => phone.number === number)?.doNotCall ?? false,
      }));
    else if (key.startsWith(OWN)) own[key.slice(OWN.length)] = texts[0] ?? '';
  }
  if (Object.keys(own).length) parts.fields = own;
  if (stop.includes('call')) parts.doNotCall = true;
  return parts;
}
