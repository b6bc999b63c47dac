import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ColumnComparer } from '../comparing/column-compare';
import { comparePeople, compareInto } from '../comparing/compare';
import { COMPARED, type ComparedField } from '../comparing/levels';
import { matchPeople, learnNames } from '../match-people';
import { matchTogether, memoryOfAnswer, ScanHelper, type AskHelper } from '../match-together';
import { modelToJson } from '../model/model-json';
import { contextOf } from './names';
import { pairCode } from '../pairs/pair-list';
import { PeopleStore, storeOf } from './people-store';
import { preparePerson, type MatchPerson } from './person';
import type { PersonFacts } from './person-facts';

const oneOf = <T>(...items: T[]) => fc.constantFrom(...items);
const maybe = <T>(one: fc.Arbitrary<T>) => fc.option(one, { nil: undefined });

const given = oneOf(
  ...['Ana', 'Anna', 'Ana Maria', 'Maria', 'Kate', 'Katherine', 'Kat', 'J', 'Jory', 'Jroy', 'Jan', 'Toni', 'Antonio'],
  ...['Reis', 'Coppola', 'Joao', 'J\u00c3\u00a1nos', 'János', '花子', 'Дмитрий', 'Dmitry', 'حسن', 'Hassan', 'test', ''],
);
const family = oneOf(
  ...['Reis', 'Ries', 'Reis-Costa', 'Costa', 'van der Quay', 'Quay', 'vanderquay', 'Coppola', 'Ana', 'Jan', 'Smith'],
  ...['Smyth', 'Netherby', 'Nethe', '佐藤', 'Иванов', 'Ivanov', 'Pike Jr', 'O', ''],
);
const local = oneOf(
  ...['ana.reis', 'anareis', 'areis', 'ana.reis4', 'anareis44', 'ana.riess', 'kate', 'info', 'office', 'jory_quay'],
  ...['coppola.antonio', 'boats', 'boatsandmore', 'boatsandmroe', 'smith1971', 'none', 'a.b'],
);
const domain = oneOf('quay.example', 'quya.example', 'mail.example', 'quaytimber.example', 'mail.test');
const email = fc.tuple(local, domain).map(([name, host]) => `${name}@${host}`);
const phone = oneOf(
  ...[
    '+441632960301',
    '+441632960310',
    '+441632960302',
    '01632960301',
    '960301',
    '+12075550111',
    '2075550111',
    '5550111',
  ],
  ...['+12075550112', '+33632960301', '+1234567', '00000000', '123456789012345678901', '+4416329603', '632960301'],
);
const facts: fc.Arbitrary<PersonFacts> = fc.record(
  {
    givenName: given,
    familyName: family,
    fullName: fc.tuple(given, family).map((names) => names.join(' ')),
    suffix: oneOf('Jr.', 'Sr', 'III', ''),
    nickname: oneOf('Kate', 'Tommy', 'Ana', ''),
    emails: fc.array(email, { maxLength: 3 }),
    phones: fc.array(phone, { maxLength: 3 }),
    organization: oneOf('Quay Timber Ltd', 'Quay Timber', 'Timber of Quay', 'Quay Tmiber', 'Slip Works', ''),
    street: oneOf('4 Slip Lane', '4 Slipp Lane', '14 Slip Lane', 'Slip Lane', 'The Old Forge', ''),
    postalCode: oneOf('TR11 3AB', 'tr113ab', 'TR12', ''),
    locality: oneOf('Falmouth', 'Falmoth', 'Oban', ''),
    bday: oneOf('1971-07-14', '1971-14-07', '1972-07-14', '1971-07-04', '--07-14', '1971', '1980-01-02', '1900-01-01'),
  },
  { requiredKeys: [] },
);

const FIELDS = Object.keys(preparePerson({})) as (keyof MatchPerson)[];
const plain = (person: MatchPerson | undefined) => ({
  ...Object.fromEntries(FIELDS.map((field) => [field, person?.[field]])),
  emails: person?.emails.map(({ key, local: name, plain: bare, stem, digits, domain: host, role }) => ({
    ...{ key, local: name, plain: bare, stem, digits, domain: host, role },
  })),
});

