import type { ActivityKind } from '../../activity';
import type { Catalogue } from '../../fields';
import { activityRoles } from '../../formats';
import type { ColumnMapping, Mapping } from '../mapping';
import type { ActivityTarget } from '../rows/activity-cells';

/** What a heading says of an entry where its column means nothing else, or something that gives way to it. */
const BY_HEADING = {
  date: 'activityDate',
  what: 'activityWhat',
  id: 'activityId',
  currency: 'activityCurrency',
  quantity: 'activityQuantity',
} as const;
/** Days that belong to a person and not to what happened. */
const OWN_DAYS: ReadonlySet<string> = new Set(['bday', 'anniversary']);

/**
 * A mapping by which rows that say more of somebody who is here become entries of theirs: what held them (`columns`, by their places)
 * becomes amount, day, remark or thing by the type of its field, and columns whose headings say so tell of the rest. Everything else
 * reads as before.
 */
export function mappingOfEntries(
  mapping: Mapping,
  catalogue: Pick<Catalogue, 'find'>,
  { kind, columns }: { kind: ActivityKind; columns: readonly number[] },
): Mapping {
  const taken = new Set<string>();
  const become = (column: ColumnMapping, target: ActivityTarget): ColumnMapping => {
    if (taken.has(target)) return column;
    taken.add(target);
    return { ...column, target, newField: null };
  };
  const typeOf = ({ target }: ColumnMapping) => (target ? catalogue.find(target)?.type : undefined);
  const held = mapping.columns.map((column): ColumnMapping => {
    if (!columns.includes(column.column)) return column;
    const isCount = activityRoles(column.header ?? '')[0] === 'quantity';
    switch (typeOf(column)) {
      case 'money':
        return become(column, 'activityAmount');
      case 'number':
        return become(column, isCount ? 'activityQuantity' : 'activityAmount');
      case 'date':
        return become(column, 'activityDate');
      case 'longText':
        return become(column, 'datedNote');
      default:
        return become(column, 'activityWhat');
    }
  });
  const givesWay = (column: ColumnMapping, target: ActivityTarget) =>
    column.target === null ||
    (target === 'activityDate' && typeOf(column) === 'date' && !OWN_DAYS.has(column.target)) ||
    (target === 'activityId' && column.target === 'externalId' && mapping.recognise[0] !== 'externalId');
  const told = held.map((column, i): ColumnMapping => {
    if (column !== mapping.columns[i] || !column.header) return column;
    for (const role of activityRoles(column.header)) {
      const target = Object.hasOwn(BY_HEADING, role) ? BY_HEADING[role as keyof typeof BY_HEADING] : null;
      if (target && !taken.has(target) && givesWay(column, target)) return become(column, target);
    }
    return column;
  });
  return { ...mapping, columns: told, activityKind: kind };
}
