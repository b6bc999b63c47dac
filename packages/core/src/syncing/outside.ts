import type { AddressValue } from '../model';
import type { Channel } from '../writing';
import type { ResultKind } from './results';

/** One value as the other side holds it. */
export interface OutsideValue {
  v: string | AddressValue;
  label?: string;
}

/** Values by the keys that the other side has for its fields, in its order. */
export type OutsideFields = Record<string, OutsideValue[]>;

/** One record over there, as a connector reads it. */
export interface OutsideRecord {
  /** Where it is found. */
  id: string;
  /** What tells it wherever it is, for tools that keep such a name (the UID of a card): a record at a new place is the same one moved. */
  uid?: string;
  /** Changes whenever the record does; compared for being equal only. */
  version: string;
  fields: OutsideFields;
  labels: string[];
  /** When it was last changed by the clock over there, in ms since 1970 UTC; absent where the tool does not say. */
  changedAtMs?: number;
  /** Channels that are closed over there, for tools that keep permissions. */
  stopped?: Channel[];
  /** Why it cannot be read, in words, with the line; what it says is not known then, and nothing is written into it. */
  unreadable?: string;
}

export type OutsideFieldType = 'text' | 'longText' | 'name' | 'email' | 'tel' | 'url' | 'date' | 'address';

/** One field of the other side, with all that it does to what is written into it. */
export interface OutsideField {
  key: string;
  name: string;
  type: OutsideFieldType;
  /** How many values it takes. */
  most: number;
  /** Longest text in characters; absent where there is no limit that is known. */
  longest?: number;
  /** Keeps capitals only. */
  capitals?: boolean;
  /** Keeps a label with each value. */
  labelled?: boolean;
  /** All that it takes, where that is a list. */
  options?: readonly string[];
}

/** Types of fields that a tool may let be made. */
export const NEW_FIELD_TYPES = ['text', 'number', 'date', 'choice'] as const;
export type NewFieldType = (typeof NEW_FIELD_TYPES)[number];

/** A field that is to be made over there. */
export interface NewOutsideField {
  name: string;
  type: NewFieldType;
  /** What it takes, for a choice. */
  options: readonly string[];
}

/** What the other side can do and how much it holds; shown at set-up, so that limits are known before they hurt. */
export interface Capabilities {
  /** What it calls itself. */
  name: string;
  fields: OutsideField[];
  /** Whether records have labels, and which are in use. */
  labels: boolean;
  knownLabels: string[];
  canRemove: boolean;
  /** Whether a field that is missing over there can be made, by writing into it. */
  canMakeFields?: boolean;
  /** Types of fields that can be made by asking for them (`makeField`); absent where none can. */
  newFieldTypes?: readonly NewFieldType[];
  /** Whether it says when a record was changed. */
  tellsTimes: boolean;
  /** Stands between the name of a list and that of a part of it, for tools whose lists have parts: whoever is in a part is in its list. */
  listsInside?: string;
  /** Key of the field without which it takes no record, such as the address of a mailer. */
  needs?: string;
  /** Key of the field by which it finds a record, so that of several people with one value there is one record only. */
  oneFor?: string;
  /** Channels of which it keeps who is not to be written to or called; none where it keeps no such thing. */
  keepsStops: readonly Channel[];
  /** Requests that it takes a day, where it counts them; a share of them is kept for stops. */
  perDay?: number;
  /** What happens there with people and comes back; absent where nothing does. */
  results?: readonly ResultKind[];
  /** Whether somebody can be put at the head of those who are called. */
  canCallNext?: boolean;
  /** Whether it can be told to call when something changes, signed. */
  signsCalls?: boolean;
  mostRecords: number | null;
  records: number | null;
}
