import { expect, test } from '@jest/globals';
import { inThread, outcomeOf } from './threads';
import { isPassing } from './retry';

/** What a thread gives, as it comes over. */
const over = async (work: () => Promise<unknown>) => structuredClone(await inThread(work)(undefined));

test('what a thread gives and what goes wrong in it come over, codes of causes included', async () => {
  expect(await outcomeOf(over(() => Promise.resolve({ rows: 3 })))).toEqual({ rows: 3 });
  const lost = Object.assign(new Error('a query failed'), { cause: { code: '40P01' } });
  const failure = await outcomeOf(over(() => Promise.reject(lost))).catch((error: unknown) => error);
  expect(failure).toMatchObject({ message: 'a query failed', code: '40P01' });
  expect(failure).toBeInstanceOf(Error);
  expect(isPassing(failure)).toBe(true);
  const lasting = Object.assign(new Error('no'), { code: 'ECONNRESET', retryable: false });
  expect(isPassing(await outcomeOf(over(() => Promise.reject(lasting))).catch((error: unknown) => error))).toBe(false);
});
