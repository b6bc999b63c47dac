import { describe, expect, test } from '@jest/globals';
import type { AddressValue, ContactRecord, ValueContent } from '../../model';
import { addressLines, formatAddress } from '../addresses/address';
import { areaOf, areaOfRecord, type Area } from '../addresses/area';
import { countryCodes, countryName, findCountry } from '../addresses/country';
import { householdLine, letterLine, partnerByName, salutation } from './letter-line';
import { inverseRelation, isCouple, RELATIONS } from '../relation';

function person(fields: Record<string, ValueContent>): ContactRecord {
  return {
    n: 1,
    f: Object.fromEntries(Object.entries(fields).map(([field, v]) => [field, [{ slot: 0, v, run: 1 }]])),
  };
}

const ana = person({ givenName: 'Ana', familyName: 'Reis' });
const tom = person({ givenName: 'Tom', familyName: 'Okoro' });
const related = (relation: string, name: string | undefined, to: number | null = null): ValueContent => ({
  relation,
  to,
  ...(name === undefined ? {} : { name }),
});
const zoe = person({ prefix: 'Dr', givenName: 'Zoe', familyName: 'Reis' });

describe('a partner known by name only', () => {
  test.each<[string, ValueContent, string, string]>([
    ['of another family name', related('partner', 'Tom Okoro'), 'Ana Reis and Tom Okoro', 'Dear Ana and Tom,'],
    ['of the same one', related('spouse', 'Dr Zoe Reis'), 'Ana and Dr Zoe Reis', 'Dear Ana and Zoe,'],
    ['by the given name', related('partner', 'Zoe'), 'Ana and Zoe Reis', 'Dear Ana and Zoe,'],
  ])('%s stands in line and salutation', (_, value, line, greeting) => {
    const record = person({ givenName: 'Ana', familyName: 'Reis', related: value });
    const partner = partnerByName(record);
    expect([letterLine(record, partner), salutation(record, partner)]).toEqual([line, greeting]);
  });
  test.each<[string, ValueContent]>([
    ['a sister', related('sibling', 'Zoe Reis')],
    ['a contact', related('partner', undefined, 7)],
    ['nobody', related('partner', ' ')],
  ])('%s is none', (_, value) => expect(partnerByName(person({ givenName: 'Ana', related: value }))).toBeNull());
});

describe('line for letters and salutation', () => {
  test.each<[string, ContactRecord, ContactRecord | null, string, string]>([
    ['one person', ana, null, 'Ana Reis', 'Dear Ana,'],
    ['a couple of two names', ana, tom, 'Ana Reis and Tom Okoro', 'Dear Ana and Tom,'],
    ['a couple of one name', ana, zoe, 'Ana and Dr Zoe Reis', 'Dear Ana and Zoe,'],
    [
      'somebody called otherwise',
      person({ givenName: 'Wilhelmina', nickname: 'Mina' }),
      null,
      'Wilhelmina',
      'Dear Mina,',
    ],
    [
      'somebody called by several names',
      person({ givenName: 'Wilhelmina', nickname: 'Mina, Willa' }),
      null,
      'Wilhelmina',
      'Dear Mina,',
    ],
    ['a family name alone', person({ prefix: 'Mrs', familyName: 'Pike' }), null, 'Mrs Pike', 'Dear Mrs Pike,'],
    ['a name as written', person({ fullName: '佐藤 恵美' }), null, '佐藤 恵美', 'Hello,'],
    ['an organization', person({ organization: 'Tarn Timber' }), null, 'Tarn Timber', 'Hello,'],
    ['nobody', person({}), null, '', 'Hello,'],
    [
      'words of their own',
      person({ givenName: 'Ana', letterLine: 'The Reis family', salutation: 'Dear all,' }),
      tom,
      'The Reis family',
      'Dear all,',
    ],
  ])('%s', (_, record, partner, line, greeting) => {
    expect(letterLine(record, partner)).toBe(line);
    expect(salutation(record, partner)).toBe(greeting);
  });
});

describe('a household', () => {
  const eva = person({ givenName: 'Eva', familyName: 'Reis' });
  test.each<[string, ContactRecord[], string | null, string]>([
    ['two of one name', [ana, zoe], null, 'Ana and Dr Zoe Reis'],
    ['two of two names', [ana, tom], null, 'Ana Reis and Tom Okoro'],
    ['three', [ana, eva, tom], null, 'The Reis and Okoro household'],
    ['as somebody named it', [ana, tom], 'Quay Cottage', 'Quay Cottage'],
    ['whoever is left', [ana], null, 'Ana Reis'],
  ])('%s', (_, members, name, line) => expect(householdLine(members, name)).toBe(line));
  test('greets each of them', () => expect(salutation(ana, eva, tom)).toBe('Dear Ana, Eva and Tom,'));
});

