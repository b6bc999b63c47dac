import { err, ok, type Issue, type Result } from '../model';
import { guessEncoding } from './guess-encoding';
import { countUtf8 } from './text-decoder';

export interface TextEncoding {
  /** As shown and as in `./loom inspect`: utf-8, utf-8-bom, utf-16le, utf-16be, windows-1252, ... */
  name: string;
  /** What openDecoder takes. */
  decoder: string;
  bomBytes: number;
}

const SIGNATURES: [kind: string, bytes: number[]][] = [
  ['a PNG picture', [0x89, 0x50, 0x4e, 0x47]],
  ['a JPEG picture', [0xff, 0xd8, 0xff]],
  ['a GIF picture', [0x47, 0x49, 0x46, 0x38]],
  ['a WebP or other RIFF file', [0x52, 0x49, 0x46, 0x46]],
  ['a PDF document', [0x25, 0x50, 0x44, 0x46]],
  ['a zip archive or spreadsheet', [0x50, 0x4b, 0x03, 0x04]],
  ['a gzip archive', [0x1f, 0x8b]],
  ['an old binary spreadsheet', [0xd0, 0xcf, 0x11, 0xe0]],
  ['a program', [0x7f, 0x45, 0x4c, 0x46]],
  ['a database file', [0x53, 0x51, 0x4c, 0x69, 0x74, 0x65, 0x20]],
];

const CONTROL_LIMIT = 0.02;

function looksUtf16(bytes: Uint8Array): 'utf-16le' | 'utf-16be' | null {
  const n = Math.min(bytes.length, 4096) & ~1;
  if (n < 8) return null;
  let even = 0;
  let odd = 0;
  for (let i = 0; i < n; i += 2) {
    if (bytes[i] === 0) even++;
    if (bytes[i + 1] === 0) odd++;
  }
  if (odd > n * 0.2 && even < n * 0.05) return 'utf-16le';
  if (even > n * 0.2 && odd < n * 0.05) return 'utf-16be';
  return null;
}

/** Bytes that are no UTF-8 are strays in it as long as there are this many true characters to each. */
const TRUE_TO_STRAY = 2;

/**
 * Decides how the first megabyte of a file is to be read as text, or says what the file is instead.
 * Byte-order marks and being UTF-8 decide where they can, how the letters read for anything else.
 */
export function sniffEncoding(bytes: Uint8Array): Result<TextEncoding, Issue> {
  if (bytes.length === 0) return err({ code: 'emptyFile', path: {} });
  const at = (i: number) => bytes[i];
  if (at(0) === 0xef && at(1) === 0xbb && at(2) === 0xbf)
    return ok({ name: 'utf-8-bom', decoder: 'utf-8', bomBytes: 3 });
  if (at(0) === 0xff && at(1) === 0xfe) return ok({ name: 'utf-16le', decoder: 'utf-16le', bomBytes: 2 });
  if (at(0) === 0xfe && at(1) === 0xff) return ok({ name: 'utf-16be', decoder: 'utf-16be', bomBytes: 2 });
  const signature = SIGNATURES.find(([, head]) => head.every((byte, i) => at(i) === byte));
  if (signature) return err({ code: 'notATable', kind: signature[0], path: {} });
  const wide = looksUtf16(bytes);
  if (wide) return ok({ name: wide, decoder: wide, bomBytes: 0 });
  let control = 0;
  const { length } = bytes;
  for (let i = 0; i < length; i++) {
    const byte = bytes[i] ?? 0;
    if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 13 && byte !== 12 && byte !== 0) control++;
  }
  if (control > bytes.length * CONTROL_LIMIT) return err({ code: 'notATable', kind: 'a binary file', path: {} });
  const { characters, strays } = countUtf8(bytes);
  if (strays * TRUE_TO_STRAY <= characters) return ok({ name: 'utf-8', decoder: 'utf-8', bomBytes: 0 });
  const name = guessEncoding(bytes);
  return ok({ name, decoder: name, bomBytes: 0 });
}
