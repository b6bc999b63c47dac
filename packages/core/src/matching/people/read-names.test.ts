import { describe, expect, test } from '@jest/globals';
import { preparePerson } from './person';
import type { PersonFacts } from './person-facts';

describe('what stands for nothing, and what is a name', () => {
  const givenOf = (facts: PersonFacts) => preparePerson(facts).given.join(' ');
  test.each<[PersonFacts, string]>([
    [{ givenName: 'Na', familyName: 'Li' }, 'na'],
    [{ givenName: '娜', familyName: '李' }, 'na'],
    [{ givenName: 'Na Young', familyName: 'Kim' }, 'na young'],
    [{ fullName: 'NA LI' }, 'na'],
    [{ givenName: 'NA', familyName: 'Smith' }, ''],
    [{ givenName: 'Unknown', familyName: 'Smith' }, ''],
  ])('%j has the given name %j', (facts, given) => expect(givenOf(facts)).toBe(given));
  test.each([
    ['Mr & Mrs Gabriela Stoica', 'gabriela', 'stoica'],
    ['Martin & family Reis', 'martin', 'reis'],
    ['Fam. Dorothy Miller', 'dorothy', 'miller'],
    ['James and Alex Sanders', 'james', 'sanders'],
    ['Harris, Mr & Mrs Shirley', 'shirley', 'harris'],
  ])('%s is compared as one of them', (fullName, given, family) => {
    const person = preparePerson({ fullName });
    expect([person.given[0], person.familyText]).toEqual([given, family]);
  });
  test.each<[PersonFacts, string, string]>([
    [{ givenName: 'Ana', familyName: 'Reis (old)' }, 'ana', 'reis'],
    [{ givenName: 'Ana', familyName: 'Reis - DO NOT CALL' }, 'ana', 'reis'],
    [{ givenName: 'Ana', familyName: 'Reis 2019' }, 'ana', 'reis'],
    [{ givenName: 'Ana *', familyName: 'Reis #VIP' }, 'ana', 'reis'],
    [{ fullName: 'Ana Reis [duplicate?]' }, 'ana', 'reis'],
    [{ givenName: 'Anne-Marie', familyName: 'Reis - Okoro' }, 'anne marie', 'reisokoro'],
    // A whole name where only a part of it belongs.
    [{ familyName: 'Reis, Ana' }, 'ana', 'reis'],
    [{ familyName: 'Anna Reis' }, 'anna', 'reis'],
    [{ familyName: 'van den Berg' }, '', 'berg'],
    [{ familyName: 'Castro Reis' }, '', 'castroreis'],
    [{ givenName: 'Anna Reis' }, 'anna', 'reis'],
    [{ givenName: 'Anna Maria' }, 'anna maria', ''],
    [{ givenName: 'E1izabeth', familyName: 'Re1s' }, 'elizabeth', 'rels'],
    [{ givenName: 'ana@example.org', familyName: 'Reis' }, '', 'reis'],
    [{ fullName: 'ana@example.org' }, '', ''],
  ])('%j is %j %j', (facts, given, family) => {
    const person = preparePerson(facts);
    expect([person.given.join(' '), person.familyText]).toEqual([given, family]);
  });
  test('a family name that was not said as one counts for less', () => {
    expect(preparePerson({ givenName: 'Anna Reis' }).familyInferred).toBe(true);
    expect(preparePerson({ familyName: 'Anna Reis' }).familyInferred).toBe(false);
  });
  test('a whole address in the place of a street is compared by its street', () => {
    const place = (street: string, rest: PersonFacts = {}) => preparePerson({ givenName: 'Ana', street, ...rest });
    expect(place('12 Quay Street, Falmouth, TR11 3XA').street).toBe(place('12 Quay Street').street);
    expect(place('12, Quay Street, Falmouth').street).toBe(place('12, Quay Street').street);
    const known = { locality: 'Falmouth' };
    expect(place('Mill House, 12 Quay Street', known).street).not.toBe(place('Mill House', known).street);
  });
  test.each([
    ['ana (at) example.org', 'ana@example.org'],
    ['ana @ example.org', 'ana@example.org'],
    ['ana,reis@example.org', 'anareis@example.org'],
    ['mailto:ana@example.org', 'ana@example.org'],
  ])('%s is compared as %s', (email, key) =>
    expect(preparePerson({ emails: [email] }).emails.map((box) => box.key)).toEqual([key]),
  );
});