describe('people as columns of numbers', () => {
  test('whoever is put in comes out the same, here and in another thread', () =>
    fc.assert(
      fc.property(fc.array(facts, { maxLength: 12 }), (list) => {
        const people = list.map(preparePerson);
        const store = storeOf(people);
        store.seal();
        const elsewhere = new PeopleStore(structuredClone(store.shared()));
        expect(people.map((_, i) => plain(store.at(i)))).toEqual(people.map(plain));
        expect(people.map((_, i) => plain(elsewhere.at(i)))).toEqual(people.map(plain));
        expect(store.at(people.length)).toBeUndefined();
      }),
      { numRuns: 300 },
    ));
  test('whom another thread prepared can be added to them', () =>
    fc.assert(
      fc.property(fc.array(facts, { maxLength: 8 }), fc.array(facts, { maxLength: 8 }), (ones, others) => {
        const [own, theirs] = [ones.map(preparePerson), others.map(preparePerson)];
        const store = storeOf(own);
        store.append(structuredClone(storeOf(theirs).shared()));
        const all = [...own, ...theirs, ...own];
        for (const person of own) store.add(person);
        expect(all.map((_, i) => plain(store.at(i)))).toEqual(all.map(plain));
        // Whoever is equal has equal numbers, wherever they came from.
        expect(store.arrays).toEqual(storeOf(all).arrays);
      }),
      { numRuns: 200 },
    ));
  test('texts of any signs and any length stay as they are', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            givenName: fc.string({ unit: 'binary' }),
            organization: fc.string({ unit: 'grapheme', maxLength: 400 }),
            street: fc.string({ unit: 'binary' }),
            emails: fc.array(
              fc.string({ unit: 'grapheme' }).map((name) => `${name}@quay.example`),
              { maxLength: 2 },
            ),
          }),
          { maxLength: 5 },
        ),
        (list) => {
          const people = list.map(preparePerson);
          const store = storeOf(people);
          expect(people.map((_, i) => plain(store.at(i)))).toEqual(people.map(plain));
        },
      ),
      { numRuns: 200 },
    ));
  test('two compare by their numbers as they do by their texts, level by level, in either order', () =>
    fc.assert(
      fc.property(
        fc.array(facts, { minLength: 2, maxLength: 14 }),
        maybe(oneOf<ComparedField>('place', 'email')),
        (list, ignored) => {
          const people = list.map(preparePerson);
          const learned = learnNames(people);
          const context = contextOf({
            ...learned,
            // As a large book would know them.
            givenNames: new Map([...learned.givenNames, ['ana', 90], ['anna', 60], ['jan', 50]]),
            familyNames: new Map([...learned.familyNames, ['coppola', 40], ['smith', 80], ['smyth', 30]]),
            sharedLines: new Set([...learned.sharedLines, '632960301', 'anareis@quay.example']),
            ignored: ignored ? [ignored] : [],
          });
          const comparer = new ColumnComparer(storeOf(people), context);
          const byNumbers = COMPARED.map(() => 0);
          const byTexts = COMPARED.map(() => 0);
          people.forEach((a, i) =>
            people.forEach((b, j) => {
              if (i === j) return;
              const turn = comparer.compareInto(byNumbers, i, j);
              expect([turn, byNumbers]).toEqual([compareInto(byTexts, a, b, context), byTexts]);
              expect(comparer.compare(i, j)).toEqual(comparePeople(a, b, context));
            }),
          );
        },
      ),
      { numRuns: 150 },
    ));
});

/** Answers in this thread, over copies as another thread would get them. */
function inThisThread(): AskHelper {
  const helper = new ScanHelper();
  return (async (task) => {
    const answer = helper.answer(task.do === 'learn' ? { ...task, people: structuredClone(task.people) } : task);
    return structuredClone(answer, { transfer: memoryOfAnswer(answer) });
  }) as AskHelper;
}

describe('two threads', () => {
  const many = fc.sample(facts, { numRuns: 220, seed: 5 }).map(preparePerson);
  test('find the same as one', async () => {
    const options = {
      threshold01: 0.9,
      sharedLines: ['kate@mail.example'],
      keptApart: new Set(many.map((_, i) => pairCode(3, i))),
    };
    const alone = matchPeople(many, options);
    const together = await matchTogether(storeOf(many), options, inThisThread());
    expect(alone.groups.length).toBeGreaterThan(8);
    expect({ ...together, model: modelToJson(together.model) }).toEqual({ ...alone, model: modelToJson(alone.model) });
    const again = await matchTogether(storeOf(many), { ...options, model: alone.model }, inThisThread());
    expect(again.groups).toEqual(alone.groups);
  });
  test('stop when told to', async () => {
    const asked: number[] = [];
    const onProgress = async (done01: number) => asked.push(done01) < 3;
    // The other thread takes nothing, so that all is left to this one.
    const ask = inThisThread();
    const idle = (async (task) => (task.do === 'compare' ? [] : ask(task))) as AskHelper;
    const result = await matchTogether(storeOf(many), { threshold01: 0.9, onProgress }, idle);
    expect(result).toMatchObject({ stopped: true, groups: [] });
    expect(asked).toHaveLength(3);
  });
  test('a thread that fails while it compares fails the scan, and only the scan', async () => {
    const ask = inThisThread();
    const failing = ((task) =>
      task.do === 'compare' ? Promise.reject(new Error('out of memory')) : ask(task)) as AskHelper;
    const unhandled: unknown[] = [];
    const note = (reason: unknown) => unhandled.push(reason);
    process.on('unhandledRejection', note);
    const onProgress = async () => (await new Promise((done) => setTimeout(done, 1)), true);
    await expect(matchTogether(storeOf(many), { threshold01: 0.9, onProgress }, failing)).rejects.toThrow(
      'out of memory',
    );
    process.off('unhandledRejection', note);
    expect(unhandled).toEqual([]);
  });
  test('a thread that fails fails the scan', () =>
    expect(
      matchTogether(storeOf(many), { threshold01: 0.9 }, () => Promise.reject(new Error('the thread ended'))),
    ).rejects.toThrow('the thread ended'));
});
