import {
  foldText,
  foldWords,
  GENERATIONS,
  isKnownGivenName,
  isPlaceholderName,
  isPlaceholderText,
  PARTICLES,
  PREFIXES,
  repairMojibake,
  splitName,
  SUFFIXES,
} from '../../fields';
import type { MailboxFacts, PersonFacts } from './person-facts';
import { hangulFamily, scriptOf, type NameScript } from './romanised';

/** The names of a person as they are compared. */
export interface ReadNames {
  given: string[];
  nickname: string;
  script: NameScript;
  /** Words of the family name without particles. */
  family: string[];
  /** The same with particles. */
  familyWhole: string;
  /** Set when the family name was not said as one. */
  familyInferred: boolean;
  generation: string;
}

/** Names as text, before they are folded. */
interface Written {
  given: string;
  additional: string;
  family: string;
  suffix: string;
  nickname: string;
}

const BEYOND_ASCII = /[^\0-\x7f]/;

/** Letters that were read as digits: "E1izabeth". */
function repairDigits(text: string): string {
  return /\d/.test(text)
    ? text
        .replace(/(?<=\p{L})1|1(?=\p{L})/gu, 'l')
        .replace(/(?<=\p{L})0|0(?=\p{L})/gu, 'o')
        .replace(/(?<=\p{L})5|5(?=\p{L})/gu, 's')
        .replace(/(?<=\p{L})8|8(?=\p{L})/gu, 'b')
    : text;
}

