import { wordTable } from '../model';
import { foldText, foldWords, type NameOrder } from '../fields';
import {
  ABOUT,
  FAMILY_FIRST_HEADINGS,
  FILLERS,
  IF_VALUES_FIT,
  KIND_WORDS,
  LABEL_WORDS,
  OF_FAMILIES,
  OF_OTHERS,
  ONLY_ALONE,
  PHRASES,
  SHORT,
  TELLING,
} from './header-tables';

const byPhrase = new Map<string, string>();
/** Phrases without their blanks: "geburts datum" and "Geburtsdatum" are one. */
const byLetters = new Map<string, string>();
for (const [target, phrases] of Object.entries(PHRASES))
  for (const phrase of phrases.split('|')) {
    const folded = phrase === '@' ? phrase : foldText(phrase);
    if (!folded) continue;
    if (!byPhrase.has(folded)) byPhrase.set(folded, target);
    const letters = folded.replaceAll(' ', '');
    if (!byLetters.has(letters)) byLetters.set(letters, target);
  }

// "What is your date of birth?" is a date birth without the words that add nothing.
for (const [phrase, target] of [...byPhrase]) {
  const bare = phrase.split(' ').filter((word) => !FILLERS.has(word));
  const text = bare.join(' ');
  if (bare.length > 1 && !byPhrase.has(text)) byPhrase.set(text, target);
}

const familyFirstHeadings = new Set(FAMILY_FIRST_HEADINGS.split('|').map(foldText));

const SPANISH_NAME =
  /\b(?:nombres?|apellidos?|contacto|soci[oa]|alumn[oa]|estudiante|donante|invitado|asistente)\b|^(?:persona|participante|cliente)$/;

/**
 * How a heading of whole names says that they are written: family name first ("Surname, forename", "ФИО", "Név"), or given name
 * and two family names, as people have them where Spanish is spoken. Null where it says nothing.
 */
export function saysNameOrder(header: string): NameOrder | null {
  const folded = foldText(header.replace(/_/g, ' '));
  if (familyFirstHeadings.has(folded)) return 'familyFirst';
  return SPANISH_NAME.test(folded) ? 'twoFamilies' : null;
}

/** Scripts that are written without blanks. */
const UNSPACED = /^[\p{Script=Han}\p{Script=Hangul}\p{Script=Hiragana}\p{Script=Katakana}]/u;
const labelWords = new Map<string, string>();
const labelStems: [stem: string, label: string][] = [];
const unspacedLabels: string[] = [];
for (const [label, words] of LABEL_WORDS)
  for (const word of words.split('|')) {
    if (UNSPACED.test(word)) unspacedLabels.push(foldText(word.replace('*', '')));
    if (word.endsWith('*')) labelStems.push([foldText(word.slice(0, -1)), label]);
    else for (const folded of foldWords(word)) labelWords.set(folded, label);
  }

/** Certainty of a wording that stands for several things. */
const UNSURE01 = 0.65;
/** Endings of one word that say "number". */
const NUMBER_ENDING = /(?:nummer|nr|number|szam|num|numero|fanhao|haoma|hao|beonho)$/;
const OF_SOMEBODY =
  'membership|patron|patient|pupil|subscriber|volunteer|guest|relatie|tessera|kd|customer|cust|client|member|' +
  'donor|supporter|student|pupil|kunden?|mitglieds?|teilnehmer|schuler|mitgl|spender|klant|klanten|lid|leden|' +
  'donateur|kund|medlems?|elev|asiakas|jasen|klienta?|czlonka|czlonkowski|zakaznika?|clena?|clanski|clan|ugyfel|' +
  'tag|musteri|uye|cliente|socio|socia|adherent|membre|usager|utente|aluno|associado|kontakt|contact|person|personen';
const ID_WORD = 'nr|no|num|number|nummer|id|code|key|ref|kennung|kod|numer|cislo|broj|szam|numero|n|nro|azonosito';
/** Numbers that an organisation gives to its people. */
const OUTSIDE_ID = new RegExp(
  `^(?:(?:${OF_SOMEBODY}) ?(?:${ID_WORD})|(?:${ID_WORD}|codigo|codice|cod|identifiant) (?:(?:de|del|do|da|di|du|d) )?(?:${OF_SOMEBODY}))$`,
);

