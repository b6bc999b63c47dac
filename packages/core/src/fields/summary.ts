import {
  firstText,
  isAddress,
  kindOf,
  lifecycleOf,
  valuesOf,
  type AddressValue,
  type ContactRecord,
  type Value,
} from '../model';
import { completenessOf, WORTH_HAVING, type Weights } from './completeness';
import { foldText } from './values/fold';
import { joinName } from './names/person-name';
import { formatPhone } from './phones/phone';

/** What lists show and sort by, derived from the values alone. */
export interface ContactSummary {
  displayName: string;
  /** The name as it stands in a list: family name first. */
  listName: string;
  sortFamily: string;
  sortGiven: string;
  email: string;
  tel: string;
  organization: string;
  stage: string;
  source: string;
  owner: string;
  tags: string[];
  /** Lower-case text that find-as-you-type looks into. */
  searchText: string;
  /** Share of the fields worth having that are filled, 0 to 100. */
  completeness: number;
  lifecycle: 'live' | 'deleted' | 'merged' | 'erased';
}

/** The normal form of a value where one is kept, else what was typed. */
export function normOf(value: Value): string {
  return typeof value.norm === 'string' ? value.norm : typeof value.v === 'string' ? value.v : '';
}

export function shownPhone(value: Value): string {
  return value.norm ? formatPhone(value.norm) : String(value.v);
}

/** The person's name in spoken order; falls back to organization, e-mail or phone, never to nothing. */
export function displayNameOf(record: ContactRecord): string {
  if (lifecycleOf(record)?.state === 'erased') return 'Erased contact';
  if (kindOf(record) === 'opportunity') return firstText(record, 'opportunityName') || 'No name';
  if (kindOf(record) === 'organization') return firstText(record, 'organization') || 'No name';
  const joined = joinName({
    givenName: firstText(record, 'givenName'),
    additionalNames: firstText(record, 'additionalNames'),
    familyName: firstText(record, 'familyName'),
    suffix: firstText(record, 'suffix'),
  });
  return (
    joined ||
    firstText(record, 'fullName') ||
    firstText(record, 'nickname') ||
    firstText(record, 'organization') ||
    firstText(record, 'email') ||
    firstText(record, 'tel') ||
    'No name'
  );
}

/**
 * Text that finding looks into, word by word. A word that the rest holds already (a name within a mailbox) is not
 * written again: the trigram index is a third of an import's cost, and its size goes with this text.
 */
function searchTextOf(emails: readonly string[], phones: readonly string[], folded: readonly string[]): string {
  let text = '';
  for (const email of emails) text += ` ${email.toLowerCase()}`;
  for (const phone of phones) text += ` ${phone.replace(/\D/g, '')}`;
  for (const part of folded) text = withWords(text, part);
  return text.trim();
}

function withWords(text: string, part: string): string {
  if (part === '' || text.includes(part)) return text;
  if (!part.includes(' ')) return `${text} ${part}`;
  for (const word of part.split(' ')) if (!text.includes(word)) text += ` ${word}`;
  return text;
}

/** Fields whose words somebody is found by too, addresses apart. */
const FOUND_BESIDE = ['additionalNames', 'nickname', 'title', 'legalName', 'note'] as const;

/** Characters of one value that finding looks into; a longer note is found by its beginning. */
const FOUND_IN = 2000;

/** The match form of what somebody is found by beside name, mailboxes, phones and organization. */
function foundBeside(record: ContactRecord): string[] {
  const parts: string[] = [];
  for (const field of FOUND_BESIDE) for (const { v } of record.f[field] ?? []) parts.push(foundIn(String(v)));
  for (const { v } of record.f.adr ?? []) if (isAddress(v)) parts.push(...foundInAddress(v));
  return parts;
}

/** The match form of a text, as far as finding looks into it. */
export const foundIn = (text: string): string => foldText(text.length > FOUND_IN ? text.slice(0, FOUND_IN) : text);