const ODD = /[()[\]{}*#?@\d]|\s[-–—]\s/;
/** What stands in brackets, or behind a dash and is no second name, or behind a sign, or is a number. */
const REMARKS = /\s*[([{][^)\]}]*[)\]}]|\s+[-–—]\s+(?!\p{Lu}\p{Ll}+$).*$|\s+[*#].*$|[*#]+|\s+\d+$|\s*\?{2,}$/gu;

/** A part of a name without what somebody has remarked about the record: "Reis (old)", "Reis - do not call", "Reis 2". */
function withoutRemarks(text: string): string {
  if (!ODD.test(text)) return text;
  // Whoever has an address for a name has none.
  return text.includes('@') ? '' : text.replace(REMARKS, '').trim() || text;
}

/** What the name of a couple or of a family says of one of them: Mr & Mrs Ana Reis, Ana & family Reis, Ana and Rui Reis. */
function oneOfTwo(text: string): string {
  const [title, both, family] = [
    '(?:mr|mrs|ms|miss|dr|herr|frau|mme|sr|sra)\\.?',
    '(?:&|\\+|and|und|et|y|e|en)',
    '(?:fam\\.|family|familie|famille|familia|famiglia)',
  ];
  return text
    .replace(new RegExp(`(?<!\\p{L})${title}\\s*${both}\\s*${title}\\s+`, 'iu'), '')
    .replace(new RegExp(`\\s${both}\\s+(?:${family}|partner)(?!\\p{L})|^${family}\\s*`, 'iu'), '')
    .replace(new RegExp(`\\s${both}\\s+\\p{L}+(?=\\s+\\p{L})`, 'iu'), '');
}

/** Fills from a whole name what its parts do not say. */
function fillFrom(whole: string, written: Written): void {
  const text = repairDigits(withoutRemarks(whole));
  const read = splitName(text);
  const { name, fault } = read.fault === 'twoPeople' ? splitName(oneOfTwo(text)) : read;
  if (fault) return;
  if (!written.given && !written.family) {
    written.given = name.givenName;
    written.additional ||= name.additionalNames;
    written.family = name.familyName;
  } else if (!written.family) written.family = name.familyName;
  else written.given = name.givenName;
  written.suffix ||= name.suffix;
  written.nickname ||= name.nickname;
}

/** Whether a family name is a whole name that was put there: "Reis, Ana", "Ana Reis". */
function isWholeName(text: string): boolean {
  if (text.includes(',')) return true;
  const words = foldWords(text);
  return words.length > 1 && (isKnownGivenName(words[0] ?? '') || isKnownGivenName(words.at(-1) ?? ''));
}

function writtenOf(facts: PersonFacts): Written {
  const written: Written = {
    given: facts.givenName ?? '',
    additional: facts.additionalNames ?? '',
    family: facts.familyName ?? '',
    suffix: facts.suffix ?? '',
    nickname: facts.nickname ?? '',
  };
  // Most names are plain letters, which no wrong encoding garbles.
  const repair = (text: string) => (BEYOND_ASCII.test(text) ? repairMojibake(text) : text);
  written.given = withoutRemarks(repair(written.given));
  written.additional = repair(written.additional);
  written.family = withoutRemarks(repair(written.family));
  if (facts.fullName && (!written.given || !written.family)) fillFrom(repair(facts.fullName), written);
  if (!written.given && isWholeName(written.family)) {
    const whole = written.family;
    written.family = '';
    fillFrom(whole, written);
    if (!written.given && !written.family) written.family = whole;
  }
  return written;
}

/** Whether a word that may stand for nothing known is a given or family name as well. */
const isName = (word: string) => word === 'na' || word === 'nan';
const isTitle = (word: string) => PREFIXES.has(word) || word === 'fam';

/** Reads a family name out of a mailbox whose local part begins with the given name or its initial. */
function familyFromMailbox(given: string, box: MailboxFacts): string {
  if (box.role) return '';
  const parts = box.local
    .replace(/\d+$/, '')
    .split(/[._-]+/)
    .filter(Boolean);
  if (parts.length === 2) {
    const [a = '', b = ''] = parts;
    if ((a === given || (a.length === 1 && given.startsWith(a))) && b.length > 2) return b;
    if (b === given && a.length > 2) return a;
    return '';
  }
  if (parts.length === 1 && given.length > 2 && box.stem.startsWith(given) && box.stem.length > given.length + 2)
    return box.stem.slice(given.length);
  return '';
}

/** The family name that is not said as one: by a mailbox, or as the last of several given names that is none. */
function inferFamily(given: string[], emails: readonly MailboxFacts[]): string {
  const first = given[0];
  if (!first) return '';
  for (const box of emails) {
    const told = familyFromMailbox(first, box);
    if (told) return told;
  }
  const last = given.at(-1) ?? '';
  return given.length > 1 && last.length > 2 && !isKnownGivenName(last) && isKnownGivenName(first) ? last : '';
}

/**
 * Reads the names of a person. A name given in one text is split, also one that stands where the given or the family name
 * alone belongs; remarks about the record are left out, and stand-ins for "not known" count as nothing.
 */
export function readNames(facts: PersonFacts, emails: readonly MailboxFacts[]): ReadNames {
  const written = writtenOf(facts);
  // Of a whole name, a part that stands beside another is no stand-in: NA LI.
  const isWhole = facts.fullName !== undefined && !facts.givenName && !facts.familyName;
  const isNone = (word: string, text: string) =>
    isPlaceholderText(word) && !(isName(word) && (isWhole || !isPlaceholderName(text)));
  let given = foldWords(repairDigits(written.additional ? `${written.given} ${written.additional}` : written.given));
  if (given.length > 1) given = given.filter((word) => !isTitle(word) && (isName(word) || !isPlaceholderText(word)));
  if (given.length === 1 && isNone(given[0] ?? '', written.given)) given = [];
  const script = scriptOf(`${written.given} ${written.family}`);
  const familyWords = foldWords((script === 'other' && hangulFamily(written.family)) || repairDigits(written.family));
  let generation = written.suffix ? (GENERATIONS[foldText(written.suffix).split(' ')[0] ?? ''] ?? '') : '';
  const cleaned = familyWords.filter((word, i) => {
    if (i === 0 || familyWords.length === 1) return !isNone(word, written.family);
    if (GENERATIONS[word]) {
      generation ||= GENERATIONS[word] ?? '';
      return false;
    }
    return !SUFFIXES.has(word);
  });
  const core = cleaned.filter((word) => !PARTICLES.has(word));
  const said = core.length ? core : cleaned;
  const inferred = said.length ? '' : inferFamily(given, emails);
  if (inferred && given.at(-1) === inferred) given = given.slice(0, -1);
  return {
    given,
    nickname: foldText(written.nickname),
    script,
    family: inferred ? [inferred] : said,
    familyWhole: inferred || cleaned.join(''),
    familyInferred: inferred !== '',
    generation,
  };
}
