import { countryOfPhone, foldText, isJapaneseName, isPhoneOf, phonesIn } from '../../fields';
import type { ColumnGuess } from './guess-columns';

/** Words of headings that are of one language, and where it is spoken, the likeliest country first. */
const LANGUAGES: readonly (readonly [words: string, countries: string])[] = [
  ['zip|zip code|zipcode|state|st|state province', 'US CA'],
  [
    'vorname|nachname|strasse|plz|anrede|geburtsdatum|handy|ort|bemerkung|telefonnummer|festnetz|rufname|zuname|' +
      'familienname|rufnummer|mitglied|verein|schlagworte|bezahlt|beitrag|eintritt',
    'DE AT CH LU',
  ],
  [
    'prénom|nom|adresse|téléphone|portable|courriel|ville|code postal|naissance|société|civilité|mél|tél|mobile|commune|cotisation|adhérent|solde',
    'FR BE CH LU CA',
  ],
  [
    'nombre|apellidos|correo|teléfono|móvil|celular|dirección|código postal|localidad|calle|empresa|tfno|nombre completo|socio|población|municipio|nacimiento',
    'ES MX AR CO CL PE EC UY',
  ],
  [
    'nome|cognome|cellulare|indirizzo|cap|città|comune|telefono|nascita|azienda|ditta|nominativo|recapito|quota|iscritto|tessera',
    'IT CH SM',
  ],
  [
    'nome|apelido|sobrenome|telemóvel|morada|localidade|correio|celular|endereço|cidade|cep|sócio|código postal|nascimento|empresa',
    'PT BR AO MZ',
  ],
  [
    'voornaam|achternaam|naam|straat|woonplaats|plaats|mobiel|telefoonnummer|geboortedatum|bedrijf|roepnaam|telefoon|mailadres|e ' +
      'mailadres|deelnemer|contributie|lidnummer',
    'NL BE',
  ],
  [
    'imię|nazwisko|ulica|miasto|miejscowość|komórka|kod pocztowy|adres|stanowisko|urodzenia|telefon|nr telefonu|imię i nazwisko|składka|uczestnik|uwagi',
    'PL',
  ],
  [
    'förnamn|efternamn|gatuadress|postnummer|postort|ort|mobil|personnummer|e post|namn|telefonnr|medlem|födelsedatum|företag',
    'SE FI',
  ],
  ['fornavn|efternavn|adresse|postnr|by|mobil|fødselsdag|virksomhed', 'DK'],
  ['fornavn|etternavn|adresse|postnr|poststed|mobil|fødselsdato|bedrift', 'NO'],
  ['etunimi|sukunimi|osoite|postinumero|puhelin|matkapuhelin|kaupunki|sähköposti', 'FI'],
  ['jméno|příjmení|ulice|město|psč|obec|datum narození|firma|telefon|poznámka|jméno a příjmení|účastník', 'CZ'],
  ['meno|priezvisko|ulica|mesto|psč|obec|dátum narodenia', 'SK'],
  [
    'név|vezetéknév|keresztnév|utca|város|irányítószám|telefonszám|cím|település|mobil|megjegyzés|összeg|utónév|családnév|cég|beosztás',
    'HU',
  ],
  ['prenume|nume|stradă|oraș|localitate|cod poștal|adresă|județ', 'RO MD'],
  ['ime|prezime|ulica|grad|mjesto|poštanski broj|mobitel', 'HR RS BA'],
  ['ime|priimek|ulica|kraj|pošta|poštna številka|mobilni telefon', 'SI'],
  [
    'ad|soyad|adı|soyadı|cep|adres|şehir|il|ilçe|doğum tarihi|telefon numarası|ad soyad|e posta|üye|notlar|tutar|cep telefonu',
    'TR',
  ],
  ['име|фамилия|телефон|град|улица|пощенски код|имейл', 'BG'],
];
/** Scripts and signs of headings that tell it alone. */
const SCRIPTS: readonly (readonly [sign: RegExp, countries: string])[] = [
  [/[\p{Script=Hiragana}\p{Script=Katakana}]|氏名|電話番号|携帯|自宅|郵便|〒|備考/u, 'JP'],
  [/\p{Script=Hangul}/u, 'KR'],
  [/手機|電郵|郵遞|聯絡/u, 'TW HK'],
  [/手机|电话|邮箱|联系|邮编/u, 'CN SG'],
  [/\p{Script=Greek}/u, 'GR CY'],
  [/\p{Script=Hebrew}/u, 'IL'],
  [/\p{Script=Thai}/u, 'TH'],
  [/[іїєґ]/iu, 'UA'],
  [/\p{Script=Cyrillic}/u, 'RU KZ BY BG'],
];
/** Numbers as they are grouped in North America, whatever language they stand below. */
const NORTH_AMERICAN = /^(?:1[ .-])?\(?[2-9]\d{2}\)?[ .-][2-9]\d{2}[.-]\d{4}$/;
const SPOKEN = LANGUAGES.map(([words, countries]) => ({
  words: new Set(words.split('|').map(foldText)),
  countries: countries.split(' '),
}));
const AMERICAN: ReadonlySet<string> = new Set(['US', 'CA']);
/** Headings that have to be of a language. */
const LEAST_WORDS = 2;
/** The same where the numbers fit the own country as well. */
const WORDS_AGAINST = 4;
/** Share of numbers that have to fit another country. */
const FITS01 = 0.8;
/** The same of the own one, where its language is that of the file. */
const LEAST_FITS01 = 0.5;

