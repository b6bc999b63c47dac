import { NAME_FIELDS, WHOLE_NAME, type SyncLine } from './lines';

export interface Fight {
  field: string;
  /** Numbers of the connections that each put their own value in place. */
  connections: number[];
}

const fieldsOf = ({ field }: SyncLine): readonly string[] => (field === WHOLE_NAME ? NAME_FIELDS : [field]);

/**
 * Fields for which more than one connection says that what stands over there stands here, whatever anybody else says: each
 * would put its own value back for ever. Found by the set-up alone.
 */
export function findFights(connections: readonly { id: number; lines: readonly SyncLine[] }[]): Fight[] {
  const byField = new Map<string, Set<number>>();
  for (const { id, lines } of connections)
    for (const line of lines)
      if (line.direction === 'in' && line.rule === 'replace')
        for (const field of fieldsOf(line)) byField.set(field, (byField.get(field) ?? new Set()).add(id));
  return [...byField].filter(([, ids]) => ids.size > 1).map(([field, ids]) => ({ field, connections: [...ids] }));
}
