import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FILE_LIMIT_BYTES, faultOfFile, nameOfFile, sayFileFault, shownAs, typeInWords } from './index';

describe('a file on a contact', () => {
  test.each([
    ['C:\\scans\\deed.pdf', 'deed.pdf'],
    ['../../etc/passwd', 'passwd'],
    ['pho\u202Etog.exe\u0000', 'photog.exe'],
    ['  mooring   plan .png ', 'mooring plan .png'],
    ['folder/', ''],
  ])('%j is named %j', (given, name) => expect(nameOfFile(given)).toBe(name));
  test('whatever the name, what is left has no folder, no control mark, and can be cleaned again without a change', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (given) => {
        const name = nameOfFile(given);
        expect(name.length).toBeLessThanOrEqual(200);
        expect(/[\\/\p{Cc}\p{Cf}]/u.test(name)).toBe(false);
        expect(nameOfFile(name)).toBe(name);
      }),
    ));
  test('a long name keeps its end', () => {
    expect(nameOfFile(`${'plan '.repeat(80)}.pdf`)).toMatch(/….pdf$/);
  });
  test.each([
    ['photo.png', 'application/x-msdownload', 10, 'is a program for Windows'],
    ['letter.txt', 'text/x-script', 10, 'is a script'],
    ['invoice.pdf.exe', 'application/octet-stream', 10, 'is a program by its name'],
    ['empty.pdf', 'application/octet-stream', 0, 'is empty'],
    ['film.mp4', 'video/mp4', FILE_LIMIT_BYTES + 1, 'larger than 25 MB'],
    ['..', 'text/plain', 10, 'has no name'],
  ])('%s (%s) is refused', (name, mediaType, bytes, words) => {
    const fault = faultOfFile({ name, mediaType, bytes });
    expect(fault && sayFileFault(fault)).toMatch(words);
  });
  test('what is kept is called by its content, and only pictures and PDF are shown', () => {
    expect(faultOfFile({ name: 'deed.pdf', mediaType: 'application/pdf', bytes: FILE_LIMIT_BYTES })).toBeNull();
    expect(['image/png', 'application/pdf', 'text/html', 'image/svg+xml'].map(shownAs)).toEqual([
      'picture',
      'pdf',
      null,
      null,
    ]);
    expect(['video/mp4', 'application/x-something', 'text/html'].map(typeInWords)).toEqual([
      'film (mp4)',
      'file',
      'web page',
    ]);
  });
});
