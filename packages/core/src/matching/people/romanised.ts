import { wordTable } from '../../model';
/** How family names of one Hangul sign are usually written in Latin letters, where that is not how they are spelt out. */
const HANGUL_FAMILIES = wordTable(
  Object.fromEntries(
    (
      '이lee 김kim 박park 최choi 정jung 강kang 조cho 윤yoon 장jang 임lim 오oh 신shin 권kwon 안ahn 류ryu 유yoo 노noh 우woo 구koo 문moon ' +
      '주joo 허heo 고ko 곽kwak 성sung 천chun 공kong 현hyun 변byun 추choo 선sun 명myung 기ki 금keum 국kook'
    )
      .split(' ')
      .map((pair) => [pair[0] ?? '', pair.slice(1)]),
  ),
);

/** A family name of one Hangul sign as it is usually written in Latin letters; null for anything else. */
export function hangulFamily(text: string): string | null {
  return HANGUL_FAMILIES[text.trim()] ?? null;
}

export type NameScript = '' | 'han' | 'abjad' | 'other';

const UNSURE_VOWELS = new RegExp(
  String.raw`[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Devanagari}\p{Script=Bengali}` +
    String.raw`\p{Script=Gurmukhi}\p{Script=Gujarati}\p{Script=Oriya}\p{Script=Tamil}\p{Script=Telugu}` +
    String.raw`\p{Script=Kannada}\p{Script=Malayalam}\p{Script=Sinhala}\p{Script=Thai}\p{Script=Lao}` +
    String.raw`\p{Script=Khmer}\p{Script=Myanmar}]`,
  'u',
);
const SURE_VOWELS = new RegExp(
  String.raw`[\p{Script=Cyrillic}\p{Script=Greek}\p{Script=Hangul}\p{Script=Hiragana}\p{Script=Katakana}` +
    String.raw`\p{Script=Armenian}\p{Script=Georgian}\p{Script=Ethiopic}]`,
  'u',
);
const BEYOND_LATIN = /[^\0-\u024f\u1e00-\u1eff]/;

/**
 * The kind of script a name is written in: Latin, Han (whose sounds the signs do not tell), one that leaves vowels out or does
 * not tell them for sure (abjads and abugidas), or any other.
 */
export function scriptOf(text: string): NameScript {
  if (!BEYOND_LATIN.test(text)) return '';
  if (/\p{Script=Han}/u.test(text)) return 'han';
  if (UNSURE_VOWELS.test(text)) return 'abjad';
  return SURE_VOWELS.test(text) ? 'other' : '';
}

/** A folded word without vowels, half-vowels and doubled letters: what a script without vowels leaves of it. */
export function skeleton(word: string): string {
  return word.replace(/[aeiouyw]/g, '').replace(/(.)\1+/g, '$1');
}

/**
 * The consonants of a folded word, with those made alike that scripts without vowels write alike or Latin letters write in
 * several ways: K for k, kh and ch, Z for ts and tz, s for sh, v for b and v, f for p and f.
 */
function consonants(word: string): string {
  return word
    .replace(/t[sz]/g, 'Z')
    .replace(/sh/g, 's')
    .replace(/[kc]h|ck|[ckq]/g, 'K')
    .replace(/ph|p/g, 'f')
    .replace(/th/g, 't')
    .replace(/[bv]/g, 'v')
    .replace(/[aeiouyw]/g, '')
    .replace(/(.)\1+/g, '$1');
}

/** Letters that one writing has for a vowel and the other leaves out. */
const MAY_BE_VOWEL = /[vh]/;

/** How many consonants two folded words have in common that differ in their vowels alone; 0 for words that differ in more. Symmetric. */
export function commonConsonants(a: string, b: string): number {
  const [x, y] = [consonants(a), consonants(b)];
  return Math.max(inStep(x, y), inStep(y, x));
}

/** The same of consonants, where of two that may be vowels the second is passed over first. */
function inStep(x: string, y: string): number {
  let [i, j, common] = [0, 0, 0];
  while (i < x.length || j < y.length) {
    const [p = '', q = ''] = [x[i], y[j]];
    if (p === q || (p + q).replace('K', 'h') === 'hh') {
      i++;
      j++;
      common++;
    } else if (MAY_BE_VOWEL.test(q)) j++;
    else if (MAY_BE_VOWEL.test(p)) i++;
    else return 0;
  }
  return common;
}

/** A folded word with what the ways of writing foreign sounds in Latin letters differ in made alike. */
export function leniently(word: string): string {
  const known = lenient.get(word);
  if (known !== undefined) return known;
  if (lenient.size >= KEPT) lenient.clear();
  const made = madeLenient(word);
  lenient.set(word, made);
  return made;
}

const KEPT = 20_000;
const lenient = new Map<string, string>();

function madeLenient(word: string): string {
  return word
    .replace(/x/g, 'ks')
    .replace(/ph/g, 'f')
    .replace(/kh|gh/g, 'k')
    .replace(/tch|ch|zh|j/g, 'j')
    .replace(/eo|eu|oo|ou|wu|u/g, 'u')
    .replace(/ee|ie|ii|iy|yi|ey|ei|ij|y|i/g, 'i')
    .replace(/ia|ja|ya/g, 'ia')
    .replace(/[gq]/g, 'k')
    .replace(/[dt]h?/g, 't')
    .replace(/[bp]/g, 'p')
    .replace(/[fvw]/g, 'v')
    .replace(/[rl]/g, 'l')
    .replace(/h/g, '')
    .replace(/(.)\1+/g, '$1');
}
