import { formatAddress, formatPhone } from '@gray-loom/core/fields';
import type { AddressValue, Value, ValueContent } from '@gray-loom/core/model';

/** A value as people read it. */
export function valueInWords(field: string, value: { v: ValueContent; norm?: string }): string {
  const { v, norm } = value;
  if (field === 'tel') return norm ? formatPhone(norm) : String(v);
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (typeof v === 'number') return v.toLocaleString('en-GB');
  if (Array.isArray(v)) return v.join(', ');
  if (typeof v === 'object')
    return 'state' in v ? (v.state === 'merged' ? 'merged into another' : 'deleted') : formatAddress(v as AddressValue);
  if (/^(?:\d{4}|-)-\d{2}-\d{2}$/.test(v)) return dateInWords(v);
  return v;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** "14 Jul 1971", or "14 Jul" for a date without a year. */
function dateInWords(iso: string): string {
  const [day, month, year] = iso.startsWith('--')
    ? [iso.slice(5), iso.slice(2, 4), '']
    : [iso.slice(8), iso.slice(5, 7), iso.slice(0, 4)];
  return [Number(day), MONTHS[Number(month) - 1], year].filter(Boolean).join(' ');
}

/** What stands in the box when a value is edited: what was typed, not its shown form. */
export function valueAsTyped(value: Value): string {
  return typeof value.v === 'object' ? '' : typeof value.v === 'boolean' ? (value.v ? 'yes' : 'no') : String(value.v);
}
