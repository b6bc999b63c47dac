import { expect, test } from '@jest/globals';
import { matchPeople } from './match-people';
import { preparePerson, type PersonFacts } from './person';
import { SharedTexts } from './shared-texts';

const FACTS: PersonFacts[] = [
  {
    givenName: 'Ana Maria',
    familyName: 'Reis',
    emails: ['ana.reis4@quay.example'],
    phones: ['+441632960301'],
    locality: 'Falmouth',
    bday: '1971-07-14',
  },
  {
    givenName: 'ana maria',
    familyName: 'REIS',
    organization: 'Quay Timber Ltd',
    street: '4 Slip Lane',
    postalCode: 'TR11 3AB',
    locality: 'falmouth',
    bday: '1971-07-14',
  },
  {
    givenName: 'Tom',
    familyName: 'van der Quay',
    suffix: 'Jr.',
    nickname: 'Tommy',
    emails: ['tom@quay.example'],
    organization: 'Quay Timber',
  },
  { fullName: '佐藤 花子', phones: [] },
  {},
];

test('a person whose texts are shared says the same as before', () => {
  const texts = new SharedTexts();
  for (const facts of FACTS) expect(texts.share(preparePerson(facts))).toEqual(preparePerson(facts));
  // Once more, now that all of them are known.
  for (const facts of FACTS) expect(texts.share(preparePerson(facts))).toEqual(preparePerson(facts));
});

test('and lists of words are one list for all who have them', () => {
  const texts = new SharedTexts();
  const [a, b] = FACTS.map((facts) => texts.share(preparePerson(facts)));
  expect(a?.given).toBe(b?.given);
  expect(a?.family).toBe(b?.family);
});

test('matching finds the same', () => {
  const many = Array.from({ length: 40 }, (_, i) => ({
    givenName: ['Ana', 'Tom', 'Kari', 'Femke'][i % 4] ?? '',
    familyName: `Quay${i % 10}`,
    emails: [`p${i % 20}@quay.example`],
    locality: 'Falmouth',
  }));
  const texts = new SharedTexts();
  const shared = matchPeople(
    many.map((facts) => texts.share(preparePerson(facts))),
    { threshold01: 0.9 },
  );
  const own = matchPeople(many.map(preparePerson), { threshold01: 0.9 });
  expect(own.groups.length).toBeGreaterThan(0);
  expect(shared.groups).toEqual(own.groups);
  expect(shared.pairs).toEqual(own.pairs);
});
