import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { splitName } from './person-name';
import { namesOfTwo, twoGivenNames, twoTitles } from './two-people';

describe('two people written as one name', () => {
  test.each([
    ['Maya & Sam Okafor', 'Maya Okafor | Sam Okafor'],
    ['Maya and Sam van den Berg', 'Maya van den Berg | Sam van den Berg'],
    ['Dr Maya & Mr Sam Okafor', 'Dr Maya Okafor | Mr Sam Okafor'],
    ['Mr & Mrs Sam Okafor', 'Mr Sam Okafor | Mrs Okafor'],
    ['Mr and Mrs Okafor', 'Mr Okafor | Mrs Okafor'],
    ['Herr und Frau Brandt', 'Herr Brandt | Frau Brandt'],
    ['Maya Okafor & Sam Reis', 'Maya Okafor | Sam Reis'],
    ['Maya Okafor / Sam Reis', 'Maya Okafor | Sam Reis'],
    ['Okafor, Maya & Sam', 'Okafor, Maya | Okafor, Sam'],
    ['Okafor, Maya & Reis, Sam', 'Okafor, Maya | Reis, Sam'],
    ['PEREIRA LUCIA & TOMAS', 'PEREIRA LUCIA | PEREIRA TOMAS'],
    ['Maya L. & Sam Okafor', 'Maya L. Okafor | Sam Okafor'],
    ['Jean et Marie Dubois', 'Jean Dubois | Marie Dubois'],
    ['Matti ja Liisa Virtanen', 'Matti Virtanen | Liisa Virtanen'],
    ['Juan y María García', 'Juan García | María García'],
  ])('%s', (text, expected) => expect(namesOfTwo(text)?.join(' | ')).toBe(expected));

  test('a list that writes family names first shares the first word', () => {
    expect(namesOfTwo('Nagy Éva és Péter', 'familyFirst')).toEqual(['Nagy Éva', 'Nagy Péter']);
  });

  test.each([
    'The Okafors',
    'Okafor family',
    'Maya, Sam & Eva Okafor & Tom',
    'Maya & Sam',
    'M & S Ltd 2',
    'a@b.example & c',
    '& Sam',
    '',
  ])('%j does not say what each is called', (text) => expect(namesOfTwo(text)).toBeNull());

  test('each of the two is one person, whatever stands there', () => {
    const word = fc.constantFrom(
      'Maya',
      'Sam',
      'Okafor',
      'van',
      'Mr',
      'Mrs',
      'Dr.',
      '&',
      'and',
      '/',
      ',',
      'L.',
      'Reis',
      '李',
      '٭',
    );
    fc.assert(
      fc.property(fc.array(word, { maxLength: 7 }), (words) => {
        for (const name of namesOfTwo(words.join(' ')) ?? []) {
          expect(name.trim()).not.toBe('');
          expect(splitName(name).fault).not.toBe('twoPeople');
        }
      }),
    );
  });
});

test.each<[string, string | undefined]>([
  ['Sam & Maya', 'Sam|Maya'],
  ['Sam + Maya', 'Sam|Maya'],
  ['Jonas and Eva', 'Jonas|Eva'],
  ['Juan y María', 'Juan|María'],
  ['Jan und Anna Lena', 'Jan|Anna Lena'],
  ['José/Joe', undefined],
  ['Anna Maria', undefined],
  ['Rolf e', undefined],
  ['Mill and Works', undefined],
  ['Sam, Maya & Eva', undefined],
])('%j as a cell of given names', (text, expected) => expect(twoGivenNames(text)?.join('|')).toBe(expected));

test.each<[string, string | undefined]>([
  ['Mr & Mrs', 'Mr|Mrs'],
  ['Herr und Frau', 'Herr|Frau'],
  ['Prof. Dr.', undefined],
  ['Mr & Sam', undefined],
])('%j as a cell of titles', (text, expected) => expect(twoTitles(text)?.join('|')).toBe(expected));
