import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min';
import { emailKey, isRoleMailbox, mailboxesIn, meantEmail, nameBeside, parseEmail } from './email';
import { formatPhone, parsePhone, phoneKey, phonesIn } from '../phones/phone';

describe('a mailbox with something beside it', () => {
  test.each([
    ['Ana Reis (ana@example.org)', 'ana@example.org'],
    ['Ana Reis [ana@example.org]', 'ana@example.org'],
    ['ana@example.org (home)', 'ana@example.org'],
    ['e-mail: ana@example.org', 'ana@example.org'],
    ['"Reis, Ana" <ana@example.org>', 'ana@example.org'],
    ['mailto:ana@example.org?subject=Boats', 'ana@example.org'],
    ['ana@example.org/', 'ana@example.org'],
    ['ana@example.org.', 'ana@example.org'],
    ['ana\u200b@example.org', 'ana@example.org'],
    ['ａｎａ@example.org', 'ana@example.org'],
    ['ana@MÜNCHEN.example', 'ana@münchen.example'],
    ["o'hare+boats@example.org", "o'hare+boats@example.org"],
  ])('%j is %s', (text, norm) => {
    const parsed = parseEmail(text);
    expect(parsed.ok && parsed.value.norm).toBe(norm);
  });

  test.each([
    ['zoe trelawny@example.org', 'blankInside'],
    ['ana@example.o rg', 'blankInside'],
    ['Ana (ana@example)', 'noDomainEnding'],
    ['ana@192.168.0.1', 'noDomainEnding'],
    ['ana@exam_ple.org', 'malformed'],
    ['ana@-example.org', 'malformed'],
    ['@example.org', 'malformed'],
    ['ana@', 'malformed'],
    [`${'a'.repeat(250)}@example.org`, 'malformed'],
    ['call me', 'noAt'],
    ['', 'noAt'],
  ])('%j is refused: %s', (text, why) => expect(parseEmail(text)).toEqual({ ok: false, error: why }));

  test.each([
    ['ana@example.org; tom@example.org', ['ana@example.org', 'tom@example.org']],
    ['ana@example.org or tom@example.org', ['ana@example.org', 'tom@example.org']],
    ['ana@example.org tom@example.org', ['ana@example.org', 'tom@example.org']],
    ['ana@example.org / tom@example.org', ['ana@example.org', 'tom@example.org']],
    ['Ana Reis <ana@example.org>', ['Ana Reis <ana@example.org>']],
  ])('%j holds %j', (text, parts) => expect(mailboxesIn(text)).toEqual(parts));

  test.each([
    [
      'Reis, Ana <ana@example.org>; "Okoro; Tom" <tom@example.org>',
      ['Reis, Ana <ana@example.org>', '"Okoro; Tom" <tom@example.org>'],
    ],
    ['Ana and Tom <both@example.org>', ['Ana and Tom <both@example.org>']],
    ['Ana <ana@example.org> and Tom <tom@example.org>', ['Ana <ana@example.org>', 'Tom <tom@example.org>']],
    ['ana@example.org, see note', ['ana@example.org', 'see note']],
    // A comma where a full stop was meant: half of it would be another mailbox.
    ['ana,reis@example.org', ['ana,reis@example.org']],
    ['ana@example,org', ['ana@example,org']],
    ['none,ana@example.org', ['none', 'ana@example.org']],
    ['ana@example.org,tom@example.org', ['ana@example.org', 'tom@example.org']],
  ])('%j holds the mailboxes %j', (text, parts) => expect(mailboxesIn(text)).toEqual(parts));

  test.each([
    ['ana (at) example.org', 'ana@example.org'],
    ['ana[at]example[dot]org', 'ana@example.org'],
    ['ANA at example dot org', 'ANA@example.org'],
    ['ana.reis @ example.org', 'ana.reis@example.org'],
    ['ana,reis@example.org', 'ana.reis@example.org'],
    ['ana@example,org', 'ana@example.org'],
    ['ana@example..org', 'ana@example.org'],
    ['ana@example', null],
    ['ana example.org', null],
    ['meet at noon', null],
    ['', null],
  ])('%j means %j', (text, meant) => expect(meantEmail(text)?.norm ?? null).toBe(meant));

  test.each([
    ['Ana Reis <ana@example.org>', 'Ana Reis'],
    ['"Reis, Ana" <ana@example.org>', 'Reis, Ana'],
    ["'Ana' <ana@example.org>", 'Ana'],
    ['Ana Reis (ana@example.org)', 'Ana Reis'],
    ['<ana@example.org>', null],
    ['ana@example.org', null],
    ['ana@example.org (home)', null],
    ['"ana@example.org" <ana@example.org>', null],
    ['-- <ana@example.org>', null],
  ])('beside the mailbox in %j stands %j', (text, name) => expect(nameBeside(text)).toBe(name));

  const local = fc.stringMatching(/^[a-z][a-z0-9_+-]{0,12}$/);
  test('the key does not depend on capitals and tag, and is a mailbox of its own', () =>
    fc.assert(
      fc.property(local, fc.stringMatching(/^[a-z]{0,6}$/), (name, tag) => {
        const plain = name.split('+')[0] ?? '';
        const written = `${plain.toUpperCase()}${tag ? `+${tag}` : ''}@Example.ORG`;
        const parsed = parseEmail(written);
        expect(parsed.ok && parsed.value.key).toBe(`${plain}@example.org`);
        expect(emailKey(`${plain}@example.org`)).toBe(`${plain}@example.org`);
      }),
    ));
  test.each([
    ['info', true],
    ['Info2', true],
    ['office.1', true],
    ['infoana', false],
    ['ana', false],
  ])('%s is of an office: %s', (name, role) => expect(isRoleMailbox(name)).toBe(role));
});

