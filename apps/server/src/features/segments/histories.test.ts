import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { kindOf, lifecycleOf, type ContactRecord } from '@gray-loom/core/model';
import { allOf, factsOf, isOneOf, meets, NOTHING_ELSE, type Condition, type Subject } from '@gray-loom/core/segments';
import { LAW_TIMEOUT_MS, lawWithin } from '../../../../../packages/core/src/testing/law-budget';
import { consumers } from '../../consumers';
import { selectRecords } from '../../db/record-codec';
import { FeedReaders } from '../../feed/consumer';
import { createLogger } from '../../log';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { channelStates } from '../contacts';
import { reviewSegments } from './review-segments';

/** Whatever is edited, merged, undone or brought in, and however many days pass: members are those of the evaluator. */
let app: TestApp;
let readers: FeedReaders;
beforeAll(async () => {
  app = await startTestApp();
  readers = new FeedReaders(app.database, consumers, createLogger('test', 'silent'));
  await readers.open();
});
afterAll(() => app.end());

const CONDITIONS: [name: string, condition: Condition][] = [
  ['press', isOneOf('tags', 'press')],
  ['no mail', { field: 'email', op: 'missing' }],
  ['donors without press', allOf(isOneOf('stage', 'Donor'), { ...isOneOf('tags', 'press'), not: true })],
  ['birthday soon', { field: 'bday', op: 'comes', value: 20 }],
  ['may not be called', { field: '@permission', label: 'call', op: 'is', value: ['optedOut'] }],
  [
    'named alike',
    {
      join: 'any',
      of: [
        { field: 'familyName', op: 'begins', value: 'Qu' },
        { field: 'note', op: 'contains', value: 'oak' },
      ],
    },
  ],
];

type Step =
  | { kind: 'enter'; values: Record<string, string> }
  | { kind: 'edit'; who: number; field: string; text: string | null }
  | { kind: 'delete' | 'restore' | 'stop'; who: number }
  | { kind: 'merge'; who: number; with: number }
  | { kind: 'batch'; tag: string }
  | { kind: 'undo' }
  | { kind: 'days'; n: number };

const who = fc.nat(30);
const text: Record<string, fc.Arbitrary<string | null>> = {
  stage: fc.constantFrom('Donor', 'Enquiry', null),
  bday: fc.constantFrom('--01-05', '--07-14', '1980-12-30', null),
  email: fc.constantFrom('a@example.org', 'b@example.org', null),
  note: fc.constantFrom('larch and oak', 'none', null),
  familyName: fc.constantFrom('Quay', 'Reis', 'Quorn'),
};
const values = fc
  .record({
    givenName: fc.constantFrom('Ana', 'Bo', 'Cy'),
    familyName: fc.constantFrom('Quay', 'Reis'),
    stage: fc.constantFrom('Donor', 'Enquiry', ''),
    tags: fc.constantFrom('press', 'news', ''),
    bday: fc.constantFrom('--07-14', '--12-30', ''),
    tel: fc.constantFrom('01632 960111', '01632 960222', ''),
  })
  .map((all) => Object.fromEntries(Object.entries(all).filter(([, one]) => one)));
const step: fc.Arbitrary<Step> = fc.oneof(
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('enter' as const), values }) },
  {
    weight: 4,
    arbitrary: fc.constantFrom(...Object.keys(text)).chain((field) =>
      fc.record({
        kind: fc.constant('edit' as const),
        who,
        field: fc.constant(field),
        text: text[field] ?? fc.constant(null),
      }),
    ),
  },
  {
    weight: 2,
    arbitrary: fc.record({ kind: fc.constantFrom('delete' as const, 'restore' as const, 'stop' as const), who }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('merge' as const), who, with: who }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('batch' as const), tag: fc.constantFrom('press', 'news') }) },
  { weight: 2, arbitrary: fc.constant({ kind: 'undo' as const }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('days' as const), n: fc.integer({ min: 1, max: 90 }) }) },
);

interface Kept {
  id: number;
  record: ContactRecord;
  touched_at: Date;
}

class World {
  private ids: number[] = [];
  private day = new Date('2026-06-01T00:00:00Z');
  get today() {
    return this.day.toISOString().slice(0, 10);
  }

