import { expect, test } from '@jest/globals';
import { conflict, declareRefusals, missing, Refusal, refuseIssue } from './refusal';

const refuse = declareRefusals({
  noSuchBoat: missing('There is no such boat.'),
  moored: conflict(({ name }: { name: string; berth: number }) => `${name} is moored.`),
});

test('a refusal is data; status and words are those of its declaration', () => {
  const refusal = refuse.moored({ name: 'Tern', berth: 4 });
  expect(refusal).toBeInstanceOf(Refusal);
  expect([refusal.code, refusal.facts]).toEqual(['moored', { name: 'Tern', berth: 4 }]);
  expect([refusal.status, refusal.words]).toEqual([409, 'Tern is moored.']);
  expect(refuse.noSuchBoat()).toMatchObject({ code: 'noSuchBoat', facts: {}, status: 404 });
});

test('what a log prints of a refusal is its code, not the values in its words', () => {
  expect(String(refuse.moored({ name: 'Tern', berth: 4 }))).toBe('Refusal: moored');
});

test('facts that are added later leave code and words as they are', () => {
  const refusal = refuse.moored({ name: 'Tern', berth: 4 }).with({ person: 1 });
  expect(refusal.facts).toEqual({ name: 'Tern', berth: 4, person: 1 });
  expect(refusal.words).toBe('Tern is moored.');
});

test('an issue of a file is refused with its own status, one of a value that was typed without the advice for rows', () => {
  const large = refuseIssue({ code: 'fileTooLarge', bytes: 3e8, limitBytes: 2e8, path: {} });
  expect([large.status, large.code]).toEqual([413, 'fileTooLarge']);
  const typed = refuseIssue({ code: 'invalidNumber', value: 'ten', path: {} }, 'nothingChanged', { field: 'x:berth' });
  expect([typed.status, typed.words]).toEqual([422, "'ten' is not a number. Nothing was changed."]);
  expect(typed.facts).toMatchObject({ field: 'x:berth', issue: { value: 'ten' } });
});
