import { findFragments } from '@gray-loom/core/segments';
import { loadCatalogue } from '../../book/picks';
import { touchSettings } from '../../book/touch-settings';
import type { Database } from '../../db/connect';
import { refuse } from './refusals';
import { OF_TOUCH, today } from './ready-filter';
import { bestPosition, columnOf, fieldPosition, touchPosition } from './statements/contact-order';

/** What a list is ordered by: an expression over contact `c`, its direction, and its type for comparing with a kept position. */
export interface Order {
  column: string;
  direction: 'asc' | 'desc';
  cast: string;
}

const turned = (direction: Order['direction'], isBack: boolean): Order['direction'] =>
  isBack ? (direction === 'asc' ? 'desc' : 'asc') : direction;

/** The order by family name, which is that of everything that has no other. */
export const BY_FAMILY: Order = { column: 'c.sort_family', direction: 'asc', cast: 'text' };

/** The order that a list asks for. What is empty comes last, whichever way. */
export function orderOf(
  sort: string,
  find: string,
  { pool, db }: Pick<Database, 'pool' | 'db'>,
): Promise<Order> | Order {
  const isBack = sort.endsWith(':back');
  const key = sort.replace(/:back$/, '');
  if (key === 'family') return { ...BY_FAMILY, direction: turned('asc', isBack) };
  if (key === 'given') return { column: 'c.sort_given', direction: turned('asc', isBack), cast: 'text' };
  if (key === 'touched') return { column: 'c.touched_at', direction: turned('desc', isBack), cast: 'timestamptz' };
  if (key === 'best') {
    const fragments = findFragments(find);
    return fragments.length ? { column: bestPosition(fragments), direction: 'asc', cast: 'text' } : BY_FAMILY;
  }
  const direction = turned('asc', isBack);
  const column = columnOf(key, direction);
  if (column) return { ...column, direction };
  if (OF_TOUCH.has(key))
    return touchSettings(pool).then((settings) => ({ ...touchPosition(key, settings, today(), direction), direction }));
  return loadCatalogue(db).then((known) => {
    const field = known.find(key);
    if (!field) throw refuse.noSuchOrder();
    return { ...fieldPosition(key, field.type, direction), direction };
  });
}
