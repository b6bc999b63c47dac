import { foldText } from '../fields';

// Header wordings by meaning, folded; several languages. A phrase is looked up whole first, then word by word.
const PHRASES: Record<string, string> = {
  prefix:
    'prefix|title before name|salutation|honorific|anrede|civilite|titel|aanhef|tratamiento|trattamento|tratamento|mr mrs',
  givenName:
    'given name|given|given names|first name|first|first names|firstname|forename|forenames|christian name|vorname|vornamen|rufname|prenom|prenoms|nombre|nombres|nome|voornaam|fornavn|fornamn|etunimi|imie|name first|fname|contact first name',
  additionalNames:
    'middle name|middle names|middle|additional names|additional name|second name|second given name|zweiter vorname|deuxieme prenom|segundo nombre|tussenvoegsel|mellannamn|mellemnavn|middle initial|mi',
  familyName:
    'family name|family|last name|last|lastname|surname|nachname|familienname|zuname|nom|nom de famille|apellido|apellidos|cognome|sobrenome|apelido|achternaam|efternavn|etternavn|efternamn|sukunimi|nazwisko|name last|lname|contact last name',
  suffix: 'suffix|name suffix|generation|namenszusatz',
  nickname: 'nickname|nick name|known as|called|preferred name|spitzname|surnom|apodo|roepnaam|kendt som',
  fullName:
    'name|full name|fullname|contact|contact name|person|contact person|vollstandiger name|name vollstandig|nom complet|nombre completo|nome completo|volledige naam|fullstandigt namn|ansprechpartner|kontakt|naam|navn|namn|member|member name|attendee|participant|teilnehmer|student|student name|donor|donor name|display name',
  email:
    'email|e mail|mail|email address|e mail address|e mail adr|email adr|e mail adresse|mailadresse|courriel|adresse e mail|correo|correo electronico|posta elettronica|e post|epost|email 1|email 2|primary email|mailbox|sahkoposti|electronic mail',
  tel: 'phone|telephone|tel|phone number|telephone number|tel no|phone no|telefon|telefonnummer|rufnummer|telefone|telefono|telefoon|telefoonnummer|mobile|mobile phone|mobile number|mobile no|mob|cell|cell phone|cellphone|handy|handynummer|mobil|mobilnummer|mobiltelefon|portable|movil|celular|cellulare|telemovel|landline|home phone|work phone|office phone|daytime phone|evening phone|tel home|tel work|tel mobile|tel eve|tel day|festnetz|fax|telefon privat|telefon dienstlich|contact number|numero de telephone|puhelin|number to call|whom to call',
  street:
    'street|street address|address|addr|addr 1|address 1|address line 1|address line|addr line 1|adresse|strasse|strasse und hausnummer|strasse nr|rue|calle|direccion|domicilio|via|indirizzo|rua|morada|endereco|straat|straatnaam|adres|gate|gata|gatuadress|home address|postal address|mailing address|post address|anschrift',
  locality:
    'city|town|town city|city town|locality|post town|place|ort|wohnort|stadt|ville|commune|ciudad|localidad|poblacion|citta|comune|cidade|localidade|woonplaats|plaats|stad|by|poststed|kommune|suburb|village',
  region:
    'region|state|county|cty|province|prov|state province|state region|county state|bundesland|kanton|departement|provincia|estado|provincie|fylke|lan|st',
  postalCode:
    'postal code|postcode|post code|zip|zip code|zipcode|zip post|zip postcode|post|postnummer|postnr|plz|postleitzahl|code postal|codigo postal|cap|cep|cp|zip postal code|postal',
  country: 'country|ctry|nation|land|staat|pays|pais|paese|country name|country code|pays pays',
  organization:
    'organization|organisation|organization name|company|company name|firm|employer|business|business name|firma|unternehmen|betrieb|arbeitgeber|societe|entreprise|empresa|azienda|ditta|bedrijf|bedrijfsnaam|organisatie|foretag|virksomhed|org|school|institution|account name|account',
  title:
    'job title|title|position|role|occupation|job|function|beruf|funktion|poste|fonction|cargo|puesto|ruolo|functie|stilling|befattning|job role|profession|department title',
  bday: 'birthday|birth date|birthdate|date of birth|dob|d o b|born|bday|born on|geburtstag|geburtsdatum|geboren|date de naissance|naissance|anniversaire|ne e|nee|fecha de nacimiento|nacimiento|cumpleanos|data di nascita|nascita|compleanno|data de nascimento|geboortedatum|verjaardag|fodselsdag|fodselsdato|fodelsedag|fodelsedatum',
  anniversary:
    'anniversary|wedding day|wedding anniversary|wedding date|wedding|married on|hochzeitstag|jahrestag|aniversario|anniversario',
  tags: 'tags|tag|groups|group|grp|labels|label|keywords|interests|lists|list|gruppe|gruppen|schlagworte|etiquettes|etiquetas|etichette|categories',
  source:
    'source|lead source|heard abt us|heard about us|how did you hear about us|how heard|how did you find us|referral source|origin|quelle|herkunft|origen|origine|bron|came from|contact source',
  stage: 'stage|contact stage|relationship|lifecycle|lifecycle stage|relationship stage|status of contact',
  owner:
    'owner|contact owner|assigned to|looked after by|responsible|account manager|betreuer|zustandig|responsable|eigenaar',
  note: 'note|notes|remark|remarks|comment|comments|message|memo|description|bemerkung|bemerkungen|notiz|notizen|kommentar|anmerkung|remarque|remarques|notas|observaciones|comentarios|osservazioni|opmerking|opmerkingen|anteckning|additional information|free text|enquiry|your message|details',
  url: 'website|web site|web|url|link|homepage|webseite|internet|site web|sitio web|sito|profile|profile link|web page|webpage',
  tz: 'time zone|timezone|tz|zeitzone|fuseau horaire',
  externalId:
    'contact id|contact key|contact no|contact number id|external id|outside id|record id|person id|member id|member no|member number|membership number|customer id|customer no|customer number|kundennummer|mitgliedsnummer|id|uid|student id|supporter id|client id|numero de client|donor id',
  opportunityId: 'opp id|opportunity id|opportunity key|deal id|opportunity no',
  opportunityName: 'opp name|opportunity|opportunity name|opp|deal name|deal|opportunity title',
  opportunityStage: 'opp stage|opportunity stage|deal stage|pipeline stage|opp status|opportunity status',
  opportunityValue: 'opp value|opportunity value|deal value|opp amount|opportunity amount|amount',
  opportunityCloseDate:
    'opp close date|expected close|expected close date|close date|opportunity close date|closing date|opp close|expected date',
};

