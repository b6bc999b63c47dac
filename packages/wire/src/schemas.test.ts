import { describe, expect, test } from '@jest/globals';
import { ValidationError, type Schema } from 'yup';
import {
  addressCompletionSchema,
  areasSchema,
  contactPageSchema,
  conversionSchema,
  editsSchema,
  entrySchema,
  fieldChangeSchema,
  mappingChangeSchema,
  newFieldSchema,
  newPickSchema,
  permissionSchema,
  pickMergeSchema,
  placeSchema,
  syncSetupSchema,
} from './index';

/** What is said about a request, or null when it is taken. */
function refusalOf(schema: Schema, request: unknown): string | null {
  try {
    schema.validateSync(request, { abortEarly: true });
    return null;
  } catch (error) {
    if (error instanceof ValidationError) return error.message;
    throw error;
  }
}
const long = (n: number) => 'a'.repeat(n);

describe('requests are refused in words for people', () => {
  test.each<[string, Schema, unknown, string | RegExp]>([
    ['a field without a name', newFieldSchema, { name: ' ', type: 'text' }, 'Give the field a name.'],
    ['a long name', newFieldSchema, { name: long(61), type: 'text' }, 'A field name has at most 60 characters.'],
    ['no type', newFieldSchema, { name: 'Boat' }, 'Choose a type.'],
    ['a type that is none', newFieldSchema, { name: 'Boat', type: 'tag' }, /type/],
    [
      'a choice of 81',
      newFieldSchema,
      { name: 'B', type: 'choice', choices: [long(81)] },
      'A choice has at most 80 characters.',
    ],
    ['a currency in words', conversionSchema, { type: 'money', currency: 'pounds' }, /three capitals, such as EUR/],
    ['an empty new name', fieldChangeSchema, { name: '' }, 'Give the field a name.'],
    ['a rule that is none', fieldChangeSchema, { unique: 'maybe' }, /unique/],
    ['a pick without a name', newPickSchema, { kind: 'tag', label: '' }, 'Give it a name.'],
    ['a colour beyond the palette', newPickSchema, { kind: 'tag', label: 'a', colour: 11 }, /colour/],
    ['a list that is none', newPickSchema, { kind: 'owner', label: 'a' }, /kind/],
    ['a merge into nothing', pickMergeSchema, { list: 'tag', from: 'a', into: ' ' }, 'Say what it becomes.'],
    ['an area without a name', areasSchema, { areas: [{ name: '', rules: [{}] }] }, 'Give the area a name.'],
    ['an area nowhere', areasSchema, { areas: [{ name: 'West', rules: [] }] }, 'Say where the area lies.'],
    [
      'a permission without how',
      permissionSchema,
      { channel: 'call', state: 'optedOut', how: '' },
      /^Say how it was said/,
    ],
    ['a channel that is none', permissionSchema, { channel: 'fax', state: 'allowed', how: 'x' }, /channel/],
    ['a state that cannot be said', permissionSchema, { channel: 'call', state: 'unknown', how: 'x' }, /state/],
    ['no edit at all', editsSchema, { edits: [] }, /edits/],
    [
      'a text beyond all limits',
      editsSchema,
      { edits: [{ field: 'note', text: long(20_001) }] },
      'This is longer than 20,000 characters.',
    ],
    [
      'too many values',
      entrySchema,
      { values: Array.from({ length: 81 }, () => ({ field: 'email', text: 'a' })) },
      /values/,
    ],
    ['a page of a thousand', contactPageSchema, { limit: 1000 }, /limit/],
    ['a place before the first', contactPageSchema, { at: -1 }, /at/],
    ['two letters', placeSchema, { letter: 'ab' }, /letter/],
    ['a saved mapping without a name', mappingChangeSchema, { name: '' }, 'Give it a name.'],
    ['a country of three letters', addressCompletionSchema, { country: 'GBR' }, /country/],
  ])('%s', (_, schema, request, words) => {
    const said = refusalOf(schema, request);
    if (typeof words === 'string') expect(said).toBe(words);
    else expect(said).toMatch(words);
  });
});

describe('what is left out has its default', () => {
  test('of a page', () =>
    expect(contactPageSchema.cast({})).toMatchObject({
      sort: 'family',
      at: 0,
      limit: 100,
      kind: 'person',
      fields: '',
      deleted: false,
    }));
  test('of an entry', () =>
    expect(entrySchema.cast({ values: [{ field: 'email', text: 'a@example.org' }] })).toEqual({
      kind: 'person',
      despite: false,
      seen: [],
      values: [{ field: 'email', text: 'a@example.org', value: null, label: null }],
    }));
  test('of an edit', () =>
    expect(editsSchema.cast({ edits: [{ field: 'tags' }] })).toEqual({
      despite: false,
      edits: [{ field: 'tags', slot: null, before: null, text: null, value: null, label: null, rank: null }],
    }));
  test('text is trimmed where blanks mean nothing', () =>
    expect(newPickSchema.cast({ kind: 'tag', label: ' regatta ' })).toMatchObject({
      label: 'regatta',
      meaning: '',
      colour: 0,
    }));
});

describe('the set-up of a sync', () => {
  const setup = {
    lines: [
      {
        id: 'stage',
        field: 'stage',
        outside: 'labels',
        direction: 'both',
        rule: 'ask',
        stageLabels: { Student: 'students' },
      },
    ],
    scopes: [{ id: 'all', who: { kind: 'everybody' }, give: { tags: [], source: '', owner: '', stage: '' } }],
    newHere: true,
    newThere: false,
    whenGoneThere: 'keep',
    whenGoneHere: 'keep',
    whenLeaving: 'keep',
    whenMergedHere: 'ask',
    limits: { removals: 25, overwrites: 200 },
  };
  test('keeps the label of each stage', () =>
    expect(syncSetupSchema.validateSync(setup, { stripUnknown: true }).lines[0]?.stageLabels).toEqual({
      Student: 'students',
    }));
  test('wants somebody to take part', () =>
    expect(refusalOf(syncSetupSchema, { ...setup, scopes: [] })).toBe('Say who takes part.'));
  test('knows its directions', () =>
    expect(refusalOf(syncSetupSchema, { ...setup, lines: [{ ...setup.lines[0], direction: 'up' }] })).toMatch(
      /direction/,
    ));
});
