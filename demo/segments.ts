import {
  ensurePosition,
  makeSegment,
  loadCatalogue,
  reviewSegments,
  saveTouchSettings,
  type Database,
} from '@gray-loom/server';
import { allOf, isOneOf, type Condition } from '@gray-loom/core/segments';

/** Days of the past that segments have a course over. */
const DAYS = 60;

interface DemoSegment {
  name: string;
  description: string;
  condition: Condition;
}

const segments = (length: string): DemoSegment[] => [
  {
    name: 'Newsletter',
    description: 'Everybody the spring and autumn letters go to.',
    condition: allOf(
      isOneOf('tags', 'newsletter'),
      { field: 'email', op: 'present' },
      { field: '@permission', label: 'email', op: 'is', value: ['optedOut'], not: true },
    ),
  },
  {
    name: 'Birthday in the next two weeks',
    description: 'A card from the yard.',
    condition: { field: 'bday', op: 'comes', value: 14 },
  },
  {
    name: 'Donors, six months untouched',
    description: 'To be called before the bursary fund closes its year.',
    condition: allOf(isOneOf('stage', 'Donor'), {
      field: '@changed',
      op: 'span',
      value: { to: { n: -6, unit: 'month' } },
    }),
  },
  {
    name: 'Looks for a boat of',
    description: 'Who may want one that is for sale; asks its length.',
    condition: { field: length, op: 'holds', value: { ask: 'Boat length in feet?' } },
  },
  {
    name: 'Enquiries that can be reached',
    description: 'Came in lately, with a mailbox or a phone.',
    condition: allOf(
      isOneOf('stage', 'Enquiry'),
      { field: '@created', op: 'span', value: { from: { n: -90, unit: 'day' }, to: { n: 0, unit: 'day' } } },
      {
        join: 'any',
        of: [
          { field: 'email', op: 'present' },
          { field: 'tel', op: 'present' },
        ],
      },
    ),
  },
  {
    name: 'Gave, and not heard from since',
    description: 'Gifts within a year, no talk in six months: a call to say thanks.',
    condition: allOf(
      { field: '@activity', op: 'did', value: { kinds: ['gift'], since: { n: -1, unit: 'year' } } },
      { field: '@activity', op: 'did', value: { kinds: ['talk', 'call'], since: { n: -6, unit: 'month' } }, not: true },
    ),
  },
  {
    name: 'Only half known',
    description: 'Nothing but a name and one line.',
    condition: allOf({ field: '@complete', op: 'number', value: { to: 45 } }, { field: 'adr', op: 'missing' }),
  },
];

/** Segments as a school keeps them, with the course they had while its people came in. */
export async function seedSegments(database: Database, own: Database): Promise<void> {
  // What comes after is read by the worker, which is not at work yet.
  await ensurePosition(database.pool, 'segmentMembers', 'now');
  const catalogue = await loadCatalogue(database.db);
  const length = catalogue.fields.find(({ name }) => name.startsWith('Boat length'))?.key ?? 'custom.1';
  for (const one of segments(length)) await makeSegment(own, { ...one, kind: 'person', isShared: true });
  await saveTouchSettings(own, {
    kinds: ['talk', 'call', 'appointment', 'message'],
    rhythms: [{ stage: 'Donor', everyDays: 270 }],
  });
  await reviewSegments(database);
  const { pool } = database;
  await pool.query(
    `update segment set made_at = now() - interval '${DAYS} days', changed_at = now() - interval '${DAYS} days'`,
  );
  await pool.query(
    `update segment_event e set at = c.created_at, cause = 'change', run_id = c.created_run
     from contact c where c.id = e.contact_id and c.created_at > now() - interval '${DAYS} days'`,
  );
  await pool.query(
    `insert into segment_count (segment_id, day, n)
     select s.id, d::date, (select count(*) from segment_event e where e.segment_id = s.id and (e.cause = 'condition' or e.at < d + interval '1 day'))
     from segment s, generate_series(current_date - ${DAYS - 1}, current_date - 1, interval '1 day') d on conflict do nothing`,
  );
}
