import { findFragments, isGroup, type Condition } from '@gray-loom/core/segments';
import { ConditionCompiler, searchTexts, type AskedOf } from '../../book/statements/conditions';
import type { RecordKind } from '@gray-loom/core/model';
import type { TallyKind } from '../../db/schema';
import { asksNothing, type ReadyFilter } from './ready-filter';

interface Conditions {
  where: string;
  values: unknown[];
}

function escapeLike(text: string): string {
  return text.replace(/[\\%_]/g, (c) => `\\${c}`);
}

/**
 * Turns a filter into conditions over contact `c`; list, count and export all go through here. With `walking` what is found is asked
 * row by row, in a form that cannot become a join: right where so many fit that walking the list in its order ends soon.
 * `texts` are the search texts that are looked at, where some of them wait for the index.
 */
export function contactConditions(
  filter: ReadyFilter,
  { walking = false, texts = 'both' }: { walking?: boolean; texts?: 'both' | 'placed' | 'waiting' } = {},
): Conditions {
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const where = [
    filter.deleted ? `c.state = 'deleted'` : `c.state = 'live'`,
    `c.kind = '${filter.kind === 'organization' ? 'organization' : 'person'}'`,
  ];
  const fragments = findFragments(filter.find);
  if (fragments.length) {
    const like = fragments.map((fragment) => `s.text like ${add(`%${escapeLike(fragment)}%`)}`).join(' and ');
    const holds = (table: string) => `exists (select 1 from ${table} s where s.contact_id = c.id and ${like})`;
    where.push(
      walking
        ? `(select ${like} from ${searchTexts('c.id')} s)`
        : texts === 'both'
          ? `(${holds('contact_search')} or ${holds('contact_search_fresh')})`
          : holds(texts === 'placed' ? 'contact_search' : 'contact_search_fresh'),
    );
  }
  // Each part of what all has to hold stands apart, so that the one that finds fewest can lead.
  for (const part of partsOf(filter.condition)) {
    const { sql, reads } = new ConditionCompiler(add, 'contact', filter.surroundings).compile(part);
    if (!reads.facts) where.push(`(${sql})`);
    else if (walking) where.push(`(select (${sql}) from public.contact_facts f where f.contact_id = c.id)`);
    else where.push(`exists (select 1 from public.contact_facts f where f.contact_id = c.id and (${sql}))`);
  }
  return { where: where.join(' and '), values };
}

/** What all has to hold, in parts of which each reads the facts or does without. */
function partsOf(condition: Condition): Condition[] {
  if (!isGroup(condition) || condition.join !== 'all') return [condition];
  const reads = (one: Condition) =>
    new ConditionCompiler(() => '$1', 'contact', { today: '2000-01-01', said: {} }).compile(one).reads.facts;
  const [facts, others] = [condition.of.filter(reads), condition.of.filter((one) => !reads(one))];
  return [...others, ...(facts.length ? [{ join: 'all' as const, of: facts }] : [])];
}

/** The kept count that answers a filter, where one does: everybody of a kind, or all of a kind with one label. */
export function keptCountOf(filter: ReadyFilter): [TallyKind, string, RecordKind] | null {
  if (filter.find || filter.deleted) return null;
  if (asksNothing(filter)) return ['live', '', filter.kind];
  const { condition } = filter;
  const [one, ...others] = isGroup(condition) && condition.join === 'all' ? condition.of : [condition];
  if (!one || others.length || isGroup(one) || one.op !== 'is' || one.not || one.label || !Array.isArray(one.value))
    return null;
  const kind = KEPT[one.field];
  const [label, ...more] = one.value;
  return kind && label && !more.length ? [kind, label, filter.kind] : null;
}

const KEPT: Record<string, TallyKind> = {
  tags: 'tag',
  stage: 'stage',
  source: 'source',
  owner: 'owner',
  '@area': 'area',
};

/** How a condition is counted: over the facts alone, with the contacts only where it asks for what stands there. */
export function countConditions(
  { condition, kind, deleted, surroundings }: ReadyFilter,
  add: (value: unknown) => string,
): { sql: string; from: string; who: string } {
  const asked: AskedOf = 'facts';
  const { sql, reads } = new ConditionCompiler(add, asked, surroundings).compile(condition);
  const who = (deleted ? 3 : 1) + (kind === 'organization' ? 1 : 0);
  return {
    sql,
    from: reads.contact ? 'contact_facts f join public.contact c on c.id = f.contact_id' : 'contact_facts f',
    who: `f.who = ${who}`,
  };
}
