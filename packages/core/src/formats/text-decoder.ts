import { codePageText, OWN_CODE_PAGES } from './code-pages';

/** Turns bytes into text piece by piece; called without bytes it gives what is left. */
export interface PieceDecoder {
  decode(bytes?: Uint8Array): string;
}

/**
 * A decoder for a label of the WHATWG Encoding standard or the name of a code page of ours. NUL says nothing in a text and no
 * database keeps it, so it is left out. Errors: a RangeError for any other label.
 */
export function openDecoder(label: string): PieceDecoder {
  const decoder = decoderOf(label);
  return {
    decode: (bytes) => {
      const text = decoder.decode(bytes);
      return text.includes('\0') ? text.replaceAll('\0', '') : text;
    },
  };
}

function decoderOf(label: string): PieceDecoder {
  if (label === 'utf-8') return new Utf8Decoder();
  if (OWN_CODE_PAGES.includes(label)) return { decode: (bytes) => (bytes && codePageText(label, bytes)) ?? '' };
  const decoder = new TextDecoder(label);
  // Always as a stream: read at once, some versions of Node give windows-1252 as if it were ISO 8859-1.
  return { decode: (bytes) => (bytes ? decoder.decode(bytes, { stream: true }) : decoder.decode()) };
}

const NOTHING = new Uint8Array();
const isTrail = (byte: number | undefined) => byte !== undefined && (byte & 0xc0) === 0x80;

/** Bytes of the character at a place (RFC 3629); 0 where none stands there, -1 where the text ends inside of one. */
function lengthAt(bytes: Uint8Array, i: number): number {
  const lead = bytes[i] ?? 0;
  if (lead < 0x80) return 1;
  if (lead < 0xc2 || lead > 0xf4) return 0;
  const length = lead < 0xe0 ? 2 : lead < 0xf0 ? 3 : 4;
  const second = bytes[i + 1];
  if (second !== undefined) {
    if (!isTrail(second)) return 0;
    if ((lead === 0xe0 && second < 0xa0) || (lead === 0xed && second > 0x9f)) return 0;
    if ((lead === 0xf0 && second < 0x90) || (lead === 0xf4 && second > 0x8f)) return 0;
  }
  for (let k = 2; k < length; k++) {
    if (i + k >= bytes.length) return -1;
    if (!isTrail(bytes[i + k])) return 0;
  }
  return i + length > bytes.length ? -1 : length;
}

/** How many characters beyond ASCII a text has as UTF-8, and how many bytes that are none. What ends inside a character counts for neither. */
export function countUtf8(bytes: Uint8Array): { characters: number; strays: number } {
  let characters = 0;
  let strays = 0;
  for (let i = 0; i < bytes.length;) {
    if ((bytes[i] ?? 0) < 0x80) {
      i++;
      continue;
    }
    const length = lengthAt(bytes, i);
    if (length < 0) break;
    if (length === 0) strays++;
    else characters++;
    i += Math.max(1, length);
  }
  return { characters, strays };
}

/**
 * UTF-8 in which bytes that are none are read as windows-1252: files put together from several sources have such places, and a
 * replacement character would lose the letter.
 */
class Utf8Decoder implements PieceDecoder {
  private rest: Uint8Array = NOTHING;
  private readonly strict = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  private readonly western = new TextDecoder('windows-1252');
  private begun = false;

  decode(bytes?: Uint8Array): string {
    let input = bytes ?? NOTHING;
    if (this.rest.length > 0) {
      const joined = new Uint8Array(this.rest.length + input.length);
      joined.set(this.rest);
      joined.set(input, this.rest.length);
      input = joined;
      this.rest = NOTHING;
    }
    if (bytes) {
      const whole = wholeLength(input);
      // What is kept must not change with the memory it came in.
      this.rest = input.slice(whole);
      input = input.subarray(0, whole);
    }
    const text = this.text(input);
    if (this.begun || text === '') return text;
    this.begun = true;
    return text.startsWith('\ufeff') ? text.slice(1) : text;
  }

  private text(bytes: Uint8Array): string {
    try {
      return this.strict.decode(bytes);
    } catch {
      return this.mixed(bytes);
    }
  }

  private mixed(bytes: Uint8Array): string {
    let text = '';
    let from = 0;
    for (let i = 0; i < bytes.length;) {
      const length = lengthAt(bytes, i);
      if (length > 0) {
        i += length;
        continue;
      }
      text +=
        this.strict.decode(bytes.subarray(from, i)) + this.western.decode(bytes.subarray(i, i + 1), { stream: true });
      from = ++i;
    }
    return text + this.strict.decode(bytes.subarray(from));
  }
}

/** The length without a character that the bytes end inside of. */
function wholeLength(bytes: Uint8Array): number {
  for (let back = 1; back <= Math.min(3, bytes.length); back++) {
    const at = bytes.length - back;
    if (isTrail(bytes[at])) continue;
    return lengthAt(bytes, at) < 0 ? at : bytes.length;
  }
  return bytes.length;
}