export interface HeaderReading {
  target: string | null;
  label: string | null;
  /** How sure the wording alone is, 0 to 1. */
  certainty01: number;
  /** The number that the heading has, as in "Phone 2"; null where it has none. */
  ordinal: number | null;
  /** Whether it is somebody else's ("Emergency phone"). */
  ofOthers: boolean;
  /** Whether it says something about a value ("Phone verified"). */
  isAbout: boolean;
  /** Whether it speaks of ZIP codes, which are American. */
  isZip: boolean;
  /** Set where the column says of which kind the values of another are, as in "Phone type": what that one means. */
  kindOf: string | null;
}

/** The label that a word stands for ("cell", "privat", "kotipuhelin"), or null. */
export function labelWord(word: string): string | null {
  const folded = foldText(word);
  return LETTER_LABELS[folded] ?? labelOf(folded);
}

const LETTER_LABELS = wordTable({ h: 'home', w: 'work', c: 'mobile', m: 'mobile', f: 'fax' });
/** Letters that are labels in German: "Tel. p.", "Tel. d." (privat, dienstlich, geschäftlich). */
const GERMAN_LETTER = /^(?:tel|telefon|fon|fax|mail|e-?mail)\b.*\b([pdg])\.?$/i;
const GERMAN_LABELS = wordTable({ p: 'home', d: 'work', g: 'work' });

/** Whose a value is, where that is written together with what it is: "workphone", "自宅電話". */
function ownerOf(word: string): string | null {
  const owner = unspacedLabels.find((label) => word.startsWith(label) && word.length > label.length);
  if (owner !== undefined) return owner;
  for (let i = word.length - 3; i > 2; i--)
    if (labelWords.has(word.slice(0, i)) && byPhrase.has(word.slice(i))) return word.slice(0, i);
  return OWNERS.exec(word)?.[1] ?? null;
}

const isWhat = (rest: string) => byPhrase.has(rest) || rest.replace(NUMBER_ENDING, '') === '';

function labelOf(word: string): string | null {
  const owner = ownerOf(word);
  return (
    labelWords.get(word) ??
    labelStems.find(([stem]) => word.startsWith(stem))?.[1] ??
    (owner && isWhat(word.slice(owner.length)) ? (labelWords.get(owner) ?? null) : null)
  );
}

/** Written together with what a value is as labels are ("contactphone"), and no label itself. */
const OWNERS = /^(contact)(?=\p{L}{3})/u;

/** A word without what says only whose it is or that it is a number: "privattelefon" and "telefonnr" are telephones. */
function core(word: string): string | null {
  if (byPhrase.has(word) || byLetters.has(word)) return word;
  const bare = word.replace(NUMBER_ENDING, '');
  if (bare && bare !== word && byPhrase.has(bare)) return bare;
  const owned = bare.slice(ownerOf(bare)?.length ?? bare.length);
  if (byPhrase.has(owned)) return owned;
  for (const [stem] of labelStems) {
    if (!word.startsWith(stem) || word.length < stem.length + 3) continue;
    const rest = word.slice(stem.length).replace(NUMBER_ENDING, '');
    for (const part of [rest, rest.replace(/^(?:es|s|e|a)/, '')]) if (byPhrase.has(part)) return part;
  }
  return null;
}

/** The meaning that a word inside of a longer heading stands for. */
function hintOf(word: string): string | null {
  if (word.includes(' ')) return byPhrase.get(word) ?? null;
  const plain = core(word);
  const target = plain === null || ONLY_ALONE.has(plain) ? null : (byPhrase.get(plain) ?? byLetters.get(plain) ?? null);
  return target && (TELLING.includes(target) || target === 'givenName' || target === 'familyName') ? target : null;
}

const known = (phrase: string): string | undefined => byPhrase.get(phrase) ?? byLetters.get(phrase.replaceAll(' ', ''));

