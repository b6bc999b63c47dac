import { foldText } from '../../fields';
import { readHeader } from '../header-words';
import type { Enquiry } from './enquiry-fields';
import { readStacked } from './stacked-fields';

/** Stands around a label that is one for certain, since a table of the message says so. */
export const LABEL_MARK = '\u2063';
const CERTAIN = new RegExp(`^${LABEL_MARK}([^${LABEL_MARK}]+)${LABEL_MARK}[:：]?\\s*(.*)$`, 'su');
const WORDS = "[\\p{L}][\\p{L}\\p{N} '’().?/_-]{0,38}?";
const LABEL = new RegExp(`^[*•>-]?\\s*\\*{0,2}(${WORDS})\\*{0,2}\\s*[:：]\\s*(?:\\*{1,2}(?:\\s+|$))?(.*)$`, 'u');
/** A label and its text with another mark than a colon between them; believed of a label that is known. */
const OTHER_MARK = new RegExp(`^[*•>-]?\\s*(${WORDS})(\\t+|\\s+[=|–—-]\\s+)(\\S.*)$`, 'u');
/** Labels whose text goes on to the end of the message. */
const OPEN_LABEL = new RegExp(
  String.raw`^(?:(?:your |ihre |votre |tu |su |il tuo |a sua |uw )?(?:message|comments?|enquiry|inquiry|question` +
    String.raw`|nachricht|mitteilung|anliegen|bemerkung(?:en)?|kommentar(?:e)?|commentaires?|demande|mensaje` +
    String.raw`|comentarios?|consulta|mensagem|messaggio|richiesta|bericht|opmerking(?:en)?|besked|meddelande` +
    String.raw`|melding|viesti|wiadomo[sś][cć]|zpr[aá]va|üzenet|mesaj|сообщение|повідомлення|notes?|details` +
    String.raw`|remarks?|text))$`,
  'iu',
);
/** Labels of the lines that a mail program puts above what it passes on. */
const PASSED_ON = new RegExp(
  String.raw`^(?:from|sent|date|to|cc|subject|reply-to|von|gesendet|datum|an|betreff|de|envoy[eé]|[aà]|objet` +
    String.raw`|enviado(?: el)?|fecha|para|asunto|da|inviato|data|oggetto|assunto|van|verzonden|aan|onderwerp|från` +
    String.raw`|skickat|till|ämne|fra|sendt|til|emne|od|wysłano|do|temat|от|отправлено|кому|тема)$`,
  'iu',
);
/** As few of those lines as there are in a row. */
const FEWEST_PASSED_ON = 3;
/** Signature mark (RFC 3676, 4.3). */
const SIGNATURE = /^-- ?$/;
const FOOTER =
  /^(?:do not reply|please do not reply|this (?:e-?mail|message) was sent|sent from (?:the|my|a)|unsubscribe|bitte nicht antworten|ne pas r[eé]pondre)/i;
/** What a form writes where nothing was filled in. */
const NOTHING = /^(?:[-–—]+|n\/?a|none|not given|not provided|\(empty\)|\(none\))$/i;

/** What is said below a message by whoever wrote it, and by no form. */
const AFTERWORD = /^(?:p\.? ?s\.?|n\.? ?b\.?|note|edit|re|fwd?|https?|ps|tel|tipp?)$/iu;
/** Words and signs of a field that a form has below its message. */
const MOST_WORDS = 6;
const MOST_SIGNS = 80;

interface Labelled {
  label: string;
  text: string;
}

/** Reads the label and the text of a line; null where it has none. `marks` are believed beside the colon. */
function labelledLine(whole: string, marks: ReadonlySet<string> = NO_MARKS): Labelled | null {
  const line = whole.trim();
  const [, certain = '', said = ''] = CERTAIN.exec(line) ?? [];
  if (certain) return { label: certain.replace(/[:：\s]+$/u, ''), text: said.trim() };
  const [, other = '', mark = '', value = ''] = OTHER_MARK.exec(line) ?? [];
  const marked = other ? { label: other.trim(), text: value.trim() } : null;
  // "Message - see below: ..." has its label before the dash.
  if (marked && marks.has(mark.trim()) && isKnownLabel(other, 0.8)) return marked;
  const [, label = '', text = ''] = LABEL.exec(line) ?? [];
  if (label) return { label: label.trim(), text: text.trim() };
  return marked && (marks.has(mark.trim()) || isKnownLabel(other, 0.8)) ? marked : null;
}

const NO_MARKS: ReadonlySet<string> = new Set();

