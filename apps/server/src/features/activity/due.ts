import { dateTest, dayFrom } from '@gray-loom/core/segments';
import type { ActivityEntry, ComingDay, Due, DueQuery } from '@gray-loom/wire';
import { accountIdOf } from '../../db/actor';
import type { Database } from '../../db/connect';
import { entriesOf } from './activities';
import { peopleToHearFrom } from './keeping-in-touch';
import { dueOf, peopleWithDays, remindersOf } from './statements/due';

/** What waits to be done, of one's own or of everybody: tasks, enquiries, appointments, and days of the year that come round. */
export async function due(database: Database, { of, days, limit }: DueQuery): Promise<Due> {
  const { pool, actor } = database;
  const isMine = of === 'mine' && actor.kind === 'person';
  const whose = isMine ? actor.accountId : null;
  const owner = isMine ? actor.name : null;
  const today = new Date().toISOString().slice(0, 10);
  const until = dayFrom(today, { n: days + 1, unit: 'day' });
  const [waiting, comingDays, touch] = await Promise.all([
    dueOf(pool, whose, { from: today, to: until, limit }),
    daysAhead(database, today, days, owner),
    peopleToHearFrom(database, owner, limit),
  ]);
  const [row] = waiting.rows;
  const lists = [row?.task_ids ?? [], row?.enquiry_ids ?? [], row?.appointment_ids ?? []] as const;
  const entries = new Map((await entriesOf(database, lists.flat())).map((one) => [one.id, one]));
  const [tasks, enquiries, appointments] = lists.map((ids) => ids.flatMap((id) => entries.get(id) ?? []));
  return {
    today,
    tasks: tasks ?? [],
    enquiries: enquiries ?? [],
    appointments: appointments ?? [],
    comingDays,
    toHearFrom: touch.list,
    totals: {
      tasks: row?.tasks ?? 0,
      late: row?.late ?? 0,
      enquiries: row?.enquiries ?? 0,
      appointments: row?.appointments ?? 0,
      toHearFrom: touch.total,
    },
  };
}

/** What whoever asks is to be reminded of now. */
export async function reminders(database: Database, now = new Date()): Promise<ActivityEntry[]> {
  const me = accountIdOf(database.actor);
  if (me === null) return [];
  const { rows } = await remindersOf(database.pool, me, now.toISOString());
  return entriesOf(
    database,
    rows.map(({ id }) => id),
  );
}

/** Days that come round and are told at once. */
const MOST_DAYS = 100;

/** The day of this year or the next on which a day of the year comes round; the 29th of February on the 28th where there is none. */
function nextOn(date: string, today: string): string {
  const part = date.slice(-5);
  for (const year of [Number(today.slice(0, 4)), Number(today.slice(0, 4)) + 1]) {
    const isLeap = new Date(Date.UTC(year, 1, 29)).getUTCMonth() === 1;
    const on = `${year}-${part === '02-29' && !isLeap ? '02-28' : part}`;
    if (on >= today) return on;
  }
  return today;
}

async function daysAhead({ pool }: Database, today: string, days: number, owner: string | null): Promise<ComingDay[]> {
  const test = dateTest({ field: 'bday', op: 'comes', value: Math.min(days, 366) }, today);
  if (test?.by !== 'part') return [];
  // Whoever was born on the 29th of February is thought of on the 28th where there is no other.
  const hasLast = test.ranges.some(({ from, to }) => from <= '02-28' && to >= '02-28');
  const ranges = hasLast ? [...test.ranges, { from: '02-29', to: '02-29' }] : test.ranges;
  const last = dayFrom(today, { n: days, unit: 'day' });
  const { rows } = await peopleWithDays(pool, ranges, owner);
  const seen = new Set<string>();
  return rows
    .map(({ id, name, what, date }) => ({ contact: { id, name }, what, date, on: nextOn(date, today) }))
    .filter(({ contact, what, on }) => {
      const key = `${contact.id} ${what}`;
      if (on > last || seen.has(key)) return false;
      seen.add(key);
      return true;
    })
    .sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : 0))
    .slice(0, MOST_DAYS);
}
