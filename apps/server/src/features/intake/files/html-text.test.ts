import { describe, expect, test } from '@jest/globals';
import { messageRow } from '@gray-loom/core/formats';
import { htmlText } from './html-text';

const fields = (html: string) =>
  Object.fromEntries(
    messageRow({ from: null, replyTo: null, subject: '', sentAt: null, text: '', html: htmlText(html) }).map(
      ({ label, text }) => [label, text],
    ),
  );

describe('an enquiry laid out as HTML', () => {
  const wanted = { Name: 'Ana Reis', Email: 'ana@example.org', Message: 'Hello,\nis there room?' };
  const message = 'Hello,<br>is there room?';
  test.each([
    [
      'a table of two columns',
      `<table><tr><th>Name</th><td>Ana Reis</td></tr><tr><th>Email:</th><td><a ` +
        `href="mailto:ana@example.org">ana@example.org</a></td></tr><tr><th>Message</th><td>${message}</td></tr></table>`,
    ],
    [
      'a table inside of a table',
      `<table><tr><td><table><tbody><tr><td>Name</td><td>Ana ` +
        `Reis</td></tr><tr><td>Email</td><td>ana@example.org</td></tr><tr><td>Message</td><td>${message}</td></tr></tbody></table></td></tr></table>`,
    ],
    [
      'a heading row with one row below',
      `<table><tr><th>Name</th><th>Email</th><th>Message</th></tr><tr><td>Ana Reis</td><td>ana@example.org</td><td>${message}</td></tr></table>`,
    ],
    [
      'a list of terms',
      `<dl><dt>Name</dt><dd>Ana Reis</dd><dt>Email</dt><dd>ana@example.org</dd><dt>Message</dt><dd>${message}</dd></dl>`,
    ],
    [
      'bold labels',
      `<p><b>Name:</b> Ana Reis<br><b>Email:</b> ana@example.org</p><p><b>Message:</b><br>${message}</p>`,
    ],
  ])('%s', (_layout, html) => expect(fields(`<h2>New enquiry</h2>${html}`)).toEqual(wanted));

  test('labels below the message end it; bold words inside of a line label nothing', () => {
    const html =
      '<p><strong>Name</strong><br>Ana Reis</p><p><strong>Message</strong><br>Is there <b>any</b> room?</p><p><strong>Boat</strong><br>Gull</p>';
    expect(fields(html)).toEqual({ Name: 'Ana Reis', Message: 'Is there any room?', Boat: 'Gull' });
  });

  test('a table of several rows and columns stays text', () => {
    const text = htmlText(
      '<table><tr><td>a</td><td>b</td><td>c</td></tr><tr><td>d</td><td>e</td><td>f</td></tr><tr><td>g</td><td>h</td><td>i</td></tr></table>',
    );
    expect(text.split(/\s+/).filter(Boolean)).toEqual([...'abcdefghi']);
  });
});
