import { describe, expect, test } from '@jest/globals';
import { Catalogue, type DateOrder } from '../fields';
import { candidateFacts, preparePerson } from '../matching';
import { defaultMapping } from './default-mapping';
import { guessColumns } from './guess-columns';
import { readHeader } from './header-words';
import type { ReadingContext } from './read-cell';
import { readMoment, RowReader } from './read-row';
import { writeRuleOf } from './write-rules';
import { FoldIndex } from './fold-index';
import { cardOf, identityKeys, recognisePerson, type Hit } from './recognise';

const context: ReadingContext = { country: 'GB', stages: ['Enquiry', 'Donor'], settle: (_kind, text) => text };

function reader(headers: string[], sample: string[][]): RowReader {
  return new RowReader(defaultMapping(guessColumns(headers, sample), 'GB'), new Catalogue(), context, {
    columnCount: headers.length,
    headers,
  });
}

test('a column has its own rule for its fields, others that of the file', () => {
  const mapping = defaultMapping(
    guessColumns(['Name', 'Town', 'Email'], [['Ana Reis', 'Truro', 'a@example.org']]),
    'GB',
  );
  mapping.columns.forEach((column) => {
    if (column.header !== 'Email') column.rule = 'replace';
  });
  const rule = writeRuleOf(mapping);
  expect(['givenName', 'familyName', 'adr', 'email', 'note'].map(rule)).toEqual([
    'replace',
    'replace',
    'replace',
    'fill',
    'fill',
  ]);
});

describe('guessing columns', () => {
  test.each([
    ['E-mail adr.', 'email'],
    ['Vorname', 'givenName'],
    ['Surname', 'familyName'],
    ['Zip/Post', 'postalCode'],
    ['Heard abt us', 'source'],
    ['D.O.B.', 'bday'],
    ['Prénom', 'givenName'],
    ['T-shirt', null],
  ])('the heading %s means %s', (header, target) => expect(readHeader(header).target).toBe(target));
  test.each([
    ['Tel (eve)', 'home'],
    ['Mobile', 'mobile'],
    ['Work phone', 'work'],
  ])('%s is labelled %s', (header, label) => expect(readHeader(header).label).toBe(label));
  test('a column of e-mails is e-mail whatever its name', () => {
    const [guess] = guessColumns(['Whatever'], [['a@example.org'], ['b@example.net'], ['c@example.com']]);
    expect(guess).toMatchObject({ field: 'email' });
  });
  test('a heading is not believed against its cells', () => {
    const [guess] = guessColumns(['Name'], [['17.5'], ['18'], ['19']]);
    expect(guess?.field).toBeNull();
  });
  test('stage and value beside opportunities are the opportunity’s', () => {
    const guesses = guessColumns(
      ['Email', 'Opp ID', 'Stage', 'Value', 'Owner'],
      [['a@example.org', 'O-1', 'Won', '7200', 'Callum']],
    );
    expect(guesses.map((guess) => guess.field)).toEqual([
      'email',
      'opportunityId',
      'opportunityStage',
      'opportunityValue',
      null,
    ]);
  });
  test('without a heading, neighbours tell', () => {
    const guesses = guessColumns(
      [null, null, null, null],
      [
        ['William', 'Pike', 'w@example.org', '01632 960301'],
        ['Thomas', 'Adair', 't@example.org', '01632 960302'],
        ['Susan', 'Lund', 's@example.org', ''],
      ],
    );
    expect(guesses.map((guess) => guess.field)).toEqual(['givenName', 'familyName', 'email', 'tel']);
  });
});

