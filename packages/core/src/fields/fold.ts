import anyAscii from 'any-ascii';

const WORD = /^[A-Za-z0-9]*$/;
const PLAIN = /^[a-z0-9 ]*$/;
const TIDY = /^[\x21-\x7e]+(?: [\x21-\x7e]+)*$/;
const JOINERS = /^[\u200c\u200d]+$/;
const ASCII = /^[\x20-\x7e]*$/;

function squeeze(text: string): string {
  return text
    .toLowerCase()
    .replace(/['’`]/g, '')
    .replace(/[^a-z0-9]+/g, ' ')
    .trim();
}

/**
 * The match form of a text: case, marks, punctuation and script folded away, words apart by one blank.
 * Law: folding twice gives the same as folding once. Text in plain ASCII takes a short cut that agrees with the long way.
 */
export function foldText(text: string): string {
  if (WORD.test(text)) return text.toLowerCase();
  if (PLAIN.test(text)) return text.includes('  ') ? squeeze(text) : text.trim();
  if (ASCII.test(text)) return squeeze(text);
  return squeeze(anyAscii(text.normalize('NFKD').replace(/\p{M}+/gu, '')));
}

/** The words of the match form. */
export function foldWords(text: string): string[] {
  const folded = foldText(text);
  return folded === '' ? [] : folded.split(' ');
}

/** Collapses white space of any kind (also no-break and zero-width) and trims. Joiners inside a word or picture stay. */
export function tidyText(text: string): string {
  if (TIDY.test(text)) return text;
  return text
    .replace(/[\s\u200b-\u200d\ufeff]+/g, (blank) => (JOINERS.test(blank) ? blank : ' '))
    .replace(/^[ \u200c\u200d]+|[ \u200c\u200d]+$/g, '');
}
