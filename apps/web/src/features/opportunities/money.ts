import { showValue } from '@gray-loom/core/fields';
import type { MoneyValue } from '@gray-loom/core/model';

/** Amounts of several currencies side by side, largest first; '' for none. */
export function sumsInWords(sums: readonly MoneyValue[]): string {
  return [...sums]
    .filter(({ amount }) => amount !== 0)
    .sort((a, b) => b.amount - a.amount)
    .map((v) => showValue('opportunityValue', { v }))
    .join(', ');
}

/** Adds amounts by currency. */
export function addUp(values: readonly (MoneyValue | null)[]): MoneyValue[] {
  const sums = new Map<string, number>();
  for (const value of values) if (value) sums.set(value.currency, (sums.get(value.currency) ?? 0) + value.amount);
  return [...sums].map(([currency, amount]) => ({ currency, amount }));
}
