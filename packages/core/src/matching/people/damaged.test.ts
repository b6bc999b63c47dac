import { describe, expect, test } from '@jest/globals';
import { repairMojibake } from '../../fields';
import { COMPARED, LEVELS, type ComparedField } from '../comparing/levels';
import { comparePeople } from '../comparing/compare';
import { explainPair, weighed, wordsFor } from '../model/explain';
import { isSamePhone } from './keys';
import { learnNicknames } from '../model/learn-nicknames';
import { matchPeople } from '../match-people';
import { contextOf, findNames } from './names';
import { preparePerson } from './person';
import type { PersonFacts } from './person-facts';
import { leniently, skeleton } from './romanised';
import { scorePair } from '../model/score';
import { compareSets } from '../comparing/sets';
import { findSharedLines } from '../model/shared-lines';

const names = (counts: Record<string, number>) => new Map(Object.entries(counts));
/** What a large book would know of names. */
const context = contextOf({
  sharedLines: new Set(),
  givenNames: names({ michael: 300, mary: 300, kate: 60, louis: 40, louise: 50, daniel: 90, patricia: 80, ellen: 30 }),
  familyNames: names({ smith: 400, schmidt: 60, schmitt: 20, walker: 90, wagner: 70, reis: 30, carter: 50 }),
  nicknames: new Set(['caz carol']),
});

function levelOf(field: ComparedField, a: PersonFacts, b: PersonFacts): string {
  const compare = (x: PersonFacts, y: PersonFacts) =>
    LEVELS[field][
      comparePeople(preparePerson(x), preparePerson(y), context).levels[COMPARED.indexOf(field)] ?? 0
    ] as string;
  expect(compare(b, a)).toBe(compare(a, b));
  return compare(a, b);
}

describe('given names', () => {
  test.each([
    ['Louis', 'Louise', 'similar'],
    ['Micahel', 'Michael', 'slip'],
    ['Polky', 'Mary', 'close'],
    ['Tunde', 'Babatunde', 'nickname'],
    ['Davy', 'David', 'nickname'],
    ['Caz', 'Carol', 'nickname'],
    ['Piet', 'Pieter', 'nickname'],
    ['Lszlo', 'Laszlo', 'slip'],
    ['Jaans', 'Janos', 'close'],
    ['Mary', 'Daniel', 'different'],
    ['Jan', 'Jana', 'similar'],
    ['Zdenko', 'Zdenka', 'slip'],
  ])('%s and %s are %s', (a, b, expected) =>
    expect(levelOf('given', { givenName: a, familyName: 'Reis' }, { givenName: b, familyName: 'Reis' })).toBe(expected),
  );
  test('both a slip, of one name, is close', () =>
    expect(
      levelOf('given', { givenName: 'Ptricia', familyName: 'Reis' }, { givenName: 'Patrcai', familyName: 'Reis' }),
    ).toBe('close'));
});

describe('family names', () => {
  test.each([
    ['Smith', 'Smtih', 'slip'],
    ['Schmidt', 'Schmitt', 'similar'],
    ['Walker', 'Wagner', 'different'],
    ['Nethe', 'Netherby', 'close'],
    ['Bemard', 'Bernard', 'slip'],
  ])('%s and %s are %s', (a, b, expected) =>
    expect(levelOf('family', { givenName: 'Kate', familyName: a }, { givenName: 'Kate', familyName: b })).toBe(
      expected,
    ),
  );
});

describe('names in two scripts or the wrong encoding', () => {
  test.each([
    ['J\u00c3\u00a1nos', 'János'],
    ['Bj\u00c3\u00b8rn', 'Bjørn'],
    ['Zo\u00c3\u00ab', 'Zoë'],
    ['\u00c3\u00a9 and \u2026', '\u00c3\u00a9 and \u2026'],
    ['Ångström', 'Ångström'],
    ['São', 'São'],
  ])('%s is read as %s', (text, expected) => expect(repairMojibake(text)).toBe(expected));
  test('a script without vowels is compared without vowels', () => {
    expect(skeleton('hassan')).toBe(skeleton('hsn'));
    expect(
      levelOf('given', { givenName: 'محمد', familyName: 'حسن' }, { givenName: 'Mohammed', familyName: 'Hassan' }),
    ).toBe('slip');
  });
  test('ways of writing foreign sounds are one', () => {
    expect(leniently('hayoon')).toBe(leniently('hayun'));
    expect(levelOf('given', { givenName: '하윤', familyName: '이' }, { givenName: 'Hayoon', familyName: 'Lee' })).toBe(
      'slip',
    );
    expect(levelOf('family', { givenName: '하윤', familyName: '이' }, { givenName: 'Hayoon', familyName: 'Lee' })).toBe(
      'same',
    );
  });
});

