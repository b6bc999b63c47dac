import { countryName, typeValue, type FieldDefinition } from '@gray-loom/core/fields';
import { isAddress, type Value, type ValueContent } from '@gray-loom/core/model';

/** What is being typed of one value: a text, or the parts of what has parts. */
export interface Draft {
  text: string;
  value: ValueContent | null;
  label: string;
}

export const EMPTY_DRAFT: Draft = { text: '', value: null, label: '' };

/** Whether a field's values are given by parts and not as text. */
export function hasParts(field: FieldDefinition): boolean {
  return field.type === 'address' || field.type === 'relation' || field.type === 'picture';
}

/** Whether a field's values carry labels such as home and work. */
export function hasLabel(field: FieldDefinition): boolean {
  return field.several && ['email', 'tel', 'address', 'url', 'partialDate'].includes(field.type);
}

export function draftOf(field: FieldDefinition, value: Value | null): Draft {
  if (!value) return EMPTY_DRAFT;
  const label = value.label ?? '';
  if (!hasParts(field)) return { text: typeValue(value), value: null, label };
  const v = isAddress(value.v) && value.v.country ? { ...value.v, country: countryName(value.v.country) } : value.v;
  return { text: '', value: v, label };
}

export function isBlank({ text, value }: Draft): boolean {
  if (text.trim()) return false;
  if (value === null) return true;
  return isAddress(value) && !Object.values(value).some((part) => typeof part === 'string' && part.trim());
}

export function sameDraft(a: Draft, b: Draft): boolean {
  return a.text === b.text && a.label === b.label && JSON.stringify(a.value) === JSON.stringify(b.value);
}

/** What the server takes of a draft. */
export function typedOf({ text, value, label }: Draft) {
  return { text: text.trim() ? text : null, value, label: label.trim() || null };
}
