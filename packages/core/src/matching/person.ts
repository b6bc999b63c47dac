import {
  emailKey,
  foldWords,
  GENERATIONS,
  isPlaceholderDate,
  isPlaceholderName,
  isPlaceholderText,
  isRoleMailbox,
  meantEmail,
  PARTICLES,
  phoneKey,
  postalKey,
  PREFIXES,
  repairMojibake,
  splitName,
  streetKey,
  foldText,
  SUFFIXES,
} from '../fields';
import { hangulFamily, scriptOf, type NameScript } from './romanised';

/** What a record says about a person, as text. The matching engine reads nothing else. */
export interface PersonFacts {
  givenName?: string;
  additionalNames?: string;
  familyName?: string;
  suffix?: string;
  nickname?: string;
  fullName?: string;
  organization?: string;
  title?: string;
  emails?: string[];
  /** E.164 where known, else digits. */
  phones?: string[];
  street?: string;
  locality?: string;
  region?: string;
  postalCode?: string;
  country?: string;
  /** ISO 8601. */
  bday?: string;
}

export interface MailboxFacts {
  key: string;
  local: string;
  /** Local part without separators. */
  plain: string;
  /** The same without digits at the end. */
  stem: string;
  digits: string;
  domain: string;
  role: boolean;
}

/** A person prepared for comparison: everything folded once, so that comparing is cheap. */
export interface MatchPerson {
  given: string[];
  /** Given names without particles, run together. */
  givenText: string;
  nickname: string;
  /** Set when the name is in a script whose sounds cannot be told (Han); it then compares only with its like. */
  unreadable: boolean;
  /** The script the name was written in. */
  script: NameScript;
  /** Family name words without particles. */
  family: string[];
  familyText: string;
  /** The same with particles. */
  familyWhole: string;
  /** Set when the family name was read out of an e-mail address. */
  familyInferred: boolean;
  generation: string;
  emails: MailboxFacts[];
  phones: string[];
  organization: string[];
  organizationText: string;
  /** Names of organizations that mailboxes' domains tell, letters only. */
  domainNames: string[];
  street: string;
  house: string;
  postal: string;
  locality: string;
  bday: string;
}

const LEGAL = new Set(
  'ltd limited llc llp inc incorporated corp corporation co company gmbh ag kg ohg bv nv sa sl srl spa sarl sas ab as aps oy oyj plc pty kk cic the and und et sons son e v ev'.split(
    ' ',
  ),
);

/** Organization name without legal form and small words, folded. */
export function organizationWords(name: string): string[] {
  const words = foldWords(name);
  const kept = words.filter((word) => !LEGAL.has(word));
  return kept.length ? kept : words;
}

const NOBODY = /^(?:none|no|noemail|nomail|no\.?email|unknown|test|na|n\.?a|xxx?|nobody|example|email|asdf|abc)$/;
const DIGIT = /\d/;

/** Local part and domain of a mailbox that is somebody's, folded; null for none@ and the like. */
function partsOfMailbox(key: string): [local: string, domain: string] | null {
  const at = key.lastIndexOf('@');
  if (at <= 0 || at === key.length - 1) return null;
  const local = key.slice(0, at);
  return local.length <= 8 && NOBODY.test(local) ? null : [local, key.slice(at + 1)];
}

/** What a mailbox is known by, of its match key; null where it is nobody's. */
export function mailboxKey(key: string): string | null {
  const parts = partsOfMailbox(key);
  return parts && keyOfMailbox(...parts);
}

/** What no address has that is one. */
const ODD_MAILBOX = /[\s,;:()<>[\]{}]|^[^@]*$|\.\./;

function mailbox(address: string): MailboxFacts | null {
  const key = ODD_MAILBOX.test(address) ? (meantEmail(address)?.key ?? emailKey(address.trim())) : emailKey(address);
  const parts = partsOfMailbox(key);
  if (!parts) return null;
  const [local, domain] = parts;
  const plain = local.replace(/[._-]+/g, '');
  const numbered = DIGIT.test(plain);
  return {
    key: keyOfMailbox(local, domain),
    local,
    plain,
    stem: numbered ? plain.replace(/\d+$/, '') : plain,
    digits: numbered ? plain.replace(/\D+/g, '') : '',
    domain,
    role: isRoleMailbox(local),
  };
}

/** What a mailbox is known by: dots in the local part make no other mailbox. */
export const keyOfMailbox = (local: string, domain: string): string =>
  `${local.includes('.') ? local.replaceAll('.', '') : local}@${domain}`;

/** Given names run together, without particles. */
export function givenTextOf(given: readonly string[]): string {
  if (given.length === 1) return given[0] ?? '';
  return given.filter((word) => !PARTICLES.has(word)).join('') || given.join('');
}

/** A number as it is compared: "+" and country code where those are sure, else the national digits alone. Empty for a placeholder. */
export function usefulPhone(phone: string): string {
  const plain = phoneKey(phone);
  let key = E164.test(plain) ? plain : plain.replace(/[^\d+]/g, '').replace(/(?!^)\+/g, '');
  // A number that was read in North America and cannot be from there was read in the wrong country.
  if (key.startsWith('+1') && !NORTH_AMERICAN.test(key)) key = key.slice(2);
  if (!key.startsWith('+')) key = key.replace(/^0+/, '');
  const digits = key.startsWith('+') ? key.slice(1) : key;
  if (
    digits.length < 6 ||
    /^(\d)\1+$/.test(digits.slice(-7)) ||
    digits.endsWith('1234567') ||
    digits.endsWith('123456789')
  )
    return '';
  return key;
}

