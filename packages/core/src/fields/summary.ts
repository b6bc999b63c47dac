import { firstText, kindOf, lifecycleOf, valuesOf, type ContactRecord, type Value } from '../model';
import { foldText } from './fold';
import { joinName } from './person-name';
import { formatPhone } from './phone';

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
  lifecycle: 'live' | 'deleted' | 'merged';
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
function searchTextOf(record: ContactRecord, names: string[], organization: string): string {
  let text = '';
  for (const value of valuesOf(record, 'email')) text += ` ${normOf(value).toLowerCase()}`;
  for (const value of valuesOf(record, 'tel')) text += ` ${normOf(value).replace(/\D/g, '')}`;
  for (const name of names) text = withWords(text, name);
  if (organization) text = withWords(text, foldText(organization));
  if (record.f.additionalNames) text = withWords(text, foldText(firstText(record, 'additionalNames')));
  if (record.f.nickname) text = withWords(text, foldText(firstText(record, 'nickname')));
  return text.trim();
}

function withWords(text: string, part: string): string {
  if (part === '' || text.includes(part)) return text;
  if (!part.includes(' ')) return `${text} ${part}`;
  for (const word of part.split(' ')) if (!text.includes(word)) text += ` ${word}`;
  return text;
}

const WORTH_HAVING = [
  'givenName',
  'familyName',
  'email',
  'tel',
  'adr',
  'organization',
  'source',
  'stage',
  'tags',
  'bday',
];

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

/** Derives everything a list needs from one record. Pure; cost linear in the values. */
export function summarise(record: ContactRecord): ContactSummary {
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
  let filled = 0;
  for (const key of WORTH_HAVING) if (record.f[key]?.length) filled++;
  const foldedDisplay = family || given ? '' : foldText(displayName);
  return {
    displayName,
    listName: family ? (given ? `${family}, ${given}` : family) : displayName,
    sortFamily: `${foldedFamily} ${foldedGiven}`.trim() || foldedDisplay,
    sortGiven: `${foldedGiven} ${foldedFamily}`.trim() || foldedDisplay,
    email: emails[0] ? String(emails[0].v) : '',
    tel: tel ? shownPhone(tel) : '',
    organization,
    searchText: searchTextOf(record, [foldedGiven, foldedFamily, foldedDisplay], organization),
    completeness: Math.round((filled / WORTH_HAVING.length) * 100),
    ...countedOf(record),
  };
}
