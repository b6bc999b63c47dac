import {
  activityOf,
  changedParts,
  DAY,
  faultOfActivity,
  faultOfFile,
  nameOfFile,
  nextOf,
  unpackActivity,
  type Activity,
  type ActivityKind,
} from '@gray-loom/core/activity';
import { firstValue, kindOf, type Operation } from '@gray-loom/core/model';
import type {
  ActivityChanged,
  ActivityChangeRequest,
  ActivityEntry,
  ActivityHistory,
  ActivityPage,
  ActivityQuery,
  ActivityRequest,
} from '@gray-loom/wire';
import { addActivities, changeActivities, loadActivities, type LoadedActivity } from '../../book/activities';
import { peopleOf } from '../../book/related-contacts';
import { requireLive } from '../../book/require-live';
import { applyChanges } from '../../book/write-contacts';
import { accountIdOf } from '../../db/actor';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { handThread, startRun } from '../../runs/runs';
import { contactForStream } from './statements/contact-for-stream';
import { refuseContact } from '../../book/refusals';
import { touchOf } from './keeping-in-touch';
import { refuse } from './refusals';
import {
  accountNames,
  bookedAt,
  contactNames,
  countsOfStream,
  entriesByIds,
  stageNamed,
  stepsOf,
  streamOf,
  addNamed,
  type EntryRow,
} from './statements/activities';

type Reads = Pick<Database, 'pool'>;

const idsOf = (lists: (readonly number[])[]): number[] => [...new Set(lists.flat())];

/** Rows with the names of everybody they speak of. */
async function toEntries({ pool }: Reads, rows: readonly EntryRow[]): Promise<ActivityEntry[]> {
  const activities = rows.map(({ record }) => unpackActivity(record));
  const accounts = idsOf(activities.map(({ who, colleagues }) => [...(who === null ? [] : [who]), ...colleagues]));
  const people = idsOf(activities.map((one) => one.people));
  const [ours, theirs] = await Promise.all([
    accounts.length ? accountNames(pool, accounts) : { rows: [] },
    people.length ? contactNames(pool, people) : { rows: [] },
  ]);
  const account = new Map(ours.rows.map(({ id, name }) => [id, { id, name }]));
  const contact = new Map(theirs.rows.map(({ asked, id, name }) => [asked, { id, name }]));
  return rows.map((row, i) => {
    const activity = activities[i] ?? activityOf('note');
    return {
      id: row.id,
      version: row.version,
      activity,
      contact: { id: row.contact_id, name: row.name },
      who: account.get(activity.who ?? 0)?.name ?? '',
      people: activity.people.flatMap((id) => contact.get(id) ?? []),
      colleagues: activity.colleagues.flatMap((id) => account.get(id) ?? []),
      by: row.by ?? '',
      thread: { kind: row.thread_kind, name: row.thread_name },
      runId: row.run_id,
      writtenAt: row.written_at.toISOString(),
    };
  });
}

