/** What a message says as labelled lines: "Name: Ana Reis". */
export interface Enquiry {
  /** Labels with their texts, in order; the last may run over several lines. */
  fields: { label: string; text: string }[];
  /** Text before the first label and after the last field, for keeping. */
  rest: string;
}

const LABEL = /^\s*[*•>-]?\s*([\p{L}][\p{L}\p{N} '’().?/_-]{0,38}?)\s*[:：]\s*(.*)$/u;
/** Labels whose text goes on to the end of the message. */
const OPEN_LABEL =
  /^(?:message|your message|comments?|enquiry|question|nachricht|mitteilung|bemerkung|kommentar|mensaje|mensagem|messaggio|bericht|besked|meddelande|melding|notes?|details|remarks?|text)$/i;
/** Signature mark (RFC 3676, 4.3). */
const SIGNATURE = /^-- ?$/;
const FOOTER =
  /^(?:do not reply|please do not reply|this (?:e-?mail|message) was sent|sent from (?:the|my|a)|unsubscribe|bitte nicht antworten|ne pas r[eé]pondre)/i;
/** What a form writes where nothing was filled in. */
const NOTHING = /^(?:[-–—]+|n\/?a|none|not given|not provided|\(empty\)|\(none\))$/i;

/**
 * Reads labelled lines out of a message's text. A block of them is looked for: at least two labels, each on its own line.
 * A label such as "Message" takes all that follows it, colons and all, up to the signature. Null where there is no block.
 */
export function readEnquiry(text: string): Enquiry | null {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  const signature = lines.findIndex((line) => SIGNATURE.test(line));
  const body = signature < 0 ? lines : lines.slice(0, signature);
  const first = body.findIndex(
    (line, i) => LABEL.test(line) && body.slice(i + 1, i + 4).some((next) => LABEL.test(next)),
  );
  if (first < 0) return null;
  const fields: Enquiry['fields'] = [];
  const rest = body.slice(0, first);
  let at = first;
  for (; at < body.length; at++) {
    const line = body[at] ?? '';
    const [, label = '', value = ''] = LABEL.exec(line) ?? [];
    if (!label) {
      if (line.trim() === '') continue;
      const last = fields[fields.length - 1];
      // A line that goes on belongs to the field above it, a footer to nobody.
      if (FOOTER.test(line.trim())) {
        rest.push(line);
        continue;
      }
      if (last) last.text = last.text ? `${last.text}\n${line.trim()}` : line.trim();
      continue;
    }
    if (!OPEN_LABEL.test(label.trim())) {
      fields.push({ label: label.trim(), text: value.trim() });
      continue;
    }
    const following = body.slice(at + 1);
    const footer = following.findIndex((next) => FOOTER.test(next.trim()));
    const all = [value, ...(footer < 0 ? following : following.slice(0, footer))];
    if (footer >= 0) rest.push(...following.slice(footer));
    fields.push({ label: label.trim(), text: all.join('\n').trim() });
    at = body.length;
  }
  if (fields.length < 2) return null;
  return {
    fields: fields.map(({ label, text: value }) => ({ label, text: NOTHING.test(value) ? '' : value })),
    rest: rest.join('\n').trim(),
  };
}

export interface MailedPerson {
  name: string;
  address: string;
}

/** What is read of a message before its enquiry is looked for. Texts are decoded; `html` is already plain text. */
export interface MessageParts {
  from: MailedPerson | null;
  replyTo: MailedPerson | null;
  subject: string;
  /** ISO 8601, UTC; null where the message names no date. */
  sentAt: string | null;
  text: string;
  html: string;
}

/** Labels of what every message has, beside the fields of an enquiry. */
export const MESSAGE_LABELS = {
  name: 'Name',
  email: 'E-mail',
  subject: 'Subject',
  message: 'Message',
  sent: 'Received',
} as const;

/**
 * The row that a message becomes: the fields of its enquiry where it is one, written by a form for somebody; else its
 * sender and its text. Fields come with their labels as they stand in the message.
 */
export function messageRow(parts: MessageParts): { label: string; text: string }[] {
  const enquiry = readEnquiry(parts.text) ?? readEnquiry(parts.html);
  if (enquiry) {
    const row = [...enquiry.fields];
    const has = (pattern: RegExp) => row.some(({ label, text }) => pattern.test(label) && text !== '');
    if (!has(/mail/i) && parts.replyTo) row.push({ label: MESSAGE_LABELS.email, text: parts.replyTo.address });
    if (parts.sentAt) row.push({ label: MESSAGE_LABELS.sent, text: parts.sentAt });
    return row;
  }
  const sender = parts.replyTo ?? parts.from;
  const text = (parts.text || parts.html).replace(/\r\n?/g, '\n');
  const [body = ''] = text.split(/\n-- ?\n/);
  return [
    { label: MESSAGE_LABELS.name, text: sender?.name ?? '' },
    { label: MESSAGE_LABELS.email, text: sender?.address ?? '' },
    { label: MESSAGE_LABELS.subject, text: parts.subject },
    { label: MESSAGE_LABELS.message, text: body.trim() },
    ...(parts.sentAt ? [{ label: MESSAGE_LABELS.sent, text: parts.sentAt }] : []),
  ];
}

/** Rows of several messages under one heading: every label that occurs, in the order in which they first occur. */
export function messageTable(rows: readonly (readonly { label: string; text: string }[])[]): {
  headers: string[];
  rows: string[][];
} {
  const headers: string[] = [];
  const places = new Map<string, number>();
  const cells = rows.map((row) => {
    const out: string[] = [];
    const seen = new Map<string, number>();
    for (const { label, text } of row) {
      const nth = seen.get(label.toLowerCase()) ?? 0;
      seen.set(label.toLowerCase(), nth + 1);
      const key = `${label.toLowerCase()}\n${nth}`;
      let place = places.get(key);
      if (place === undefined) {
        place = headers.push(label) - 1;
        places.set(key, place);
      }
      out[place] = text;
    }
    return out;
  });
  return { headers, rows: cells.map((out) => headers.map((_, i) => out[i] ?? '')) };
}

const HEADER_LINE =
  /^(?:From|To|Subject|Date|Received|Return-Path|Message-ID|MIME-Version|Delivered-To|Reply-To|Content-Type|X-[A-Za-z-]+|DKIM-Signature|ARC-[A-Za-z-]+):\s?/i;

/** Whether a file begins as a message does (RFC 5322): header lines, among them From and one that tells it is no letter in plain text. */
export function looksLikeMessage(text: string): boolean {
  const head = text.replace(/^\uFEFF/, '').split(/\r?\n\r?\n/)[0] ?? '';
  const lines = head.split(/\r?\n/).filter((line) => !/^[ \t]/.test(line));
  if (lines.length < 2 || !/^From \S+|^[A-Za-z-]+:/.test(lines[0] ?? '')) return false;
  const known = lines.filter((line) => HEADER_LINE.test(line)).length;
  return known >= 2 && lines.some((line) => /^From:/i.test(line)) && known >= lines.length / 2;
}
