import {
  emailKey,
  foldWords,
  isPlaceholderDate,
  isRoleMailbox,
  meantEmail,
  PARTICLES,
  phoneKey,
  postalKey,
  streetKey,
  foldText,
} from '../../fields';
import type { MailboxFacts, PersonFacts } from './person-facts';
import { readNames } from './read-names';
import type { NameScript } from './romanised';

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
  (
    'ltd limited llc llp inc incorporated corp corporation co company gmbh ag kg ohg bv nv sa sl srl spa sarl sas ' +
    'ab as aps oy oyj plc pty kk cic the and und et sons son e v ev'
  ).split(' '),
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

/** The street alone, where the whole address stands in its place. */
function streetOf({ street = '', locality, postalCode }: PersonFacts): string {
  return locality || postalCode || !street.includes(',')
    ? street
    : (/^(?:\d+\w?,\s*)?[^,]+/.exec(street)?.[0] ?? street);
}

/**
 * Prepares one person. Names given in one text are split; a person with only a given name takes the family name that
 * the mailbox tells, marked as inferred (readNames). Placeholders (none@, 000..., 1900-01-01, test) count as absent.
 */
export function preparePerson(facts: PersonFacts): MatchPerson {
  const emails = (facts.emails ?? []).map(mailbox).filter((box): box is MailboxFacts => box !== null);
  const { given, nickname, script, family, familyWhole, familyInferred, generation } = readNames(facts, emails);
  const organization = facts.organization ? organizationWords(facts.organization) : [];
  const street = facts.street ? streetKey(streetOf(facts)) : '';
  const bday = facts.bday && !isPlaceholderDate(facts.bday) ? facts.bday : '';
  return {
    given,
    givenText: givenTextOf(given),
    nickname,
    unreadable: script === 'han',
    script,
    family,
    familyText: family.join(''),
    familyWhole,
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