describe('e-mails', () => {
  const mail = (a: [string, string, string], b: [string, string, string]) =>
    levelOf(
      'email',
      { givenName: a[0], familyName: a[1], emails: [a[2]] },
      { givenName: b[0], familyName: b[1], emails: [b[2]] },
    );
  test('a slip is near', () =>
    expect(mail(['Kate', 'Reis', 'kate.reis80@example.org'], ['Kate', 'Reis', 'kate.resi80@example.org'])).toBe(
      'near',
    ));
  test('other digits are another mailbox', () =>
    expect(mail(['Kate', 'Reis', 'kate.reis80@example.org'], ['Kate', 'Reis', 'kate.reis81@example.org'])).toBe(
      'different',
    ));
  test('each made of its own name is another mailbox, however alike', () => {
    expect(mail(['Kate', 'Walker', 'walker.kate@example.org'], ['Kate', 'Wagner', 'wagner.kate@example.org'])).toBe(
      'different',
    );
    expect(mail(['Mary', 'Carter', 'maryc@example.org'], ['Mary', '', 'maryb@example.org'])).toBe('different');
  });
  test('a namesake has the same name at another provider', () => {
    expect(mail(['Kate', 'Reis', 'kate.reis@example.org'], ['Kate', 'Reis', 'kate.reis@plume.example'])).toBe('absent');
    expect(mail(['Kate', 'Reis', 'oldoak77@example.org'], ['Kate', 'Reis', 'oldoak77@plume.example'])).toBe(
      'sameLocal',
    );
  });
});

describe('phones', () => {
  test('a national number is the same line as its international writing', () => {
    expect(isSamePhone('2079460850', '+442079460850')).toBe(true);
    expect(isSamePhone('+12079460850', '+13079460850')).toBe(false);
    expect(preparePerson({ phones: ['+102079460850'] }).phones).toEqual(['2079460850']);
  });
});

describe('what the data tell', () => {
  const person = (givenName: string, familyName: string, email: string) =>
    preparePerson({ givenName, familyName, emails: [email] });
  test('a name that again and again shares its mailbox with another is a form of it', () => {
    const people = ['Reis', 'Okoro', 'Pike', 'Moreau'].flatMap((family, i) => [
      person('Araminta', family, `bluegull${i}@example.org`),
      person('Minty', family, `bluegull${i}@example.org`),
    ]);
    expect([...learnNicknames(people)]).toEqual(['araminta minty']);
  });
  test('two who are seen to be two people are no forms of one name, however often they share a mailbox', () => {
    const couples = (bday: [string, string]) =>
      ['Reis', 'Okoro', 'Pike', 'Moreau'].flatMap((family, i) =>
        ['Pooja', 'Priya'].map((givenName, who) =>
          preparePerson({
            givenName,
            familyName: family,
            emails: [`bluegull${i}@example.org`],
            bday: bday[who],
          }),
        ),
      );
    expect([...learnNicknames(couples(['', '']))]).toEqual(['pooja priya']);
    expect([...learnNicknames(couples(['1971-07-14', '1971-07-14']))]).toEqual(['pooja priya']);
    expect(learnNicknames(couples(['1971-07-14', '1974-02-03'])).size).toBe(0);
    const byPhone = ['Reis', 'Okoro', 'Pike', 'Moreau'].flatMap((family, i) =>
      ['Pooja', 'Priya'].map((givenName) =>
        preparePerson({
          givenName,
          familyName: family,
          phones: [`+1${212 + i}5550123`],
          emails: [`${givenName}${i}@example.org`],
        }),
      ),
    );
    expect(learnNicknames(byPhone).size).toBe(0);
  });
  test('people of one home are no forms of one name', () => {
    const others = ['Sigrid', 'Oskar', 'Femke', 'Rowan'];
    const people = others.flatMap((given, i) => [
      person('Araminta', `Reis${'abcd'[i]}`, `bluegull${i}@example.org`),
      person(given, `Reis${'abcd'[i]}`, `bluegull${i}@example.org`),
    ]);
    expect(learnNicknames(people).size).toBe(0);
  });
  test('a line is shared by two people, not by the slips of one', () => {
    const box = (i: number) => `bluegull${i}@example.org`;
    const shared = findSharedLines(
      [
        person('Frederic', 'Roux', box(1)),
        person('Frred', 'Roux', box(1)),
        person('Roux', 'Frederic', box(1)),
        person('Sigrid', 'Pike', box(2)),
        person('Oskar', 'Pike', box(2)),
      ],
      new Set(),
    );
    expect([...shared]).toEqual([box(2)]);
  });
  test('the name that a slip was made of is the commonest within one letter', () => {
    const known = contextOf({
      sharedLines: new Set(),
      givenNames: findNames(
        [...Array<string>(9).fill('Mary'), ...Array<string>(6).fill('Marc'), 'Mara'].map((givenName) =>
          preparePerson({ givenName }),
        ),
        ({ given }) => given[0] ?? '',
      ),
      familyNames: new Map(),
      nicknames: new Set(),
    });
    expect(known.nearestGiven('marx')).toBe('mary');
    expect(known.nearestGiven('marc')).toBe('marc');
    expect(known.nearestGiven('oskar')).toBe('oskar');
  });
});

