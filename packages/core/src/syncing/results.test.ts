import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { faultOfActivity } from '../activity';
import {
  enquiryOfResult,
  entryOfResult,
  fateOf,
  faultOfResult,
  howOfStop,
  resultNumber,
  sayOutcome,
  type OutsideResult,
} from './index';

const call = (parts: Partial<OutsideResult> = {}): OutsideResult => ({
  id: '7',
  kind: 'call',
  recordId: null,
  number: '+44 7700 900100',
  reached: '+44 1632 960100',
  incoming: true,
  at: '2026-11-20T10:00:00.000Z',
  outcome: 'reached',
  minutes: 3,
  by: 'Ona',
  ...parts,
});
const known = { linked: null, erased: false, haveNumber: [] as number[] };

describe('a result that cannot be read', () => {
  const nowMs = Date.parse('2026-11-25T10:00:00.000Z');
  test.each([
    [{}, null],
    [{ minutes: null, outcome: '' }, null],
    [{ at: 'yesterday' }, '7 has no time that can be read: "yesterday"'],
    [{ at: '9999-01-01T00:00:00Z' }, '7 has no time that can be read: "9999-01-01T00:00:00Z"'],
    [{ minutes: Number.NaN }, '7 lasted "NaN" minutes'],
    [{ minutes: 'long' as never }, '7 lasted "long" minutes'],
    [{ kind: 'dance' as never }, '7 is of a kind that is not known'],
    [{ number: undefined as never }, 'one has a part missing'],
    [{ id: '' }, 'one has a part missing'],
  ])('is told by what is wrong with it: %j', (parts, fault) => expect(faultOfResult(call(parts), nowMs)).toBe(fault));
});

test('a stop keeps what its tool says of it', () => {
  const stop = { channel: 'email' as const, address: 'ana@quillhaven.example', at: '2026-11-20T10:00:00.000Z' };
  expect(howOfStop(stop, 'Phone bank')).toBe('Said in Phone bank');
  const told = howOfStop({ ...stop, list: 'News', how: 'link in "Regatta"' }, 'Mail room');
  expect(told).toBe('Said in Mail room, of the list News, link in "Regatta"');
});

describe('whose a result is', () => {
  test.each([
    [
      'the record that it names tells before the number',
      call({ recordId: '#1' }),
      { linked: 4, haveNumber: [5] },
      { is: 'entry', contactId: 4 },
    ],
    [
      'one whose record is nobody yet waits, whoever has the number',
      call({ recordId: '#1' }),
      { haveNumber: [5] },
      { is: 'waits' },
    ],
    ['a number that one has tells', call(), { haveNumber: [5] }, { is: 'entry', contactId: 5 }],
    ['a number that two have is asked about', call(), { haveNumber: [5, 6] }, { is: 'asks', candidates: [5, 6] }],
    ['nobody with the number asks for something', call(), {}, { is: 'enquiry' }],
    ['a withheld number is asked about', call({ number: '' }), {}, { is: 'asks', candidates: [] }],
    ['whom we called and do not know is asked about', call({ incoming: false }), {}, { is: 'asks', candidates: [] }],
    ['one of somebody erased is let go', call({ recordId: '#1' }), { linked: 4, erased: true }, { is: 'letGo' }],
  ])('%s', (_, result, parts, fate) => expect(fateOf(result, { ...known, ...parts })).toEqual(fate));
});

describe('a result as an entry', () => {
  const told = { connectionId: 2, who: null, source: 'Boat fair' };
  test('an enquiry is open and says where it comes from; a call is not', () => {
    expect(enquiryOfResult(call(), told)).toMatchObject({
      kind: 'enquiry',
      isOpen: true,
      from: 'Boat fair',
      what: 'Called from +44 7700 900100',
      text: 'Taken by Ona. Called +44 1632 960100. Outcome: reached.',
    });
    expect(enquiryOfResult(call(), { ...told, source: '' }).from).toBe('Call to +44 1632 960100');
    expect(entryOfResult(call({ incoming: false, reached: '' }), { ...told, who: 3 })).toMatchObject({
      kind: 'call',
      isOpen: false,
      who: 3,
      text: '',
      what: 'Was called',
    });
  });
  test('outcomes are said as people write them', () =>
    expect(['noAnswer', 'callBack', 'reached', 'leftWord'].map(sayOutcome)).toEqual([
      'no answer',
      'call back',
      'reached',
      'left word',
    ]));
  test('law: whatever a tool says makes an entry that can be kept, under a number that no other tool has', () => {
    fc.assert(
      fc.property(
        fc.record({
          outcome: fc.string(),
          by: fc.string(),
          reached: fc.string(),
          number: fc.string({ maxLength: 40 }),
          incoming: fc.boolean(),
          minutes: fc.option(fc.integer({ min: 0, max: 600 })),
        }),
        fc.boolean(),
        (parts, isKnown) => {
          const result = call(parts);
          for (const made of [
            entryOfResult(result, told),
            enquiryOfResult(result, { ...told, who: isKnown ? 1 : null }),
          ])
            expect([faultOfActivity(made), made.outsideId]).toEqual([null, resultNumber(2, '7')]);
        },
      ),
    );
    expect(resultNumber(1, '17')).not.toBe(resultNumber(11, '7'));
  });
});