/** Marks other than a colon that stand behind two known labels or more: what stands before them elsewhere is a label too. */
function marksOf(lines: readonly string[]): ReadonlySet<string> {
  const counts = new Map<string, number>();
  for (const line of lines) {
    const [, label = '', mark = ''] = OTHER_MARK.exec(line.trim()) ?? [];
    if (label && isKnownLabel(label, 0.8)) counts.set(mark.trim(), (counts.get(mark.trim()) ?? 0) + 1);
  }
  return new Set([...counts].filter(([, n]) => n > 1).map(([mark]) => mark));
}

function isKnownLabel(text: string, least01 = 0.95): boolean {
  if (text.length > MOST_SIGNS) return false;
  return OPEN_LABEL.test(text.trim()) || readHeader(text).certainty01 >= least01;
}

/** What stands before a label: a dash, a dot, a star. */
const signOf = (line: string) => /^\s*([*•>-]?)/.exec(line)?.[1] ?? '';

/**
 * How many of the lines behind a message's label are the message: up to a label that a table gives, or up to the lines at the
 * end all of which are short fields, as a form has them below its message.
 */
function messageLines(line: string, value: string, following: readonly string[], marks: ReadonlySet<string>): number {
  const certain = following.findIndex((line) => line.startsWith(LABEL_MARK));
  if (certain >= 0) return certain;
  const sign = signOf(line);
  const fieldAt = (i: number) => {
    const read = signOf(following[i] ?? '') === sign ? labelledLine(following[i] ?? '', marks) : null;
    return isField(read) ? read : null;
  };
  // Where texts stand below their labels, the next label is one that stands alone behind a blank line.
  const below = following.findIndex((_, i) => i > 1 && following[i - 1]?.trim() === '' && fieldAt(i)?.text === '');
  if (value === '' && below > 0) return below;
  let from = following.length;
  for (let i = following.length - 1; i >= 0; i--) {
    if (following[i]?.trim() === '') continue;
    if (!fieldAt(i)) break;
    from = i;
  }
  const said = [value, ...following.slice(0, from)].filter((text) => text.trim() !== '');
  const fields = following.slice(from).filter((text) => text.trim() !== '');
  // A single line that nobody knows, below several, is part of what they say.
  const isOne = fields.length === 1 && said.length > 1 && !isKnownLabel(fieldAt(from)?.label ?? '', 0.8);
  return said.length > 0 && !isOne ? from : following.length;
}

function isField(read: Labelled | null): boolean {
  if (!read) return false;
  const { label, text } = read;
  const isShort = label.split(/\s+/).length <= MOST_WORDS && text.length <= MOST_SIGNS;
  return isShort && /^\p{Lu}|^\p{Lo}/u.test(label) && !AFTERWORD.test(label) && !text.endsWith(':');
}

interface PassedOn {
  /** Lines without those that a mail program put above what it passed on. */
  lines: string[];
  /** Who wrote what was passed on. */
  from: string | null;
}

function withoutPassedOn(lines: readonly string[]): PassedOn {
  const kept: string[] = [];
  let from: string | null = null;
  for (let i = 0; i < lines.length;) {
    let to = i;
    while (to < lines.length && PASSED_ON.test(LABEL.exec((lines[to] ?? '').trim())?.[1]?.trim() ?? '')) to++;
    if (to - i >= FEWEST_PASSED_ON) {
      from = LABEL.exec((lines[i] ?? '').trim())?.[2]?.trim() ?? null;
      kept.push('');
      i = to;
    } else kept.push(lines[i++] ?? '');
  }
  return { lines: kept, from };
}

/**
 * Reads labelled lines out of a message's text. A block of them is looked for: at least two labels, each on its own line.
 * A label such as "Message" takes all that follows it, colons and all, up to the signature. Null where there is no block.
 */