  /** Does a step; what is refused (somebody gone, nothing to take back) changes nothing. */
  async take(one: Step): Promise<void> {
    const id = 'who' in one ? (this.ids[one.who % Math.max(1, this.ids.length)] ?? 0) : 0;
    const call = (path: string, method: string, body?: unknown) =>
      app.json<{ runId?: number }>(path, method, body).catch(() => null);
    switch (one.kind) {
      case 'enter':
        this.ids.push(
          (
            await app.json<{ contactId: number }>('/contacts', 'POST', {
              despite: true,
              values: Object.entries(one.values).map(([field, text]) => ({ field, text })),
            })
          ).contactId,
        );
        return;
      case 'edit': {
        const before = (await this.records()).find((kept) => kept.id === id)?.record.f[one.field]?.[0] ?? null;
        await call(`/contacts/${id}`, 'PATCH', {
          edits: [{ field: one.field, slot: before?.slot ?? null, before, text: one.text }],
        });
        return;
      }
      case 'delete':
        await call(`/contacts/${id}`, 'DELETE');
        return;
      case 'restore':
        await call(`/contacts/${id}/restore`, 'POST', {});
        return;
      case 'stop':
        await call(`/contacts/${id}/permissions`, 'POST', { channel: 'call', state: 'optedOut', how: 'said so' });
        return;
      case 'merge': {
        const { groups } = await app.json<{ groups: { id: number }[] }>('/duplicates');
        const group = groups[one.who % Math.max(1, groups.length)];
        if (!group) return;
        const { members } = await app.json<{ members: { id: number; version: number }[] }>(`/duplicates/${group.id}`);
        await call(`/duplicates/${group.id}/merge`, 'POST', {
          memberIds: members.map((member) => member.id),
          keepId: null,
          choices: {},
          versions: Object.fromEntries(members.map((member) => [member.id, member.version])),
        });
        return;
      }
      case 'batch':
        await call('/batch', 'POST', {
          what: { filter: { where: JSON.stringify(isOneOf('stage', 'Donor')) } },
          change: { kind: 'tags', add: [one.tag] },
        });
        return;
      case 'undo': {
        const { rows } = await app.database.pool.query<{ id: number }>(
          `select id from run where state = 'done' and undone_by is null and kind <> 'scan' order by id desc limit 1`,
        );
        await call(`/runs/${rows[0]?.id}/undo`, 'POST');
        return;
      }
      case 'days':
        this.day = new Date(this.day.getTime() + one.n * 86_400_000);
    }
  }

  records(): Promise<Kept[]> {
    return selectRecords<Kept>(
      app.database.pool,
      `select id, record, touched_at from contact where kind <> 'opportunity'`,
    );
  }

  /** Lets the feed be read and days be passed, and holds every segment to the evaluator. */
  async settle(segments: readonly { id: number; name: string; condition: Condition }[]): Promise<void> {
    // Every look is on a day of its own, as days pass.
    this.day = new Date(this.day.getTime() + 86_400_000);
    await readers.readAll();
    await reviewSegments(app.database, this.today);
    const { pool } = app.database;
    const kept = await this.records();
    const states = await channelStates(app.database, kept);
    const events = await pool.query<{ segment_id: number; contact_id: number; n: number }>(
      'select segment_id, contact_id, sum(case when entered then 1 else -1 end)::int as n from segment_event group by 1, 2',
    );
    for (const { id, name, condition } of segments) {
      const wanted = kept
        .filter(({ id: contactId, record }) => {
          const subject: Subject = {
            ...NOTHING_ELSE,
            facts: factsOf(record),
            permissions: states.get(contactId) ?? {},
          };
          return !lifecycleOf(record) && kindOf(record) === 'person' && meets(condition, subject, this.today);
        })
        .map((one) => one.id);
      const { rows } = await pool.query<{ contact_id: number }>(
        'select contact_id from segment_member where segment_id = $1',
        [id],
      );
      const sorted = (ids: number[]) => [...ids].sort((a, b) => a - b);
      expect([name, sorted(rows.map((row) => row.contact_id))]).toEqual([name, sorted(wanted)]);
      const summed = events.rows.filter((row) => row.segment_id === id && row.n !== 0);
      expect([name, sorted(summed.map((row) => row.contact_id)), summed.every((row) => row.n === 1)]).toEqual([
        name,
        sorted(wanted),
        true,
      ]);
      const [count] = (await pool.query<{ members: number }>('select members from segment where id = $1', [id])).rows;
      expect([name, count?.members]).toEqual([name, wanted.length]);
    }
  }
}

test(
  'members are those of the evaluator, and what entered and left sums up to them',
  async () => {
    const segments: { id: number; name: string; condition: Condition }[] = [];
    for (const [name, condition] of CONDITIONS)
      segments.push({
        name,
        condition,
        id: (await app.json<{ id: number }>('/segments', 'POST', { name, condition })).id,
      });
    const world = new World();
    await world.settle(segments);
    // What is counted at the end happens in any case: people who enter two segments, and a year that passes birthdays.
    for (let i = 0; i < 12; i++)
      await world.take({ kind: 'enter', values: { givenName: `Eve ${i}`, tags: 'press', bday: '--07-14' } });
    for (let i = 0; i < 26; i++) {
      await world.take({ kind: 'days', n: 14 });
      await world.settle(segments);
    }
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 14 }), async (steps) => {
        for (const one of steps) await world.take(one);
        await world.settle(segments);
      }),
      { ...lawWithin(60, 40), endOnFailure: true },
    );
    const { rows } = await app.database.pool.query<{ cause: string; n: number; named: number }>(
      'select cause, count(*)::int as n, count(run_id)::int as named from segment_event group by cause',
    );
    const of = (cause: string) => rows.find((row) => row.cause === cause);
    // Every change is named with its run; days bring people in and put them out as well.
    expect(of('change')?.n).toBe(of('change')?.named);
    expect(of('change')?.n).toBeGreaterThan(20);
    expect(of('day')?.n).toBeGreaterThan(0);
  },
  LAW_TIMEOUT_MS,
);
