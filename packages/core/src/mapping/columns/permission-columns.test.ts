import { describe, expect, test } from '@jest/globals';
import { Catalogue } from '../../fields';
import { RowReader } from '../rows/read-row';
import { PERMISSIONS } from '../rows/permission-cells';
import { defaultMapping } from './default-mapping';
import { guessColumns } from './guess-columns';
import { permissionHeading } from './permission-words';

const context = { country: 'GB', stages: [], settle: (_kind: string, text: string) => text };

/** What the columns beside a name and a mailbox mean, and what each row says. */
function read(headers: string[], ...rows: string[][]) {
  const all = ['First name', 'Last name', 'Email', ...headers];
  const cells = rows.map((row, i) => ['Ada', `Penrose${'abcdefgh'[i]}`, `p${i}@example.org`, ...row]);
  const guesses = guessColumns(all, cells);
  const mapping = defaultMapping(guesses, 'GB');
  const reader = new RowReader(mapping, new Catalogue(), context, { columnCount: all.length, headers: all });
  const readings = cells.map((row, i) => reader.read(row, i + 1));
  return {
    targets: mapping.columns.filter(({ column }) => column > 2).map(({ target }) => target),
    issues: readings.map(({ issues }) => issues.map(({ code }) => code)),
    said: readings.map(({ candidate }) =>
      Object.fromEntries(
        (candidate[PERMISSIONS] ?? []).map(({ v, label, atMs }) => [
          label,
          atMs === undefined ? v : `${String(v)} ${new Date(atMs).toISOString().slice(0, 10)}`,
        ]),
      ),
    ),
    how: readings.map(({ candidate }) => candidate[PERMISSIONS]?.[0]?.norm),
  };
}

const ALL_STOPPED = { email: 'optedOut', text: 'optedOut', call: 'optedOut', voicemail: 'optedOut', post: 'optedOut' };

describe('headings that speak of a permission', () => {
  test.each([
    ['Do not call', 'stop', ['call']],
    ['DoNotEmail', 'stop', ['email']],
    ['do_not_mail', 'stop', ['post']],
    ['DNC', 'stop', ['call']],
    ['No calls please', 'stop', ['call']],
    ['Email opt-out', 'stop', ['email']],
    ['SMS opt in', 'may', ['text']],
    ['May we mail you?', 'may', ['post']],
    ['OK to phone', 'may', ['call']],
    ['Do not contact', 'stop', []],
    ['Unsubscribed', 'stop', ['email']],
    ['Left mailing list', 'stop', ['email']],
    ['I agree to receive the newsletter', 'may', ['email']],
    ['Yes, please send me news by e-mail', 'may', ['email']],
    ['Newsletter', 'may', ['email']],
    ['Marketing consent', 'may', []],
    ['Newsletter-Einwilligung', 'may', ['email']],
    ['Werbesperre', 'stop', []],
    ['Nicht anrufen', 'stop', ['call']],
    ['Newsletter abgemeldet', 'stop', ['email']],
    ['Ne pas téléphoner', 'stop', ['call']],
    ["J'accepte de recevoir la newsletter", 'may', ['email']],
    ['Désinscrit', 'stop', ['email']],
    ['Acepto recibir el boletín', 'may', ['email']],
    ['No llamar', 'stop', ['call']],
    ['Accetto di ricevere la newsletter', 'may', ['email']],
    ['Non chiamare', 'stop', ['call']],
    ['Toestemming nieuwsbrief', 'may', ['email']],
    ['Niet bellen', 'stop', ['call']],
    ['Samtycke nyhetsbrev', 'may', ['email']],
    ['Zgoda na newsletter', 'may', ['email']],
    ['Souhlas se zasíláním newsletteru', 'may', ['email']],
    ['Opt-in date', 'date', []],
    ['Date of consent', 'date', []],
    ['Consent source', 'how', []],
    ['Opt-in IP', 'how', []],
  ] as const)('%s', (heading, role, channels) => {
    expect(permissionHeading(heading)).toMatchObject({ role, channels });
  });

  test.each([
    'Notes',
    'No.',
    'Photo consent',
    'Consent to medical treatment',
    'Terms accepted',
    'Privacy policy',
    'Bus stop',
    'Member since',
    'Town',
    'Company',
    'Gift Aid',
  ])('%s speaks of none', (heading) => expect(permissionHeading(heading)).toBeNull());

  test.each(['Email', 'Phone', 'Call', 'Post', 'Text', 'Contact', 'Mail'])(
    '%s alone is believed where the cells say yes and no',
    (heading) => expect(permissionHeading(heading)?.isSure ?? false).toBe(false),
  );
});

