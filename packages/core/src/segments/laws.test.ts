import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { valuesOf } from '../model';
import { person, recordOf, TODAY, tree } from '../testing/random-conditions';
import { factsJson, factsOf, meets, predicateOf, readCondition, type Subject } from './index';

const subject = person.map(({ drafts, isOrganization, said, band, isClose }): Subject => ({
  facts: factsOf(recordOf(drafts, isOrganization)),
  createdMs: Date.parse('2026-02-01T00:00:00Z'),
  changedMs: Date.parse('2026-02-27T23:59:59Z'),
  completeness: 14,
  area: 'West',
  searchText: 'ana reis quay',
  runs: new Set(['1']),
  threads: new Set(['2']),
  permissions: said ? { [said.channel]: said.state } : {},
  syncs: {},
  duplicate: band,
  segments: new Set(),
  activities: [],
  touch: isClose ? { day: '2026-02-01', who: 1 } : null,
  overdue: isClose ? 12 : null,
}));

test('a condition made ready for many says what the plain evaluator says', () =>
  fc.assert(
    fc.property(tree, subject, (condition, one) => {
      expect(predicateOf(condition, TODAY)(one)).toBe(meets(condition, one, TODAY));
    }),
    { numRuns: 5000 },
  ));

test('what is written is what is looked at', () =>
  fc.assert(
    fc.property(person, ({ drafts, isOrganization }) => {
      const record = recordOf(drafts, isOrganization);
      const fields = Object.keys(record.f).map((field) => [field, valuesOf(record, field)] as const);
      expect(JSON.parse(factsJson(fields))).toEqual(factsOf(record));
    }),
  ));

test('a condition comes back from its JSON as it was', () =>
  fc.assert(
    fc.property(tree, (condition) => {
      const read = readCondition(JSON.parse(JSON.stringify(condition)));
      expect(read).toEqual({ ok: true, value: condition });
    }),
  ));