test('an initial binds nobody to a name that is written out otherwise', () => {
  const people = ['John', 'Jane', 'J'].map((givenName) => preparePerson({ givenName, familyName: 'Reis' }));
  const compare = (a: number, b: number) =>
    comparePeople(people[a] as (typeof people)[number], people[b] as (typeof people)[number], context);
  const given = (a: number[], b: number[]) => LEVELS.given[compareSets(a, b, compare).levels[0] ?? 0];
  expect(given([2], [0])).toBe('initial');
  expect(given([0, 2], [1])).toBe('different');
});

test('what merges as a batch agrees on names', () => {
  const facts: PersonFacts[] = [];
  for (let i = 0; i < 60; i++) {
    const mine = { emails: [`bluegull${i}@example.org`], phones: [`+1${210 + i}5550123`] };
    facts.push({ givenName: 'Sigrid', familyName: `Quist${'abcdefgh'[i % 8]}${'klmnop'[i % 6]}`, ...mine });
    facts.push({
      givenName: 'Sigrid',
      familyName: i % 2 ? 'Amundsen' : `Quist${'abcdefgh'[i % 8]}${'klmnop'[i % 6]}`,
      ...mine,
    });
  }
  const people = facts.map(preparePerson);
  const batch = matchPeople(people, { threshold01: 0.995, onlyAgreeing: true });
  expect(batch.groups).toHaveLength(30);
  for (const { members } of batch.groups) expect(new Set(members.map((i) => people[i]?.familyText)).size).toBe(1);
});

test('every level that a comparison can give has its words', () => {
  const person = preparePerson({ givenName: 'Kate', familyName: 'Reis' });
  for (const field of COMPARED)
    for (const level of LEVELS[field].slice(1))
      expect(wordsFor(field, level, person, person, false, 5).length).toBeGreaterThan(5);
});

test('a mailbox that two share is said as one of them has it written', () => {
  const a = preparePerson({ emails: ['kate.reis@example.org'] });
  const b = preparePerson({ emails: ['katereis@example.org'] });
  expect(wordsFor('email', 'same', a, b, false, 5)).toBe('Same e-mail, kate.reis@example.org');
});

test('words never say the opposite of their weight', () => {
  expect(weighed('same', 'Same family name', -0.2)).toMatch(/says nothing$/);
  expect(weighed('same', 'Same family name', 3)).toBe('Same family name');
  expect(weighed('different', 'Different places', 0.7)).toMatch(/records of one person here often have$/);
  expect(weighed('different', 'Different places', -1)).toBe('Different places');
});

test('a name alone is never certain, and the reasons say so and add up', () => {
  const people = Array.from({ length: 120 }, (_, i) =>
    preparePerson({
      givenName: `G${letters(i)}`,
      familyName: `F${letters(i * 3)}`,
      emails: [`bluegull${i % 100}@example.org`],
      phones: [`+1${210 + (i % 100)}5550123`],
    }),
  );
  const learned = matchPeople(people, { threshold01: 0.9 }).model;
  // As in a small book, where few could be mistaken for each other.
  const model = { ...learned, priorBits: { ...learned.priorBits, match: 0 } };
  const alone = preparePerson({ givenName: 'Benedita', familyName: 'Strand' });
  const named = scorePair(model, alone, alone);
  expect(named.band).toBe('likely');
  const reasons = explainPair(model, alone, alone);
  expect(reasons.at(-1)).toMatchObject({ field: 'rule', text: 'A name alone is never certain' });
  expect(reasons.reduce((sum, reason) => sum + reason.bits, 0)).toBeCloseTo(named.bits, 0);
  const beside = preparePerson({ givenName: 'Benedita', familyName: 'Strand', bday: '1971-07-14' });
  expect(scorePair(model, beside, beside).band).toBe('certain');
});

const letters = (n: number) => String.fromCharCode(97 + (n % 26), 97 + (Math.floor(n / 26) % 26), 97 + ((n * 7) % 26));
