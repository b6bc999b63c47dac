import { expect, test } from '@jest/globals';
import { holdsRow } from './issue';
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

test('a long cell is cut in its sentence', () => {
  expect(wordIssue({ code: 'twoPeople', value: 'x'.repeat(400), path: {} }).length).toBeLessThan(220);
});

test('a warning lets its row in, a bad cell holds it', () => {
  expect(holdsRow({ code: 'formulaLike', value: '=1', path: {} })).toBe(false);
  expect(holdsRow({ code: 'invalidEmail', value: 'x', why: 'noAt', path: {} })).toBe(true);
});
