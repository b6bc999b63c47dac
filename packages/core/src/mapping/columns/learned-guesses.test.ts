import { describe, expect, test } from '@jest/globals';
import type { FieldDefinition, FieldType } from '../../fields';
import { BY_HAND } from '../rows/convert-value';
import { guessColumns } from './guess-columns';
import { learnedGuesses, type EarlierFile, type KnownHere } from './learned-guesses';
import type { ColumnMapping, Mapping } from '../mapping';
import { mappingTargets } from '../targets';

const BERTH: FieldDefinition = { key: 'custom.1', name: 'Berth', type: 'number', group: 'custom', several: false };
const typeOf = new Map<string, FieldType>(mappingTargets([BERTH]).map(({ key, type }) => [key, type]));

function earlier(name: string, said: Record<string, Partial<ColumnMapping>>): EarlierFile {
  const headers = Object.keys(said);
  const columns = headers.map((header, column) => ({
    ...BY_HAND,
    target: null,
    label: null,
    ...said[header],
    column,
    header,
  }));
  return { name, headers, mapping: { columns } as unknown as Mapping };
}

function learned(headers: string[], known: Partial<KnownHere>, cells: string[] = headers.map(() => 'x')) {
  const guesses = learnedGuesses(guessColumns(headers, [cells]), { own: [], earlier: [], typeOf, ...known });
  return guesses.map(({ field, certainty01, label, learnedFrom }) => [field, certainty01, label, learnedFrom ?? null]);
}

describe('what is known here of a heading', () => {
  test('the name of a field of our own is that field, however it is written', () => {
    expect(learned(['BERTH '], { own: [BERTH] })).toEqual([['custom.1', 0.95, null, null]]);
    expect(learned(['Berth'], {})).toEqual([[null, 0, null, null]]);
  });

  test('what was said of it in a file of another layout is said again, with its label and the file', () => {
    const files = [earlier('club.csv', { Ring: { target: 'tel', label: 'mobile' }, Other: {} })];
    expect(learned(['ring', 'Town'], { earlier: files })).toEqual([
      ['tel', 0.8, 'mobile', 'club.csv'],
      ['locality', expect.any(Number), null, null],
    ]);
  });

  test('of a meaning that only the values show, the label that was said of it', () => {
    const files = [earlier('club.csv', { Ring: { target: 'tel', label: 'mobile' } })];
    const phone = ['+44 1632 960301'];
    expect(learned(['Ring'], { earlier: files }, phone)).toEqual([['tel', 0.8, 'mobile', 'club.csv']]);
    expect(learned(['Ring'], {}, phone)).toEqual([['tel', 0.7, null, null]]);
  });

  test('the latest file counts, and what was left out says nothing', () => {
    const files = [
      earlier('latest.csv', { Ring: {} }),
      earlier('later.csv', { Ring: { target: 'nickname' } }),
      earlier('first.csv', { Ring: { target: 'tel' } }),
    ];
    expect(learned(['Ring'], { earlier: files })).toEqual([['nickname', 0.8, null, 'later.csv']]);
  });

  test('a guess that is sure stands against it', () => {
    const files = [earlier('suppliers.csv', { Name: { target: 'organization' } })];
    expect(learned(['Name'], { earlier: files }, ['Ana Reis'])[0]?.[0]).toBe('fullName');
  });

  test('a heading that stands twice, in this file or that one, tells nothing', () => {
    const files = [earlier('club.csv', { Ring: { target: 'tel' } })];
    expect(learned(['Ring', 'Ring'], { earlier: files }).map(([field]) => field)).toEqual([null, null]);
    const twice: EarlierFile = { ...(files[0] as EarlierFile), headers: ['Ring', 'ring'] };
    expect(learned(['Ring'], { earlier: [twice] })[0]?.[0]).toBeNull();
  });

  test('a column that meant several things tells nothing of one', () => {
    const [file] = [earlier('club.csv', { Ring: { target: 'tel' } })];
    const both = {
      ...file,
      mapping: { columns: [...file.mapping.columns, { ...file.mapping.columns[0], target: 'note' }] },
    };
    expect(learned(['Ring'], { earlier: [both as EarlierFile] })[0]?.[0]).toBeNull();
  });

  test('a field that is no more is not meant', () => {
    const files = [earlier('club.csv', { Ring: { target: 'custom.9' } })];
    expect(learned(['Ring'], { earlier: files })[0]?.[0]).toBeNull();
  });

  test('nothing known changes nothing', () => {
    const guesses = guessColumns(['Name', 'Ring'], [['Ana Reis', 'x']]);
    expect(learnedGuesses(guesses, { own: [], earlier: [], typeOf })).toEqual(guesses);
  });
});