/** Countries where the language of the headings is spoken, as so many of them at least have it. */
function spokenIn(headers: readonly (string | null)[], least: number): readonly string[] {
  const said = new Set(
    headers.flatMap((header) => {
      const folded = foldText(header ?? '');
      return [folded, ...folded.split(' ')];
    }),
  );
  const counts = SPOKEN.map(({ words }) => [...words].filter((word) => word && said.has(word)).length);
  const most = Math.max(...counts);
  if (most >= least) return SPOKEN.flatMap(({ countries }, i) => (counts[i] === most ? countries : []));
  const written = headers.join('\n');
  return SCRIPTS.find(([sign]) => sign.test(written))?.[1].split(' ') ?? [];
}

/** Columns whose cells show how people of a country write. */
const WRITTEN: ReadonlySet<string | null> = new Set(['fullName', 'givenName', 'familyName', 'locality', 'street']);
/** Share of cells in a script, from which on the file is written in it. */
const WRITTEN01 = 0.6;

const CHINESE = ['CN', 'SG', 'HK', 'TW'];
/** Families in signs that the mainland has shortened. */
const LONG_SIGNS = /^[張劉陳楊黃趙吳孫馬羅鄭謝許韓馮鄧蕭蔣葉蘇呂盧鍾譚陸賈韋鄒閻龍賀顧龔萬錢嚴湯齊莊華車邊饒]/u;

/** Countries where names and addresses are written as they are here. */
function writtenIn(guesses: readonly ColumnGuess[]): readonly string[] {
  const cells = guesses.filter(({ field }) => WRITTEN.has(field)).flatMap(({ samples }) => samples);
  const isMost = (test: (cell: string) => boolean) =>
    cells.length > 0 && cells.filter(test).length >= WRITTEN01 * cells.length;
  if (isMost((cell) => /\p{Script=Han}/u.test(cell)))
    return cells.some(isJapaneseName)
      ? ['JP', ...CHINESE]
      : cells.some((cell) => LONG_SIGNS.test(cell))
        ? [...CHINESE].reverse()
        : CHINESE;
  // Letters that are Ukrainian alone stand in few of its words.
  if (isMost((cell) => /\p{Script=Cyrillic}/u.test(cell)) && /[іїєґ]/iu.test(cells.join(' '))) return ['UA'];
  return SCRIPTS.find(([sign]) => isMost((cell) => sign.test(cell)))?.[1].split(' ') ?? [];
}

/** The country that most numbers with a code are of; null where there are none, or of several. */
function countryOfCodes(phones: readonly string[]): string | null {
  const countries = phones.flatMap((text) => countryOfPhone(text) ?? []);
  const [first = ''] = countries;
  return countries.length && countries.every((country) => country === first) ? first : null;
}

/**
 * The country (ISO 3166-1 alpha-2) whose numbers a file's phones without a country code are: `home`, unless another fits
 * them at least as well and the file shows it: by numbers beside them that have a code, by the language of the headings, by the
 * script of names where they are no numbers of `home`, or by groups as they are written in North America alone.
 */
export function fileCountry(guesses: readonly ColumnGuess[], home: string): string {
  const phones = guesses
    .filter(({ field }) => field === 'tel')
    .flatMap(({ samples }) => samples.flatMap(phonesIn))
    .map((text) => text.trim());
  const numbers = phones.filter((text) => /^[(\d]/.test(text) && !text.startsWith('00'));
  if (!numbers.length) return home;
  const share = (country: string) => numbers.filter((text) => isPhoneOf(text, country)).length / numbers.length;
  const coded = countryOfCodes(phones);
  if (coded === home) return home;
  const fits01 = share(home);
  const words = fits01 >= FITS01 ? WORDS_AGAINST : LEAST_WORDS;
  const spoken = [
    ...(coded ? [coded] : []),
    ...spokenIn(
      guesses.map(({ header }) => header),
      words,
    ),
    ...(fits01 < FITS01 ? writtenIn(guesses) : []),
  ];
  // A language of several countries: the own one, unless the numbers are another's.
  if (spoken.includes(home) && fits01 >= LEAST_FITS01) return home;
  const least = Math.max(FITS01, fits01);
  const grouped = numbers.filter((text) => NORTH_AMERICAN.test(text)).length / numbers.length;
  return spoken.find((country) => share(country) >= least) ?? (grouped >= FITS01 && !AMERICAN.has(home) ? 'US' : home);
}
