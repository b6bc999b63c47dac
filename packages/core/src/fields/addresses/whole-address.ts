import type { AddressValue } from '../../model';
import { isLikelyPostalCode } from './address-form';
import { findCountry } from './country';
import { tidyText } from '../values/fold';
import { isRegionName, regionBehind } from './region-names';
import { isPostalCode, parseTownLine } from './town-line';

/** No address is written longer than this. */
const LONGEST = 400;
const STREET_WORD = new RegExp(
  String.raw`(?:^|[\s.])(?:street|st|road|rd|lane|ln|avenue|ave?|drive|dr|close|quay|way|court|ct|place|pl|square` +
    String.raw`|sq|terrace|crescent|gardens|boulevard|blvd|highway|hwy|rue|quai|place|allée|chemin|impasse|calle` +
    String.raw`|c\/|avda|plaza|paseo|rua|travessa|praça|via|viale|corso|piazza|ul|al|os|platz|weg|gasse|ulica|ulice` +
    String.raw`|utca|út|tér|strada|str|улица|ул|пр|пер|наб|дом|д|кв|вул|cadde(?:si)?|cad|sokak|sok)(?:[\s.,]|$)` +
    String.raw`|(?:straße|strasse|str\.|weg|gasse|platz|allee|straat|laan|gracht|plein|gatan|vägen|veien|gade|vej` +
    String.raw`|katu|tie)(?:[\s,]|$)`,
  'iu',
);
/** Parts of a building. */
const WITHIN =
  /^(?:flat|apt|apartment|unit|suite|ste|floor|no|nr|room|block|bldg|building|p\.?\s?o\.? box|po box|postfach|bp|cs)\b|^#/i;
const STATE_AND_CODE = /^([A-Z]{2,3})\.? +(\d{4,5}(?:-\d{4})?|[A-Z]\d[A-Z] ?\d[A-Z]\d)$/;
const JAPANESE = new RegExp(
  String.raw`^(?:〒?\s*(?<code>\d{3}-\d{4})[\s,]*)?(?<region>東京都|北海道|(?:京都|大阪)府` +
    String.raw`|\p{Script=Han}{2,3}県)(?<locality>(?:\p{Script=Han}|[ヶケがのノ])+?(?:市(?:(?:\p{Script=Han})+?区)?|区` +
    String.raw`|郡(?:\p{Script=Han})+?[町村]|町|村))\s*(?<street>.+)$`,
  'u',
);
const JAPANESE_TOWN =
  /^〒?\s*(?<code>\d{3}-\d{4})[\s,]*(?<locality>(?:\p{Script=Han}|[ヶケがのノ])+?(?:市(?:\p{Script=Han}+?区)?|区|町|村))\s*(?<street>.+)$/u;
const KOREAN =
  /^(?:\(?(?<code>\d{5})\)?\s+)?(?<region>[가-힣]+(?:특별시|광역시|특별자치시|특별자치도|도))\s+(?<locality>[가-힣]+[시군구](?:\s+[가-힣]+구)?)\s+(?<street>.+)$/u;
const CHINESE = new RegExp(
  String.raw`^(?:(?<code>\d{6})\s*)?(?<region>\p{Script=Han}{2,3}省|\p{Script=Han}{2,8}自治区|(?:北京|上海|天津|重庆` +
    String.raw`|重慶)市)(?<locality>(?:\p{Script=Han}{2,5}?市)?\p{Script=Han}{1,6}?[区區县縣旗])\s*(?<street>.+)$`,
  'u',
);
/** Districts of a town are counted: "Praha 1", "Dublin 2". */
const DISTRICT = /^\p{Lu}\p{L}+ \d{1,2}$/u;

const isStreetLike = (segment: string) => /\d/.test(segment) || STREET_WORD.test(segment) || WITHIN.test(segment);

/** The line with the town, which begins with its code or ends with it; null where the line is no such. */
function townOf(segment: string): Partial<AddressValue> | null {
  if (STREET_WORD.test(segment) && !/\d{4}/.test(segment)) return null;
  const { locality, region, postalCode } = parseTownLine(segment);
  if (!locality || !postalCode || isStreetNumber(segment, postalCode)) return null;
  const named = region
    ? { locality, region }
    : (regionBehind(locality) ?? provinceBehind(locality, postalCode) ?? { locality });
  return { ...named, postalCode };
}

/** "1234 Main Street" has the number of a house where "1234 Wien" has a code. */
function isStreetNumber(segment: string, code: string): boolean {
  return /^\d{4,5}$/.test(code) && STREET_WORD.test(segment);
}

/** Letters of an Italian province behind the town: "16121 Genova GE". */
function provinceBehind(locality: string, code: string): { locality: string; region: string } | null {
  const [, town, region] = /^(.*\p{Ll}.*?) ([A-Z]{2})$/u.exec(locality) ?? [];
  return /^\d{5}$/.test(code) && town && region ? { locality: town, region } : null;
}

