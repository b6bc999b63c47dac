import { foldText } from '../../fields';
import type { Opinion } from './column-opinion';
import type { ColumnProfile } from './column-values';
import { KIND } from '../../model';

const words = (text: string): ReadonlySet<string> => new Set(text.split('|').map((word) => foldText(word)));

const ORGANIZATION = words(
  'organization|organisation|organizations|org|company|companies|business|firm|corporate|corporation|institution|institutional|enterprise|employer|' +
    'body|legal entity|legal person|b2b|charity|club|society|school|association|agency|trade|non profit|nonprofit|ngo|' +
    'firma|firmen|unternehmen|betrieb|verein|institut|juristische person|geschäftlich|geschäftskunde|körperschaft|entreprise|société|' +
    'organisme|personne morale|association|empresa|organización|persona jurídica|sociedad|azienda|società|ente|persona giuridica|organizzazione|' +
    'bedrijf|organisatie|rechtspersoon|zakelijk|vereniging|företag|föreningen|förening|virksomhed|selskab|bedrift|yritys|yhteisö|przedsiębiorstwo|' +
    'firma prawna|osoba prawna|společnost|právnická osoba|cég|szervezet|organização|pessoa jurídica|组织|公司|会社|организация|компания|юрлицо',
);
const PERSON = words(
  'person|people|individual|individuals|private|private individual|private person|personal|contact|human|natural person|b2c|member|consumer|' +
    'privat|privatperson|privatkunde|einzelperson|natürliche person|personne|particulier|personne physique|individuel|individu|persona|' +
    'persona física|particular|individuo|persona fisica|privato|individuale|particulier|persoon|natuurlijk persoon|privé|privatperson|enskild|' +
    'henkilö|yksityinen|osoba|osoba fizyczna|osoba prywatna|fyzická osoba|soukromá osoba|magánszemély|személy|pessoa|pessoa física|个人|個人|физлицо|частное лицо',
);

/** Which kind a word says that a row is; null for a word that says none. */
export function kindSaid(text: string): 'organization' | 'person' | null {
  const word = foldText(text);
  if (ORGANIZATION.has(word)) return 'organization';
  return PERSON.has(word) ? 'person' : null;
}

const OF_WHOM =
  'record|contact|customer|client|donor|supporter|account|entity|party|constituent|member|supplier|kunden?|kontakt|datensatz';
const HEADING = new RegExp(
  `^(?:(?:${OF_WHOM}) ?)?(?:kind|type|entity|category|class|art|typ|type de contact|tipo|tipologia|soort|slag|laji|druh|rodzaj|vid)` +
    '(?: of (?:record|contact|customer|donor))?$',
);

/** A column that says of each row whether it is a person or an organization, by its heading and by all of its cells. */
export function settleKind(
  headers: readonly (string | null)[],
  rows: readonly (readonly string[])[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): void {
  headers.forEach((header, i) => {
    const heading = foldText((header ?? '').replace(/_/g, ' '));
    if (!HEADING.test(heading) && !/^is (?:an? )?(?:organi[sz]ation|company)$/.test(heading)) return;
    if (!profiles[i]?.filled) return;
    const said = rows.flatMap((cells) => (cells[i]?.trim() ? [kindSaid(cells[i] ?? '')] : []));
    if (said.every((kind) => kind !== null) && said.includes('organization'))
      opinions[i] = { target: KIND, certainty01: 0.85 };
  });
}
