import { expect, test } from '@jest/globals';
import { awaitedLater } from './awaited-later';

test('a failure is told to whoever awaits it, and to nobody before', async () => {
  const unawaited: unknown[] = [];
  const note = (error: unknown) => unawaited.push(error);
  process.on('unhandledRejection', note);
  try {
    const later = awaitedLater(Promise.reject(new Error('no disk')));
    await new Promise((done) => setTimeout(done, 20));
    await expect(later).rejects.toThrow('no disk');
    expect(unawaited).toEqual([]);
    expect(await awaitedLater(Promise.resolve(4))).toBe(4);
  } finally {
    process.off('unhandledRejection', note);
  }
});
