import { findCountry, isPlaceholderText, zerosAreKept } from '../../fields';

/** What shows that a column of postal codes has lost the zeros that some of them begin with. */
export interface LostZeros {
  /** Digits of the codes that are whole. */
  places: number;
  /** How many of the cells looked at are too short, and one of them. */
  codes: number;
  example: string;
  /** Countries (ISO 3166-1 alpha-2) named beside the short ones; empty where none is. */
  countries: string[];
}

const DIGITS = /^(\d{3,8})(?:-\d{4})?$/;
/** A code loses one zero or two; three digits are the least that is one. */
const MOST_LOST = 2;
const ZIP_PLACES = 5;
/** Share of codes of digits among all, and of whole ones among those. */
const OF_DIGITS01 = 0.8;
const WHOLE01 = 0.5;

/**
 * Whether some codes of a column are shorter than the rest because a spreadsheet took them for numbers. Not where any begins
 * with a zero: there zeros were kept, and short codes are another country's. `countries` are the cells beside the codes; ZIP
 * codes (`isZip`) are those of the United States, which have five digits even where none is whole.
 */
export function lostZeros(
  codes: readonly string[],
  countries: readonly string[] | null,
  isZip = false,
): LostZeros | null {
  const filled = codes.flatMap((cell, i) => {
    const code = cell.trim();
    return code && !isPlaceholderText(code) ? [{ code, country: countries?.[i]?.trim() ?? '' }] : [];
  });
  const digits = filled.flatMap((one) => {
    const length = DIGITS.exec(one.code)?.[1]?.length;
    return length === undefined ? [] : [{ ...one, length }];
  });
  if (!digits.length || digits.some(({ code }) => code.startsWith('0'))) return null;
  const places = Math.max(isZip ? ZIP_PLACES : 0, ...digits.map(({ length }) => length));
  const whole = digits.filter(({ length }) => length === places);
  const short = digits.filter(({ length }) => length < places && length >= places - MOST_LOST);
  const [first] = short;
  if (!first || whole.length + short.length < digits.length) return null;
  if (digits.length < OF_DIGITS01 * filled.length || whole.length < (isZip ? 0 : WHOLE01) * digits.length) return null;
  // A country that nobody knows may be any.
  const named = new Set(short.flatMap(({ country }) => (country ? [findCountry(country) ?? '?'] : [])));
  if (isZip && !named.size) named.add('US');
  return { places, codes: short.length, example: first.code, countries: [...named] };
}

/** Whether zeros are to be put back: the codes are of countries whose codes have so many digits, and may begin with a zero. */
export function putsZerosBack({ places, countries }: LostZeros, home: string): boolean {
  return (countries.length ? countries : [home]).every((country) => zerosAreKept(country, places));
}
