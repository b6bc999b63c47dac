import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { messageRow } from './enquiry';
import { readStacked } from './stacked-fields';

const MAIL = `You have a new message!

Full name
Maya Okafor

Your e-mail
maya@tidemouth.example

Phone number
07700 900123

Which boat?
Dinghy

What would you like to ask?
Hello,
is there a course in May?

Thanks
Maya
`;
const fieldsOf = (text: string) => readStacked(text)?.fields.map(({ label, text: said }) => [label, said]);

test('labels on lines of their own have their text below; what nobody asks for goes on with the last', () => {
  const fields = [
    ['Full name', 'Maya Okafor'],
    ['Your e-mail', 'maya@tidemouth.example'],
    ['Phone number', '07700 900123'],
    ['Which boat?', 'Dinghy'],
    ['What would you like to ask?', 'Hello,\nis there a course in May?\n\nThanks\nMaya'],
  ];
  expect(fieldsOf(MAIL)).toEqual(fields);
  expect(fieldsOf(`${MAIL.replaceAll('\n', '\r\n')}\r\n-- \r\nSent by the form\r\n`)).toEqual(fields);
  expect(readStacked(MAIL)?.rest).toBe('You have a new message!');
});

test('the row of such a message has all of it', () => {
  const parts = { from: null, replyTo: null, subject: 'New', sentAt: null, text: MAIL, html: '' };
  expect(messageRow(parts).map(({ label }) => label)).toEqual([
    ...['Full name', 'Your e-mail', 'Phone number', 'Which boat?', 'What would you like to ask?'],
  ]);
});

test.each<[string, string]>([
  ['a letter', 'Dear Ines,\nis there room?\n\nYours\nMaya\n07700 900123\n'],
  ['labelled lines', 'Name: Maya Okafor\nE-mail: maya@tidemouth.example\n\nPhone: 07700 900123\n'],
  ['labels without what they ask for', 'Name\nMaya Okafor\n\nE-mail\nas you know\n'],
  ['one label', 'E-mail\nmaya@tidemouth.example\n'],
])('%s is none', (_, text) => expect(readStacked(text)).toBeNull());

test('any text is read or is none, and each field has a label and a text', () => {
  const line = fc.constantFrom(
    'Name',
    'Your e-mail',
    'm@mill.example',
    'Maya',
    'Which boat?',
    '',
    '07700 900123',
    '-- ',
    ' ',
  );
  fc.assert(
    fc.property(fc.array(line, { maxLength: 14 }), (lines) => {
      for (const { label, text } of readStacked(lines.join('\n'))?.fields ?? []) {
        expect(label.trim()).not.toBe('');
        expect(text.trim()).not.toBe('');
      }
    }),
  );
});