/** Town and region among the lines between street and code; what is left of them belongs to the street. */
function placeOf(lines: string[]): { street: string[]; place: Partial<AddressValue> } {
  const rest = [...lines];
  const place: Partial<AddressValue> = {};
  const last = rest.at(-1);
  if (last !== undefined && rest.length > 1 && isRegionName(last)) {
    place.region = last;
    rest.pop();
  }
  const town = rest.pop();
  if (town !== undefined) {
    const split = place.region ? null : regionBehind(town);
    Object.assign(place, split ?? { locality: town });
  }
  return { street: rest, place };
}

/** The country on the last line. Two letters are one behind a code of its form; else they are those of a state. */
function countryAtEnd(lines: string[]): string | null {
  const last = lines.at(-1) ?? '';
  const country = lines.length > 1 ? findCountry(last) : null;
  // Georgia is a state as well, and behind a town there more often.
  if (last.length > 3 && isRegionName(last)) return null;
  if (country === null || last.length > 3 || /[^A-Za-z.]/.test(last)) return country;
  if (/^(?:UK|U\.K\.|USA|U\.S\.A\.)$/.test(last)) return country;
  const before = lines.at(-2) ?? '';
  const code = STATE_AND_CODE.exec(before)?.[2] ?? townOf(before)?.postalCode ?? (isPostalCode(before) ? before : '');
  return code && isLikelyPostalCode(code, country) ? country : null;
}

/** Code and town in front, as Russia, Hungary and others write: "119019, Москва, ул. Арбат, д. 12". */
function townFirst(lines: string[]): { street: string[]; place: Partial<AddressValue> } | null {
  const [first = '', second = '', ...rest] = lines;
  if (isPostalCode(first) && second && !isStreetLike(second) && rest.length)
    return { street: rest, place: { postalCode: first, locality: second } };
  const town = townOf(first);
  return town && second && isStreetLike(second) ? { street: lines.slice(1), place: town } : null;
}

/** The town with its code, and its region on a line behind it: "34710 Kadıköy, İstanbul". */
function regionLast(lines: string[]): { street: string[]; place: Partial<AddressValue> } | null {
  const town = townOf(lines.at(-2) ?? '');
  const region = lines.at(-1) ?? '';
  if (!town || town.region || lines.length < 3 || isStreetLike(region) || STATE_AND_CODE.test(lines.at(-2) ?? ''))
    return null;
  return { street: lines.slice(0, -2), place: { ...town, region } };
}

/** Town and code at the end, in one line or in two. */
function townLast(lines: string[]): { street: string[]; place: Partial<AddressValue> } | null {
  const last = lines.at(-1) ?? '';
  const before = lines.slice(0, -1);
  const state = STATE_AND_CODE.exec(last);
  if (state && before.length > 1)
    return {
      street: before.slice(0, -1),
      place: { locality: before.at(-1), region: state[1], postalCode: state[2] },
    };
  if (isPostalCode(last) && before.length > 1) {
    const { street, place } = placeOf(before.slice(1));
    const isNone = place.locality === undefined || (isStreetLike(place.locality) && !DISTRICT.test(place.locality));
    return isNone ? null : { street: [before[0] ?? '', ...street], place: { ...place, postalCode: last } };
  }
  const town = townOf(last);
  if (!town || !before.length) return null;
  // "Falmouth, Cornwall TR11 3AB"
  const region = town.locality ?? '';
  const place = before.at(-1) ?? '';
  if (before.length > 1 && !town.region && isRegionName(region) && !isStreetLike(place))
    return { street: before.slice(0, -1), place: { ...town, locality: place, region } };
  return { street: before, place: town };
}

/**
 * Takes a whole address in one text apart, by its lines and commas: street, town, region, postal code, country. What cannot be
 * told stays the street; no letter or digit is lost, but that a country becomes its code (ISO 3166-1). Order of the parts: the
 * forms of the Universal Postal Union (S42). Time is linear in the text's length.
 */
export function parseAddress(text: string): Partial<AddressValue> {
  const whole = text
    .split(/[\r\n]+/)
    .map(tidyText)
    .filter(Boolean)
    .join('\n');
  const asStreet = whole ? { street: whole } : {};
  if (text.length > LONGEST) return asStreet;
  const lines = whole
    .split(/\n|,\s*/)
    .map(tidyText)
    .filter(Boolean);
  const country = countryAtEnd(lines);
  const inside = country ? lines.slice(0, -1) : lines;
  const ofCountry = country ? { country } : {};
  for (const form of [JAPANESE, JAPANESE_TOWN, KOREAN, CHINESE]) {
    const { code, region, locality, street } = form.exec(inside.join(' '))?.groups ?? {};
    if (!locality || !street) continue;
    return { street, locality, ...(region ? { region } : {}), ...(code ? { postalCode: code } : {}), ...ofCountry };
  }
  const found = townLast(inside) ?? regionLast(inside) ?? townFirst(inside);
  if (found) return { street: found.street.join(', '), ...found.place, ...ofCountry };
  const town = inside.at(-1) ?? '';
  if (country && inside.length > 1 && !isStreetLike(town))
    return { street: inside.slice(0, -1).join(', '), locality: town, country };
  return asStreet;
}

/** Whether a text is an address that can be taken apart. */
export function isWholeAddress(text: string): boolean {
  const { street, locality } = parseAddress(text);
  return Boolean(street && locality);
}
