const MONTHS: Record<string, number> = {};
const MONTH_WORDS = [
  'jan january januar janvier enero januari gennaio janeiro janv ene gen',
  'feb february februar fevrier febrero februari febbraio fevereiro fev febr',
  'mar march marz mars marzo maart marco mrz mrt maerz',
  'apr april avril abril aprile avr abr',
  'may mai mayo mei maggio maio mag',
  'jun june juni juin junio giugno junho giu',
  'jul july juli juillet julio luglio julho juil lug',
  'aug august aout agosto augustus ago',
  'sep sept september septembre septiembre settembre setembro set',
  'oct october oktober octobre octubre ottobre outubro okt ott out',
  'nov november novembre noviembre novembro',
  'dec december dezember decembre diciembre dicembre dezembro dez dic',
];
MONTH_WORDS.forEach((words, i) => words.split(' ').forEach((word) => (MONTHS[word] = i + 1)));

/** Languages whose months are read beside those above, in the order in which one is believed where a word is two months. */
const MORE_LANGUAGES =
  'pl cs sk hu ru uk bg da nb sv fi tr ro el nl sl lt lv et id sr sr-Latn ca gl eu is ga cy mk be he ar fa'.split(' ');
/** Languages whose days of the week may stand with a date. */
const DAY_LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'pt', 'ja', 'ko', 'zh', ...MORE_LANGUAGES];
/** Words between the parts of a date, that say nothing. */
const BETWEEN = new Set(
  'st nd rd th er e o a the of on de del d den le el il do di da dia am vom um m g gada r god goda y yy an feira'.split(
    ' ',
  ),
);

const plainWord = (word: string) => word.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

const languages = <T>(list: readonly string[], each: (language: string) => T[]): T[] => list.flatMap(each);

let months: Map<string, number> | null = null;

/** Months as Unicode's locale data (CLDR) names them, alone and within a date, long and short. */
function monthWords(): Map<string, number> {
  if (months) return months;
  const found = new Map(Object.entries(MONTHS));
  for (const [word, month] of languages(MORE_LANGUAGES, (language) =>
    (['long', 'short'] as const).flatMap((month) =>
      [undefined, 'numeric' as const].flatMap((day) => {
        const format = new Intl.DateTimeFormat(`${language}-u-ca-gregory`, { month, day, timeZone: 'UTC' });
        return Array.from({ length: 12 }, (_, i): [string, number] => {
          const part = format.formatToParts(Date.UTC(2001, i, 15)).find(({ type }) => type === 'month');
          return [plainWord(part?.value ?? '').replace(/\.$/, ''), i + 1];
        });
      }),
    ),
  ))
    if (/^\p{L}{3,}$/u.test(word) && !found.has(word)) found.set(word, month);
  return (months = found);
}

let weekdays: Set<string> | null = null;

/** Words that days of the week are made of. */
function weekdayWords(): Set<string> {
  return (weekdays ??= new Set(
    languages(DAY_LANGUAGES, (language) =>
      (['long', 'short'] as const).flatMap((weekday) => {
        const format = new Intl.DateTimeFormat(language, { weekday, timeZone: 'UTC' });
        return Array.from({ length: 7 }, (_, i) => wordsOf(format.format(Date.UTC(2001, 0, i + 1)))).flat();
      }),
    ),
  ));
}

const wordsOf = (text: string) => plainWord(text).match(/\p{L}+/gu) ?? [];

/** The month that a word names, whole or by three letters of it and more. */
function monthOf(word: string): number | undefined {
  const known = monthWords();
  const found = known.get(word);
  if (found || word.length < 3) return found;
  // A Hebrew date says "in April" in one word.
  if (word.startsWith('ב') && known.has(word.slice(1))) return known.get(word.slice(1));
  for (const [name, month] of known) if (name.startsWith(word)) return month;
  return undefined;
}

export interface WordedDate {
  year: string | null;
  month: number;
  day: number;
}

/**
 * A date with its month as a word, in any order of the parts ("3 April 1985", "April 3rd", "1985. ápr. 3.", "onsdag den 3.
 * april"), or null. Words that are neither month nor day of the week nor a small word of dates make it none.
 */
export function readWordedDate(text: string): WordedDate | null {
  const numbers = text.match(/\d+/g) ?? [];
  const words = wordsOf(text);
  if (!words.length || !numbers.length || numbers.length > 2 || numbers.some((n) => n.length > 4)) return null;
  const named: number[] = [];
  for (const word of words) {
    const month = monthOf(word);
    // "mar" is Tuesday beside another month.
    if (month) named.push(month);
    else if (!BETWEEN.has(word) && !weekdayWords().has(word)) return null;
  }
  const [first] = named;
  const alone =
    named.length > 1 ? words.filter((word) => monthOf(word) && !weekdayWords().has(word)).map(monthOf) : [first];
  const month = alone.length === 1 ? alone[0] : undefined;
  if (!month) return null;
  const at = numbers.findIndex((n) => n.length <= 2 && Number(n) <= 31);
  const day = numbers[at];
  if (day === undefined) return null;
  const year = numbers.length === 2 ? (numbers[1 - at] ?? null) : null;
  return year?.length === 3 ? null : { year, month, day: Number(day) };
}