describe('relationships', () => {
  test.each(RELATIONS.map((relation) => [relation]))('%s turned round twice is itself', (relation) =>
    expect(inverseRelation(inverseRelation(relation))).toBe(relation),
  );
  test('words of one’s own are turned round and back', () => {
    expect(inverseRelation('mentor')).toBe('is mentor of');
    expect(inverseRelation('is mentor of')).toBe('mentor');
    expect(inverseRelation('parent')).toBe('child');
  });
  test('spouses and partners share a home, others do not', () =>
    expect(RELATIONS.filter(isCouple)).toEqual(['spouse', 'partner']));
});

describe('areas', () => {
  const areas: Area[] = [
    { name: 'Cornwall', rules: [{ country: 'GB', region: 'cornwall', postalPrefix: null }] },
    {
      name: 'West',
      rules: [
        { country: 'GB', region: null, postalPrefix: 'EX4' },
        { country: 'GB', region: null, postalPrefix: 'tr 11' },
      ],
    },
    { name: 'Portugal', rules: [{ country: 'PT', region: null, postalPrefix: null }] },
    { name: 'Nowhere', rules: [{ country: null, region: null, postalPrefix: null }] },
  ];
  test.each<[AddressValue, string]>([
    [{ country: 'GB', region: 'CORNWALL', postalCode: 'TR11 3AB' }, 'Cornwall'],
    [{ country: 'GB', region: 'Devon', postalCode: 'TR113AB' }, 'West'],
    [{ country: 'GB', postalCode: 'ex4 4rn' }, 'West'],
    [{ country: 'IE', postalCode: 'EX4 4RN' }, ''],
    [{ country: 'PT', locality: 'Porto' }, 'Portugal'],
    [{ locality: 'Porto' }, ''],
    [{}, ''],
  ])('%j lies in "%s"', (address, area) => expect(areaOf(address, areas)).toBe(area));
  test('a contact lies where its first address does', () => {
    const record = person({ adr: { country: 'PT' } });
    record.f.adr?.unshift({ slot: 2, v: { country: 'GB', region: 'Cornwall' }, run: 1, rank: 1 });
    expect(areaOfRecord(record, areas)).toBe('Portugal');
    expect(areaOfRecord(person({ givenName: 'Ana' }), areas)).toBe('');
    expect(areaOfRecord(record, [])).toBe('');
  });
});

describe('addresses on paper', () => {
  const street = '12 Slip Lane\nFlat 2';
  test.each<[AddressValue, string | null, string[]]>([
    [
      { street, locality: 'Quillhaven', region: 'Devon', postalCode: 'EX4 4RN', country: 'GB' },
      'GB',
      ['12 Slip Lane', 'Flat 2', 'Quillhaven', 'Devon', 'EX4 4RN'],
    ],
    [
      { street: 'Deichweg 4', locality: 'Kiel', postalCode: '24103', country: 'DE' },
      'GB',
      ['Deichweg 4', '24103 Kiel', 'Germany'],
    ],
    [
      { street: '8 Pier Road', locality: 'Portland', region: 'ME', postalCode: '04101', country: 'US' },
      'GB',
      ['8 Pier Road', 'Portland, ME 04101', 'United States'],
    ],
    [{ locality: 'Quillhaven' }, 'GB', ['Quillhaven']],
    [{ street: 'Lane 1', country: 'Atlantis' }, 'GB', ['Lane 1', 'Atlantis']],
  ])('%j', (address, home, lines) => expect(addressLines(address, home)).toEqual(lines));
  test('on one line nothing is lost, whatever the country', () => {
    for (const country of countryCodes()) {
      const line = formatAddress({ street: 'S1', locality: 'L2', region: 'R3', postalCode: 'P4', country });
      for (const part of ['S1', 'L2', 'R3', 'P4'])
        expect({ country, line }).toMatchObject({ line: expect.stringContaining(part) });
    }
  });
});

test('every country is found by its own name, and named by its code', () => {
  for (const code of countryCodes()) expect([code, findCountry(countryName(code))]).toEqual([code, code]);
});
