/** Signs that windows-1252 has for the bytes 0x80 to 0x9f, in their order; those it leaves open stand for themselves. */
const HIGH =
  '\u20ac\u0081\u201a\u0192\u201e\u2026\u2020\u2021\u02c6\u2030\u0160\u2039\u0152\u008d\u017d\u008f\u0090' +
  '\u2018\u2019\u201c\u201d\u2022\u2013\u2014\u02dc\u2122\u0161\u203a\u0153\u009d\u017e\u0178';
const byteOf = new Map([...HIGH].map((sign, i) => [sign, 0x80 + i]));
/** The first byte of a letter in UTF-8, read as windows-1252, with what follows it. */
const SUSPECT = /[\u00c2-\u00f4][\u0080-\u00bf\u0152-\u0192\u02c6\u02dc\u2013-\u2122]/;
const utf8 = new TextDecoder('utf-8', { fatal: true });

/**
 * Text that was written in UTF-8 and read as windows-1252, made whole: "JÃ¡nos" becomes "János". Text that was not, or
 * that cannot be mended, comes back as it is. For comparison only; what was typed is kept.
 */
export function repairMojibake(text: string): string {
  if (!SUSPECT.test(text)) return text;
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    const byte = code < 0x100 ? code : byteOf.get(text[i] ?? '');
    if (byte === undefined) return text;
    bytes[i] = byte;
  }
  try {
    return utf8.decode(bytes);
  } catch {
    return text;
  }
}
