import { describe, expect, test } from '@jest/globals';
import { Pacer } from './pacer';

/** A pacer whose clock is moved by hand; gives when a turn came, without waiting for it. */
function paced() {
  let now = 0;
  const pacer = new Pacer(
    () => now,
    () => new Promise(() => undefined),
  );
  const isFree = async () => {
    let came = false;
    const turn = pacer.turn().then(() => (came = true));
    await Promise.resolve();
    await Promise.resolve();
    void turn;
    return came;
  };
  return { pacer, isFree, at: (ms: number) => (now = ms) };
}

describe('the pace of requests', () => {
  test('nothing waits before anything was refused', async () => {
    const { isFree } = paced();
    for (let i = 0; i < 50; i++) expect(await isFree()).toBe(true);
  });

  test('after a refusal nothing goes before the time that was said', async () => {
    const { pacer, isFree, at } = paced();
    at(1000);
    pacer.took();
    pacer.refused(500);
    at(1499);
    expect(await isFree()).toBe(false);
    const other = paced();
    other.at(1000);
    other.pacer.took();
    other.pacer.refused(500);
    other.at(1500);
    expect(await other.isFree()).toBe(true);
  });

  test('then requests keep to what went through in the second before', async () => {
    const { pacer, isFree, at } = paced();
    at(1000);
    for (let i = 0; i < 10; i++) pacer.took();
    pacer.refused(0);
    at(2000);
    let free = 0;
    for (let i = 0; i < 20 && (await isFree()); i++) free++;
    expect(free).toBeLessThanOrEqual(3);
  });
});
