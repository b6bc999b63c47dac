import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { componentsOf } from './components';

/** The same by walking from each number as far as links go. */
function walked(links: readonly (readonly number[])[]): number[][] {
  const left = new Set(links.flat());
  const parts: number[][] = [];
  for (const start of [...left].sort((a, b) => a - b)) {
    if (!left.delete(start)) continue;
    const part = [start];
    for (const at of part)
      for (const link of links) if (link.includes(at)) for (const next of link) if (left.delete(next)) part.push(next);
    parts.push(part.sort((a, b) => a - b));
  }
  return parts;
}

test('parts are what walking along the links reaches', () => {
  fc.assert(
    fc.property(fc.array(fc.array(fc.nat(30), { minLength: 1, maxLength: 4 }), { maxLength: 25 }), (links) => {
      expect(componentsOf(links)).toEqual(walked(links));
    }),
    { numRuns: 300 },
  );
});

test('a chain of a hundred thousand is one part', () => {
  const chain = Array.from({ length: 100_000 }, (_, i) => [i, i + 1]);
  expect(componentsOf(chain)).toHaveLength(1);
  expect(componentsOf([])).toEqual([]);
});
