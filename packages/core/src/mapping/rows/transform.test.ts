import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Catalogue } from '../../fields';
import { BY_HAND } from './convert-value';
import type { Mapping } from '../mapping';
import { RowReader } from './read-row';
import { applyTransforms, isTransform, TRANSFORM_KINDS, type Transform } from './transform';

const ROW = ['ANA REIS', '', 'Slip Lane', '12'];

describe('what is done to a cell before it is read', () => {
  test.each<[string, Transform[], string, string]>([
    ['name case', [{ kind: 'case', to: 'name' }], 'ANA REIS', 'Ana Reis'],
    ['name case leaves what is mixed', [{ kind: 'case', to: 'name' }], 'van der Berg', 'van der Berg'],
    ['replacing takes signs as they stand', [{ kind: 'replace', find: '$1', with: '$&' }], 'a$1b$1', 'a$&b$&'],
    ['replacing nothing', [{ kind: 'replace', find: '', with: 'x' }], 'abc', 'abc'],
    ['the second part', [{ kind: 'part', separator: '/', nth: 2 }], 'Reis / Ana', 'Ana'],
    ['the last part', [{ kind: 'part', separator: ',', nth: -1 }], 'Reis, Dr, Ana', 'Ana'],
    ['a part that is not there', [{ kind: 'part', separator: '/', nth: 3 }], 'a/b', ''],
    [
      'values whatever their case',
      [
        {
          kind: 'values',
          pairs: [
            ['Oui', 'yes'],
            ['', 'no'],
          ],
        },
      ],
      ' OUI ',
      'yes',
    ],
    ['an empty value', [{ kind: 'values', pairs: [['', 'no']] }], '  ', 'no'],
    ['another column behind', [{ kind: 'join', column: 3, with: ' ' }], 'Slip Lane', 'Slip Lane 12'],
    ['an empty other column', [{ kind: 'join', column: 1, with: ', ' }], 'Slip Lane', 'Slip Lane'],
    ['zeros in front', [{ kind: 'zeros', places: 5 }], ' 712 ', '00712'],
    ['zeros in front of enough digits', [{ kind: 'zeros', places: 5 }], '123456', '123456'],
    ['zeros in front of what is no number', [{ kind: 'zeros', places: 5 }], 'M-12', 'M-12'],
    ['zeros in front of nothing', [{ kind: 'zeros', places: 5 }], '', ''],
    ['broken letters', [{ kind: 'letters' }], 'JosÃ© &amp; Jos&eacute; O&#39;Neill', "José & José O'Neill"],
    ['letters broken twice', [{ kind: 'letters' }], 'JosÃƒÂ©', 'José'],
    ['letters that are none', [{ kind: 'letters' }], 'Q&A; R&D; SÃO &copy', 'Q&A; R&D; SÃO &copy'],
    ['when empty', [{ kind: 'ifEmpty', use: 'Quillhaven' }], ' ', 'Quillhaven'],
    ['a fixed value', [{ kind: 'fixed', value: 'Portugal' }], 'x', 'Portugal'],
    [
      'steps in order',
      [
        { kind: 'part', separator: ' ', nth: -1 },
        { kind: 'case', to: 'small' },
      ],
      'ANA REIS',
      'reis',
    ],
  ])('%s', (_, transforms, text, expected) => expect(applyTransforms(text, transforms, ROW)).toBe(expected));

  test('anything from outside is a transform or is not, and every transform can be applied to any text', () => {
    const outside = fc.record(
      {
        kind: fc.oneof(fc.constantFrom(...TRANSFORM_KINDS), fc.string()),
        to: fc.constantFrom('capitals', 'small', 'name', 1),
        find: fc.string(),
        with: fc.string({ maxLength: 30 }),
        separator: fc.string({ maxLength: 3 }),
        nth: fc.integer({ min: -3, max: 3 }),
        pairs: fc.array(fc.tuple(fc.string(), fc.string())),
        column: fc.integer({ min: -1, max: 5 }),
        use: fc.string(),
        value: fc.string(),
      },
      { requiredKeys: ['kind'] },
    );
    fc.assert(
      fc.property(outside, fc.string(), (one, text) => {
        if (isTransform(one)) expect(typeof applyTransforms(text, [one], ROW)).toBe('string');
        else expect(typeof one).toBe('object');
      }),
    );
    expect(
      [null, 'case', { kind: 'part', separator: '/', nth: 0 }, { kind: 'join', column: -1, with: '' }].some(
        isTransform,
      ),
    ).toBe(false);
  });
});

test('rows are read through the steps of their columns, empty cells as well', () => {
  const column = (at: number, target: string, transforms: Transform[]) => ({
    ...BY_HAND,
    column: at,
    target,
    label: null,
    transforms,
  });
  const mapping: Mapping = {
    columns: [
      column(0, 'fullName', [{ kind: 'case', to: 'name' }]),
      column(1, 'country', [{ kind: 'ifEmpty', use: 'Portugal' }]),
      column(2, 'street', [{ kind: 'join', column: 3, with: ' ' }]),
    ],
    wholeFile: { tags: [], source: null, stage: null, owner: null },
    allowNew: true,
    allowChange: true,
    writeRule: 'fill',
    recognise: [],
    country: 'GB',
  };
  const context = { country: 'GB', stages: [], settle: (_: string, plain: string) => plain };
  const reader = new RowReader(mapping, new Catalogue(), context, {
    columnCount: 4,
    headers: [null, null, null, null],
  });
  const { candidate } = reader.read(ROW, 1);
  expect([candidate.givenName?.[0]?.v, candidate.familyName?.[0]?.v]).toEqual(['Ana', 'Reis']);
  expect(candidate.adr?.[0]?.v).toEqual({ street: 'Slip Lane 12', country: 'PT' });
  // Equal cells of other rows are read with their own row.
  expect(reader.read(['X Y', '', 'Slip Lane', '13'], 2).candidate.adr?.[0]?.v).toMatchObject({
    street: 'Slip Lane 13',
  });
  expect(reader.cell(2, ROW, 1).values[0]?.[1].v).toBe('Slip Lane 12');
});
