import { openDecoder } from './text-decoder';

/**
 * Guesses the encoding of text that is neither marked nor valid UTF-8. Every encoding is tried: the words that hold bytes above
 * 127 are read in it, and what comes out is weighed by how much it looks like the writing of one language: letters that the
 * language has, capitals where capitals stand, one script in a word, no symbols inside words.
 * Tables: letters of each language in about the order of their frequency; for East Asian encodings the rows in which their
 * standards keep the common characters (GB 2312 and KS X 1001 by rows, JIS X 0208 level 1, Big5 level 1).
 */

/** Letters beyond ASCII by language, the commonest first. */
const LETTERS = {
  german: 'äüöß',
  french: 'éèàêçâîôûùëïœÿæ',
  spanish: 'óíáéñúü',
  portuguese: 'ãçáéóíêõâúôàü',
  italian: 'èàòùìéó',
  dutch: 'ëéïèöüêç',
  nordic: 'äöåøæéü',
  icelandic: 'áíðéóöþæúý',
  estonian: 'äõöüšž',
  polish: 'łąęśżóćńź',
  czech: 'íáéěřšžýčůúťďňóľôä',
  hungarian: 'éáőöóüíúű',
  romanian: 'ăîâșțşţ',
  croatian: 'čšžćđ',
  turkish: 'ıişğüöçâî',
  lithuanian: 'ėšųžąįčęū',
  latvian: 'āīšēņžļģčķū',
  russian: 'оеаинтсрвлкмдпуяыьгзбчйхжшюцщэфъё',
  ukrainian: 'оанитвієрслкмдупязьбгчйхїжцшюєщфґ',
  serbian: 'аоеинрстјукдвмлпгзбчшцжћђхљњфџ',
  greek: 'αοιετσνηυρπκμλςωόίάήέδύγχφβξώζψϋϊ',
  hebrew: 'יוהלאתרבשמנכעדחקפסטגצזםןךףץ',
  arabic: 'الينمتربعدسقفحكهوةىجطصءشخزذثغضأإآظئؤ',
  thai: 'านรก่อเงมยวลดท้สะีัตบปิแคหใจพไำูขโชุืถ',
  /** Names of many western countries in one file. */
  western: '',
} as const;

type Language = keyof typeof LETTERS;

const [LATIN_1, LATIN_2, CYRILLIC] = [
  ['german', 'french', 'spanish', 'portuguese', 'italian', 'dutch', 'nordic', 'western'] as const,
  ['polish', 'czech', 'hungarian', 'romanian', 'croatian'] as const,
  ['russian', 'ukrainian', 'serbian'] as const,
];

/** What is tried, in the order in which an earlier one is believed where two are as good. */
const SINGLE_BYTE: readonly (readonly [encoding: string, languages: readonly Language[]])[] = [
  ['windows-1252', [...LATIN_1, 'icelandic', 'estonian']],
  ['windows-1250', LATIN_2],
  ['iso-8859-2', LATIN_2],
  ['windows-1251', CYRILLIC],
  ['koi8-u', CYRILLIC],
  ['windows-1253', ['greek']],
  ['windows-1254', ['turkish']],
  ['windows-1257', ['lithuanian', 'latvian', 'estonian']],
  ['windows-1255', ['hebrew']],
  ['windows-1256', ['arabic']],
  ['iso-8859-15', LATIN_1],
  ['macintosh', LATIN_1],
  ['x-mac-cyrillic', CYRILLIC],
  ['iso-8859-5', CYRILLIC],
  ['ibm866', CYRILLIC],
  ['ibm850', LATIN_1],
  ['ibm852', LATIN_2],
  ['windows-874', ['thai']],
];

/** Every encoding that a file can be read in, the likeliest first. */
export const ENCODINGS: readonly string[] = [
  'utf-8',
  'utf-16le',
  'utf-16be',
  ...SINGLE_BYTE.map(([encoding]) => encoding),
  'shift_jis',
  'euc-jp',
  'gb18030',
  'big5',
  'euc-kr',
];

/** Bytes of text that are looked at; more tell nothing new. */
const LOOKED_BYTES = 4000;
/** By how much another encoding has to be better than the plain one of western files. */
const MARGIN = 1;
/** Characters of which it is kept whether they are letters. */
const KEPT_CHARACTERS = 4096;
const OUTSIDE = -2;
const INSIDE_A_WORD = -2.5;

