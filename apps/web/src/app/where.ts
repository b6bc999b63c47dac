import { allOf, EVERYBODY, isGroup, isOneOf, readConditionText, type Condition } from '@gray-loom/core/segments';

/** A condition as it stands in an address; empty for everybody. */
export const whereText = (condition: Condition): string =>
  isGroup(condition) && condition.join === 'all' && !condition.of.length ? '' : JSON.stringify(condition);

/** The condition of an address; everybody where there is none that can be read. */
export function conditionIn(params: URLSearchParams): Condition {
  const read = readConditionText(params.get('where') ?? '');
  return read.ok ? read.value : EVERYBODY;
}

/** The list of those who meet a condition. */
export const contactsWhere = (condition: Condition): string =>
  `/contacts?where=${encodeURIComponent(whereText(allOf(condition)))}`;

/** The list of those who have one value of a field. */
export const contactsWith = (field: string, value: string | number): string =>
  contactsWhere(isOneOf(field, String(value)));
