import { foldText } from '../fields';
import type { Capabilities, OutsideField } from './outside';

/** What the key of a field that was made over there begins with: a name of one's own, as cards allow it (RFC 6350, 6.10). */
const OWN = 'x-';
const KEY = /^x-[a-z0-9]+(?:-[a-z0-9]+)*$/;
const LONGEST_KEY = 60;

/** The key of a field that is to be made over there under a name; empty where the name has no letter or digit to make one of. */
export function madeFieldKey(name: string): string {
  const words = foldText(name)
    .replace(/[^a-z0-9]+/g, ' ')
    .trim()
    .split(' ');
  const key = `${OWN}${words.join('-')}`.slice(0, LONGEST_KEY).replace(/-+$/, '');
  return KEY.test(key) ? key : '';
}

export const isMadeField = (key: string): boolean => key.length <= LONGEST_KEY && KEY.test(key);

/** A field that was made over there, by its key: "x-berth-number" is "Berth number". */
export function madeField(key: string): OutsideField {
  const words = key.slice(OWN.length).replaceAll('-', ' ');
  return { key, name: words.charAt(0).toUpperCase() + words.slice(1), type: 'text', most: 1 };
}

/** What the other side can hold, with the fields of one's own that are named, where it lets fields be made. */
export function withMadeFields(capabilities: Capabilities, keys: Iterable<string>): Capabilities {
  if (!capabilities.canMakeFields) return capabilities;
  const known = new Set(capabilities.fields.map(({ key }) => key));
  const made = [...new Set(keys)].filter((key) => isMadeField(key) && !known.has(key)).sort();
  return made.length ? { ...capabilities, fields: [...capabilities.fields, ...made.map(madeField)] } : capabilities;
}