const isLatin = (letters: string) => !/[^\p{Script=Latin}]/u.test(letters);
/** An alphabet of its own is told by how often its letters come, a Latin one by which it has. */
const weightsOf = (letters: string): Map<string, number> => {
  const list = [...letters];
  const steep = isLatin(letters) ? 0.6 : 1.1;
  return new Map(list.map((letter, i) => [letter, 1.2 - (steep * i) / list.length]));
};
const WEIGHTS = new Map(Object.entries(LETTERS).map(([language, letters]) => [language, weightsOf(letters)]));
WEIGHTS.set('western', new Map(LATIN_1.flatMap((language) => [...LETTERS[language]].map((letter) => [letter, 0.45]))));

/** The runs of bytes that hold one above 127, each once, apart by blanks. The last may be cut off, also inside of a character. */
function telling(bytes: Uint8Array): Uint8Array {
  const seen = new Set<string>();
  const out: number[] = [];
  let start = -1;
  let high = false;
  for (let i = 0; i <= bytes.length && out.length < LOOKED_BYTES; i++) {
    const byte = bytes[i] ?? 32;
    // Blanks, quotation marks, commas, semicolons: none of them is ever the second byte of a character.
    const ends = byte <= 32 || byte === 34 || byte === 44 || byte === 59;
    if (!ends) {
      if (start < 0) start = i;
      if (byte > 127) high = true;
      continue;
    }
    if (high) {
      const room = LOOKED_BYTES - out.length;
      const run = bytes.subarray(start, Math.min(i, start + room));
      if (i - start >= room) {
        out.push(...run);
        break;
      }
      const key = run.join();
      if (!seen.has(key)) out.push(...run, 32);
      seen.add(key);
    }
    start = -1;
    high = false;
  }
  return Uint8Array.from(out);
}

const letters = new Map<string, boolean>();

function isLetter(c: string): boolean {
  let known = letters.get(c);
  if (known === undefined) {
    known = /\p{L}/u.test(c);
    if (letters.size < KEPT_CHARACTERS) letters.set(c, known);
  }
  return known;
}

const isAscii = (c: string) => c < '\u0080';
const isLower = (c: string) => c !== c.toUpperCase();
const isUpper = (c: string) => c !== c.toLowerCase();

/** What a character beyond ASCII that is no letter says about the reading. */
function symbolWeight(c: string, before: string, after: string): number {
  if (/[\u0080-\u009f\ufffd\ue000-\uf8ff]/u.test(c)) return -6;
  if (/\p{M}/u.test(c)) return isLetter(before) ? 0.3 : -2;
  if (/[’ʼ·\u00a0]/.test(c)) return 0;
  if (/[\u2500-\u259f]/.test(c)) return isLetter(before) && isLetter(after) ? -6 : -3;
  if (isLetter(before) && isLetter(after)) return INSIDE_A_WORD;
  if (/[“”„‘‚«»–—…€£°№]/.test(c)) return 0.3;
  return /[\u00a0©®™ªº²³½¼§±×µ†•]/.test(c) ? 0 : -1;
}

/** How well a text reads as one of a language; positive where its letters are that language's. */
function weigh(text: string, language: Language): number {
  const weights = WEIGHTS.get(language) ?? new Map<string, number>();
  const latin = isLatin(LETTERS[language]);
  const characters = [...text];
  let score = 0;
  for (let i = 0; i < characters.length; i++) {
    const c = characters[i] ?? ' ';
    const before = characters[i - 1] ?? ' ';
    const after = characters[i + 1] ?? ' ';
    if (isAscii(c)) {
      // A capital behind a small letter beyond ASCII, as in "МОЙкa".
      if (!isAscii(before) && /[A-Z]/.test(c) && isLetter(before) && isLower(before)) score -= 1;
      continue;
    }
    if (!isLetter(c)) {
      score += symbolWeight(c, before, after);
      continue;
    }
    // No letter stands alone before an amount, as the sign of pounds read in another way does.
    if (!isLetter(before) && (/[\d.,]/.test(after) || (isUpper(c) && !isLetter(after)))) score += OUTSIDE;
    else score += weights.get(c === 'İ' ? 'i' : c.toLowerCase()) ?? OUTSIDE;
    if (isLetter(before) && isLower(before) && isUpper(c)) score -= 2;
    // "VISSERá" is a name in capitals and something behind it.
    if (isLower(c) && isUpper(before) && isUpper(characters[i - 2] ?? ' ')) score -= 1.5;
    if (!latin && (/[A-Za-z]/.test(before) || /[A-Za-z]/.test(after))) score -= 2;
    // A sign between blanks is seldom a word.
    if (!latin && !isLetter(before) && !isLetter(after)) score -= 1.5;
  }
  return score;
}

