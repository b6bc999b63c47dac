import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { LABEL_MARK, looksLikeMessage, messageRow, messageTable, readEnquiry, type MessageParts } from './enquiry';

const parts = (text: string, more: Partial<MessageParts> = {}): MessageParts => ({
  from: { name: 'Web form', address: 'forms@example.org' },
  replyTo: null,
  subject: 'New enquiry',
  sentAt: '2026-03-01T10:00:00Z',
  text,
  html: '',
  ...more,
});

describe('an enquiry in a message', () => {
  test('labelled lines are fields, the message runs on with its colons, the signature is no part of it', () => {
    const found = readEnquiry(
      'You have a new enquiry.\n\nName: Ana Reis\nE-mail: ana@example.org\nCompany: -\nMessage: Hello,\nis there ' +
        'room?\nName of the boat: Gull\n\n-- \nSent from the form at http://example.org\n',
    );
    expect(found?.fields).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'E-mail', text: 'ana@example.org' },
      { label: 'Company', text: '' },
      { label: 'Message', text: 'Hello,\nis there room?\nName of the boat: Gull' },
    ]);
    expect(found?.rest).toBe('You have a new enquiry.');
  });
  test('a line without a label goes on with the field above, a footer with nobody', () =>
    expect(readEnquiry('Name: Ana Reis\nTown: Vila do\nConde\nDo not reply to this mail.\n')?.fields).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'Town', text: 'Vila do\nConde' },
    ]));
  test('other marks than colons, and labels alone on their line, where they are known', () => {
    expect(readEnquiry('Name - Ana Reis\nE-mail = ana@example.org\nTown\tFalmouth\n')?.fields).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'E-mail', text: 'ana@example.org' },
      { label: 'Town', text: 'Falmouth' },
    ]);
    expect(readEnquiry('Name: Ana Reis\nEmail: ana@example.org\n\nComments\nPlease call.\nThanks\n')?.fields).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'Email', text: 'ana@example.org' },
      { label: 'Comments', text: 'Please call.\nThanks' },
    ]);
  });
  test('fields that a form has below its message are fields, and no part of what was said', () => {
    const fields = (text: string) => readEnquiry(text)?.fields.map(({ label, text: said }) => `${label}: ${said}`);
    const head = 'Name: Ana Reis\nE-mail: ana@example.org\n';
    expect(fields(`${head}Message: May I visit: on Monday?\nCourse: Rigging\nNewsletter: yes\n`)?.slice(2)).toEqual([
      'Message: May I visit: on Monday?',
      'Course: Rigging',
      'Newsletter: yes',
    ]);
    expect(fields(`${head}Message: Hello,\nis there room?\nPhone: 01632 960301\n`)?.at(-1)).toBe('Phone: 01632 960301');
    // One line that nobody knows, below several; a bullet where labels have none; an afterword; prose behind it.
    for (const last of ['Boat: Gull', '- Phone: none', 'PS: bring oars', 'Course: Rigging\nor any other'])
      expect(fields(`${head}Message: Hello,\nis there room?\n${last}\n`)).toHaveLength(3);
    expect(fields('Name:\nAna Reis\n\nMessage:\nMay I visit?\nThanks\n\nCourse:\nRigging\n')).toEqual([
      'Name: Ana Reis',
      'Message: May I visit?\nThanks',
      'Course: Rigging',
    ]);
  });
  test('labels in stars, behind other marks, and asked as questions', () => {
    expect(readEnquiry('*Name:* Ana Reis\n*E-mail:* ana@example.org\n')?.fields).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'E-mail', text: 'ana@example.org' },
    ]);
    expect(
      readEnquiry(
        'Your name = Ana Reis\nYour e-mail = ana@example.org\nMessage = Why? Because: x\nCourse = Knots\n',
      )?.fields.map(({ label }) => label),
    ).toEqual(['Your name', 'Your e-mail', 'Message', 'Course']);
    expect(
      readEnquiry('Name - Ana Reis\nPhone - 01632 960301\nYour message - May I: on Monday?\n')?.fields.at(-1),
    ).toEqual({
      label: 'Your message',
      text: 'May I: on Monday?',
    });
  });
  test('lines of any length are read without trying for ever', () => {
    for (const piece of [' ', '*', 'a ', 'a - ', '\t', ': '])
      expect(readEnquiry(`Name: Ana\nTown: Truro\n${piece.repeat(1e5)}x\n`)?.fields.length).toBeGreaterThan(1);
  });
  test('labels that a table gives end a message, and are believed before the plain text', () => {
    const line = (label: string, text: string) => `${LABEL_MARK}${label}${LABEL_MARK}: ${text}`;
    const html = [line('Name', 'Ana Reis'), line('Message', 'Hello,'), 'is there room?', line('Boat', 'Gull')].join(
      '\n',
    );
    const row = messageRow(parts('Name: Ana\nPhone: 1\n', { html }));
    expect(row.slice(0, 3)).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'Message', text: 'Hello,\nis there room?' },
      { label: 'Boat', text: 'Gull' },
    ]);
    const letter = messageRow(parts('', { html: line('Important', 'come early') }));
    expect(letter.find(({ label }) => label === 'Message')?.text).toBe('Important: come early');
  });
  test('what a mail program writes above a message that it passes on is no part of the enquiry', () => {
    const passedOn =
      'Please add her.\n\n--- Forwarded ---\nFrom: form <form@example.org>\nDate: Monday\nSubject: enquiry\nTo: office\n\n';
    expect(readEnquiry(`${passedOn}> First name: Dee\n> Email: dee@example.org\n`)?.fields).toEqual([
      { label: 'First name', text: 'Dee' },
      { label: 'Email', text: 'dee@example.org' },
    ]);
    const letter = messageRow(parts(passedOn.replace('form <form@', 'Dee Ash <dee@') + 'May I visit?\n'));
    expect(letter.slice(0, 2)).toEqual([
      { label: 'Name', text: 'Dee Ash' },
      { label: 'E-mail', text: 'dee@example.org' },
    ]);
  });
  test('the mailbox to answer has the name of the sender where it is his', () => {
    const named = (address: string) =>
      messageRow(
        parts('May I visit?', { from: { name: 'Eva Wolf', address: 'e@example.org' }, replyTo: { name: '', address } }),
      )[0];
    expect(named('eva@home.example')?.text).toBe('Eva Wolf');
    expect(named('dee@home.example')?.text).toBe('');
  });
  test.each([
    ['prose', 'Dear all,\nthe boat is ready.\nRegards\n'],
    ['one label alone', 'Hello\nPS: bring oars\nAna\n'],
    ['nothing', ''],
  ])('%s is none', (_name, text) => expect(readEnquiry(text)).toBeNull());
  test('any text is read or is none, and no label is empty', () => {
    const line = fc.string({
      unit: fc.constantFrom('N', 'a', ':', ' ', '-', '\n', '\r', '@', 'é', '>'),
      maxLength: 120,
    });
    fc.assert(
      fc.property(line, (text) => {
        for (const { label } of readEnquiry(text)?.fields ?? []) expect(label.trim()).not.toBe('');
      }),
    );
  });
});

