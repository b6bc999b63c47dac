import { describe, expect, test } from '@jest/globals';
import { findFragments, findsText } from './evaluate';
import { findsNearly } from './finding';

describe('finding by a phone', () => {
  test.each([
    '01632 960905',
    '+44 1632 960905',
    '+44 (0)1632 960905',
    '+44(0)1632 960 905',
    '0044 (0) 1632-960905',
    '(01632) 960905',
    '960905',
  ])('"%s" finds it', (typed) => expect(findsText(typed, 'piers holloway 441632960905')).toBe(true));

  test('a nought in brackets elsewhere is a digit like any other', () =>
    expect(findFragments('01632 (0) 960905')).toEqual(['16320960905']));
});

test('other text is found by its words, a mailbox as it stands', () => {
  expect(findFragments('Jan-Willem O’Neil')).toEqual(['jan', 'willem', 'oneil']);
  expect(findFragments('Ana.Reis@')).toEqual(['ana.reis@']);
});

test.each([
  ['abigaill abara', 'abara.abigail66@quaypost.test 15385550135'],
  ['abigial', 'abara.abigail66@quaypost.test'],
  ['quaypots', 'abara@quaypost.test'],
  ['mihcael', 'abaar michael'],
])('one slip is found wherever the word stands: "%s" in "%s"', (typed, text) =>
  expect(findsNearly(typed, text)).toBe(true),
);
test('two slips are not', () => expect(findsNearly('abigiall', 'abara.abigail66@quaypost.test')).toBe(false));
