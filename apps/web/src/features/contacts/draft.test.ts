import { describe, expect, test } from '@jest/globals';
import { STANDARD_FIELDS, type FieldDefinition } from '@gray-loom/core/fields';
import type { Value } from '@gray-loom/core/model';
import { draftOf, EMPTY_DRAFT, hasLabel, hasParts, isBlank, sameDraft, typedOf } from './draft';

const field = (key: string): FieldDefinition => {
  const found = STANDARD_FIELDS.find((one) => one.key === key);
  if (!found) throw new Error(key);
  return found;
};
const value = (v: Value['v'], label?: string): Value => ({ slot: 1, v, run: 1, ...(label ? { label } : {}) });

describe('what is being typed of a value', () => {
  test('begins as what stands there, in the words it is typed in', () => {
    expect(draftOf(field('email'), value('ana@example.org', 'home'))).toEqual({
      text: 'ana@example.org',
      value: null,
      label: 'home',
    });
    expect(draftOf(field('adr'), value({ street: 'Lane 1', country: 'PT' }))).toEqual({
      text: '',
      value: { street: 'Lane 1', country: 'Portugal' },
      label: '',
    });
    expect(draftOf(field('email'), null)).toBe(EMPTY_DRAFT);
  });

  test.each<[Partial<typeof EMPTY_DRAFT>, boolean]>([
    [{}, true],
    [{ text: '  ' }, true],
    [{ text: 'a' }, false],
    [{ value: {} }, true],
    [{ value: { street: ' ', country: '' } }, true],
    [{ value: { street: 'Lane 1' } }, false],
    [{ value: 'picture-hash' }, false],
    [{ label: 'home' }, true],
  ])('%j is blank: %s', (draft, blank) => expect(isBlank({ ...EMPTY_DRAFT, ...draft })).toBe(blank));

  test('is sent as text or parts, and no label where none is typed', () => {
    expect(typedOf({ text: ' a ', value: null, label: ' ' })).toEqual({ text: ' a ', value: null, label: null });
    expect(typedOf({ text: '  ', value: { locality: 'Oban' }, label: 'home' })).toEqual({
      text: null,
      value: { locality: 'Oban' },
      label: 'home',
    });
  });

  test('is changed when any part of it is', () => {
    const draft = draftOf(field('adr'), value({ street: 'Lane 1' }, 'home'));
    expect(sameDraft(draft, draftOf(field('adr'), value({ street: 'Lane 1' }, 'home')))).toBe(true);
    expect(sameDraft(draft, { ...draft, label: 'work' })).toBe(false);
    expect(sameDraft(draft, { ...draft, value: { street: 'Lane 2' } })).toBe(false);
  });

  test('parts and labels are where fields have them', () => {
    expect(STANDARD_FIELDS.filter(hasParts).map(({ key }) => key)).toEqual(['photo', 'related', 'adr']);
    expect(STANDARD_FIELDS.filter(hasLabel).map(({ key }) => key)).toEqual(['email', 'tel', 'url', 'adr', 'otherDate']);
  });
});
