import { expect, test } from '@jest/globals';
import { allOf, isOneOf } from '@gray-loom/core/segments';
import { whereText } from '../../app/where';
import { knownOf } from '../segments/names';
import { wordsOfList } from './words-of-list';

const label = (text: string) => ({ label: text, people: 0, organizations: 0, meaning: '', colour: 0 });
const known = knownOf(
  {
    fields: [],
    tags: [label('press')],
    sources: [],
    stages: [],
    owners: [],
    areas: [],
    people: 2,
    organizations: 0,
    opportunities: 0,
    country: 'GB',
  },
  { segments: [], connections: [], threads: [], colleagues: [], runs: [] },
);
const press = whereText(allOf(isOneOf('tags', 'press')));

test.each([
  [{}, 'People'],
  [{ kind: 'organization' }, 'Organizations'],
  [{ find: 'reis' }, 'People: has “reis”'],
  [{ find: 'reis', where: press, sort: 'email', deleted: 'true' }, 'People: deleted, has “reis”, tag is press'],
])('a list on paper says whom it is of: %j', (params, words) =>
  expect(wordsOfList(new URLSearchParams(params as Record<string, string>), known)).toBe(words),
);
