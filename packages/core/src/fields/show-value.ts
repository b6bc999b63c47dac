import { isAddress, isMoney, isRange, isRelation, type ValueContent } from '../model';
import { formatAddress } from './addresses/address';
import { formatPhone } from './phones/phone';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** "14 Jul 1971", or "14 Jul" for a date without a year. */
function showDate(iso: string): string {
  const [day, month, year] = iso.startsWith('--')
    ? [iso.slice(5), iso.slice(2, 4), '']
    : [iso.slice(8), iso.slice(5, 7), iso.slice(0, 4)];
  return [Number(day), MONTHS[Number(month) - 1], year].filter(Boolean).join(' ');
}

const number = (n: number) => n.toLocaleString('en-GB', { maximumFractionDigits: 6 });

/** A value as people read it, in the grid, the sheet, the history and on paper alike. */
export function showValue(field: string, { v, norm }: { v: ValueContent; norm?: string }): string {
  if (field === 'photo') return 'a picture';
  if (field === 'tel' && norm) return formatPhone(norm);
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (typeof v === 'number') return number(v);
  if (typeof v === 'string') return /^(?:\d{4}|-)-\d{2}-\d{2}$/.test(v) ? showDate(v) : v;
  if (Array.isArray(v)) return v.join(', ');
  if (isMoney(v))
    return `${v.amount.toLocaleString('en-GB', { minimumFractionDigits: v.amount % 1 ? 2 : 0, maximumFractionDigits: 2 })} ${v.currency}`;
  if (isRange(v)) {
    if (v.from === null) return `up to ${number(v.to ?? 0)}`;
    if (v.to === null) return `${number(v.from)} and more`;
    return v.from === v.to ? number(v.from) : `${number(v.from)} to ${number(v.to)}`;
  }
  if (isRelation(v)) return [v.relation, v.name].filter(Boolean).join(': ');
  if (isAddress(v)) return formatAddress(v);
  return v.state === 'merged' ? 'merged into another' : v.state;
}

/** What stands in the box when a value is edited: what the reader of its type gives the same value for. */
export function typeValue({ v }: { v: ValueContent }): string {
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (Array.isArray(v)) return v.join('; ');
  if (isMoney(v)) return `${v.amount} ${v.currency}`;
  if (isRange(v)) return v.from === null ? `up to ${v.to}` : v.to === null ? `from ${v.from}` : `${v.from} to ${v.to}`;
  return typeof v === 'object' ? '' : String(v);
}