interface EastAsian {
  encoding: string;
  /** What a character of two bytes is worth. */
  weigh(lead: number, trail: number): number;
}

const COMMON = 1;
const RARE = -0.5;
const STRANGE = -1;

// Where two read alike the earlier is believed: text in the later one would have shown itself.
const EAST_ASIAN: readonly EastAsian[] = [
  {
    encoding: 'shift_jis',
    weigh(lead, trail) {
      if (lead === 0x82 || lead === 0x83) return trail >= 0x40 ? COMMON : STRANGE;
      if (lead === 0x81) return 0;
      return lead >= 0x88 && lead <= 0x98 ? COMMON : lead <= 0xea ? RARE : STRANGE;
    },
  },
  {
    encoding: 'euc-kr',
    weigh: (lead, trail) => (trail < 0xa1 ? STRANGE : lead >= 0xb0 && lead <= 0xc8 ? COMMON : lead <= 0xa3 ? 0 : RARE),
  },
  {
    encoding: 'euc-jp',
    weigh: (lead, trail) =>
      trail < 0xa1
        ? STRANGE
        : lead === 0xa4 || lead === 0xa5 || (lead >= 0xb0 && lead <= 0xcf)
          ? COMMON
          : lead <= 0xa3
            ? 0
            : RARE,
  },
  {
    encoding: 'gb18030',
    weigh: (lead, trail) => (trail < 0xa1 ? STRANGE : lead >= 0xb0 && lead <= 0xd7 ? COMMON : lead <= 0xa3 ? 0 : RARE),
  },
  {
    encoding: 'big5',
    weigh: (lead) => (lead >= 0xa4 && lead <= 0xc6 ? COMMON : lead === 0xa1 ? 0 : RARE),
  },
];

const isLatinByte = (byte = 0) => (byte | 32) >= 0x61 && (byte | 32) <= 0x7a;

/** How well bytes read as characters of two; null where they cannot. */
function weighPairs(bytes: Uint8Array, { encoding, weigh: weighPair }: EastAsian): number | null {
  try {
    new TextDecoder(encoding, { fatal: true }).decode(bytes, { stream: true });
  } catch {
    return null;
  }
  let score = 0;
  for (let i = 0; i < bytes.length; i++) {
    const lead = bytes[i] ?? 0;
    if (lead < 0x80) continue;
    // Half-width katakana are one byte.
    if (encoding === 'shift_jis' && lead >= 0xa1 && lead <= 0xdf) score += RARE / 2;
    else {
      // One sign inside of a Latin word is a letter or an apostrophe of another encoding.
      const isInside = isLatinByte(bytes[i - 1]) && isLatinByte(bytes[i + 2]);
      score += isInside ? STRANGE : weighPair(lead, bytes[i + 1] ?? 0);
      i++;
    }
  }
  return score;
}

function readAs(encoding: string, bytes: Uint8Array): string {
  const decoder = openDecoder(encoding);
  return decoder.decode(bytes) + decoder.decode();
}

/**
 * The encoding of text that is not UTF-8, as a label of the WHATWG Encoding standard or the name of a code page that we read
 * ourselves. Western text is what it is where nothing says otherwise. Time is linear in the bytes that are looked at.
 */
export function guessEncoding(bytes: Uint8Array): string {
  const words = telling(bytes);
  let best = { encoding: 'windows-1252', score: -Infinity };
  for (const [encoding, languages] of SINGLE_BYTE) {
    const text = readAs(encoding, words);
    const score = Math.max(...languages.map((language) => weigh(text, language)));
    if (best.score === -Infinity || score >= best.score + MARGIN) best = { encoding, score };
  }
  for (const one of EAST_ASIAN) {
    const score = weighPairs(words, one);
    if (score !== null && score > 0 && score > best.score) best = { encoding: one.encoding, score };
  }
  return best.encoding;
}
