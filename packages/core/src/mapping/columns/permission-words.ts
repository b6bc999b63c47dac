import { foldText } from '../../fields';
import { CHANNELS, type Channel } from '../../writing';

/**
 * What a heading says of a permission: `may`, yes opens the channels; `stop`, yes closes them; `date`, when it was said; `how`,
 * the wording or what proves it.
 */
export interface PermissionHeading {
  role: 'may' | 'stop' | 'date' | 'how';
  /** Channels that are named; none where it speaks of all. */
  channels: Channel[];
  /** Whether the words alone leave no doubt; otherwise the cells have to show it. */
  isSure: boolean;
  /** Whether it speaks of "mail": the postman's, or in a file that has no postal addresses e-mail. */
  isMail: boolean;
}

/** Phrases are compared folded, as whole words; a star stands for any end of a word. */
function phrases(...lists: string[]): RegExp {
  const all = lists
    .join('|')
    .replaceAll('\n', '')
    .split('|')
    .map((phrase) => phrase.trim())
    .filter(Boolean)
    .map((phrase) =>
      phrase
        .split(' ')
        .map((word) => (word.endsWith('*') ? `${foldText(word.slice(0, -1))}[\\p{L}\\p{N}]*` : foldText(word)))
        .join(' '),
    );
  return new RegExp(`(?:^| )(?:${[...new Set(all)].join('|')})(?= |$)`, 'u');
}

/** Lists of letters that come by e-mail. */
const NEWSLETTER = phrases(`
  newsletter*|news letter|mailing list|mailinglist|maillist|mailings|emailing|emailings|e mailing|enews|e news|
  e bulletin|bulletin|infolettre|lettre d information|lettre d info|infobrief|rundbrief|rundbriefe|newsmail|
  boletin|boletines|bollettino|nieuwsbrief|nieuwsbrieven|nyhetsbrev|nyhedsbrev|uutiskirje|biuletyn|zpravodaj|
  spravodajca|hirlevel|novice|novosti|buletin|bulten|рассылка|розсилка|ενημερωτικο|ニュースレター|メルマガ|电子报|通讯`);

const NAMED: readonly [Channel, RegExp][] = [
  [
    'email',
    phrases(`
  email*|e mail*|e post|epost|correo electronico|courriel*|mel|posta elettronica|sahkoposti*|
  poczta elektroniczna|e mailem|emailem|эл почта|почта|邮件|メール|eposta|mails`),
  ],
  [
    'text',
    phrases(`
  sms|text|texts|text message|text messages|texting|textos|mensajes de texto|textbericht|kurznachricht*|
  smsmarketing|短信`),
  ],
  [
    'voicemail',
    phrases('voicemail*|voice mail|voice message|anrufbeantworter|messagerie vocale|buzon de voz|segreteria'),
  ],
  [
    'call',
    phrases(`
  call|calls|called|calling|phone*|telephone*|telefon*|tel|telemarketing|dnc|by phone|ring|anruf*|anzurufen|
  appel|appels|appeler|llamada|llamadas|llamar|chiamata|chiamate|chiamare|telefonico|telefonica|telefonate|
  bellen|gebeld|ligacoes|ligar|ringa|ringes|ringe|puhelu|dzwonic|telefonicznie|volat|телефон|звонить|電話|电话`),
  ],
  [
    'post',
    phrases(`
  post|postal|postally|post mail|postmail|direct mail|directmail|letter|letters|dnm|brief|briefe|briefpost|
  postalisch|courrier|courriers|voie postale|correo postal|por correo|carta|cartas|posta|postale|per posta|
  lettere|cartaceo|per post|postzendingen|correio|brev|poczta tradycyjna|listownie|postou|郵便|邮寄`),
  ],
];
/** In English "mail" is what the postman brings, and in other languages what comes by e-mail. */
const MAIL = phrases('mail|mailing|mailed');
const ENGLISH = phrases('do not|dont|don t|no|may we|may|can we|ok to|okay to|opt out|opt in|by|receive|please|to');

