import { expect, test } from '@jest/globals';
import { loggedError } from './log';

test('an error is logged by what it is and where it arose, not by a sentence that may hold values', () => {
  const cause = Object.assign(new Error('invalid input syntax for type bigint: "ana@quillhaven.example"'), {
    code: '22P02',
    routine: 'scanint8',
    detail: 'Key (email)=(ana@quillhaven.example) exists.',
    where: 'COPY contact, line 3: "Ana"',
    parameters: ['ana@quillhaven.example'],
  });
  const logged = loggedError(new Error('Failed query: insert ... params: ana@quillhaven.example', { cause }));
  expect(JSON.stringify(logged)).not.toMatch(/ana@|Ana"/i);
  expect(logged).toMatchObject({ type: 'Error', cause: { code: '22P02', routine: 'scanint8' } });
  expect(logged.stack[0]).toContain('log.test.ts');
});

test('what is thrown and is no error, and causes without end, are logged as well', () => {
  expect(loggedError('ana@quillhaven.example')).toEqual({ type: 'string', stack: [] });
  const round = new Error('a');
  round.cause = round;
  expect(JSON.stringify(loggedError(round)).length).toBeGreaterThan(0);
});