/** Words for a name, apart from whose it is: "Name of applicant", "nom de l'adhérent". */
const NAME_WORDS: ReadonlySet<string> = new Set(
  'name names nom nombre nome naam namn navn nimi imie nazwa jmeno meno ime nev neve adi ad imya ime onoma'.split(' '),
);
/** Whose number it is where nothing else is said, and no number of a firm is meant. */
const NUMBER_OF: ReadonlySet<string> = new Set(['home', 'work', 'office', 'day', 'daytime', 'evening']);
const NUMBER_WORDS: ReadonlySet<string> = new Set(['no', 'nr', 'num', 'number', 'numbers']);
/** What is said behind a small word of place is where: "Role at organisation". */
const WHERE = /\s(?:at|within|in (?:the|your|our)|im|bei|beim|dans|chez|presso|bij|hos)\s.*$/i;

/** A given or family name within a heading, apart from whose it is: "Attendee first name", "Student last". */
const NAME_PART = /\b(?:(?:first|last|given|family|christian) names?|forenames?|surnames?|(?:first|last)$)\b/;

/** Which part of somebody's name a heading means; undefined where it says more, or no part. */
function namePartOf(words: readonly string[]): string | undefined {
  const text = words.filter((word) => !/^\d+$/.test(word)).join(' ');
  const part = NAME_PART.exec(text)?.[0];
  if (part === undefined || part === text) return undefined;
  const others = text.replace(part, ' ').split(' ').filter(Boolean);
  return others.every((word) => FILLERS.has(word) || known(word) === 'fullName') ? known(part) : undefined;
}

/** The meaning of a heading without the words that say only whose it is or which. */
function targetOf(words: readonly string[], spaced: string): string | undefined {
  // What stands in brackets is said beside; "Amount (EUR)" is an amount.
  const outside = foldText(spaced.replace(/[([{][^)\]}]*[)\]}]/g, ' '));
  const bare = words.filter((word) => !/^\d+$/.test(word));
  const long = bare.map((word) => SHORT[word] ?? word);
  const part = namePartOf(words);
  if (part) return part;
  const isFiller = (word: string) => FILLERS.has(word);
  const phrases = [
    outside,
    ...[bare, long].flatMap((list) => [
      list,
      list.filter((word) => !isFiller(word)),
      list.filter((word) => !labelOf(word)),
      list.filter((word) => !labelOf(word) && !isFiller(word)),
      list.filter((word) => word.length > 1 && !labelOf(word) && !isFiller(word)),
    ]),
  ];
  for (const phrase of phrases) {
    const text = typeof phrase === 'string' ? phrase : phrase.join(' ');
    const target = text && known(text);
    if (target) return target;
  }
  const only = bare.filter((word) => !isFiller(word));
  const whose = only.filter((word) => !NAME_WORDS.has(word)).join(' ');
  if (only.some((word) => NAME_WORDS.has(word)) && known(whose) === 'fullName') return 'fullName';
  const what = spaced.replace(WHERE, '');
  if (what !== spaced && known(foldText(what))) return known(foldText(what));
  const compound = only.length === 1 ? core(only[0] ?? '') : null;
  if (compound !== null) return known(compound);
  // "Home #": whose number it is.
  if (only.length && only.every((word) => NUMBER_OF.has(word)) && words.some((word) => NUMBER_WORDS.has(word)))
    return 'tel';
  // "Mobile perso": nothing but labels, one of which is a meaning as well.
  return only.every(labelOf) ? only.map(known).find(Boolean) : undefined;
}

/** The one meaning of alternatives ("Comments/notes"); undefined where they are none, null where they differ. */
function ofAlternatives(header: string): string | null | undefined {
  const parts = header.split(/[/|&+,]|\s(?:or|and|oder|und|ou|et|o|y|e|of|en)\s/i).map((part) => foldText(part));
  if (parts.length < 2 || parts.some((part) => !part)) return undefined;
  const targets = new Set(parts.map((part) => known(part) ?? known(SHORT[part] ?? '')));
  if (targets.has(undefined)) return undefined;
  return targets.size === 1 ? [...targets][0] : null;
}

/** A longer text is no heading. */
const LONGEST = 300;
const NOTHING_SAID: HeaderReading = {
  target: null,
  label: null,
  certainty01: 0,
  ordinal: null,
  ofOthers: false,
  isAbout: false,
  isZip: false,
  kindOf: null,
};

/** Whether a word is one of a list, as it stands there, of several or of somebody: "parent", "parents", "child's". */
const isIn = (list: ReadonlySet<string>, word: string) =>
  list.has(word) || (word.endsWith('s') && list.has(word.slice(0, -1)));