/** Everything that is sent, or every way of getting in touch. */
const ANY = phrases(`
  marketing*|advert*|promotion*|promo*|solicit*|fundrais*|contact|contacted|communications|communication|comms|
  kontakt|kontaktieren|kontaktaufnahme|werbung|werbe*|werbesperre|publicit*|prospection|demarchage|contacter|
  publicidad|comunicaciones|contactar|comercial*|pubblicit*|comunicazioni|contattare|commerciali|reclame|
  benaderen|contacteren|comunicacoes|publicidade|reklam*|markedsforing|marknadsforing|henvendelser|
  markkinointi*|kontaktowac|marketingow*|obchodni*|sdeleni|реклама|ads`);

/** Words that say no by themselves. */
const STOP = phrases(`
  opt out*|optout*|opted out|opts out|unsub|unsubs|unsubscribe*|unsubscribed|unsubscription*|suppress*|do not|
  dont|don t|never|stop|stopped|blocked|blocklist*|exclude|excluded|exclusion|refuse*|declined|declines|
  withdrawn|withdrew|withdrawal|revoked|objects|objected|objection|left list|left the list|left mailing list|
  leaving list|leaving the list|left newsletter|date left list|removed from list|removed from mailing list|
  off list|off mailing list|left our list|list exit|tps|mps|dnc|dnm|nicht|kein|keine|keinen|keiner|abgemeldet*|
  abmeldung*|abmeldedatum|abbestell*|widerruf*|widerspruch*|widersprochen|sperre|gesperrt|werbesperre|
  kontaktsperre|anrufsperre|mailsperre|newslettersperre|robinson*|austragung*|ausgetragen*|ne pas|ne plus|
  desinscri*|desabonn*|refus|refuse|opposition|opposee|oppose|retrait|bloctel|no contactar|no llamar|no enviar|
  baja|bajas|de baja|fecha baja|rechaza|rechazo|oposicion|lista robinson|cancelado|non contattare|non chiamare|
  non inviare|disiscri*|disiscritto|disiscritta|cancellato dalla lista|revoca|revocato|opposizione|rifiuta|
  rifiuto|niet|geen|uitgeschreven*|uitschrijf*|uitschrijving*|afgemeld*|afmelding*|bel me niet*|nao contactar|
  nao ligar|nao enviar|nao contatar|descadastr*|cancelou|cancelamento|recusa|ej|inte|icke|avregistrer*|avanmal*|
  avprenumerer*|ikke|afmeld*|frameld*|avmeld*|reservert|reservasjon|nix|ei|peruutt*|kielto|kielta*|nie dzwonic|
  nie wysylac|nie kontaktowac|wypisan*|rezygnacja|rezygnuje|sprzeciw|nevolat|nezasilat|nekontaktovat|nesouhlas*|
  odhlasen*|odhlaseni|odvolan*|leiratkoz*|tiltott|не|отписан*|отписка|отказ*|відписан*|отписване|配信停止|解除|退订|拒否`);
/** "No calls", "no post": a no before a channel. */
const NO_BEFORE = /^(?:no|non|sin|sem|ohne|zonder|uten|uden|utan|bez|not|nie|ne) /;

