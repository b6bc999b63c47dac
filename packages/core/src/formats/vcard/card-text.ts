import ICAL from 'ical.js';
import { err, ok, type Result } from '../../model';
import { openDecoder, type PieceDecoder } from '../text-decoder';
import { rawLines, type RawLine } from './card-lines';

/** One property of a card: name in small letters, parameters, type, values; as jCard has it (RFC 7095). */
export interface CardProperty {
  name: string;
  params: Record<string, string | string[]>;
  /** Texts; the parts of a structured value come as a list. */
  values: (string | string[])[];
  /** Type of the values where it was read (RFC 7095, 3.5); written back as it came. */
  type?: string;
  /** Its place among the lines of the card, where it was read. */
  line?: number;
}

export interface CardText {
  version: '3.0' | '4.0';
  properties: CardProperty[];
  /** The lines as they stood, where it was read. */
  lines?: RawLine[];
}

/** The text of a card with the line of the file that it begins in. */
export interface CutCard {
  text: string;
  line: number;
}

/**
 * Cuts a stream of text into cards (from BEGIN:VCARD to END:VCARD), so that one that is broken spoils no other: one without its end
 * ends where the next begins.
 */
export class CardSplitter {
  private rest = '';
  private line = 1;

  /** Cards that are whole now; with `last` also an end without END:VCARD. What stands between cards is passed over. */
  push(text: string, last: boolean): CutCard[] {
    this.rest += text;
    const cards: CutCard[] = [];
    for (;;) {
      const begin = BEGIN.exec(this.rest);
      if (!begin) break;
      this.pass(begin.index);
      const end = END.exec(this.rest);
      const next = nextBegin(this.rest);
      const isCut = next > 0 && (!end || next < end.index);
      if (!end && !isCut) {
        if (last) cards.push(this.cut(this.rest.length));
        return cards;
      }
      const stop = isCut ? next : (end?.index ?? 0) + (end?.[0].length ?? 0);
      // At the end of a piece the line may go on, or its end be cut.
      if (!last && stop >= this.rest.length) return cards;
      cards.push(this.cut(stop));
    }
    // The beginning of a card may be cut in two.
    this.pass(last ? this.rest.length : Math.max(0, this.rest.length - 20));
    return cards;
  }

  private cut(length: number): CutCard {
    const card = { text: this.rest.slice(0, length), line: this.line };
    this.pass(length);
    return card;
  }

  private pass(length: number): void {
    for (let at = this.rest.indexOf('\n'); at >= 0 && at < length; at = this.rest.indexOf('\n', at + 1)) this.line++;
    this.rest = this.rest.slice(length);
  }
}

const BEGIN = /^BEGIN:VCARD[ \t]*\r?$/im;
const END = /^END:VCARD[ \t]*\r?$/im;

/** Where the next card begins behind the one that a text begins with, or -1; a card within one is its AGENT (RFC 2426, 3.5.4). */
function nextBegin(text: string): number {
  const next = /\n(BEGIN:VCARD[ \t]*\r?)$/im.exec(text);
  return next && !/\nAGENT[^\n]*:\s*$/i.test(text.slice(0, next.index)) ? next.index + 1 : -1;
}

/** Whether a text begins as a card does. */
export function looksLikeCards(text: string): boolean {
  return /^\ufeff?\s*BEGIN:VCARD/i.test(text);
}

type JProperty = [string, Record<string, string | string[]>, string, ...unknown[]];

/** Properties whose colons some programs escape, which the standards do not ask for. */
const PLAIN = new Set(['url', 'tel', 'photo', 'logo', 'related', 'impp', 'uid']);

/** Texts that are one, whatever commas are in them: the parser parts them where a program did not escape those. */
const ONE_TEXT = new Set(['note', 'nickname']);

function joinedValues(name: string, values: (string | string[])[]): (string | string[])[] {
  if (!ONE_TEXT.has(name) || values.length < 2) return values;
  return [name === 'note' ? values.join(',') : values.map((value) => String(value).trim()).join(', ')];
}

function plainValue(name: string, value: unknown): string | string[] {
  if (Array.isArray(value))
    return value.map((part) => (Array.isArray(part) ? part.map((one) => String(one).trim()).join(', ') : String(part)));
  const text = String(value);
  return PLAIN.has(name) ? text.replace(/\\([:;,\\])/g, '$1') : text;
}

