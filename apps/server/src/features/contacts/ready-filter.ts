import { isGroup, readConditionText, testsIn, withTests, type Condition, type Test } from '@gray-loom/core/segments';
import { CHANNELS, type Channel } from '@gray-loom/core/writing';
import type { ContactFilter } from '@gray-loom/wire';
import type { Surroundings } from '../../book/statements/conditions';
import { touchSettings } from '../../book/touch-settings';
import type { Queryable } from '../../db/connect';
import { channelStates } from './permissions';
import { refuse } from './refusals';
import { segmentConditions } from './statements/ready-filter';
import { contactsOfSaidAddresses } from './statements/permissions';

/** A filter with everything that answering it takes. */
export interface ReadyFilter extends Pick<ContactFilter, 'find' | 'kind' | 'deleted'> {
  condition: Condition;
  surroundings: Surroundings;
}

/** Today, as conditions count days (ISO 8601, UTC). */
export const today = (): string => new Date().toISOString().slice(0, 10);

/** What is answered by what counts as being in touch. */
export const OF_TOUCH: ReadonlySet<string> = new Set(['@touch', '@touchBy', '@overdue']);

/** Segments within segments that are followed. */
const MOST_DEEP = 10;

/** Puts the conditions of segments in the place of tests for them; one that refers to itself is refused. */
export async function wholeCondition(
  client: Queryable,
  condition: Condition,
  within: readonly number[] = [],
): Promise<Condition> {
  const asked = [...new Set(testsIn(condition).flatMap((test) => (test.field === '@segment' ? idsIn(test) : [])))];
  if (!asked.length) return condition;
  if (within.length > MOST_DEEP || asked.some((id) => within.includes(id))) throw refuse.segmentInItself();
  const { rows } = await segmentConditions(client, asked);
  const found = new Map<number, Condition>();
  for (const row of rows) found.set(row.id, await wholeCondition(client, row.condition, [...within, row.id]));
  return withTests(condition, (test) => {
    if (test.field !== '@segment') return test;
    const of = idsIn(test).flatMap((id): Condition[] => {
      const one = found.get(id);
      return one ? [one] : [];
    });
    // A segment that is gone finds nobody, so that nothing is sent to everybody by mistake.
    if (!of.length) return test;
    return { join: test.not ? 'none' : 'any', of };
  });
}

const idsIn = ({ value }: Test): number[] => (Array.isArray(value) ? value.map(Number).filter(Number.isInteger) : []);

/** Where channels stand for those of whose addresses something was said: their own word may be another. */
async function saidOfAddresses(client: Queryable, channels: readonly Channel[]): Promise<Surroundings['said']> {
  if (!channels.length) return {};
  const people = await contactsOfSaidAddresses(client, channels);
  const states = people.length ? await channelStates({ pool: client as never }, people) : new Map<number, never>();
  return Object.fromEntries(
    channels.map((channel) => {
      const byState: Record<string, number[]> = {};
      for (const [id, of] of states) (byState[of[channel]] ??= []).push(id);
      return [channel, { all: people.map(({ id }) => id), byState }];
    }),
  );
}

/** What answering a condition takes: its segments in their place, today, and what was said of addresses. */
export async function readyCondition(
  client: Queryable,
  condition: Condition,
  { day = today(), within = [] }: { day?: string; within?: readonly number[] } = {},
): Promise<Pick<ReadyFilter, 'condition' | 'surroundings'>> {
  const whole = await wholeCondition(client, condition, within);
  const channels = testsIn(whole).flatMap(({ field, label }) =>
    field === '@permission' ? CHANNELS.filter((channel) => channel === label) : [],
  );
  const asksTouch = testsIn(whole).some(({ field }) => OF_TOUCH.has(field));
  return {
    condition: whole,
    surroundings: {
      today: day,
      said: await saidOfAddresses(client, [...new Set(channels)]),
      ...(asksTouch ? { touch: await touchSettings(client) } : {}),
    },
  };
}

/** Makes a filter that came from outside ready; what cannot be read is refused. */
export async function readyFilter(client: Queryable, filter: ContactFilter): Promise<ReadyFilter> {
  const read = readConditionText(filter.where);
  if (!read.ok) throw refuse.condition(read.error);
  const { find, kind, deleted } = filter;
  return { find, kind, deleted, ...(await readyCondition(client, read.value)) };
}

/** Whether a filter asks for nothing beside a kind of contact. */
export const asksNothing = ({ condition }: ReadyFilter): boolean => isGroup(condition) && condition.of.length === 0;
