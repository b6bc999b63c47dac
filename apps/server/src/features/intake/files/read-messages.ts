import { simpleParser, type AddressObject } from 'mailparser';
import { messageRow, messageTable, writeDelimitedLine, type MailedPerson } from '@gray-loom/core/formats';
import { htmlText } from './html-text';

/** Beginning of each message in a file of several (RFC 4155). */
const BETWEEN = /^From \S+.*\d{4}\r?$/m;

/** The messages of a file: one, or several one behind the other. */
export function splitMessages(text: string): string[] {
  if (!text.startsWith('From ')) return [text];
  return text
    .split(BETWEEN)
    .map((part) => part.replace(/^\r?\n/, '').replace(/^>(>*From )/gm, '$1'))
    .filter((part) => part.trim() !== '');
}

function firstOf(addresses: AddressObject | AddressObject[] | undefined): MailedPerson | null {
  const [one] = (Array.isArray(addresses) ? addresses : [addresses]).flatMap((list) => list?.value ?? []);
  return one?.address ? { name: one.name, address: one.address } : null;
}

/** What one message (RFC 5322, MIME) says, as labelled texts. */
async function rowOfMessage(raw: string | Buffer): Promise<{ label: string; text: string }[]> {
  const mail = await simpleParser(raw, { skipTextToHtml: true, skipHtmlToText: true, skipImageLinks: true });
  return messageRow({
    from: firstOf(mail.from),
    replyTo: firstOf(mail.replyTo),
    subject: mail.subject ?? '',
    sentAt: mail.date ? mail.date.toISOString().replace('.000Z', 'Z') : null,
    text: mail.text ?? '',
    html: mail.html ? htmlText(mail.html) : '',
  });
}

/** Messages as a delimited table with a heading, a row for each. */
export async function messagesAsTable(raws: readonly (string | Buffer)[]): Promise<string> {
  const rows = [];
  for (const raw of raws) rows.push(await rowOfMessage(raw));
  const table = messageTable(rows);
  return [table.headers, ...table.rows].map((cells) => writeDelimitedLine(cells)).join('');
}