const BARE_ENCODING = /^(?:QUOTED-PRINTABLE|BASE64|8BIT|7BIT)$/i;

/**
 * A card of version 2.1, as old telephones write it, with the parameters of version 3: there, kinds and encodings stand without
 * a name ("TEL;HOME;CELL:"), and a picture ends at an empty line.
 */
function asVersion3(text: string): string {
  let goesOn = false;
  return text
    .replace(/^VERSION[^:\r\n]*:[ \t]*2\.1/im, 'VERSION:3.0')
    .split(/\r?\n/)
    .map((line) => {
      const colon = line.indexOf(':');
      const inside = goesOn || colon < 0 || /^[ \t]/.test(line);
      const [name = '', ...parameters] = line.slice(0, colon).split(';');
      const named = parameters.map((one) =>
        one.includes('=') ? one : BARE_ENCODING.test(one) ? `ENCODING=${one}` : `TYPE=${one}`,
      );
      const head = inside ? '' : [name, ...named].join(';').replace(/ENCODING=BASE64/i, 'ENCODING=b');
      goesOn = (goesOn || /QUOTED-PRINTABLE/i.test(head)) && line.endsWith('=');
      return inside ? line : head + line.slice(colon);
    })
    .join('\r\n');
}

/** What openDecoder takes for the charset that a property names; UTF-8 where it names none that is known. */
function decoderNamed(parameters: string): PieceDecoder {
  const label = /;CHARSET=([^;:]+)/i.exec(parameters)?.[1]?.toLowerCase();
  try {
    return openDecoder(label ?? 'utf-8');
  } catch {
    return openDecoder('utf-8');
  }
}

const QUOTED_PRINTABLE =
  /^([^:\r\n]*?);ENCODING=QUOTED-PRINTABLE([^:\r\n]*):((?:[^\r\n]*(?:=\r?\n|\r?\n[ \t]))*[^\r\n]*)/gim;

const VERSIONS = new Set(['2.1', '3.0', '4.0']);
const STRUCTURED = /^(?:[\w-]+\.)?(?:N|ADR|ORG|GENDER|X-GENDER|CLIENTPIDMAP)[;:]/i;

/** A time zone by its name, which version 3 wants to be told of as a text (RFC 2426, 3.4.1) and programs do not. */
const NAMED_ZONE = /^((?:[\w-]+\.)?TZ)((?:;(?!VALUE=)[^:;]*)*):(?=[^-+\d])/i;

/** Lines unfolded, and "\\;" as a semicolon where it parts nothing: the parser leaves it as it stands. */
function plainSemicolons(text: string): string {
  return text
    .replace(/\r?\n[ \t]/g, '')
    .split(/\r?\n/)
    .map((line) => line.replace(NAMED_ZONE, '$1;VALUE=text$2:'))
    .map((line) =>
      line.includes('\\;') && !STRUCTURED.test(line)
        ? line.replace(/\\(.)/g, (both, mark: string) => (mark === ';' ? ';' : both))
        : line,
    )
    .join('\r\n');
}

/** Quoted-printable, which version 3 has no more but programs still write, as the text it stands for. */
function plainLines(text: string): string {
  if (!/ENCODING=QUOTED-PRINTABLE/i.test(text)) return text;
  return text.replace(QUOTED_PRINTABLE, (_, before: string, after: string, value: string) => {
    const joined = value
      // An escape that was folded as plain lines are, which is no soft end of a line.
      .replace(/(?<==[0-9A-F]{2}=)\r?\n[ \t](?=[0-9A-F]{2})/gi, '')
      .replace(/=\r?\n|\r?\n[ \t]/g, '');
    const bytes: number[] = [];
    for (const [piece] of joined.matchAll(/=[0-9A-F]{2}|[^=]+|=/gi)) {
      if (/^=[0-9A-F]{2}$/i.test(piece)) bytes.push(Number.parseInt(piece.slice(1), 16));
      else bytes.push(...new TextEncoder().encode(piece));
    }
    const decoder = decoderNamed(before + after);
    const read = decoder.decode(new Uint8Array(bytes)) + decoder.decode();
    const plain = read.replace(/\r?\n/g, '\\n');
    return `${`${before}${after}`.replace(/;CHARSET=[^;:]*/i, '')}:${plain}`;
  });
}