describe('columns of permissions', () => {
  test('a flag that stops stops, and its absence allows nothing', () => {
    expect(read(['Do not call', 'Do not email'], ['1', '0'], ['', 'yes'], ['0', ''])).toMatchObject({
      targets: ['stop.call', 'stop.email'],
      said: [{ call: 'optedOut' }, { email: 'optedOut' }, {}],
    });
  });

  test.each(['x', 'X', 'xx', 'yes', 'Y', '1', 'true', '✓', '✔', '☑', 'on', 'checked', 'ticked', 'ja', 'oui', 'TRUE'])(
    'the mark %s in a column that stops stops',
    (mark) =>
      expect(read(['Do not call'], [mark], [''])).toMatchObject({
        targets: ['stop.call'],
        issues: [[], []],
        said: [{ call: 'optedOut' }, {}],
      }),
  );

  test.each(['', '-', 'n/a', 'unknown', '?'])('"%s" in it says nothing', (mark) =>
    expect(read(['Do not call'], [mark], ['x']).said).toEqual([{}, { call: 'optedOut' }]),
  );

  test('mail is e-mail in a file that has mailboxes and no postal addresses', () => {
    expect(read(['May we mail?'], ['yes'], ['no']).targets).toEqual(['may.email']);
    expect(read(['May we mail?', 'Street'], ['yes', '4 Slip Lane'], ['no', '9 Mole End']).targets[0]).toBe('may.post');
  });

  test('"agreed on" is the day of what stands beside it, and nothing without it', () => {
    const { targets, said } = read(
      ['May we call?', 'Do not mail', 'Agreed on'],
      ['yes', '', '2026-03-01'],
      ['no', 'x', '2026-03-02'],
    );
    expect(targets).toEqual(['may.call', 'stop.email', 'permissionDate']);
    expect(said).toEqual([
      { call: 'allowed 2026-03-01' },
      { email: 'optedOut 2026-03-02', call: 'optedOut 2026-03-02' },
    ]);
    expect(read(['Agreed on'], ['2026-03-01'], ['2026-03-02']).targets).not.toContain('permissionDate');
    expect(read(['May we call?', 'Shoe size', 'Agreed on'], ['yes', '42', '2026-03-01']).targets).not.toContain(
      'permissionDate',
    );
  });

  test('a yes allows and a no stops where somebody was asked', () => {
    const { targets, said, how } = read(['May we email you?', 'Post'], ['Yes', 'No'], ['no', 'yes'], ['', '']);
    expect(targets).toEqual(['may.email', 'may.post']);
    expect(said).toEqual([{ email: 'allowed', post: 'optedOut' }, { email: 'optedOut', post: 'allowed' }, {}]);
    expect(how[0]).toBe('May we email you?: Yes');
  });

  test('states are read by their own words, whatever the heading asks', () => {
    const { targets, said } = read(
      ['Newsletter status', 'Suppression'],
      ['subscribed', ''],
      ['Unsubscribed', 'SMS, phone'],
      ['pending', 'all'],
    );
    expect(targets).toEqual(['may.email', 'stop.any']);
    expect(said).toEqual([
      { email: 'allowed' },
      { email: 'optedOut', text: 'optedOut', call: 'optedOut' },
      ALL_STOPPED,
    ]);
  });

  test('the day somebody left the list is a stop of that day; the strictest word of a row counts', () => {
    const { targets, said } = read(
      ['Newsletter', 'Unsubscribed on'],
      ['yes', '2023-04-01'],
      ['yes', ''],
      ['yes (2024-05-06)', '2023-04-01'],
    );
    expect(targets).toEqual(['may.email', 'stop.email']);
    expect(said[0]).toEqual({ email: 'optedOut 2023-04-01' });
    expect(said[1]).toEqual({ email: 'allowed' });
    // Allowed again after it was stopped: both words are kept, and the newest counts.
    expect(said[2]).toEqual({ email: 'optedOut 2023-04-01' });
  });

  test('day, wording and evidence stand beside', () => {
    const { targets, said, how } = read(
      ['Marketing consent', 'Consent date', 'Consent wording', 'Opt-in IP'],
      ['Yes', '14/03/2024', 'Keep me posted about courses', '192.0.2.7'],
      ['No', '', '', ''],
    );
    expect(targets).toEqual(['may.any', 'permissionDate', 'permissionHow', 'permissionHow']);
    expect(said[0]?.email).toBe('allowed 2024-03-14');
    expect(how[0]).toBe('Marketing consent: Yes; Consent wording: Keep me posted about courses; Opt-in IP: 192.0.2.7');
    expect(said[1]).toEqual(ALL_STOPPED);
  });

  test('one column about two channels means both', () => {
    expect(read(['Email and SMS opt-in'], ['yes'], ['no'])).toMatchObject({
      targets: ['may.email', 'may.text'],
      said: [
        { email: 'allowed', text: 'allowed' },
        { email: 'optedOut', text: 'optedOut' },
      ],
    });
  });

  test('a cell of which nobody can tell holds its row', () => {
    expect(read(['Do not call'], ['1'], ['0'], ['only in May']).issues).toEqual([[], [], ['unclearPermission']]);
  });

  test.each([
    ['Einwilligung Newsletter', 'ja', 'nein'],
    ["J'accepte la newsletter", 'oui', 'non'],
    ['Acepta boletín', 'sí', 'no'],
    ['Consenso newsletter', 'sì', 'no'],
    ['Toestemming nieuwsbrief', 'ja', 'nee'],
    ['Zgoda newsletter', 'tak', 'nie'],
    ['Souhlas s newsletterem', 'ano', 'ne'],
  ])('%s: %s and %s', (heading, yes, no) => {
    expect(read([heading], [yes], [no])).toMatchObject({
      targets: ['may.email'],
      said: [{ email: 'allowed' }, { email: 'optedOut' }],
    });
  });

  test('what only sounds like one stays what it is', () => {
    expect(
      read(['Mail', 'Phone', 'Notes'], ['x@example.net', '01632 960111', 'Do not call before ten']).targets,
    ).toEqual(['email', 'tel', 'note']);
  });
});