const byPhrase = new Map<string, string>();
for (const [target, phrases] of Object.entries(PHRASES))
  for (const phrase of phrases.split('|')) if (!byPhrase.has(phrase)) byPhrase.set(phrase, target);

/** Single words that hint at a meaning when no phrase fits, weaker than a phrase. */
const HINTS: Record<string, string> = {
  email: 'email',
  mail: 'email',
  courriel: 'email',
  phone: 'tel',
  telephone: 'tel',
  tel: 'tel',
  mobile: 'tel',
  mob: 'tel',
  cell: 'tel',
  telefon: 'tel',
  handy: 'tel',
  surname: 'familyName',
  forename: 'givenName',
  vorname: 'givenName',
  nachname: 'familyName',
  street: 'street',
  strasse: 'street',
  address: 'street',
  town: 'locality',
  city: 'locality',
  county: 'region',
  state: 'region',
  postcode: 'postalCode',
  zip: 'postalCode',
  plz: 'postalCode',
  country: 'country',
  company: 'organization',
  organisation: 'organization',
  organization: 'organization',
  employer: 'organization',
  firm: 'organization',
  birthday: 'bday',
  born: 'bday',
  birth: 'bday',
  dob: 'bday',
  notes: 'note',
  comments: 'note',
  remarks: 'note',
  tags: 'tags',
  website: 'url',
  url: 'url',
  anniversary: 'anniversary',
  wedding: 'anniversary',
};

const LABELS: [string, RegExp][] = [
  ['fax', /\bfax\b/],
  [
    'mobile',
    /\b(?:mobile?|mob|cell(?:phone|ular)?|handy\w*|mobil\w*|portable|movil|celular|cellulare|telemovel|gsm)\b/,
  ],
  [
    'work',
    /\b(?:work|office|business|company|daytime|day|direct|dienst\w*|geschaft\w*|buro|arbeit|bureau|travail|trabajo|oficina|lavoro|ufficio|werk|kantoor|zakelijk|job)\b/,
  ],
  ['home', /\b(?:home|private|personal|evening|eve|house|privat\w*|domicile|casa|particular|thuis|hjem|landline)\b/],
];

export interface HeaderReading {
  target: string | null;
  label: string | null;
  /** How sure the wording alone is, 0 to 1. */
  certainty01: number;
}

/** What a column's heading says about its meaning, by wording alone. */
export function readHeader(header: string): HeaderReading {
  const folded = foldText(header.replace(/([a-z])([A-Z])/g, '$1 $2').replace(/_/g, ' '));
  const label = LABELS.find(([, pattern]) => pattern.test(folded))?.[0] ?? null;
  if (!folded) return { target: null, label: null, certainty01: 0 };
  const whole = byPhrase.get(folded);
  if (whole) return { target: whole, label, certainty01: 0.95 };
  const unlabelled = folded
    .replace(
      /\b(?:home|work|office|business|private|personal|primary|main|other|second|secondary|alternative|alt|your|the|contact|billing|mailing|delivery|\d)\b/g,
      ' ',
    )
    .replace(/ +/g, ' ')
    .trim();
  const rest = unlabelled ? byPhrase.get(unlabelled) : undefined;
  if (rest) return { target: rest, label, certainty01: 0.85 };
  const words = folded.split(' ');
  const hint = words.map((word) => HINTS[word]).find(Boolean);
  if (hint && words.length <= 4) return { target: hint, label, certainty01: 0.6 };
  return { target: null, label, certainty01: 0 };
}
