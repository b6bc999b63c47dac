import { describe, expect, test } from '@jest/globals';
import type { ConnectionSummary, SyncChangeEntry } from '@gray-loom/wire';
import { changeWords, crossedWords, stateWords, valueText } from './sync-words';

const connection = (change: Partial<ConnectionSummary>): ConnectionSummary =>
  ({ state: 'on', running: null, braked: null, trouble: null, nextRunAt: null, ...change }) as ConnectionSummary;

describe('how a connection is, in the words that weigh most', () => {
  test.each<[Partial<ConnectionSummary>, string]>([
    [{ running: 7, braked: { runId: 7, reasons: ['12 removals'] }, trouble: 'no answer' }, 'runs now'],
    [{ braked: { runId: 7, reasons: ['12 removals'] }, trouble: 'no answer' }, 'held by the brake'],
    [{ trouble: 'no answer', state: 'paused' }, 'in trouble'],
    [{ state: 'new' }, 'never ran'],
    [{}, 'runs when it is called'],
    [{ nextRunAt: '2026-03-01T12:00:00.000Z' }, 'runs by its timetable'],
    [{ state: 'paused' }, 'runs by hand only'],
    [{ state: 'stopped' }, 'stopped'],
  ])('%j: %s', (change, words) => expect(stateWords(connection(change))).toBe(words));
});

test.each([
  [14, 1146, 0, '14 new, 1,146 changed'],
  [0, 3, 2, '3 changed, 2 removed'],
  [0, 0, 0, ''],
])('%d made, %d changed, %d removed: %s', (made, changed, removed, words) =>
  expect(crossedWords({ made, changed, removed })).toBe(words),
);

describe('one change of a report', () => {
  const change = (over: Partial<SyncChangeEntry>): SyncChangeEntry =>
    ({ field: null, side: 'here', kind: 'linked', before: [], after: [], ...over }) as SyncChangeEntry;

  test('of a field says where, and what became of what', () =>
    expect(
      changeWords(
        change({
          field: 'Phone',
          kind: 'changed',
          side: 'there',
          before: [{ v: '+44 7700 900100' }],
          after: [{ v: '+44 7700 900100' }, { v: '+44 7700 900200', label: 'work' }],
        }),
      ),
    ).toEqual({
      what: 'Phone over there',
      before: '+44 7700 900100',
      after: '+44 7700 900100, +44 7700 900200 (work)',
    }));

  test('of a pair as a whole says what happened, also where no words are known for it', () => {
    expect(changeWords(change({ kind: 'removedThere' })).what).toBe('removed over there');
    expect(changeWords(change({ kind: 'unheardOf' as never })).what).toBe('unheardOf');
  });

  test('an address is shown in one line', () =>
    expect(valueText({ v: { street: '4 Slip Lane', locality: 'Falmouth' }, label: 'home' } as never)).toBe(
      '4 Slip Lane, Falmouth (home)',
    ));
});
