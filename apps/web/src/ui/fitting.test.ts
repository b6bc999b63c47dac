import { expect, test } from '@jest/globals';
import { fit, fitting } from './fitting';

const choices = [
  'Given name',
  'Line for letters',
  'Note',
  'Other date',
  'Organization',
  'Tag',
  'Opportunity: note',
].map((text) => ({ text }));
const found = (typed: string) => fitting(choices, typed).map(({ text }) => text);

test('what it is comes first, then what begins so, then a word of it', () => {
  expect(found('note')).toEqual(['Note', 'Opportunity: note']);
  expect(found('o')).toEqual(['Other date', 'Organization', 'Opportunity: note', 'Line for letters', 'Note']);
});
test('letters scattered over a text do not make it fit', () => expect(found('lfl')).toEqual([]));
test('nothing typed leaves all in their order', () => expect(found(' ')).toEqual(choices.map(({ text }) => text)));
test.each([
  ['Größe', 'grosse', 3],
  ['E-mail', 'email', 0],
  ['E-mail', 'e m', 2],
  ['Family name', 'name', 1],
  ['Salutation', 'tat', 0.5],
])('%s fits %s by %d', (text, typed, score) => expect(fit(text, typed)).toBe(score));
