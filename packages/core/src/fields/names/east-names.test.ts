import { describe, expect, test } from '@jest/globals';
import { isEastFamily, isEastName } from './east-names';
import { splitName } from './person-name';

describe('where the family ends in a name written without a blank', () => {
  test.each([
    ['田中太郎', '田中', '太郎'],
    ['高橋一', '高橋', '一'],
    ['林一郎', '林', '一郎'],
    ['原節子', '原', '節子'],
    ['長谷川博', '長谷川', '博'],
    ['佐々木健', '佐々木', '健'],
    ['五十嵐健太', '五十嵐', '健太'],
    ['勅使河原宏', '勅使河原', '宏'],
    ['山本五十六', '山本', '五十六'],
    ['小林さくら', '小林', 'さくら'],
    ['王芳', '王', '芳'],
    ['殷小龙', '殷', '小龙'],
    ['欧阳娜娜', '欧阳', '娜娜'],
    ['司馬光', '司馬', '光'],
    ['김민준', '김', '민준'],
    ['남궁민', '남궁', '민'],
    // A family that is not in the tables: as mostly in Japan.
    ['凪田花子', '凪田', '花子'],
  ])('%s is %s and %s', (name, familyName, givenName) =>
    expect(splitName(name).name).toMatchObject({ familyName, givenName }),
  );
});

test.each(['王芳', '佐藤 花子', '長谷川博', '小林さくら', '김민준', '김 민준', '諸葛亮', '凪田 花子'])(
  '%s is written as a name',
  (text) => expect(isEastName(text)).toBe(true),
);

test.each([
  '',
  '王',
  '石川県',
  '福島市',
  '田中商店',
  '山本工業',
  '東京都港区',
  'Ana Reis',
  '090-1234-5678',
  'サトウ',
  '佐藤 花子 様',
])('"%s" is not', (text) => expect(isEastName(text)).toBe(false));

test.each([
  ['佐藤', true],
  ['長谷川', true],
  ['王', true],
  ['남궁', true],
  ['太郎', false],
  ['東京', false],
  ['Reis', false],
])('%s as a family alone: %s', (text, expected) => expect(isEastFamily(text)).toBe(expected));
