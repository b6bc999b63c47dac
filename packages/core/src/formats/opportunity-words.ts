import { foldText } from '../fields';

/** What a column may say of an opportunity. */
export type OpportunityRole =
  'id' | 'name' | 'pipeline' | 'stage' | 'value' | 'closeDate' | 'currency' | 'owner' | 'note' | 'chance';

export interface OpportunityReading {
  role: OpportunityRole;
  /** Whether the heading itself speaks of an opportunity; "Project", "Status" and "Amount" may be anything's. */
  isSure: boolean;
  /** Set for a stage that is called a status, which people, orders and payments have as well. */
  isStatus?: true;
}

const words = (text: string) => text.trim().split(/\s+/);
const wordSet = (text: string): ReadonlySet<string> => new Set(words(text));

/** Words for an opportunity. */
const OPPORTUNITY = words(`
opportunity opportunities opps opp deal deals verkaufschance verkaufschancen chancen chance opportunite affaire oportunidad opportunita
trattativa verkoopkans kansen kans oportunidade affarsmojlighet salgsmulighed salgsmulighet prilezitost lehetoseg szansa sdelka
`);
/** Words for what is sold, given or built, which may be an opportunity and may be something else. */
const THING = words(`
project projects projekt projet proyecto progetto projeto prosjekt hanke quote quotation offer offerte angebot auftrag devis presupuesto
preventivo orcamento proposal bid tender job negocio nabidka oferta ajanlat tilbud offert tarjous
`);
const STAGE = wordSet(
  'stage stages phase fase faza faze etape etap etapa estado stato statut status stufe step vaihe fas skede szakasz asama stav stadium',
);
const STATUS = wordSet('status statut estado stato stav');
const VALUE = wordSet(`
value amount worth price revenue total budget size wert betrag volumen summe umsatz preis montant valeur prix ca chiffre valor importe
precio monto importo valore prezzo waarde bedrag prijs omzet belopp varde belob belop verdi kwota wartosc castka hodnota osszeg ertek tutar
deger summa arvo
`);
const CLOSE = wordSet(`
close closes closing closed closure decision abschluss abschlussdatum cloture signature echeance cierre chiusura fechamento fecho sluiting
sluitingsdatum afsluitdatum afsluiting avslut avslutsdatum lukkedato zamkniecia zamkniecie uzavreni uzavrenie lezaras zaras kapanis
`);
const PIPELINE = wordSet('pipeline funnel embudo vertriebspipeline tunnel trechter lejek');
const CURRENCY = wordSet(
  'currency curr ccy waehrung wahrung devise moneda divisa valuta moeda munt waluta mena penznem birimi valyuta para',
);
const OWNER = wordSet(`
owner salesperson seller rep assignee responsible verantwortlich verantwortlicher verantwortliche zustandig zustandiger betreuer vertriebler
verkaufer besitzer responsable commercial commerciale comercial responsabile verantwoordelijke accountmanager vendedor vendeur venditore
ansvarig ansvarlig opiekun handlowiec odpovedny felelos sorumlu
`);
const NOTE = wordSet(
  'note notes comment comments notiz notizen bemerkung bemerkungen remarque remarques notas nota observaciones opmerking',
);
const CHANCE = wordSet(
  'probability likelihood odds confidence wahrscheinlichkeit probabilite probabilidad probabilita waarschijnlijkheid sannolikhet',
);
const NAME = wordSet(
  'name title titel nom nombre nome naam namn navn nazwa nazev nev adi bezeichnung betreff intitule titulo titolo subject',
);
const ID = wordSet(
  'id no nr num number nummer numero numer n ref reference key code kennung cislo szam nro codice codigo',
);
/** Sellers' words, which make a stage or an owner one of opportunities. */
const SALES = wordSet(
  'sales verkaufs vertriebs vente ventes venta ventas vendita vendite verkoop sprzedazy prodeje forsaljnings salgs',
);
/** What adds nothing to the role. */
const FILLERS = wordSet(`
the of our your a an de del della dell d l la le les du des der die das den van von do da di il lo i in at to by on est estimated estimate expected
exp forecast forecasted planned target likely due date datum data fecha dato geschatzt geschatzter erwartet erwarteter erwartetes
voraussichtlich voraussichtlicher voraussichtl vorauss geplant geplanter bis am prevu prevue prevista previsto estimado estimada stimato estime
estimee verwacht verwachte geschatte beraknat forventet planovane current potential gesamt netto brutto net gross
`);

