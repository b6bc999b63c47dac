import { describe, expect, test } from '@jest/globals';
import type { FieldType } from '../fields';
import type { AddressValue, ValueContent } from '../model';
import { addressesAgree, contentKey } from './content-key';

const key = (type: FieldType, v: ValueContent, norm?: string) =>
  contentKey(type, norm === undefined ? { v } : { v, norm });

describe('two writings of one value say the same', () => {
  test.each<[FieldType, ValueContent, ValueContent]>([
    ['email', 'Ana.Reis@Example.org', 'ana.reis@example.org'],
    ['tel', '(01632) 960 111', '01632960111'],
    ['tag', 'Boat-Fair', 'boat fair'],
    ['source', 'OPEN YARD', 'Open-yard'],
    ['choice', 'North', 'north'],
    ['text', '  M-1 ', 'M-1'],
    ['choices', ['north', 'South'], ['south', 'North']],
    ['money', { amount: 250, currency: 'GBP' }, { currency: 'GBP', amount: 250 }],
    ['range', { from: 12, to: null }, { to: null, from: 12 }],
    ['relation', { relation: 'Spouse', to: 3 }, { relation: 'spouse', to: 3, fee: '5%' }],
    [
      'relation',
      { relation: 'mentor', to: null, name: 'Tom Okoro' },
      { relation: 'mentor', to: null, name: 'TOM  okoro' },
    ],
    [
      'address',
      { street: '14 Slip Lane', locality: 'Quillhaven', postalCode: 'ex4 4rn', country: 'GB' },
      { street: '14 Slip Ln.', locality: 'QUILLHAVEN', postalCode: 'EX44RN', country: 'GB' },
    ],
  ])('%s: %j and %j', (type, a, b) => expect(key(type, a)).toBe(key(type, b)));
});

describe('and two values do not', () => {
  test.each<[FieldType, ValueContent, ValueContent]>([
    ['email', 'ana@example.org', 'ana@example.net'],
    ['text', 'M-1', 'm-1'],
    ['money', { amount: 250, currency: 'GBP' }, { amount: 250, currency: 'EUR' }],
    ['range', { from: 12, to: null }, { from: null, to: 12 }],
    ['relation', { relation: 'spouse', to: 3 }, { relation: 'spouse', to: 4 }],
    ['relation', { relation: 'spouse', to: 3 }, { relation: 'parent', to: 3 }],
    ['choices', ['north'], ['north', 'south']],
    ['address', { street: '14 Slip Lane' }, { street: '15 Slip Lane' }],
  ])('%s: %j and %j', (type, a, b) => expect(key(type, a)).not.toBe(key(type, b)));
  test('the normal form is what counts where there is one', () => {
    expect(key('tel', '01632 960111', '+441632960111')).toBe(key('tel', '+44 1632 960111', '+441632960111'));
    expect(key('tel', '01632 960111', '+441632960111')).not.toBe(key('tel', '01632 960111', '+351632960111'));
  });
});

describe('addresses agree when the one can only complete the other', () => {
  const whole: AddressValue = { street: '14 Slip Lane', locality: 'Quillhaven', postalCode: 'EX4 4RN', country: 'GB' };
  test.each<[AddressValue, boolean]>([
    [{ locality: 'Quillhaven' }, true],
    [{ street: '14 slip ln', postalCode: 'EX4 4RN' }, true],
    [{}, true],
    [{ locality: 'Quillhaven', postalCode: 'EX4 4RM' }, false],
    [{ street: '15 Slip Lane' }, false],
    [{ locality: 'Quillhaven', country: 'US' }, false],
  ])('%j: %s', (part, agree) => {
    expect(addressesAgree(whole, part)).toBe(agree);
    expect(addressesAgree(part, whole)).toBe(agree);
  });
});
