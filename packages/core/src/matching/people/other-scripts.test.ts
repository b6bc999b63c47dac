import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { foldText } from '../../fields';
import { namesAgree, comparePeople } from '../comparing/compare';
import { COMPARED, LEVELS, type MatchContext } from '../comparing/levels';
import { contextOf } from './names';
import { preparePerson } from './person';
import type { PersonFacts } from './person-facts';
import { commonConsonants } from './romanised';
import { findSharedLines } from '../model/shared-lines';

const context: MatchContext = contextOf({
  sharedLines: new Set(),
  givenNames: new Map(),
  familyNames: new Map(),
  nicknames: new Set(),
});
const NAMED: Record<string, PersonFacts> = {};
/** A name as "given/family", or as one text. */
function named(text: string): PersonFacts {
  const [givenName, familyName] = text.split('/');
  return (NAMED[text] ??= familyName === undefined ? { fullName: text } : { givenName, familyName });
}

/** Levels of given and family name, the same in either order. */
function levelsOf(a: string, b: string): string {
  const compare = (x: string, y: string) => {
    const { levels } = comparePeople(preparePerson(named(x)), preparePerson(named(y)), context);
    return (['given', 'family'] as const).map((field) => LEVELS[field][levels[COMPARED.indexOf(field)] ?? 0]).join(' ');
  };
  expect(compare(b, a)).toBe(compare(a, b));
  return compare(a, b);
}

describe('names in Han signs', () => {
  test.each([
    ['芳/王', 'Fang/Wang', 'same same'],
    ['王芳', 'Fang Wang', 'same same'],
    ['王/芳', 'Fang/Wang', 'slip same'],
    ['芳/王', 'F/Wang', 'initial same'],
    // As it is written in Hong Kong, Singapore or Taiwan.
    ['志明/陳', 'Zhiming/Chan', 'same same'],
    ['志明/陳', 'Zhiming/Tan', 'same same'],
    // Another given name taken beside it.
    ['志明/陳', 'Jason/Chan', 'absent same'],
    ['娜/李', 'Fang/Li', 'different same'],
    ['娜/李', 'Lei/Zhang', 'different different'],
  ])('%s and %s compare as Mandarin reads the signs: %s', (han, read, expected) =>
    expect(levelsOf(han, read)).toBe(expected),
  );
  test.each([
    ['花子/佐藤', 'Hanako/Sato'],
    ['花子/佐藤', 'Hnako/Sato'],
    ['花子/佐藤', 'Tomoko/Ohno'],
    ['陽翔/高橋', 'Haruto/Takahashi'],
  ])('%s and %s say nothing, as Japan reads the signs otherwise', (han, read) =>
    expect(levelsOf(han, read)).toBe('absent absent'),
  );
  test.each([
    ['芳/陈', 'Timothy/Walker'],
    ['秀英/邓', 'James/Lawrence'],
    ['花子/佐藤', 'Димитър/Колев'],
  ])('%s and %s are two people, as it is no name of East Asia', (han, read) =>
    expect(levelsOf(han, read)).toBe('different different'),
  );
  test('who has married keeps the given name, which may be the one in signs', () =>
    expect(levelsOf('花子/佐藤', 'Hanako/Schmidt')).toBe('absent different'));
  test('recognition by what several share tells them apart', () => {
    const agree = (a: string, b: string) => namesAgree(preparePerson(named(a)), preparePerson(named(b)));
    expect(agree('芳/陈', 'Timothy/Walker')).toBe('differ');
    expect(agree('芳/陈', 'Fang/Chen')).toBe('agree');
    expect(agree('花子/佐藤', 'Hanako/Sato')).toBe('agree');
  });
  test('an office line is found that people of two scripts share', () => {
    const people = (names: string[]) =>
      names.map((name) => preparePerson({ ...named(name), phones: ['+12125550123'] }));
    expect(findSharedLines(people(['芳/陈', 'Timothy/Walker']), new Set()).size).toBe(1);
    expect(findSharedLines(people(['娜/李', 'Lei/Zhang']), new Set()).size).toBe(1);
    expect(findSharedLines(people(['芳/陈', 'Fang/Chen']), new Set()).size).toBe(0);
    expect(findSharedLines(people(['花子/佐藤', 'Hanako/Sato']), new Set()).size).toBe(0);
  });
});

describe('scripts that leave vowels out or do not tell them for sure', () => {
  test.each([
    ['יוסף/כהן', 'Yosef/Cohen'],
    ['רחל/פרץ', 'Rachel/Peretz'],
    ['יצחק/מזרחי', 'Yitzhak/Mizrachi'],
    ['राजेश/शर्मा', 'Rajesh/Sharma'],
    ['सुरेश/मिश्रा', 'Suresh/Mishra'],
    ['สมชาย/ศรีสุข', 'Somchai/Srisuk'],
  ])('%s may be %s', (a, b) => {
    expect(levelsOf(a, b)).toMatch(/^(?:same|slip|close) (?:same|slip|close)$/);
  });
  test.each([
    ['יוסף/כהן', 'David/Katz'],
    ['राजेश/शर्मा', 'Suresh/Gupta'],
    ['สมชาย/ศรีสุข', 'Malee/Boonmee'],
  ])('%s is not %s', (a, b) => expect(levelsOf(a, b)).toBe('different different'));
  test('consonants agree wherever the words stand, and one that is missing is a difference', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[vhkbrsy]{0,7}$/), fc.stringMatching(/^[vhkbrsy]{0,7}$/), (a, b) => {
        expect(commonConsonants(a, b)).toBe(commonConsonants(b, a));
      }),
    );
    expect(commonConsonants('rachel', 'rhl')).toBe(3);
    expect(commonConsonants('karim', 'amir')).toBe(0);
    expect(commonConsonants('miriam', 'mrymn')).toBe(0);
  });
  test('vowels that are marks of their letters are kept, and so are voiced sounds of kana', () => {
    expect(foldText('सुनीता')).not.toBe(foldText('सनत'));
    expect(foldText('राम')).not.toBe(foldText('रोमा'));
    expect(foldText('มาลี')).toBe('mali');
    expect(foldText('かがわ')).toBe('kagawa');
    // Points that are written or not stand for no letter.
    expect(foldText('מֹשֶׁה')).toBe(foldText('משה'));
    expect(foldText('مُحَمَّد')).toBe(foldText('محمد'));
  });
});

describe('one script, written otherwise', () => {
  test.each([
    ['Stoyan/Ivanov', 'Stoyan/Ivanoff', 'same slip'],
    ['Jiwoo/Moore', 'Jiwoo/Mure', 'same close'],
    ['Lei/Tang', 'Li/Tang', 'close same'],
    ['Zhivko/Kolev', 'Jivko/Koleff', 'close close'],
  ])('%s and %s: %s', (a, b, expected) => expect(levelsOf(a, b)).toBe(expected));
});