describe('phones', () => {
  test.each([
    ['030 / 123456', ['030 / 123456']],
    ['+49 (0) 30 / 12 34 56', ['+49 (0) 30 / 12 34 56']],
    ['08151/774411', ['08151/774411']],
    ['0039 348/2040430', ['0039 348/2040430']],
    ['+49 151/5123456', ['+49 151/5123456']],
    ['+49 (151) 5123456/+49 30 123456', ['+49 (151) 5123456', '+49 30 123456']],
    ['033203/123456', ['033203/123456']],
    ['01632 960301 / 07700 900123', ['01632 960301', '07700 900123']],
    ['01632 960301, 07700 900123', ['01632 960301', '07700 900123']],
    ['01632 960301 or 07700 900123', ['01632 960301', '07700 900123']],
    ['01632 960301/2', ['01632 960301/2']],
    ['01632 960301; n/a', ['01632 960301', 'n/a']],
    ['n/a', ['n/a']],
    ['01632 960301', ['01632 960301']],
  ])('%j holds %j', (text, parts) => expect(phonesIn(text).map((part) => part.trim())).toEqual(parts));

  test.each([
    ['07700900123.0', 'GB', '+447700900123'],
    ['+44 (0)20 7946 0958', 'GB', '+442079460958'],
    ['447700900123', 'GB', '+447700900123'],
    ['٠٧٧٠٠٩٠٠١٢٣', 'GB', '+447700900123'],
    ['tel:+44-1632-960301;ext=12', 'US', '+441632960301;ext=12'],
    ['8 (495) 555-01-01', 'RU', '+74955550101'],
    ['+49 (0) 30 / 12 34 56', 'DE', '+4930123456'],
    ['07700 900123 - mum', 'GB', '+447700900123'],
    ['m: 07700 900123', 'GB', '+447700900123'],
  ])('%j in %s is %s', (text, country, norm) => expect(parsePhone(text, country)).toMatchObject({ norm, valid: true }));

  test.each(['', '+', 'ex-directory', '07700 9OO123', '—'])('%j is none', (text) =>
    expect(parsePhone(text, 'GB')).toEqual({ norm: null, valid: false, extension: null }),
  );

  test('a number is the same however it is written, and its extension stays beside it', () => {
    const countries = ['GB', 'US', 'DE', 'FR', 'PT', 'NL', 'IT', 'PL', 'AU', 'BR', 'IN', 'JP', 'NO'] as const;
    let tried = 0;
    fc.assert(
      fc.property(
        fc.constantFrom<CountryCode>(...countries),
        fc.stringMatching(/^[1-9]\d{8,9}$/),
        fc.option(fc.integer({ min: 1, max: 9999 }), { nil: null }),
        (country, digits, extension) => {
          const known = parsePhoneNumberFromString(digits, country);
          // A few national numbers begin like a call abroad, and the library does not read its own writing of them.
          const again = known && parsePhoneNumberFromString(known.formatNational(), country);
          if (!known?.isValid() || again?.number !== known.number) return;
          tried++;
          const norm = extension ? `${known.number};ext=${extension}` : known.number;
          const behind = extension ? ` ext. ${extension}` : '';
          for (const text of [
            known.number,
            known.formatInternational(),
            known.formatNational(),
            formatPhone(known.number),
          ])
            expect([text, parsePhone(`${text}${behind}`, country).norm]).toEqual([text, norm]);
          expect(parsePhone(formatPhone(norm), 'GB').norm).toBe(norm);
          expect(phoneKey(norm)).toBe(known.number);
        },
      ),
      { numRuns: 400 },
    );
    expect(tried).toBeGreaterThan(100);
  });
});
