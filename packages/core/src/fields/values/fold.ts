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
 * Marks that a letter keeps its name without: accents and points of vowels that may be left out. Not those that are the vowels
 * themselves, as in the scripts of India and South East Asia, nor those that make another sound of a kana.
 */
const MARKS = new RegExp(
  String.raw`[\u0300-\u036f\u0483-\u0489\u0591-\u05bd\u05bf\u05c1\u05c2\u05c4\u05c5\u05c7\u0610-\u061a\u064b-\u065f` +
    String.raw`\u0670\u06d6-\u06dc\u06df-\u06e4\u06e7\u06e8\u06ea-\u06ed\u1ab0-\u1aff\u1dc0-\u1dff\u20d0-\u20ff` +
    String.raw`\ufe20-\ufe2f]+`,
  'g',
);

/**
 * The match form of a text: case, marks, punctuation and script folded away, words apart by one blank.
 * Law: folding twice gives the same as folding once. Text in plain ASCII takes a short cut that agrees with the long way.
 */
export function foldText(text: string): string {
  if (WORD.test(text)) return text.toLowerCase();
  if (PLAIN.test(text)) return text.includes('  ') ? squeeze(text) : text.trim();
  if (ASCII.test(text)) return squeeze(text);
  return squeeze(anyAscii(text.normalize('NFKD').replace(MARKS, '').normalize('NFC')));
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