/**
 * Reads one card of version 3 (RFC 2426) or 4 (RFC 6350), or of version 2.1 as one of version 3. Quirks of the parser are settled
 * here: it takes unknown properties as they stand, joins values of several parts, and knows nothing of version 2.1.
 * Errors: what is wrong, in words.
 */
/** The first line of a card that is none of a property, with its number in the text; null where there is none. */
function faultyLine(text: string): string | null {
  let number = 1;
  for (const { raw, text: line } of rawLines(text)) {
    if (line.trim() && !/^[^:]+:/.test(line))
      return `line ${number} ("${line.trim().slice(0, 40)}") is no property, since it has no colon`;
    number += raw.split('\n').length - 1;
  }
  return null;
}

export function readCardText(text: string): Result<CardText, string> {
  const stated = /^VERSION[^:\r\n]*:[ \t]*([\d.]+)/im.exec(text)?.[1];
  if (stated && !VERSIONS.has(stated)) return err(`it is of version ${stated}; save it as version 3 or 4`);
  if (!/^END:VCARD[ \t]*\r?$/im.test(text))
    return err(`it breaks off before END:VCARD, after ${rawLines(text.trimEnd()).length} lines`);
  let parsed: unknown;
  try {
    parsed = ICAL.parse(plainSemicolons(plainLines(stated === '2.1' ? asVersion3(text) : text)));
  } catch (error) {
    return err(faultyLine(text) ?? (error instanceof Error ? error.message : String(error)));
  }
  const [component, properties] = parsed as [string, JProperty[]];
  if (component !== 'vcard') return err('it is no card');
  const lines = rawLines(text);
  const places = lines.flatMap(({ text: line }, i) =>
    /^[^:]+:/.test(line) && !/^(?:BEGIN|END):/i.test(line) ? [i] : [],
  );
  // Where something stands between the lines that is none of a property, nobody can tell which line is which: it is read only.
  const known = places.length === properties.length;
  return ok({
    version: stated === '4.0' ? '4.0' : '3.0',
    properties: properties.map(([name, params, type, ...values], i) => ({
      name: name.toLowerCase(),
      params,
      type,
      values: joinedValues(
        name.toLowerCase(),
        values.map((value) => plainValue(name, value)),
      ),
      ...(known ? { line: places[i] } : {}),
    })),
    ...(known ? { lines } : {}),
  });
}

/** Addresses stand as they are (RFC 6350, 4.2); the library escapes their commas. */
const ADDRESS_LINE = /^(?:PHOTO|LOGO|URL)\b/;

function mendLine(line: string): string {
  if (ADDRESS_LINE.test(line)) return line.replaceAll('\\,', ',');
  // Version 3 has no text for dates; a date without a year is written as ISO 8601 shortens it.
  return line.replace(/^BDAY;VALUE=TEXT:/, 'BDAY:');
}

const IN_PARTS = new Set(['n', 'adr', 'org', 'gender']);

/** Writes a card; lines end with CR LF and are folded at 75 octets. What the library writes otherwise is mended here. */
export function writeCardText({ version, properties }: CardText): string {
  const jCard = properties
    .filter(({ name }) => name !== 'version')
    .map(({ name, params, values, type }) => [
      name,
      params,
      type ?? typeOf(name, version),
      // A semicolon in the only part of what has parts would part it.
      ...values.map((value) => (IN_PARTS.has(name) && typeof value === 'string' ? [value] : value)),
    ]);
  const text = ICAL.stringify(['vcard', [['version', {}, 'text', version], ...jCard], []] as never);
  const lines = text.replaceAll('\r\n ', '').trimEnd().split('\r\n');
  return lines.map((line) => `${ICAL.helpers.foldline(mendLine(line))}\r\n`).join('');
}

const DATES = new Set(['bday', 'anniversary']);

function typeOf(name: string, version: CardText['version']): string {
  const old = version === '3.0';
  if (name === 'photo' || name === 'logo') return old ? 'binary' : 'uri';
  if (name === 'url') return 'uri';
  if (name === 'tel') return old ? 'phone-number' : 'text';
  if (DATES.has(name)) return old ? 'text' : 'date-and-or-time';
  return 'text';
}
