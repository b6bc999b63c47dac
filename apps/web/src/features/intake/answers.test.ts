import { expect, test } from '@jest/globals';
import type { Pipeline } from '@gray-loom/core/fields';
import type { Lists } from '@gray-loom/wire';
import { answersOf } from './answers';

const lists = {
  fields: [
    { key: 'custom.1', name: 'Has a boat', type: 'yesNo' },
    { key: 'custom.2', name: 'Course', type: 'choice', choices: ['Rigging', 'Sailmaking'] },
    { key: 'custom.3', name: 'Length', type: 'number' },
  ],
  stages: [{ label: 'Enquiry' }, { label: 'Student' }],
} as unknown as Lists;
const pipelines = [
  { name: 'Commissions', stages: [{ label: 'Enquiry' }, { label: 'Quoted' }] },
  { name: 'Grants', stages: [{ label: 'Enquiry' }, { label: 'Applied' }] },
] as unknown as Pipeline[];

test.each([
  ['stage', ['Enquiry', 'Student']],
  ['opportunityPipeline', ['Commissions', 'Grants']],
  ['opportunityStage', ['Enquiry', 'Quoted', 'Applied']],
  ['custom.1', ['yes', 'no']],
  ['custom.2', ['Rigging', 'Sailmaking']],
  ['custom.3', []],
  ['email', []],
  [null, []],
])('a column of %s may say %j', (target, answers) => expect(answersOf(target, lists, pipelines)).toEqual(answers));

test('an owner is an account', () =>
  expect(answersOf('owner', lists, pipelines, [{ id: 1, name: 'Ines Carvalho', picture: null }])).toEqual([
    'Ines Carvalho',
  ]));

test('nothing is known before the lists are there', () => {
  expect(answersOf('stage', undefined, undefined)).toEqual([]);
  expect(answersOf('opportunityStage', lists, undefined)).toEqual([]);
});