const isOther = (word: string) => isIn(OF_OTHERS, word) || isIn(OF_FAMILIES, word);

/** A heading of a parent's or child's value without the word that says whose: "Parent 1 email" is the "email" of "parent 1". */
export function ofFamily(header: string): { who: string; rest: string } | null {
  const words = header.split(/[\s_:./-]+/).filter(Boolean);
  const at = words.findIndex((word) => isIn(OF_FAMILIES, foldText(word)));
  if (at < 0 || words.length < 2) return null;
  const ordinal = words.find((word) => /^\d$/.test(word)) ?? '';
  const rest = words.filter((word, i) => i !== at && word !== ordinal).join(' ');
  return { who: `${foldText(words[at] ?? '').replace(/s$/, '')} ${ordinal}`.trim(), rest };
}

/** What a column's heading says about its meaning, by wording alone, in many languages. Time is linear in its length. */
export function readHeader(header: string): HeaderReading {
  if (header.length > LONGEST) return NOTHING_SAID;
  const spaced = header
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/_/g, ' ')
    .replace(/\b(what|who|where|when)['’]s\b/gi, '$1')
    .replace(/(\p{L})(\d)/gu, '$1 $2')
    .replace(/[#№]|\bn\.?[°º]/giu, ' no ');
  const folded = header.trim() === '@' ? '@' : foldText(spaced);
  const words = folded.split(' ').filter(Boolean);
  const whole = known(folded);
  const letters = words.length > 1 && !whole ? words.map((word) => LETTER_LABELS[word]) : [];
  // Work in Turkish, and no English word.
  const isLabel = (word: string) => word !== 'is' || /[iıİI][şŞ]/u.test(header);
  const label =
    words
      .filter(isLabel)
      .map((word) => labelOf(SHORT[word] ?? word))
      .find(Boolean) ??
    letters.find(Boolean) ??
    GERMAN_LABELS[GERMAN_LETTER.exec(header.trim())?.[1]?.toLowerCase() ?? ''] ??
    null;
  const number = words.map(Number).find((one) => Number.isInteger(one) && one > 0 && one < 20);
  // "Next of kin"; a mobile phone in Greek folds to the same.
  const ofOthers = words.some((word) => isOther(word) && (word !== 'kin' || /kin/i.test(header)));
  const isAbout = words.some((word) => ABOUT.has(word));
  const reading = (target: string | null, certainty01: number, kindOf: string | null = null): HeaderReading => ({
    target,
    label,
    certainty01,
    ordinal: number ?? null,
    ofOthers,
    isAbout,
    isZip: words.some((word) => word === 'zip' || word === 'zipcode'),
    kindOf,
  });
  if (header.trim().startsWith('〒')) return reading('postalCode', 0.85);
  if (!folded || ofOthers) return reading(null, 0);
  if (/anivers\u00e1rio/iu.test(header.normalize('NFC'))) return reading('bday', 0.85);
  if (whole) return reading(whole, IF_VALUES_FIT.has(folded) ? UNSURE01 : 0.95);
  if (OUTSIDE_ID.test(folded)) return reading('externalId', 0.85);
  const alternatives = isAbout ? undefined : ofAlternatives(spaced);
  if (alternatives !== undefined) return reading(alternatives, alternatives ? 0.85 : 0);
  const target = isAbout ? undefined : targetOf(words, spaced);
  if (target) return reading(target, 0.85);
  if (words.length > 5) return reading(null, 0);
  // Two words that belong together say more than either: a "postal code" is neither.
  const pairs = words.slice(1).map((word, i) => `${words[i] ?? ''} ${word}`);
  const hints = [...pairs, ...words].map(hintOf).filter((hint) => hint !== null);
  const telling = TELLING.find((hint) => hints.includes(hint)) ?? hints[0] ?? null;
  if (isAbout) {
    const of = words.filter((word) => !ABOUT.has(word));
    return reading(
      null,
      0,
      words.some((word) => KIND_WORDS.has(word)) ? (targetOf(of, of.join(' ')) ?? telling) : null,
    );
  }
  return telling ? reading(telling, 0.6) : reading(null, 0);
}