/** Stems with which words of several parts begin in German, Dutch and the languages of the North. */
const STEMS = [...OPPORTUNITY, ...THING, 'verkaufs', 'vertriebs', 'verkoop', 'forsaljnings', 'salgs'];
const isKnown = (word: string) => [STAGE, VALUE, CLOSE, PIPELINE, OWNER, NAME, ID].some((set) => set.has(word));

/** The parts of a word written together: "auftragswert", "kansnummer", "verkaufsphase". */
function partsOf(word: string): string[] {
  if (STEMS.includes(word) || isKnown(word)) return [word];
  for (const stem of STEMS) {
    if (!word.startsWith(stem) || word.length <= stem.length) continue;
    const rest = word.slice(stem.length);
    for (const part of [rest, rest.replace(/^(?:s|n|en|e|es)/, '')]) if (isKnown(part)) return [stem, part];
  }
  return [word];
}

/** A longer text is no heading. */
const LONGEST = 300;

/** What a heading says of an opportunity, by its wording alone; null where it says something else. */
export function opportunityHeading(header: string): OpportunityReading | null {
  if (header.length > LONGEST) return null;
  const folded = foldText(
    header
      .replace(/[_'’]/g, ' ')
      .replace(/\bn\.?\s?[°º]|[#№]/giu, ' no ')
      .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
      .replace(/[([{][^)\]}]*[)\]}]/g, ' '),
  );
  const parts = folded.split(' ').filter(Boolean).flatMap(partsOf);
  if (!parts.length || parts.length > 8) return null;
  const has = (set: ReadonlySet<string>) => parts.some((part) => set.has(part));
  const isOpportunity = parts.some((part) => OPPORTUNITY.includes(part));
  const isThing = parts.some((part) => THING.includes(part));
  const isSales = has(SALES);
  const isSaid = (part: string) =>
    OPPORTUNITY.includes(part) ||
    THING.includes(part) ||
    [SALES, FILLERS, STAGE, VALUE, CLOSE, PIPELINE, CURRENCY, OWNER, NOTE, CHANCE, NAME, ID].some((set) =>
      set.has(part),
    );
  const reading = (role: OpportunityRole, isSure: boolean): OpportunityReading => ({ role, isSure });
  if (has(CHANCE) || (header.includes('%') && isOpportunity)) return reading('chance', true);
  if (parts.some((part) => !isSaid(part) && part !== 'account' && part !== 'manager' && part !== 'assigned'))
    return null;
  if (has(OWNER) || folded === 'account manager' || folded === 'assigned to')
    return reading('owner', isOpportunity || isSales);
  if (has(CURRENCY)) return reading('currency', isOpportunity);
  if (has(STAGE)) {
    const isStatus = !isOpportunity && parts.some((part) => STATUS.has(part));
    return { ...reading('stage', isOpportunity || isSales || has(PIPELINE)), ...(isStatus ? { isStatus } : {}) };
  }
  if (has(PIPELINE)) return reading('pipeline', true);
  if (has(CLOSE) && !has(VALUE)) return reading('closeDate', isOpportunity);
  if (has(VALUE)) return reading('value', isOpportunity);
  if (has(NOTE)) return isOpportunity ? reading('note', true) : null;
  if (isOpportunity || isThing) return reading(has(ID) ? 'id' : 'name', isOpportunity);
  // "Expected" alone is a day.
  return /^(?:expected|due|forecast)$/.test(folded) ? reading('closeDate', false) : null;
}
