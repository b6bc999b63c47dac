import { randomBytes } from 'node:crypto';
import { DAY, unpackActivity, type Activity } from '@gray-loom/core/activity';
import { eq } from 'drizzle-orm';
import { createEvents, type DateArray, type EventAttributes } from 'ics';
import { accountIdOf } from '../../db/actor';
import { actingAs, inTransaction, type Database } from '../../db/connect';
import { account } from '../../db/schema';
import type { FileAnswer } from '../../http/declare';
import { actorOf } from '../../runs/runs';
import { tokenHash } from '../people';
import { refuse } from './refusals';
import { entriesOf } from './activities';
import { accountOfCalendar, entriesForCalendar, type CalendarRow } from './statements/calendar';

const HOUR_MS = 3_600_000;

const dayParts = (day: string): DateArray => day.split('-').map(Number) as DateArray;
const momentParts = (at: string): DateArray => {
  const when = new Date(at);
  return [when.getUTCFullYear(), when.getUTCMonth() + 1, when.getUTCDate(), when.getUTCHours(), when.getUTCMinutes()];
};

/** The day behind one, where a whole day ends (RFC 5545: an end is not within). */
function dayAfter(day: string): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + 24 * HOUR_MS).toISOString().slice(0, 10);
}

interface Times {
  start: DateArray;
  end: DateArray;
  startInputType?: 'utc';
  endInputType?: 'utc';
}

function timesOf(at: string, end: string | null): Times {
  if (DAY.test(at)) return { start: dayParts(at), end: dayParts(dayAfter(end ?? at)) };
  const until = end ?? new Date(Date.parse(at) + HOUR_MS).toISOString();
  return { start: momentParts(at), startInputType: 'utc', end: momentParts(until), endInputType: 'utc' };
}

interface Told {
  id: number;
  version: number;
  name: string;
  activity: Activity;
}

/** One appointment, or one task that is due, as an event. Times are in UTC, so that no change of clocks moves them. */
function toEvent({ id, version, name, activity }: Told): EventAttributes | null {
  const { at, end, what, text, place, kind } = activity;
  if (at === null) return null;
  return {
    ...timesOf(at, end),
    startOutputType: 'utc',
    endOutputType: 'utc',
    uid: `activity-${id}@gray-loom`,
    sequence: version,
    title: `${kind === 'task' ? 'To do: ' : ''}${what}, ${name}`,
    ...(text ? { description: text } : {}),
    ...(place ? { location: place } : {}),
    transp: kind === 'task' ? 'TRANSPARENT' : 'OPAQUE',
  };
}

function fileOf(events: readonly (EventAttributes | null)[], name: string): FileAnswer {
  const made = createEvents(
    events.flatMap((event) => event ?? []),
    { productId: '-//Gray Loom//Calendar//EN', calName: 'Gray Loom' },
  );
  if (made.error) throw made.error;
  return { name, body: made.value ?? '', cache: 'no-store' };
}

const toldBy = ({ id, version, name, record }: CalendarRow): Told => ({
  id,
  version,
  name,
  activity: unpackActivity(record),
});

/** What an account has ahead, and had in the last three months, for whoever knows its secret address. */
export async function calendarOf(database: Database, secret: string): Promise<FileAnswer> {
  const { rows } = await accountOfCalendar(database.pool, tokenHash(secret));
  const accountId = rows[0]?.id;
  if (accountId === undefined) throw refuse.noSuchCalendar();
  // As the account itself sees it: within its remit.
  const own = actingAs(database, await actorOf(database, { actorId: accountId }));
  const entries = await entriesForCalendar(own.pool, accountId);
  return fileOf(
    entries.rows.map((row) => toEvent(toldBy(row))),
    'gray-loom.ics',
  );
}

/** Gives the account a secret address for its calendar; the one before is good no more. It is told once. */
export async function renewCalendar(database: Database): Promise<{ path: string }> {
  const secret = randomBytes(24).toString('base64url');
  await inTransaction(database, async (tx) => {
    await tx.db
      .update(account)
      .set({ calendarHash: tokenHash(secret) })
      .where(eq(account.id, accountIdOf(tx.actor) ?? 0));
  });
  return { path: `/api/calendar/${secret}.ics` };
}

/** One appointment or task as a file. */
export async function appointmentFile(database: Database, id: number): Promise<FileAnswer> {
  const [entry] = await entriesOf(database, [id]);
  if (!entry || entry.activity.gone || entry.activity.at === null) throw refuse.noSuchActivity();
  const { version, contact, activity } = entry;
  return fileOf([toEvent({ id, version, name: contact.name, activity })], `activity-${id}.ics`);
}
