import { expect, test } from '@jest/globals';
import { typeInWords } from '../activity';
import { foldWords, inverseRelation, streetKey } from '../fields';
import { labelWord, readHeader } from '../formats';
import { tableOfLabelled } from '../formats/records/labelled-records';
import { guessColumns } from '../mapping';
import { readNames } from '../matching/people/read-names';
import { wordTable } from './word-table';

/** Words that every object answers to; people write them in files like any others. */
const OF_OBJECTS = Object.getOwnPropertyNames(Object.prototype).map((word) => word.toLowerCase());
/** A word that means nothing anywhere, as long as another. */
const strange = (word: string) => word.replace(/[a-z]/g, 'q');

test('a table of words answers to its own words alone', () => {
  const table = wordTable({ jr: 'junior' });
  expect(table.jr).toBe('junior');
  for (const word of Object.getOwnPropertyNames(Object.prototype)) expect(table[word]).toBeUndefined();
});

test.each(OF_OBJECTS)('"%s" means nothing wherever words are looked up', (word) => {
  expect(readHeader(word)).toEqual(readHeader(strange(word)));
  expect(readHeader(`phone ${word}`)).toEqual(readHeader(`phone ${strange(word)}`));
  expect(labelWord(word)).toBe(labelWord(strange(word)));
  expect(guessColumns([word], [[word], ['1']])[0]?.field).toBeNull();
  expect(streetKey(`14 ${word} Lane`)).toBe(streetKey(`14 ${word} Ln`));
  expect(streetKey(word)).toBe(foldWords(word).join(' '));
  expect(inverseRelation(word)).toBe(`is ${word} of`);
  expect(typeInWords(word)).toBe('file');
  expect(readNames({ givenName: 'Ana', familyName: 'Reis', suffix: word } as never, []).generation).toBe('');
  if (/^[a-z]+$/.test(word))
    expect(tableOfLabelled(`dn: cn=Ana\n${word}: one\n\ndn: cn=Tom\n${word}: two\n`, String)[0]).toContain(word);
});