/** Words that say that somebody agreed, or is asked whether they do. */
const MAY = phrases(`
  opt in*|optin*|opted in|opts in|double opt in|doi|consent*|permission|permissions|subscribed|
  subscriber status|subscription|subscription status|subscribe|subscribes|signed up|sign up|resub*|may we|
  can we|ok to|okay to|happy to|wants|i agree|agree|agrees|agreed|i would like|would like|please send|send me|
  keep me informed|keep me posted|receive|accepts|accept|accepted|allow|allows|allowed|contact by|contact via|
  contact me by|preferences|preference|gdpr|pecr|legitimate interest|einwillig*|eingewilligt|zustimm*|
  zugestimmt|stimme zu|einverstand*|erlaubt|erlaubnis|darf|durfen|angemeldet|anmeldung|abonniert|abonnent|
  mochte|erhalten|empfang*|dsgvo|werbeeinwilligung|werbeerlaubnis|newslettereinwilligung|consent*|j accepte|
  accepte|accepter|accord|autoris*|inscrit*|inscription|abonne|abonnee|souhaite*|recevoir|rgpd|acepta|acepto|
  aceptacion|autoriza*|autorizo|suscri*|consient*|desea|deseo|quiere|quiero|recibir|lopd|accetto|accetta|
  acconsent*|consenso|iscritto|iscritta|iscrizione|autorizza*|desidera|desidero|ricevere|toestemming|akkoord|
  ingeschreven|aangemeld|abonnee|geabonneerd|mag|wil|wenst|ontvangen|avg|aceita|aceito|autorizo|consentimento|
  inscrito|inscrita|deseja|receber|lgpd|samtyck*|godkann*|prenumer*|vill|onskar|ta emot|tilmeld*|samtykk*|
  godtar|onsker|modtage|motta|pameldt|suostumus|lupa|haluan|tilaa|zgoda|zgody|zgadza*|wyrazam|zapisan*|
  otrzymyw*|chce|souhlas*|prihlasen*|dostavat|chci|hozzajarul*|feliratkoz*|suhlas*|согласие|согласен|подписан*|
  згода|підписан*|съгласие|同意|許可|订阅|購読`);

const DATE = phrases(`
  date*|dated|on|at|when|time|timestamp|datetime|since|datum|am|vom|zeitpunkt|seit|le|depuis|fecha|desde|data|
  dal|il|op|sinds|dato|den|siden|pvm|paivamaara|dnia|dne|od|datuma|tarih|дата|日|日付|日期|abmeldedatum|anmeldedatum|
  einwilligungsdatum|inschrijfdatum|uitschrijfdatum`);
const HOW = phrases(`
  text|wording|words|statement|source|ip|ip address|evidence|proof|how|via|method|form|version|by whom|reason|
  reasons|ref|reference|obtained|quelle|nachweis|wortlaut|grund|herkunft|formular|preuve|libelle|motif|origine|
  origen|prueba|texto|motivo|origem|prova|fonte|testo|bron|bewijs|reden|kilde|kalla|bevis|zrodlo|dowod|zdroj|
  dukaz|text shown`);

/** Consent to something else than being written to or called. */
const OF_SOMETHING_ELSE = phrases(`
  photo*|image|images|picture*|video*|foto*|bild*|film*|medical|medic*|health|treatment|media release|terms|
  conditions|t cs|policy|privacy|agb|datenschutz*|teilnahmebedingung*|cookie*|cookies|parental|parent|guardian|
  confidentialite|cgv|cgu|privacidad|terminos|condiciones|privacyverklaring|voorwaarden|bus stop|swim*|travel|
  trip|first aid|data processing|gift aid`);

