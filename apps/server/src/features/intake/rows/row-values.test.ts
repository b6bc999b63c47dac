import { expect, test } from '@jest/globals';
import { Catalogue } from '@gray-loom/core/fields';
import type { Mapping } from '@gray-loom/core/mapping';
import type { ContactRecord } from '@gray-loom/core/model';
import type { WriteRule } from '@gray-loom/core/writing';
import type { RowChoice } from './row-plan';
import { RowValues } from './row-values';

const RUN = 7;
const here: ContactRecord = { f: { nickname: [{ slot: 0, v: 'Skip', run: 3 }] }, n: 1 };
const offered = { nickname: [{ v: 'Cap' }] };

function valuesFor(writeRule: WriteRule, choice?: RowChoice, runTimes: [number, number][] = []): RowValues {
  return new RowValues({
    mapping: { columns: [], writeRule } as unknown as Mapping,
    catalogue: new Catalogue(),
    runId: RUN,
    words: { choices: new Map(choice ? [[1, choice]] : []), settled: null },
    runTimes: new Map([[RUN, 5000], ...runTimes]),
  });
}

const nickname = (values: RowValues, options?: { folded: boolean }) => {
  const { outcome, record, issues } = values.into(2, here, offered, 1, options);
  return [outcome, record.f.nickname?.[0]?.v, issues.map(({ code }) => code)];
};

test.each<[WriteRule, string, string]>([
  ['replace', 'replace', 'Cap'],
  ['fill', 'same', 'Skip'],
])('a value that stands, under the rule %s', (rule, outcome, left) => {
  expect(nickname(valuesFor(rule))).toEqual([outcome, left, []]);
});

test('where a person is to be asked the row is held, and nothing is written', () => {
  const values = valuesFor('ask');
  expect(values.asks).toBe(true);
  expect(nickname(values)).toEqual(['held', 'Skip', ['wouldReplace']]);
});

test('what a person said of the row is done; a further row of one person asks nobody', () => {
  expect(nickname(valuesFor('ask', { contactId: 2, asked: 'take' }))).toEqual(['replace', 'Cap', []]);
  expect(nickname(valuesFor('ask', { contactId: 2, asked: 'keep' }))).toEqual(['same', 'Skip', []]);
  expect(nickname(valuesFor('ask'), { folded: true })).toEqual(['same', 'Skip', []]);
});

test('the newest stands: a value of an older run goes, one that was written while the import runs stays', () => {
  expect(nickname(valuesFor('newest', undefined, [[3, 1000]]))).toEqual(['replace', 'Cap', []]);
  // The run that wrote it is not among those that had begun.
  expect(nickname(valuesFor('newest'))).toEqual(['same', 'Skip', []]);
});

test('somebody new has what the row offers, and its row as its origin', () => {
  expect(valuesFor('fill').recordOf(offered, 4).f.nickname?.[0]).toMatchObject({ v: 'Cap', run: RUN, row: 4 });
});
