import { allOf, isOneOf, type Condition } from '@gray-loom/core/segments';

/** A condition as the address of a list takes it: all of these fields with one of their values. */
export const where = (fields: Record<string, string | number>): string =>
  `where=${encodeURIComponent(whereText(fields))}`;

/** The same as a filter's text. */
export const whereText = (fields: Record<string, string | number>): string =>
  JSON.stringify(allOf(...Object.entries(fields).map(([field, value]): Condition => isOneOf(field, String(value)))));
