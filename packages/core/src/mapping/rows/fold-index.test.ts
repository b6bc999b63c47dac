import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { preparePerson } from '../../matching';
import { FoldIndex } from './fold-index';
import { cardOf, COMMON_KEY, identityKeys, recognisePerson, type IdentityCard, type IdentityKey } from './recognise';

const facts = fc.record({
  givenName: fc.constantFrom('Ana', 'Tom', 'Jürgen', '花子', 'Anne Marie', ''),
  familyName: fc.constantFrom('Reis', 'van der Quay', 'Müller', '佐藤', ''),
  suffix: fc.constantFrom('', 'Jr.'),
  emails: fc.array(fc.constantFrom('ana@quay.example', 'tom@quay.example', 'é@quay.example'), { maxLength: 2 }),
  phones: fc.array(fc.constantFrom('+441632960301', '+441632960302'), { maxLength: 2 }),
  locality: fc.constantFrom('Falmouth', 'Évora', ''),
  bday: fc.constantFrom('', '1971-07-14'),
});

const ORDER = ['email', 'tel', 'name'] as const;

interface Row {
  card: IdentityCard;
  keys: IdentityKey[];
}

function rowOf(one: { givenName: string; familyName: string; emails: string[]; phones: string[] }): Row {
  const person = preparePerson(one);
  return { card: cardOf(person), keys: identityKeys({}, person, ['email', 'tel', 'name']) };
}

/** The slow and obvious way: every earlier row is looked at. */
function slowly(rows: readonly Row[], keys: readonly IdentityKey[]) {
  return keys.flatMap(({ by, hash, shown }) => {
    const sharing = rows.flatMap((row, i) => (row.keys.some((other) => other.hash === hash) ? [i] : [])).slice(0, 50);
    if (by === 'tel' && sharing.length > COMMON_KEY) return [];
    return sharing.flatMap((i) => {
      const row = rows[i];
      return row ? [{ id: i + 1, card: row.card, by, shown }] : [];
    });
  });
}

/** Whether names of one family word each have no initial in common but that of the given names. */
function differ(a: IdentityCard, b: IdentityCard): boolean {
  if (a.unreadable || b.unreadable || a.family.length !== 1 || b.family.length !== 1) return false;
  const [given = '', family = '', otherGiven = '', otherFamily = ''] = [
    a.givenText,
    a.familyText,
    b.givenText,
    b.familyText,
  ];
  if (!given || !family || !otherGiven || !otherFamily) return false;
  return family[0] !== otherFamily[0] && family[0] !== otherGiven[0] && given[0] !== otherFamily[0];
}

test('rows are found by their keys with the people they are, in the order in which they came, but for those who cannot be them', () => {
  let left = 0;
  fc.assert(
    fc.property(fc.array(facts, { minLength: 1, maxLength: 80 }), (people) => {
      const rows = people.map(rowOf);
      const folds = new FoldIndex();
      rows.forEach(({ card, keys }, i) => {
        const all = slowly(rows.slice(0, i), keys);
        const found = folds.find(keys, card);
        expect(found).toEqual(all.filter((hit) => hit.by === 'email' || !differ(card, hit.card)));
        expect(recognisePerson(card, found, ORDER)).toEqual(recognisePerson(card, all, ORDER));
        left += all.length - found.length;
        folds.add(i + 1, card, keys);
      });
    }),
    { numRuns: 150 },
  );
  expect(left).toBeGreaterThan(30);
});

test('names longer than a chunk of memory are kept as well', () => {
  const folds = new FoldIndex();
  const long = rowOf({ givenName: 'é'.repeat(700_000), familyName: 'Reis', emails: ['ana@quay.example'], phones: [] });
  const short = rowOf({ givenName: 'Tom', familyName: 'Reis', emails: ['tom@quay.example'], phones: [] });
  folds.add(1, long.card, long.keys);
  folds.add(2, short.card, short.keys);
  expect(folds.find(short.keys, short.card).map(({ id, card }) => [id, card.givenText])).toContainEqual([2, 'tom']);
  expect(folds.find(long.keys, long.card)[0]?.card.givenText).toHaveLength(700_000);
});
