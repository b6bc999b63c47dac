import { foldText } from '../fields';

/** What a column may say of something dated that happened. */
export type ActivityRole = 'amount' | 'date' | 'what' | 'id' | 'quantity' | 'currency' | 'kind';
/** Kinds of activity that headings and cells speak of. */
export type ToldKind = 'gift' | 'purchase' | 'enrolment' | 'call' | 'message' | 'enquiry' | 'appointment' | 'note';

const wordSet = (text: string): ReadonlySet<string> => new Set(text.trim().split(/\s+/));

const AMOUNT = wordSet(`
amount sum total price paid payment value given donated donation gift spent cost betrag summe spende zahlung gezahlt preis kosten montant somme don
prix paye importe monto suma donacion donativo precio pagado importo somma donazione prezzo pagato valor doacao preco pago bedrag som gift prijs
betaald belop summa gava pris betalt belob kwota suma darowizna cena castka dar summa lahjoitus hinta
`);
const DATE = wordSet(`
date day when on paid received given ordered enrolled bought datum tag am eingang bezahlt bestellt le jour recu fecha dia recibido giorno ricevuto dia
recebido dag ontvangen dato mottatt modtaget datum mottaget data dzien dne paiva
`);
/** Days that are no day on which something happened. */
const OTHER_DAY = wordSet(`
closing close closes expected due next renewal renews expiry expires valid until born birth birthday anniversary created modified updated changed
geburt geburtstag fallig ablauf naissance echeance nacimiento vencimiento nascita scadenza geboorte verval
`);
const WHAT = wordSet(`
item items product article description fund campaign appeal purpose cause project course class event membership subscription designation artikel
produkt beschreibung fonds aktion zweck verwendungszweck kurs veranstaltung produit objet fonds cause cours evenement campagne designation articulo
producto descripcion fondo campana curso evento prodotto descrizione fondo corso artigo produto descricao campanha curso omschrijving product doel
cursus vara produkt beskrivelse beskrivning fond kurs formal cel opis produkt ucel
`);
const ID = wordSet(`
receipt order invoice booking transaction payment reference ref belegnummer beleg rechnung rechnungsnummer bestellnummer buchung recu facture commande
recibo factura pedido ricevuta fattura ordine kvittering faktura ordre bestelling factuur
`);
const NUMBER = wordSet('id no nr num number nummer numero ref reference code');
const QUANTITY = wordSet(
  'quantity qty count pieces units seats tickets anzahl menge stuck quantite cantidad quantita quantidade aantal antal antall ilosc pocet maara',
);
const CURRENCY = wordSet(
  'currency curr ccy waehrung wahrung devise moneda divisa valuta moeda munt waluta mena valyuta',
);
const KIND = wordSet('kind type category art typ kategorie genre tipo categoria soort');

const KINDS: Record<ToldKind, ReadonlySet<string>> = {
  gift: wordSet(`
    gift gifts donation donations donor donors donated pledge spende spenden spender spenderin don dons donateur donacion donaciones donante
    donativo donazione donazioni donatore doacao doador donatie donaties gave gaver gava gavor givare darowizna dar lahjoitus bursary appeal
  `),
  purchase: wordSet(`
    purchase purchases order orders ordered bought sale sales invoice customer item product buyer kauf bestellung bestellungen rechnung kunde achat
    achats commande facture client compra compras pedido factura acquisto acquisti ordine fattura bestelling aankoop factuur kjop ordre kop
  `),
  enrolment: wordSet(`
    enrolment enrolments enrollment enrolled course courses class booking registration registered attendee kurs kurse anmeldung teilnehmer cours
    inscription inscriptions curso cursos inscripcion corso corsi iscrizione cursus inschrijving kurs pamelding anmalan
  `),
  call: wordSet(
    'call calls called phoned anruf anrufe appel appels llamada llamadas chiamata chiamate gesprek samtal oppkald',
  ),
  message: wordSet('message messages mail mailing letter nachricht brief lettre mensaje messaggio bericht brev'),
  enquiry: wordSet(
    'enquiry enquiries inquiry inquiries anfrage anfragen demande consulta richiesta aanvraag foresporsel',
  ),
  appointment: wordSet(
    'appointment meeting visit termin besuch besprechung rendezvous visite cita reunion appuntamento afspraak mote',
  ),
  note: wordSet('note notes comment notiz bemerkung remarque nota opmerking'),
};

const wordsOf = (text: string): string[] => foldText(text).split(' ').filter(Boolean);

/** The kind of activity that a text speaks of; null where it speaks of none. */
export function activityKindIn(text: string): ToldKind | null {
  const words = wordsOf(text);
  const found = (Object.entries(KINDS) as [ToldKind, ReadonlySet<string>][]).find(([, set]) =>
    words.some((word) => set.has(word)),
  );
  return found?.[0] ?? null;
}

/** What a heading may say of an activity, the likeliest first. Whether it does is decided by its cells and by what stands beside it. */
export function activityRoles(header: string): ActivityRole[] {
  const words = wordsOf(header);
  const has = (set: ReadonlySet<string>) => words.some((word) => set.has(word));
  const roles: ActivityRole[] = [];
  if (has(CURRENCY)) roles.push('currency');
  if (has(QUANTITY)) roles.push('quantity');
  if (has(ID) && (has(NUMBER) || words.length === 1)) roles.push('id');
  if (has(DATE) && !has(OTHER_DAY)) roles.push('date');
  if (has(AMOUNT)) roles.push('amount');
  if (has(WHAT)) roles.push('what');
  if (has(KIND)) roles.push('kind');
  return roles;
}