/** Entries by their ids, in that order. */
export async function entriesOf(database: Reads, ids: readonly number[]): Promise<ActivityEntry[]> {
  const entries = await toEntries(database, (await entriesByIds(database.pool, ids)).rows);
  const byId = new Map(entries.map((entry) => [entry.id, entry]));
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** A part of the stream of a contact; that of an organization holds what happens with its people as well. */
export async function activityPage(database: Database, contactId: number, query: ActivityQuery): Promise<ActivityPage> {
  const [found] = await contactForStream(database.pool, contactId);
  if (!found) throw refuseContact.noSuchContact();
  const people = kindOf(found.record) === 'organization' ? await peopleOf(database, found.record) : [];
  const ids = [found.id, ...people.map(({ id }) => id)];
  const kinds = query.kinds.split(',').filter(Boolean);
  const [stream, counts, touch] = await Promise.all([
    streamOf(database.pool, ids, kinds, query),
    countsOfStream(database.pool, ids),
    touchOf(database, found.id),
  ]);
  return {
    entries: await toEntries(database, stream.rows),
    counts: Object.fromEntries(counts.rows.map(({ kind, n }) => [kind, n])),
    touch,
  };
}

const KIND_WORDS: Record<ActivityKind, string> = {
  note: 'Note',
  task: 'Task',
  appointment: 'Appointment',
  talk: 'Talk',
  enquiry: 'Enquiry',
  call: 'Call',
  message: 'Message',
  result: 'Result',
  purchase: 'Purchase',
  gift: 'Gift',
  enrolment: 'Enrolment',
  file: 'File',
};

const excerpt = (text: string): string => {
  const plain = text.replace(/\s+/g, ' ').trim();
  return plain.length > 60 ? `${plain.slice(0, 59)}…` : plain;
};

/** What the ledger calls an entry. */
function titleOf({ kind, what, text }: Activity): string {
  const about = excerpt(what || text);
  return about ? `${KIND_WORDS[kind]}: ${about}` : KIND_WORDS[kind];
}

type Parts = Partial<Omit<ActivityRequest, 'kind' | 'stage'>>;

/** Parts that were given, in their stored form: a text has no blanks around it that nobody meant, a moment is in UTC. */
function given(parts: Parts): Partial<Activity> {
  const known = Object.fromEntries(
    Object.entries(parts).filter(([part, value]) => value !== undefined && part !== 'stage' && part !== 'version'),
  ) as Partial<Activity>;
  for (const part of ['at', 'end'] as const) {
    const text = known[part];
    if (typeof text === 'string' && !DAY.test(text) && !Number.isNaN(Date.parse(text)) && /\dT\d/.test(text))
      known[part] = new Date(text).toISOString();
  }
  return known;
}

/** Refuses what cannot be, and colleagues or people there are not. */
async function check(tx: Tx, activity: Activity, before: Activity | null): Promise<void> {
  const fault = faultOfActivity(activity);
  if (fault) throw refuse.fault({ field: fault.part, fault });
  const accounts = idsOf([activity.who === null ? [] : [activity.who], activity.colleagues]);
  if (accounts.length) {
    const { rows } = await accountNames(tx.client, accounts);
    if (rows.length < accounts.length) throw refuse.noSuchAccount({ field: 'who' });
    const retired = rows.find((row) => row.retired && row.id === activity.who && before?.who !== row.id);
    if (retired && activity.isOpen) throw refuse.retired({ field: 'who', name: retired.name });
  }
  if (activity.people.length) {
    const { rows } = await contactNames(tx.client, activity.people);
    if (rows.length < activity.people.length) throw refuse.noSuchPerson({ field: 'people' });
  }
}

const HOUR_MS = 3_600_000;

/** Who of those who take part in an appointment has something else at that time. */
async function bookedOf(tx: Tx, activity: Activity, exceptId: number): Promise<string[]> {
  const { kind, at, end, who, colleagues } = activity;
  if (kind !== 'appointment' || at === null) return [];
  const accounts = idsOf([who === null ? [] : [who], colleagues]);
  if (!accounts.length) return [];
  const isDay = DAY.test(at);
  const from = new Date(at);
  const to = end
    ? new Date(Date.parse(end) + (isDay ? 24 * HOUR_MS : 0))
    : new Date(from.getTime() + (isDay ? 24 * HOUR_MS : HOUR_MS));
  const { rows } = await bookedAt(tx.client, accounts, from.toISOString(), to.toISOString(), exceptId);
  return rows.map(({ who: name, what }) => `${name} has ${what || 'an appointment'} at that time.`);
}

/** Tells colleagues who are named in a text ("@Tom Okoro"), and were not before. */
async function tellNamed(
  tx: Tx,
  told: { runId: number; id: number; by: number | null; text: string; before: string },
): Promise<void> {
  if (told.text.includes('@')) await addNamed(tx.client, told);
}

/** Writes down that something happened or is to happen; a stage that comes with it is changed in the same run. */
export async function addActivity(
  database: Database,
  contactId: number,
  { kind, stage, ...parts }: ActivityRequest,
): Promise<{ id: number; runId: number; booked: string[] }> {
  return inTransaction(database, async (tx) => {
    const { record } = await requireLive(tx, contactId);
    const me = accountIdOf(tx.actor);
    const known = given(parts as Parts);
    const activity = activityOf(kind, { ...known, who: known.who === undefined ? me : known.who });
    // Where no time is given, it happened now; a task may have none.
    if (activity.at === null && kind !== 'task') activity.at = new Date().toISOString();
    if (!activity.isOpen && (kind === 'task' || kind === 'enquiry')) {
      activity.closedAt = new Date().toISOString();
      activity.closedBy = me;
    }
    await check(tx, activity, null);
    const runId = await startRun(tx, {
      kind: 'activity',
      state: 'done',
      threadId: await handThread(tx),
      title: titleOf(activity),
      contactId,
    });
    const [id = 0] = await addActivities(tx, runId, [{ contactId, activity }]);
    await tellNamed(tx, { runId, id, by: me, text: activity.text, before: '' });
    if (stage) {
      if (!(await stageNamed(tx.client, stage)).rows.length) throw refuse.noSuchStage({ field: 'stage', stage });
      const before = firstValue(record, 'stage') ?? null;
      const operation: Operation = {
        target: contactId,
        field: 'stage',
        slot: before?.slot ?? 0,
        before,
        after: { slot: before?.slot ?? 0, v: stage, run: runId },
      };
      if (before?.v !== stage) await applyChanges(tx, runId, [{ contactId, operations: [operation] }]);
    }
    return { id, runId, booked: await bookedOf(tx, activity, id) };
  });
}

async function requireActivity(tx: Tx, id: number, version?: number): Promise<LoadedActivity> {
  const loaded = (await loadActivities(tx, [id])).get(id);
  if (!loaded || loaded.activity.gone) throw refuse.noSuchActivity();
  if (version !== undefined && loaded.version !== version) {
    const [last] = (await stepsOf(tx.client, id)).rows;
    throw refuse.changed({ who: last?.by ?? '', version: loaded.version });
  }
  return loaded;
}

async function write(tx: Tx, loaded: LoadedActivity, activity: Activity, title?: string): Promise<number | null> {
  if (!changedParts(loaded.activity, activity).length) return null;
  const runId = await startRun(tx, {
    kind: 'activity',
    state: 'done',
    threadId: await handThread(tx),
    title: title ?? titleOf(activity),
    contactId: loaded.holderId,
  });
  await changeActivities(tx, runId, [{ loaded, activity }]);
  return runId;
}

/** When it was closed and by whom follows from whether it is open. */
function withClosing(before: Activity, after: Activity, me: number | null): Activity {
  if (before.isOpen === after.isOpen) return after;
  return after.isOpen
    ? { ...after, closedAt: null, closedBy: null }
    : { ...after, closedAt: new Date().toISOString(), closedBy: me };
}

/** Where the beginning moves and nothing is said of the end, it moves along. */
function movedEnd({ at, end }: Activity, known: Partial<Activity>): Partial<Activity> {
  if (!known.at || known.end !== undefined || at === null || end === null) return {};
  const later = new Date(Date.parse(end) + Date.parse(known.at) - Date.parse(at)).toISOString();
  return { end: DAY.test(known.at) ? later.slice(0, 10) : later };
}

/** Changes an entry. What repeats and is done comes again at its next time, in the same run. */
export async function changeActivity(
  database: Database,
  id: number,
  { version, ...parts }: ActivityChangeRequest,
): Promise<ActivityChanged> {
  return inTransaction(database, async (tx) => {
    const loaded = await requireActivity(tx, id, version);
    const before = loaded.activity;
    const known = given(parts as Parts);
    if (before.file && known.what !== undefined) {
      known.what = nameOfFile(known.what);
      const { mediaType, bytes } = before.file;
      const fault = faultOfFile({ name: known.what, mediaType, bytes });
      if (fault) throw refuse.file({ field: 'file', fault });
    }
    if (known.isOpen !== undefined && before.kind !== 'task' && before.kind !== 'enquiry') throw refuse.notToDo();
    const after = withClosing(before, { ...before, ...known, ...movedEnd(before, known) }, accountIdOf(tx.actor));
    await check(tx, after, before);
    const isDone = before.isOpen && !after.isOpen;
    const me = accountIdOf(tx.actor);
    const runId = await write(tx, loaded, after, isDone ? `Done: ${excerpt(after.what || after.text)}` : undefined);
    if (runId !== null) await tellNamed(tx, { runId, id, by: me, text: after.text, before: before.text });
    if (runId === null) return { runId, version: loaded.version, next: null, booked: [] };
    return {
      runId,
      version: loaded.version + 1,
      next: isDone ? await comeAgain(tx, runId, loaded, after) : null,
      booked: await bookedOf(tx, after, id),
    };
  });
}

/** The next one of a task that repeats: after its own day and after today, so that what was long overdue does not come again at once. */
async function comeAgain(tx: Tx, runId: number, { contactId }: LoadedActivity, done: Activity): Promise<number | null> {
  const { repeat, at } = done;
  if (!repeat || at === null) return null;
  const today = new Date().toISOString().slice(0, 10);
  const day = at.slice(0, 10);
  const next = nextOf(repeat, at, day > today ? day : today);
  if (next === null) return null;
  const [id = 0] = await addActivities(tx, runId, [
    { contactId, activity: { ...done, at: next, isOpen: true, closedAt: null, closedBy: null, outsideId: '' } },
  ]);
  return id;
}

/** Removes an entry; undo brings it back. */
export async function removeActivity(database: Database, id: number): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const loaded = await requireActivity(tx, id);
    const runId = await write(tx, loaded, { ...loaded.activity, gone: true }, `Removed ${titleOf(loaded.activity)}`);
    return { runId: runId ?? 0 };
  });
}

/** How an entry became what it is, the latest first. */
export async function activityHistory({ pool }: Reads, id: number): Promise<ActivityHistory> {
  const { rows } = await stepsOf(pool, id);
  if (!rows.length) throw refuse.noSuchActivity();
  return rows.map(({ version, at, by, before }) => ({
    version,
    at: at.toISOString(),
    by: by ?? '',
    before: before && unpackActivity(before),
  }));
}
