import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { CopyLines, copyArray, copyCell, copyCells, copyJson, orderOf } from './copy';

/** What PostgreSQL makes of a cell of COPY's text format. */
const readBack = (cell: string): string | null =>
  cell === '\\N' ? null : cell.replace(/\\(.)/g, (_, c: string) => ({ n: '\n', r: '\r', t: '\t' })[c] ?? c);

const text = fc.string({ unit: fc.constantFrom('a', '\\', '\n', '\r', '\t', 'N', '"', 'é', '船') });

describe('orderOf', () => {
  it('puts numbers in order, the earlier of equal ones first', () => {
    const number = fc.oneof(fc.maxSafeNat(), fc.nat(3), fc.constant(Number.MAX_SAFE_INTEGER));
    fc.assert(
      fc.property(fc.array(number, { maxLength: 400 }), (numbers) => {
        const sorted = numbers.map((_, i) => i).sort((a, b) => (numbers[a] ?? 0) - (numbers[b] ?? 0) || a - b);
        expect([...orderOf(Float64Array.from(numbers))]).toEqual(sorted);
      }),
    );
  });
});

describe('cells of COPY', () => {
  it('read back as they were', () => {
    fc.assert(
      fc.property(text, (value) => {
        expect(copyCell(value)).not.toMatch(/[\n\r\t]/);
        expect(readBack(copyCell(value))).toBe(value);
        expect(readBack(copyJson(JSON.stringify(value)))).toBe(JSON.stringify(value));
      }),
    );
    expect([copyCell(null), copyCell(undefined), copyCell(0)]).toEqual(['\\N', '\\N', '0']);
  });

  it('stand side by side as they do alone', () => {
    fc.assert(
      fc.property(fc.array(text, { minLength: 1, maxLength: 5 }), (values) => {
        expect(copyCells(values)).toBe(values.map(copyCell).join('\t'));
      }),
    );
  });

  it('hold arrays', () => {
    expect(copyArray([])).toBe('{}');
    expect(copyArray(['a,b', 'say "x"', 'back\\slash'])).toBe('{"a,b","say \\"x\\"","back\\\\slash"}');
  });
});

describe('CopyLines', () => {
  it('keeps lines of any length, whatever room it began with', () => {
    fc.assert(
      fc.property(fc.array(text.map(copyCell), { maxLength: 20 }), fc.integer({ min: 1, max: 40 }), (lines, room) => {
        const into = new CopyLines(room);
        for (const line of lines) into.add(line);
        expect(Buffer.from(into.taken()).toString()).toBe(lines.map((line) => `${line}\n`).join(''));
      }),
    );
  });
});
