import { unpackActivity, type Activity } from '@gray-loom/core/activity';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import { ACTIVITY_TARGETS, OWN_HEADINGS } from '@gray-loom/core/mapping';
import { firstText, kindOf } from '@gray-loom/core/model';
import type { ContactFilter } from '@gray-loom/wire';
import { activitiesOfContacts } from '../../book/statements/activities';
import type { Database } from '../../db/connect';
import { readyFilter, streamContacts } from '../contacts';

/** What an entry says in the columns that read back, by their headings. */
const READ_BACK: Partial<Record<(typeof ACTIVITY_TARGETS)[number][0], (activity: Activity) => string>> = {
  activityDate: ({ at }) => at ?? '',
  activityKind: ({ kind }) => kind,
  activityWhat: ({ what }) => what,
  activityAmount: ({ amount }) => (amount ? String(amount.amount) : ''),
  activityCurrency: ({ amount }) => amount?.currency ?? '',
  activityQuantity: ({ quantity }) => (quantity === null ? '' : String(quantity)),
  activityId: ({ outsideId }) => outsideId,
  activityText: ({ text }) => text,
};
const COLUMNS = ACTIVITY_TARGETS.flatMap(([key, heading]) => {
  const read = READ_BACK[key];
  return read ? [{ heading, read }] : [];
});
/** What is for people to read. */
const FURTHER: [heading: string, read: (activity: Activity) => string][] = [
  ['Ends', ({ end }) => end ?? ''],
  ['Minutes', ({ minutes }) => (minutes === null ? '' : String(minutes))],
  ['Outcome', ({ outcome }) => outcome],
  ['Where', ({ place, from }) => place || from],
  ['Open', ({ isOpen }) => (isOpen ? 'yes' : '')],
];

/**
 * The activity of the contacts of a filter as a table, one row for each entry, as a stream. It reads back: brought in again, every entry
 * is here already. Files are named; their content is not in it.
 */
export async function exportActivities(database: Database, filter: ContactFilter): Promise<ReadableStream<Uint8Array>> {
  const headings = [
    ...OWN_HEADINGS,
    'Given name',
    'Family name',
    'Organization',
    'E-mail',
    ...COLUMNS.map(({ heading }) => heading),
    'Who of us',
    ...FURTHER.map(([heading]) => heading),
  ];
  const line = (cells: readonly string[]) => writeDelimitedLine(cells, ',');
  return streamContacts(database, await readyFilter(database.pool, filter), line(headings), async (contacts) => {
    const byId = new Map(contacts.map((one) => [one.id, one.record]));
    const { rows } = await activitiesOfContacts(database.pool, [...byId.keys()]);
    return rows
      .map(({ holder_id, record: kept, who }) => {
        const record = byId.get(holder_id) ?? { n: 0, f: {} };
        const activity = unpackActivity(kept);
        return line([
          String(holder_id),
          kindOf(record),
          ...['givenName', 'familyName', 'organization', 'email'].map((field) => firstText(record, field)),
          ...COLUMNS.map(({ read }) => read(activity)),
          who ?? '',
          ...FURTHER.map(([, read]) => read(activity)),
        ]);
      })
      .join('');
  });
}
