import { describe, expect, test } from '@jest/globals';
import { LABEL_SHEETS, layOut, PAGES } from './label-sheets';

describe('pages of labels', () => {
  test.each(LABEL_SHEETS.map((sheet) => [sheet.key, sheet] as const))(
    '%s fits its page and no label overlaps',
    (_, s) => {
      const page = PAGES[s.page];
      expect(s.left + (s.across - 1) * s.stepX + s.width).toBeLessThanOrEqual(page.width + 0.01);
      expect(s.top + (s.down - 1) * s.stepY + s.height).toBeLessThanOrEqual(page.height + 0.01);
      expect(s.stepX).toBeGreaterThanOrEqual(s.width);
      expect(s.stepY).toBeGreaterThanOrEqual(s.height);
      // What is left over stands evenly on both sides.
      expect(Math.abs(s.left - (page.width - s.left - (s.across - 1) * s.stepX - s.width))).toBeLessThan(0.2);
    },
  );
  test('a page that was begun is used up, and nobody is lost', () => {
    const sheet = LABEL_SHEETS[0];
    if (!sheet) throw new Error('no page');
    const people = Array.from({ length: 40 }, (_, i) => i);
    const pages = layOut(people, sheet, 5);
    expect(pages.map((page) => page.length)).toEqual([21, 21, 3]);
    expect(pages.flat().filter((one) => one !== null)).toEqual(people);
    expect(pages[0]?.slice(0, 6)).toEqual([null, null, null, null, null, 0]);
  });
});