describe('reading rows', () => {
  const headers = ['First name', 'Last name', 'Email', 'Mobile', 'Stage', 'Street', 'Town'];
  const rows = reader(headers, [
    ['Ana', 'Reis', 'ana@example.org', '07700 900301', 'Donor', '14 Slip Lane', 'Falmouth'],
  ]);
  const codes = (cells: string[]) => rows.read(cells, 3).issues.map((issue) => issue.code);
  test('a good row becomes a candidate, its address in one piece', () => {
    const { candidate, held } = rows.read(
      ['Ana', 'Reis', 'Ana@Example.org', '07700 900301', 'donor', '14 Slip Lane', 'Falmouth'],
      1,
    );
    expect(held).toBe(false);
    expect(candidate.adr).toEqual([{ v: { street: '14 Slip Lane', locality: 'Falmouth' } }]);
    expect(candidate.stage).toEqual([{ v: 'Donor' }]);
    expect(candidate.tel).toEqual([{ v: '07700 900301', norm: '+447700900301', label: 'mobile' }]);
  });
  test('a bad cell holds its row and says which cell', () => {
    const { held, issues } = rows.read(['Ana', 'Reis', 'ana(at)example.org', '', '', '', ''], 8);
    expect(held).toBe(true);
    expect(issues[0]).toMatchObject({ code: 'invalidEmail', path: { row: 8, column: 2, name: 'Email' } });
  });
  test('a stage that does not exist holds its row', () =>
    expect(codes(['Ana', 'Reis', '', '', 'Friend', '', ''])).toContain('unknownStage'));
  test('nobody to be told by holds the row', () =>
    expect(codes(['', '', '', '07700 900301', '', '', ''])).toContain('noIdentity'));
  test('too many cells hold the row, too few do not', () => {
    expect(codes(['Ana', 'Reis', 'a@example.org', '', '', '', '', 'extra'])).toContain('tooManyCells');
    const short = rows.read(['Ana', 'Reis', 'a@example.org'], 2);
    expect(short.issues.map((issue) => issue.code)).toEqual(['tooFewCells']);
    expect(short.held).toBe(false);
  });
  test('a repeated heading is held', () => expect(codes(headers)).toContain('repeatedHeading'));
  test('a formula is kept as text and said', () => {
    const { candidate, issues } = rows.read(['=SUM(A1)', 'Reis', '', '', '', '', ''], 4);
    expect(candidate.givenName).toEqual([{ v: '=SUM(A1)' }]);
    expect(issues.map((issue) => issue.code)).toContain('formulaLike');
  });
});

describe('recognising people', () => {
  const person = (given: string, family: string, email = '', extra: { tel?: string; postalCode?: string } = {}) => {
    const candidate = {
      givenName: [{ v: given }],
      familyName: [{ v: family }],
      ...(email ? { email: [{ v: email }] } : {}),
      ...(extra.tel ? { tel: [{ v: extra.tel }] } : {}),
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
  test('a phone of somebody of another name proves nothing', () =>
    expect(recognisePerson(person('Tom', 'Okoro').card, [hit(4, person('Ana', 'Reis').card, 'tel')], order)).toEqual({
      kind: 'new',
    }));
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
  test('rows of one person are found again, and a line that many share is not', () => {
    const folds = new FoldIndex();
    const first = person('Ana', 'Reis', 'ana@example.org', { tel: '+441632960301' });
    folds.add(1, first.card, first.keys);
    expect(recognisePerson(first.card, folds.find(first.keys), order)).toEqual({ kind: 'known', id: 1 });
    for (let row = 2; row < 20; row++) {
      const other = person(`Given${row}`, `Family${row}`, '', { tel: '+441632960301' });
      folds.add(row, other.card, other.keys);
    }
    expect(folds.find(first.keys).filter((found) => found.by === 'tel')).toEqual([]);
  });
});

describe('the moment a cell names', () => {
  test.each<[string, DateOrder, string | null]>([
    ['2026-03-01', 'iso', '2026-03-01T00:00:00.000Z'],
    ['01/03/2026 14:05', 'dayFirst', '2026-03-01T14:05:00.000Z'],
    ['3/1/2026 2:05 PM', 'monthFirst', '2026-03-01T14:05:00.000Z'],
    ['3/1/2026 12:05 am', 'monthFirst', '2026-03-01T00:05:00.000Z'],
    ['2026-03-01T14:05:09+02:00', 'iso', '2026-03-01T12:05:09.000Z'],
    ['2026-03-01 14:05:09Z', 'iso', '2026-03-01T14:05:09.000Z'],
    ['March', 'iso', null],
    ['', 'iso', null],
    ['--03-01', 'iso', null],
  ])('%j read %s is %s', (text, order, iso) => {
    const ms = readMoment(text, order);
    expect(ms === null ? null : new Date(ms).toISOString()).toBe(iso);
  });
});