export function readEnquiry(text: string): Enquiry | null {
  const { lines } = withoutPassedOn(text.replace(/\r\n?/g, '\n').split('\n'));
  const signature = lines.findIndex((line) => SIGNATURE.test(line));
  const body = signature < 0 ? lines : lines.slice(0, signature);
  const marks = marksOf(body);
  const isLabel = (line: string, next = '') =>
    labelledLine(line, marks) !== null || (isKnownLabel(line) && next.trim() !== '' && !isKnownLabel(next));
  const first = body.findIndex(
    (line, i) =>
      isLabel(line, body[i + 1]) && body.slice(i + 1, i + 4).some((next, k) => isLabel(next, body[i + k + 2])),
  );
  if (first < 0) return null;
  const fields: Enquiry['fields'] = [];
  const rest = body.slice(0, first);
  let at = first;
  for (; at < body.length; at++) {
    const line = body[at] ?? '';
    const last = fields[fields.length - 1];
    // A known label alone on its line has its text below.
    const alone = (!last || last.text) && isKnownLabel(line) ? { label: line.trim(), text: '' } : null;
    const { label, text: value } = labelledLine(line, marks) ?? alone ?? { label: '', text: '' };
    if (!label) {
      if (line.trim() === '') continue;
      // A line that goes on belongs to the field above it, a footer to nobody.
      if (FOOTER.test(line.trim())) {
        rest.push(line);
        continue;
      }
      if (last) last.text = last.text ? `${last.text}\n${line.trim()}` : line.trim();
      continue;
    }
    if (!OPEN_LABEL.test(label)) {
      fields.push({ label, text: value });
      continue;
    }
    const behind = body.slice(at + 1);
    const footer = behind.findIndex((next) => FOOTER.test(next.trim()));
    const following = footer < 0 ? behind : behind.slice(0, footer);
    if (footer >= 0) rest.push(...behind.slice(footer));
    const count = messageLines(line, value, following, marks);
    const said = following.slice(0, count).map((next) => (signOf(line) ? next.trim() : next));
    fields.push({ label, text: [value, ...said].join('\n').trim() });
    for (const field of following.slice(count)) {
      const last = fields[fields.length - 1];
      const read = labelledLine(field, marks);
      if (read) fields.push(read);
      else if (last && field.trim()) last.text = last.text ? `${last.text}\n${field.trim()}` : field.trim();
    }
    at = body.length;
  }
  if (fields.length < 2) return null;
  return {
    fields: fields.map(({ label, text: value }) => ({ label, text: NOTHING.test(value) ? '' : value })),
    rest: rest.join('\n').replaceAll(LABEL_MARK, '').trim(),
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

/** The enquiry of a table of labels, which is surer than lines of text; null where two labels at least are not known. */
function tableOf(html: string): Enquiry | null {
  const enquiry = html.includes(LABEL_MARK) ? readEnquiry(html) : null;
  return enquiry && enquiry.fields.filter(({ label }) => isKnownLabel(label, 0.8)).length > 1 ? enquiry : null;
}

/** Of two ways to read a message the one that finds more in it. */
const fuller = (a: Enquiry | null, b: Enquiry | null): Enquiry | null =>
  (b?.fields.length ?? 0) > (a?.fields.length ?? 0) ? b : a;

/**
 * The row that a message becomes: the fields of its enquiry where it is one, written by a form for somebody; else its
 * sender and its text. Fields come with their labels as they stand in the message.
 */
export function messageRow(parts: MessageParts): { label: string; text: string }[] {
  const enquiry =
    tableOf(parts.html) ?? fuller(readEnquiry(parts.text), readStacked(parts.text)) ?? readEnquiry(parts.html);
  if (enquiry) {
    const row = [...enquiry.fields];
    const has = (pattern: RegExp) => row.some(({ label, text }) => pattern.test(label) && text !== '');
    if (!has(/mail/i) && parts.replyTo) row.push({ label: MESSAGE_LABELS.email, text: parts.replyTo.address });
    if (parts.sentAt) row.push({ label: MESSAGE_LABELS.sent, text: parts.sentAt });
    return row;
  }
  const text = (parts.text || parts.html).replace(/\r\n?/g, '\n').replaceAll(LABEL_MARK, '');
  const sender = writerOf(text) ?? answerTo(parts);
  const [body = ''] = text.split(/\n-- ?\n/);
  return [
    { label: MESSAGE_LABELS.name, text: sender?.name ?? '' },
    { label: MESSAGE_LABELS.email, text: sender?.address ?? '' },
    { label: MESSAGE_LABELS.subject, text: parts.subject },
    { label: MESSAGE_LABELS.message, text: body.trim() },
    ...(parts.sentAt ? [{ label: MESSAGE_LABELS.sent, text: parts.sentAt }] : []),
  ];
}

/** Whoever wrote what a message passes on. */
function writerOf(text: string): MailedPerson | null {
  const { from } = withoutPassedOn(text.split('\n'));
  const [, name = '', address = ''] = /^"?([^"<>]*?)"?\s*<?(?:mailto:)?([^\s<>@]+@[^\s<>]+)>?$/.exec(from ?? '') ?? [];
  return address ? { name: name.trim(), address } : null;
}

/** Whom an answer goes to; with the name of the sender where it is the same person's other mailbox. */
function answerTo({ replyTo, from }: MessageParts): MailedPerson | null {
  if (!replyTo || replyTo.name || !from) return replyTo ?? from;
  const local = foldText(replyTo.address.split('@')[0] ?? '');
  const isSame = foldText(from.name)
    .split(' ')
    .some((word) => word.length > 2 && local.includes(word));
  return isSame ? { ...replyTo, name: from.name } : replyTo;
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
