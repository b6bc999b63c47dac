import { describe, expect, test } from '@jest/globals';
import { indexKeys, keyHash } from './keys';
import { preparePerson } from './person';
import { keysOfWritings, mayBeOneName, nameUntranscribed } from './writings';

const named = (givenName: string, familyName: string) => ({ givenName, familyName });

describe('ways of writing a name', () => {
  test.each(['Oedegaard', 'Ødegård', 'ODEGARD', 'Oedegård'])('%s is one name', (name) =>
    expect(nameUntranscribed(name)).toBe('odegard'),
  );
  test.each([
    [named('Ingrid', 'Oedegaard'), named('Ingrid', 'Ødegård')],
    [named('Søren', 'Æbelø'), named('Soeren', 'Aebeloe')],
    [named('Jürgen', 'Müller'), named('Juergen', 'Mueller')],
    [named('Abara', 'Abigail'), named('Abigail', 'Abara')],
  ])('%j is found under a key of %j, and may be one name with it', (typed, here) => {
    const kept = indexKeys(preparePerson(here)).map((key) => keyHash(key));
    expect(keysOfWritings(typed).some((key) => kept.includes(key))).toBe(true);
    expect(mayBeOneName(typed, here)).toBe(true);
  });
  test.each([
    [named('Abigial', 'Abarra'), named('Abigail', 'Abara'), true],
    [named('Wilhemina', 'Ravenscrft'), named('Wilhelmina', 'Ravenscroft'), true],
    [named('Tom', 'Reis'), named('Ana', 'Reis'), false],
    [named('Ana', 'Lund'), named('Ana', 'Reis'), false],
    [named('', 'Reis'), named('', 'Reis'), false],
  ])('%j and %j: %s', (a, b, may) => expect(mayBeOneName(a, b)).toBe(may));
  test('a long name has a bounded number of keys', () =>
    expect(keysOfWritings(named('Aaeoeueaaeoeue', 'Oeaaueaeoeaaue')).length).toBeLessThanOrEqual(64));
});