/** A heading as words, small and without marks: "DoNotEmail" and "do_not_email" are one. */
function wordsOf(heading: string): string {
  return foldText(
    heading
      .replace(/[_./?*:!"'’-]+/g, ' ')
      .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
      .replace(/(\p{Lu}+)(\p{Lu}\p{Ll})/gu, '$1 $2'),
  );
}

const saysMail = (words: string) =>
  MAIL.test(words) &&
  !NEWSLETTER.test(words) &&
  !NAMED.some(([channel, named]) => /mail|post/.test(channel) && named.test(words));

function channelsOf(words: string): Channel[] {
  const found = NAMED.filter(([, named]) => named.test(words)).map(([channel]) => channel);
  if (NEWSLETTER.test(words) && !found.includes('email') && !found.length) found.push('email');
  if (saysMail(words)) found.push(ENGLISH.test(words) ? 'post' : 'email');
  // A text that shows what was agreed to is no text message.
  return CHANNELS.filter((channel) => found.includes(channel));
}

/** What a heading says of a permission; null where it speaks of none. */
export function permissionHeading(heading: string): PermissionHeading | null {
  const words = wordsOf(heading);
  if (!words || words.length > 300 || OF_SOMETHING_ELSE.test(words)) return null;
  const channels = channelsOf(words);
  const isNewsletter = NEWSLETTER.test(words);
  const noBefore = NO_BEFORE.test(words) && (channels.length > 0 || ANY.test(words));
  const isStop = STOP.test(words) || noBefore;
  const isMay = MAY.test(words);
  const isAny = ANY.test(words);
  if (!isStop && !isMay && !isNewsletter && !channels.length && !isAny) return null;
  // What asks for a permission speaks of one, of a way to be reached, or of something that is sent.
  const speaks = isStop || isMay || isNewsletter;
  const named = channels.length > 0 || isAny || isNewsletter || STRONG.test(words);
  const role = isStop ? ('stop' as const) : ('may' as const);
  const isMail = saysMail(words);
  if (speaks && named && HOW_ONLY.test(words)) return { role: 'how', channels, isSure: false, isMail };
  if (isMay && !isStop && DATE_ONLY.test(words)) return { role: 'date', channels, isSure: named, isMail };
  const about = channels.length || !ofLists(words) ? channels : (['email'] as Channel[]);
  return { role, channels: about, isSure: speaks && named, isMail };
}

/** Words that need no channel beside them. */
const STRONG = phrases(`
  opt out*|optout*|opted out|opt in*|optin*|opted in|unsub*|subscribed|subscription status|consent*|
  do not contact|gdpr|dsgvo|rgpd|lgpd|pecr|einwillig*|werbesperre|kontaktsperre|robinson*|abgemeldet*|abmeld*|
  desinscri*|desabonn*|consenso|consentimiento|consentimento|toestemming|samtykk*|samtyck*|suostumus|zgoda|
  zgody|souhlas*|left list|left the list|left mailing list|left newsletter|leaving the list|removed from list|
  removed from mailing list|suppress*|uitgeschreven*|afgemeld*|disiscri*|descadastr*|avregistrer*|avmeld*|
  afmeld*|wypisan*|odhlasen*|leiratkoz*|marketing|согласие|отписан*|同意|配信停止|退订`);
/** Being on a list or off it is about what comes by e-mail. */
const LISTS = phrases(`
  unsub*|subscribed|subscribe*|subscription*|left list|left the list|left our list|left mailing list|
  leaving the list|removed from list|removed from mailing list|off list|abgemeldet*|abmeld*|angemeldet|
  abonniert|desinscri*|desabonn*|inscrit*|abonne|suscri*|baja|disiscri*|iscritt*|uitgeschreven*|ingeschreven|
  afgemeld*|aangemeld|descadastr*|inscrit*|avregistrer*|avmeld*|afmeld*|tilmeld*|prenumer*|wypisan*|zapisan*|
  odhlasen*|prihlasen*|leiratkoz*|feliratkoz*|отписан*|подписан*|退订|订阅|配信停止`);
const ofLists = (words: string) => LISTS.test(words);

/** "Consent text", "opt-in IP", "source of consent": what proves it, not whether. */
const HOW_ONLY = new RegExp(
  `${HOW.source}$|^(?:how|source|proof|evidence|wording|quelle|preuve|origen|nachweis|bron)\\b`,
);
/** "Consent date", "date of consent", "opted in on". */
const DATE_ONLY = new RegExp(`${DATE.source}$|^(?:date|datum|fecha|data|dato|дата)\\b`, 'u');

/** Whether a heading has a word that says when. */
export const saysWhen = (heading: string): boolean => DATE.test(wordsOf(heading));

const STATES: readonly ['allowed' | 'optedOut', RegExp][] = [
  [
    'optedOut',
    phrases(`
  unsubscribed|unsub|opted out|opt out|optout|opt outed|stop|stopped|do not contact|do not call|do not email|
  do not mail|do not text|dnc|blocked|suppressed|declined|refused|withdrawn|revoked|objected|removed|cancelled|
  denied|not allowed|not agreed|no consent|rejected|never|disallowed|abgemeldet|widerrufen|widersprochen|
  gesperrt|ausgetragen|abbestellt|abgelehnt|nicht erlaubt|keine einwilligung|desinscrit|desinscrite|desabonne|
  desabonnee|refus|refuse|refusee|oppose|retire|non inscrit|ne pas contacter|baja|dado de baja|dada de baja|
  cancelado|rechazado|no suscrito|no contactar|disiscritto|disiscritta|revocato|rifiutato|non iscritto|
  uitgeschreven|afgemeld|geweigerd|ingetrokken|geen toestemming|cancelou|descadastrado|recusado|avregistrerad|
  avanmald|afmeldt|frameldt|avmeldt|reservert|wypisany|wypisana|rezygnacja|odhlasen|odhlasena|odvolano|
  nesouhlas|leiratkozott|отписан|отказ|配信停止|退订`),
  ],
  [
    'allowed',
    phrases(`
  subscribed|resubscribed|opted in|opt in|optin|double opt in|confirmed|allowed|agreed|accepted|granted|
  consented|consent given|given|permitted|active|ok|okay|angemeldet|eingewilligt|erteilt|erlaubt|zugestimmt|
  bestatigt|abonniert|aktiv|inscrit|inscrite|abonne|abonnee|accepte|autorise|actif|confirme|suscrito|suscrita|
  aceptado|autorizado|alta|activo|iscritto|iscritta|accettato|autorizzato|attivo|ingeschreven|aangemeld|akkoord|
  actief|bevestigd|inscrito|inscrita|aceito|ativo|prenumererar|aktiv|tilmeldt|godkjent|pameldt|godkand|zapisany|
  zapisana|aktywny|prihlasen|prihlasena|souhlas|feliratkozott|подписан|согласен|同意|订阅`),
  ],
];
const UNKNOWN = phrases(`
  unknown|not known|not asked|not stated|not given|not set|none given|pending|unconfirmed|to ask|ask|
  maybe later|no answer|no reply|unbekannt|offen|ausstehend|nicht gefragt|keine angabe|inconnu|en attente|
  non renseigne|desconocido|pendiente|sconosciuto|in attesa|onbekend|in afwachting|okand|ukendt|nieznany|
  nezname|undefined|n d|s o`);

export type SaidState = 'allowed' | 'optedOut' | 'unknown';

/** What a cell says by its own words, whatever the heading; null where they are none of these. */
export function saidState(text: string): SaidState | null {
  const words = wordsOf(text);
  const exact = (known: RegExp) => new RegExp(`^(?:${known.source.slice('(?:^| )'.length)})$`, 'u').test(words);
  if (!words) return null;
  if (exact(UNKNOWN)) return 'unknown';
  for (const [state, known] of STATES) if (exact(known)) return state;
  return null;
}

/** Channels that a cell lists ("SMS, phone"); null where it is no list of them. */
export function channelsListed(text: string): Channel[] | null {
  const found = new Set<Channel>();
  for (const piece of text.split(/[,;|/+&]|\band\b|\bund\b|\bet\b|\by\b|\ben\b/i)) {
    const words = wordsOf(piece);
    if (!words) continue;
    if (/^(?:all|alles?|tous|tout|todo|todos|tutti|tutto|alle|everything|any)$/.test(words)) return [...CHANNELS];
    const channels = channelsOf(words);
    const only = MAIL.test(words) && !channels.length ? (['email'] as const) : channels;
    if (only.length !== 1 || words.split(' ').length > 2) return null;
    for (const channel of only) found.add(channel);
  }
  return found.size ? CHANNELS.filter((channel) => found.has(channel)) : null;
}
