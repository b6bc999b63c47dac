import { describe, expect, test } from '@jest/globals';
import { candidateFacts, preparePerson } from '../../matching';
import { FoldIndex } from './fold-index';
import type { Recogniser } from '../mapping';
import fc from 'fast-check';
import { summarise } from '../../fields';
import { cardOf, clearlyDiffersFrom, identityKeys, recognisePerson, type Hit } from './recognise';

describe('recognising people', () => {
  const person = (
    given: string,
    family: string,
    email = '',
    extra: { tel?: string; postalCode?: string; bday?: string } = {},
  ) => {
    const candidate = {
      givenName: [{ v: given }],
      familyName: [{ v: family }],
      ...(email ? { email: [{ v: email }] } : {}),
      ...(extra.tel ? { tel: [{ v: extra.tel }] } : {}),
      ...(extra.bday ? { bday: [{ v: extra.bday }] } : {}),
      ...(extra.postalCode ? { adr: [{ v: { postalCode: extra.postalCode } }] } : {}),
    };
    const prepared = preparePerson(candidateFacts(candidate));
    return { card: cardOf(prepared), keys: identityKeys(candidate, prepared, ['email', 'tel', 'name']) };
  };
  const hit = (id: number, card: Hit<number>['card'], by: Hit<number>['by']): Hit<number> => ({
    id,
    card,
    by,
    shown: 'x',
  });
  const order = ['email', 'tel', 'name'] as const;
  test('the same mailbox and an agreeing name is that person', () =>
    expect(
      recognisePerson(person('Kate', 'Pike').card, [hit(4, person('Katherine', 'Pike').card, 'email')], order),
    ).toEqual({ kind: 'known', id: 4 }));
  test('a mailbox of somebody of another name is held', () =>
    expect(
      recognisePerson(person('Tom', 'Okoro').card, [hit(4, person('Ana', 'Reis').card, 'email')], order),
    ).toMatchObject({ kind: 'held', issue: { code: 'sharedIdentifier' } }));
  test('an outside id of somebody of quite another name is held; one of a new name in part decides', () => {
    const by = (given: string, family: string) =>
      recognisePerson(person(given, family).card, [hit(4, person('Ana', 'Reis').card, 'externalId')], ['externalId']);
    expect(by('Tom', 'Okoro')).toMatchObject({ kind: 'held', issue: { code: 'sharedIdentifier', contactIds: [4] } });
    for (const [given, family] of [
      ['Ana', 'Okoro'],
      ['Tom', 'Reis'],
      ['Reis', 'Ana'],
      ['', ''],
      ['Anna', 'Reiss'],
    ] as const)
      expect(by(given, family)).toEqual({ kind: 'known', id: 4 });
  });
  test('a phone of somebody of another name proves nothing', () =>
    expect(recognisePerson(person('Tom', 'Okoro').card, [hit(4, person('Ana', 'Reis').card, 'tel')], order)).toEqual({
      kind: 'new',
    }));
  test('whoever clearly differs by the name in lists is not recognised by a phone', () => {
    const word = fc.constantFrom(
      ...'Ana Anna Reis Tom Okoro Quay Bob Robert Pike Moor Kate Xia Jr test unknown van Öhm E1len 健 X'.split(' '),
    );
    const part = fc.oneof(
      { weight: 9, arbitrary: word },
      fc.tuple(word, word).map((two) => two.join(' ')),
      fc.constant(''),
    );
    const tel = '+12075550142';
    let differing = 0;
    fc.assert(
      fc.property(
        part,
        part,
        part,
        part,
        fc.constantFrom('', 'ana.reis@quay.example'),
        (given, family, g, f, email) => {
          const value = (v: string) => ({ slot: 0, v, run: 1 });
          const listName = summarise({
            n: 9,
            f: { ...(g ? { givenName: [value(g)] } : {}), ...(f ? { familyName: [value(f)] } : {}), tel: [value(tel)] },
          }).listName;
          const own = person(given, family, '', { tel }).card;
          if (!clearlyDiffersFrom(own, listName)) return;
          differing++;
          const here = person(g, f, email, { tel }).card;
          expect(recognisePerson(own, [hit(4, here, 'tel'), hit(4, here, 'name')], order)).toEqual({ kind: 'new' });
        },
      ),
      { numRuns: 2000 },
    );
    expect(differing).toBeGreaterThan(80);
  });
  test('several certain ones are held', () =>
    expect(
      recognisePerson(
        person('Ana', 'Reis').card,
        [hit(4, person('Ana', 'Reis').card, 'email'), hit(5, person('Ana', 'Reis').card, 'email')],
        order,
      ),
    ).toMatchObject({ kind: 'held', ids: [4, 5] }));
  test('a name alone is nobody in particular, a name with its postal code is', () => {
    expect(recognisePerson(person('Ana', 'Reis').card, [hit(4, person('Ana', 'Reis').card, 'name')], order).kind).toBe(
      'new',
    );
    expect(
      recognisePerson(
        person('Ana', 'Reis', '', { postalCode: 'TR11 3AB' }).card,
        [hit(4, person('Ana', 'Reis', '', { postalCode: 'tr113ab' }).card, 'name')],
        order,
      ).kind,
    ).toBe('known');
  });
  test('two of one name and town with mailboxes of their own are two, unless they were born on one day', () => {
    const kind = (mine: string, other: string, by: readonly Recogniser[] = order, bday = '') => {
      const at = (email: string) => person('James', 'Thomas', email, { postalCode: '04817', bday }).card;
      return recognisePerson(at(mine), [hit(4, at(other), 'name')], by).kind;
    };
    expect(kind('james.a@example.org', 'james.b@example.org')).toBe('new');
    expect(kind('james.a@example.org', '')).toBe('known');
    expect(kind('james.a@example.org', 'james.b@example.org', order, '1970-04-12')).toBe('known');
    expect(kind('james.a@example.org', 'james.b@example.org', ['name'])).toBe('known');
  });
  test('a phone that differs in its area is another line, though it ends alike', () => {
    const kind = (mine: string, other: string) => {
      const at = (tel: string) => person('James', 'Kelly', '', { tel }).card;
      return recognisePerson(at(mine), [hit(4, at(other), 'tel')], order).kind;
    };
    expect(kind('+445445550167', '+442445550167')).toBe('new');
    expect(kind('+445445550167', '+445445550167')).toBe('known');
    expect(kind('+441632960301', '01632960301')).toBe('known');
  });
  test('rows of one person are found again, and a line that many share is not', () => {
    const folds = new FoldIndex();
    const first = person('Ana', 'Reis', 'ana@example.org', { tel: '+441632960301' });
    folds.add(1, first.card, first.keys);
    expect(recognisePerson(first.card, folds.find(first.keys, first.card), order)).toEqual({ kind: 'known', id: 1 });
    for (let row = 2; row < 20; row++) {
      const other = person(`Given${row}`, `Family${row}`, '', { tel: '+441632960301' });
      folds.add(row, other.card, other.keys);
    }
    const again = person('Fay', 'Given', '', { tel: '+441632960301' });
    expect(folds.find(again.keys, again.card).filter((found) => found.by === 'tel')).toEqual([]);
  });
});
