import { getCountries } from 'libphonenumber-js/min';
import { foldText } from './fold';

const LANGUAGES =
  'en de fr es pt it nl da nb sv fi is pl cs sk hu ro el tr ru uk ja ko zh ar he hi vi id ca gl eu cy ga et lv lt sl hr'.split(
    ' ',
  );
const EXTRA: Record<string, string> = {
  uk: 'GB',
  'great britain': 'GB',
  britain: 'GB',
  england: 'GB',
  scotland: 'GB',
  wales: 'GB',
  'northern ireland': 'GB',
  usa: 'US',
  'u s a': 'US',
  'u s': 'US',
  america: 'US',
  'united states of america': 'US',
  holland: 'NL',
  eire: 'IE',
  'republic of ireland': 'IE',
  uae: 'AE',
  czechia: 'CZ',
};

const CURRENCIES: Record<string, string> = {
  GB: 'GBP',
  US: 'USD',
  CA: 'CAD',
  AU: 'AUD',
  NZ: 'NZD',
  CH: 'CHF',
  NO: 'NOK',
  SE: 'SEK',
  DK: 'DKK',
  PL: 'PLN',
  CZ: 'CZK',
  HU: 'HUF',
  JP: 'JPY',
  IN: 'INR',
  ZA: 'ZAR',
  BR: 'BRL',
  MX: 'MXN',
};

/** Currency (ISO 4217) that amounts without one are taken in where a workspace lives; euros where nothing is known. */
export function currencyOf(country: string): string {
  return CURRENCIES[country] ?? 'EUR';
}

let byOrder: readonly string[] | null = null;
let byName: Map<string, string> | null = null;

function nameTable(): Map<string, string> {
  if (byName) return byName;
  const table = new Map<string, string>();
  for (const language of LANGUAGES) {
    const names = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' });
    for (const code of getCountries()) {
      const name = names.of(code);
      if (!name) continue;
      for (const key of [name.toLowerCase(), foldText(name)]) if (key && !table.has(key)) table.set(key, code);
    }
  }
  for (const code of getCountries()) table.set(code.toLowerCase(), code);
  for (const [name, code] of Object.entries(EXTRA)) table.set(name, code);
  return (byName = table);
}

/** The ISO 3166-1 alpha-2 code of a country named in any of some forty languages or by its code, or null. */
export function findCountry(text: string): string | null {
  const plain = text.trim();
  if (!plain) return null;
  const table = nameTable();
  return table.get(plain.toLowerCase()) ?? table.get(foldText(plain)) ?? null;
}

/** ISO 3166-1 alpha-2 codes of all countries, in the order of their names. */
export function countryCodes(): readonly string[] {
  byOrder ??= getCountries().sort((a, b) => countryName(a).localeCompare(countryName(b)));
  return byOrder;
}

/** The country's name in English, or what was given when it is no code. */
export function countryName(code: string): string {
  if (!/^[A-Z]{2}$/.test(code)) return code;
  return new Intl.DisplayNames(['en'], { type: 'region', fallback: 'code' }).of(code) ?? code;
}