describe('the row a message becomes', () => {
  test('of an enquiry: its fields, whoever sent it; the one to answer fills a missing mailbox', () => {
    const row = messageRow(
      parts('Name: Ana Reis\nPhone: 01632 960011\n', { replyTo: { name: 'Ana', address: 'ana@example.org' } }),
    );
    expect(row).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'Phone', text: '01632 960011' },
      { label: 'E-mail', text: 'ana@example.org' },
      { label: 'Received', text: '2026-03-01T10:00:00Z' },
    ]);
  });
  test('HTML is looked into where the plain text says nothing', () => {
    const [first] = messageRow(
      parts('Your program shows no HTML.', { html: 'Name: Ana Reis\nEmail: ana@example.org' }),
    );
    expect(first).toEqual({ label: 'Name', text: 'Ana Reis' });
  });
  test('of a letter: its sender and what it says, without the signature', () =>
    expect(
      messageRow(
        parts('Dear all,\nthe boat is ready.\n-- \nAna', {
          from: { name: 'Ana Reis', address: 'ana@example.org' },
          sentAt: null,
        }),
      ),
    ).toEqual([
      { label: 'Name', text: 'Ana Reis' },
      { label: 'E-mail', text: 'ana@example.org' },
      { label: 'Subject', text: 'New enquiry' },
      { label: 'Message', text: 'Dear all,\nthe boat is ready.' },
    ]));
});

test('several messages share one heading, in the order in which labels first occur', () => {
  const { headers, rows } = messageTable([
    [
      { label: 'Name', text: 'Ana' },
      { label: 'Town', text: 'Kiel' },
    ],
    [
      { label: 'E-mail', text: 'tom@example.org' },
      { label: 'name', text: 'Tom' },
      { label: 'Name', text: 'Tomás' },
    ],
  ]);
  expect(headers).toEqual(['Name', 'Town', 'E-mail', 'Name']);
  expect(rows).toEqual([
    ['Ana', 'Kiel', '', ''],
    ['Tom', '', 'tom@example.org', 'Tomás'],
  ]);
});

test.each([
  ['From: a@example.org\nTo: b@example.org\nSubject: x\n\nHello', true],
  ['Received: from mx\n by mail\nFrom: a@example.org\nDate: Tue\n\nHello', true],
  ['From a@example.org Tue Nov  4 18:22:07 2025\nFrom: a@example.org\nSubject: x\n\nHello', true],
  ['Name,Email\nAna,a@example.org\n', false],
  ['From: somebody\nwrote a letter\n', false],
  ['', false],
])('%j looks like a message: %s', (text, expected) => expect(looksLikeMessage(text)).toBe(expected));
