import { typeValue } from '../../fields';
import type { Value } from '../../model';
import type { ColumnMapping } from '../mapping';
import { readCell, type ReadAs } from './read-cell';

/** How what is typed or converted is read: day before month, a point for decimals, nothing thrown away. */
export const BY_HAND: Omit<ColumnMapping, 'target' | 'label'> = {
  column: 0,
  header: null,
  dateOrder: 'dayFirst',
  decimal: '.',
  separator: ';',
  newField: null,
  onBad: 'hold',
};

/**
 * A value read anew as another type: the new content, or null where it says nothing in that type. Law: converting to the
 * type it has gives the same content. Stages and pick-lists are no types to convert to.
 */
export function convertValue(value: Pick<Value, 'v'>, field: string, as: ReadAs): Pick<Value, 'v'> | null {
  const text = typeValue(value);
  if (text === '') return null;
  const context = { country: 'GB', stages: [], settle: (_kind: 'source' | 'tag' | 'owner', plain: string) => plain };
  const reading = readCell(text, { ...BY_HAND, target: field, label: null }, as, context, {});
  const found = reading.values.find(([key]) => key === field)?.[1];
  return found ? { v: found.v } : null;
}
