import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { permissionState, strictest, type Evidence } from './permission';

const said = (state: Evidence['state'], statedAtMs: number): Evidence => ({ channel: 'email', state, statedAtMs });

describe('permissions', () => {
  test('nothing said is unknown', () => expect(permissionState([], 'email')).toBe('unknown'));
  test('one channel says nothing of another', () =>
    expect(permissionState([said('optedOut', 1)], 'call')).toBe('unknown'));
  test('the newest word counts, whatever order it is read in', () => {
    expect(permissionState([said('allowed', 2), said('optedOut', 1)], 'email')).toBe('allowed');
    expect(permissionState([said('optedOut', 1), said('allowed', 2)], 'email')).toBe('allowed');
  });
  test('of two words of one moment the stricter counts', () =>
    fc.assert(
      fc.property(
        fc.integer(),
        (at) => permissionState([said('optedOut', at), said('allowed', at)], 'email') === 'optedOut',
      ),
    ));
  test('a stop of the person or of the address is a stop', () => {
    expect(strictest('allowed', 'optedOut')).toBe('optedOut');
    expect(strictest('unknown', 'allowed')).toBe('allowed');
    expect(strictest('unknown')).toBe('unknown');
  });
});
