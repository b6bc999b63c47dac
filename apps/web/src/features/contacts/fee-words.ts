import { showValue } from '@gray-loom/core/fields';
import type { MoneyValue } from '@gray-loom/core/model';

/** " · fee: 250 GBP, on enrolment" behind a relationship; nothing where nothing is owed. */
export function feeInWords(owed: MoneyValue | undefined, terms: string | undefined): string {
  const words = [owed ? showValue('', { v: owed }) : '', terms ?? ''].filter(Boolean).join(', ');
  return words ? ` · fee: ${words}` : '';
}
