import { expect, test } from '@jest/globals';
import { holdsRow, type Issue, type IssueCode } from './issue';
import { wordIssue } from './word-issue';

test('a sentence says where, what was found, and what happens next', () => {
  expect(
    wordIssue({
      code: 'invalidDate',
      value: '31/02/1990',
      why: 'noSuchDay',
      path: { row: 14, column: 3, name: 'Born' },
    }),
  ).toBe("Row 14, Born: '31/02/1990' is a day that does not exist. The row is held; mend it in Held rows.");
});

test('an unknown stage names the stages there are', () => {
  expect(wordIssue({ code: 'unknownStage', value: 'Friend', stages: ['Enquiry', 'Donor'], path: {} })).toContain(
    'the stages are Enquiry, Donor',
  );
});

test('where a row is mended, and where one value is typed, nobody is sent to the held rows', () => {
  const issue: Issue = { code: 'invalidNumber', value: 'ten', path: {} };
  expect(wordIssue(issue, 'unsaid')).toBe("'ten' is not a number.");
  expect(wordIssue(issue, 'nothingChanged')).toBe("'ten' is not a number. Nothing was changed.");
});

test('a long cell is cut in its sentence', () => {
  expect(wordIssue({ code: 'twoPeople', value: 'x'.repeat(400), path: {} }).length).toBeLessThan(220);
});

test('a warning lets its row in, a bad cell holds it', () => {
  expect(holdsRow({ code: 'formulaLike', value: '=1', path: {} })).toBe(false);
  expect(holdsRow({ code: 'invalidEmail', value: 'x', why: 'noAt', path: {} })).toBe(true);
});

/** What is said of a file as a whole. */
const FILE_CODES = new Set<IssueCode>([
  'emptyFile',
  'notATable',
  'fileTooLarge',
  'uploadCutOff',
  'noDataRows',
  'onlyOneColumn',
  'unclosedQuote',
  'undecodable',
  'nulBytes',
]);

/** One issue of every code; the compiler holds the list complete. */
const EVERY: { [C in IssueCode]: Omit<Extract<Issue, { code: C }>, 'code' | 'path'> } = {
  emptyFile: {},
  notATable: { kind: 'a PNG picture' },
  fileTooLarge: { bytes: 300_000_000, limitBytes: 200_000_000 },
  uploadCutOff: { receivedBytes: 10, declaredBytes: 20 },
  noDataRows: {},
  onlyOneColumn: {},
  unclosedQuote: { line: 12 },
  undecodable: { encoding: 'utf-8' },
  repeatedHeading: {},
  contactGone: { contactId: 5 },
  nulBytes: {},
  invalidEmail: { value: 'ana', why: 'noAt' },
  invalidPhone: { value: '12' },
  lossyPhone: { value: '1.6E+10' },
  invalidDate: { value: '12/05/2199', why: 'notYet' },
  ambiguousDate: { value: '01/02/2020' },
  invalidNumber: { value: 'many' },
  invalidRange: { value: 'large' },
  noPicture: {},
  unreadableCard: { why: 'it breaks off', row: 3 },
  dateWithoutYear: { value: '1 Feb' },
  invalidYesNo: { value: 'maybe' },
  unclearPermission: { value: 'maybe' },
  repeatSaysMore: { row: 2, value: '50.00' },
  leftInFolding: { row: 2, value: 'Tern Joinery' },
  invalidUrl: { value: 'here' },
  unknownChoice: { value: 'bow', choices: ['deck', 'helm'] },
  unknownStage: { value: 'Friend', stages: ['Donor'] },
  unknownCountry: { value: 'Nowhere' },
  placeholderValue: { value: 'n/a' },
  formulaLike: { value: '=1+1' },
  valueTooLong: { length: 9000, limit: 200 },
  noIdentity: {},
  notAPerson: { value: 'Total' },
  twoPeople: { value: 'Ana and Tom' },
  uncertainName: { value: 'Wei Chan Li' },
  tooManyCells: { found: 9, expected: 7 },
  tooFewCells: { found: 1, expected: 7 },
  foldedInto: { row: 1204 },
  repeatsHeldRow: { row: 1204 },
  conflictingRepeat: { row: 4, value: 'a', other: 'b' },
  sharedIdentifier: { value: 'ana@example.org', contactIds: [3] },
  severalMatches: { contactIds: [3, 4] },
  likelyMatch: { contactIds: [3] },
  uniqueClash: { value: 'ana@example.org', contactIds: [3], refused: true },
  wouldReplace: { value: 'Tern Bay', before: 'Mallowby', contactId: 3 },
  heldByHand: {},
  settledBefore: { row: 5 },
  newNotAllowed: {},
  unknownOwner: { value: 'Callum' },
  wouldAllow: { channel: 'email', on: '2026-11-30', contactId: 3 },
  outsideRemit: {},
  newOutsideRemit: {},
  wasErased: { on: '2026-05-03' },
  wasDeleted: { contactId: 7, by: 'Ines', on: '2026-05-03' },
  changeNotAllowed: { contactId: 3 },
};
const issues = Object.entries(EVERY).map(
  ([code, facts]) => ({ code, ...facts, path: { row: 1204, name: 'Born' } }) as Issue,
);

test.each(issues.map((issue) => [issue.code, issue] as const))('%s is said in whole sentences', (_code, issue) => {
  const sentence = wordIssue(issue);
  expect(sentence).toMatch(/^Row 1,204, Born: \S.*[.]$/s);
  expect(sentence).not.toMatch(/undefined|NaN|null|\[object|\s{2}|!/);
});

test.each(
  issues.filter((issue) => holdsRow(issue) && !FILE_CODES.has(issue.code)).map((issue) => [issue.code, issue] as const),
)('%s holds its row, and says so', (_code, issue) => expect(wordIssue(issue)).toMatch(/\bhe?ld\b/));

test('one cell is one cell', () =>
  expect(wordIssue({ code: 'tooFewCells', found: 1, expected: 7, path: { row: 2 } })).toBe(
    'Row 2: The row has one cell of 7; the rest counts as empty.',
  ));