const E164 = /^\+\d+$/;
const NORTH_AMERICAN = /^\+1[2-9]\d{9}$/;

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

/** Whether a word that may stand for nothing known is a given or family name as well. */
const isName = (word: string) => word === 'na' || word === 'nan';

const BEYOND_ASCII = /[^\0-\x7f]/;
type Three = [string, string, string];

function distinct(texts: string[]): string[] {
  return texts.length < 2 ? texts : [...new Set(texts)];
}

const DOMAINS_KEPT = 5000;
const nameOfDomain = new Map<string, string>();

/** The organization that a domain tells, letters only; kept for domains seen before. */
function domainName(domain: string): string {
  const kept = nameOfDomain.get(domain);
  if (kept !== undefined) return kept;
  const name = domain.replace(/\.[a-z.]+$/, '').replace(/[^a-z]/g, '');
  if (nameOfDomain.size >= DOMAINS_KEPT) nameOfDomain.clear();
  nameOfDomain.set(domain, name);
  return name;
}

/**
 * Prepares one person. Names given in one text are split; a person with only a given name takes the family name that
 * the mailbox tells, marked as inferred. Placeholders (none@, 000..., 1900-01-01, test) count as absent.
 */
export function preparePerson(facts: PersonFacts): MatchPerson {
  let givenText = facts.givenName ?? '';
  let additional = facts.additionalNames ?? '';
  let familyText = facts.familyName ?? '';
  // Most names are plain letters, which no wrong encoding garbles.
  const isPlain = !BEYOND_ASCII.test(`${givenText}${additional}${familyText}${facts.fullName ?? ''}`);
  if (!isPlain) [givenText, additional, familyText] = [givenText, additional, familyText].map(repairMojibake) as Three;
  let suffix = facts.suffix ?? '';
  let nickname = facts.nickname ?? '';
  if (facts.fullName && (!givenText || !familyText)) {
    const whole = repairDigits(isPlain ? facts.fullName : repairMojibake(facts.fullName));
    const read = splitName(whole);
    const { name, fault } = read.fault === 'twoPeople' ? splitName(oneOfTwo(whole)) : read;
    if (!fault) {
      if (!givenText && !familyText) {
        givenText = name.givenName;
        additional ||= name.additionalNames;
        familyText = name.familyName;
      } else if (!familyText) familyText = name.familyName;
      else givenText = name.givenName;
      suffix ||= name.suffix;
      nickname ||= name.nickname;
    }
  }
  // Of a whole name, a part that stands beside another is no stand-in: NA LI.
  const isWhole = facts.fullName !== undefined && !facts.givenName && !facts.familyName;
  const notTitle = (word: string) =>
    !PREFIXES.has(word) && word !== 'fam' && (isName(word) || !isPlaceholderText(word));
  const isNone = (word: string, written: string) =>
    isPlaceholderText(word) && !(isName(word) && (isWhole || !isPlaceholderName(written)));
  let given = foldWords(repairDigits(additional ? `${givenText} ${additional}` : givenText));
  if (given.length > 1) given = given.filter(notTitle);
  if (given.length === 1 && isNone(given[0] ?? '', givenText)) given = [];
  const script = isPlain ? '' : scriptOf(`${givenText} ${familyText}`);
  const familyWords = foldWords((script === 'other' && hangulFamily(familyText)) || repairDigits(familyText));
  let generation = suffix ? (GENERATIONS[foldText(suffix).split(' ')[0] ?? ''] ?? '') : '';
  const cleaned = familyWords.filter((word, i) => {
    if (i === 0 || familyWords.length === 1) return !isNone(word, familyText);
    if (GENERATIONS[word]) {
      generation ||= GENERATIONS[word] ?? '';
      return false;
    }
    return !SUFFIXES.has(word);
  });
  const core = cleaned.filter((word) => !PARTICLES.has(word));
  let family = core.length ? core : cleaned;
  const emails = (facts.emails ?? []).map(mailbox).filter((box): box is MailboxFacts => box !== null);
  let familyInferred = false;
  if (!family.length && given[0]) {
    const inferred = emails.map((box) => familyFromMailbox(given[0] ?? '', box)).find(Boolean);
    if (inferred) {
      family = [inferred];
      familyInferred = true;
    }
  }
  const organization = facts.organization ? organizationWords(facts.organization) : [];
  const street = facts.street ? streetKey(facts.street) : '';
  const bday = facts.bday && !isPlaceholderDate(facts.bday) ? facts.bday : '';
  const nick = foldText(nickname);
  return {
    given,
    givenText: givenTextOf(given),
    nickname: nick,
    unreadable: script === 'han',
    script,
    family,
    familyText: family.join(''),
    familyWhole: familyInferred ? family.join('') : cleaned.join(''),
    familyInferred,
    generation,
    emails,
    phones: distinct((facts.phones ?? []).map(usefulPhone).filter(Boolean)),
    organization,
    organizationText: organization.join(''),
    domainNames: distinct(emails.map((box) => domainName(box.domain)).filter((name) => name.length > 5)),
    street,
    house: street === '' ? '' : (/\b(\d+[a-z]?)\b/.exec(street)?.[1] ?? ''),
    postal: facts.postalCode ? postalKey(facts.postalCode) : '',
    locality: facts.locality ? foldText(facts.locality) : '',
    bday,
  };
}