/** The match forms of the street and the town of an address. */
export function foundInAddress({ street, locality }: AddressValue): string[] {
  return [street ? foldText(street) : '', locality ? foldText(locality) : ''];
}

/** What of a summary is counted in lists: whether somebody is here at all, and how they are sorted. */
export function countedOf(
  record: ContactRecord,
): Pick<ContactSummary, 'stage' | 'source' | 'owner' | 'tags' | 'lifecycle'> {
  return {
    stage: firstText(record, kindOf(record) === 'opportunity' ? 'opportunityStage' : 'stage'),
    source: firstText(record, 'source'),
    owner: firstText(record, 'owner'),
    tags: valuesOf(record, 'tags').map((value) => String(value.v)),
    lifecycle: lifecycleOf(record)?.state ?? 'live',
  };
}

/** Derives everything a list needs from one record; `weights` say what completeness is made of. Pure; cost linear in the values. */
export function summarise(record: ContactRecord, weights?: Weights): ContactSummary {
  const displayName = displayNameOf(record);
  const kind = kindOf(record);
  const family = kind !== 'person' ? '' : firstText(record, 'familyName');
  const given = kind !== 'person' ? '' : firstText(record, 'givenName');
  const organization = firstText(record, 'organization');
  const emails = valuesOf(record, 'email');
  const tels = valuesOf(record, 'tel');
  const tel = tels[0];
  const foldedFamily = foldText(family);
  const foldedGiven = foldText(given);
  const foldedDisplay = family || given ? '' : foldText(displayName);
  return {
    displayName,
    listName: family ? (given ? `${family}, ${given}` : family) : displayName,
    sortFamily: `${foldedFamily} ${foldedGiven}`.trim() || foldedDisplay,
    sortGiven: `${foldedGiven} ${foldedFamily}`.trim() || foldedDisplay,
    email: emails[0] ? String(emails[0].v) : '',
    tel: tel ? shownPhone(tel) : '',
    organization,
    searchText: searchTextOf(emails.map(normOf), tels.map(normOf), [
      foldedGiven,
      foldedFamily,
      foldedDisplay,
      organization && foldText(organization),
      ...foundBeside(record),
    ]),
    completeness: completenessOf(kind, (key) => (record.f[key]?.length ?? 0) > 0, weights),
    ...countedOf(record),
  };
}

/** What is known of somebody new who has a given and a family name and is called nothing else. */
export interface NamedPerson extends Omit<
  ContactSummary,
  'listName' | 'sortFamily' | 'sortGiven' | 'searchText' | 'completeness' | 'lifecycle'
> {
  given: string;
  family: string;
  foldedGiven: string;
  foldedFamily: string;
  /** Normal forms, in order. */
  emails: readonly string[];
  phones: readonly string[];
  foldedOrganization: string;
  /** The match form of what else they are found by, in the order that `summarise` has, addresses last. */
  foundBeside: readonly string[];
  /** How many of the fields worth having have a value. */
  filled: number;
}

/** The same as `summarise` of the record of such a person. */
export function summaryOfName(person: NamedPerson): ContactSummary {
  const {
    displayName,
    given,
    family,
    foldedGiven,
    foldedFamily,
    emails,
    phones,
    foldedOrganization,
    filled,
    foundBeside,
  } = person;
  const { email, tel, organization, stage, source, owner, tags } = person;
  return {
    displayName,
    listName: `${family}, ${given}`,
    sortFamily: `${foldedFamily} ${foldedGiven}`.trim(),
    sortGiven: `${foldedGiven} ${foldedFamily}`.trim(),
    email,
    tel,
    organization,
    searchText: searchTextOf(emails, phones, [foldedGiven, foldedFamily, foldedOrganization, ...foundBeside]),
    completeness: Math.round((filled / WORTH_HAVING.length) * 100),
    stage,
    source,
    owner,
    tags,
    lifecycle: 'live',
  };
}
