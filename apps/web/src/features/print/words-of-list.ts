import { isGroup, sayCondition } from '@gray-loom/core/segments';
import { conditionIn } from '../../app/where';
import type { Known } from '../segments/names';

/** What a list is of, as its filter line says it. */
export function wordsOfList(params: URLSearchParams, known: Known): string {
  const what = params.get('kind') === 'organization' ? 'Organizations' : 'People';
  const condition = conditionIn(params);
  const find = params.get('find');
  const parts = [
    ...(params.get('deleted') ? ['deleted'] : []),
    ...(find ? [`has “${find}”`] : []),
    ...(isGroup(condition) && !condition.of.length ? [] : [sayCondition(condition, known)]),
  ];
  return parts.length ? `${what}: ${parts.join(', ')}` : what;
}
