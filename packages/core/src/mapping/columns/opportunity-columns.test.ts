import { describe, expect, test } from '@jest/globals';
import { defaultMapping } from './default-mapping';
import { guessColumns } from './guess-columns';

/** What the columns of a table mean, as short words; an opportunity's begin with "o:". */
function meanings(heading: string, ...rows: string[]): string {
  const cells = rows.map((row) => row.split('|'));
  const { columns } = defaultMapping(guessColumns(heading.split('|'), cells), 'GB');
  return columns.map(({ target }) => (target ?? '-').replace(/^opportunity(.)/, 'o:$1')).join(' ');
}
const ROW = 'Ana|Reis|ana@example.org';

describe('a table has opportunities where its headings speak of them', () => {
  test.each([
    [
      'First name|Last name|Email|Deal no.|Deal title|Sales stage|Est. value|Curr.|Decision date|Sales rep',
      'O-1|Hull survey|Quoted|1200|GBP|2026-05-01|Callum',
      'o:Id o:Name o:Stage o:Value o:Currency o:CloseDate o:Owner',
    ],
    [
      'Vorname|Nachname|E-Mail|Angebotsnr.|Verkaufschance|Verkaufsphase|Auftragswert|Währung|Voraussichtl. Abschluss|Zuständig',
      'O-1|Rumpf|Angebot|1200|EUR|01.05.2026|Callum',
      'o:Id o:Name o:Stage o:Value o:Currency o:CloseDate o:Owner',
    ],
    [
      "Prénom|Nom|Courriel|N° affaire|Intitulé de l'affaire|Étape|Montant estimé|Devise|Clôture prévue|Commercial",
      'O-1|Coque|Devis|1200|EUR|01/05/2026|Callum',
      'o:Id o:Name o:Stage o:Value o:Currency o:CloseDate o:Owner',
    ],
    [
      'Nombre|Apellidos|Correo|N.º de oportunidad|Nombre de la oportunidad|Etapa|Importe (€)|Moneda|Cierre previsto|Comercial',
      'O-1|Casco|Consulta|1200|EUR|01/05/2026|Callum',
      'o:Id o:Name o:Stage o:Value o:Currency o:CloseDate o:Owner',
    ],
    [
      'Voornaam|Achternaam|E-mail|Kansnummer|Verkoopkans|Pipeline|Fase|Waarde',
      'O-1|Romp|Sales|Offerte|1200',
      'o:Id o:Name o:Pipeline o:Stage o:Value',
    ],
    ['Nome|Cognome|E-mail|Trattativa|Stato|Valore', 'Scafo|Preventivo|1200', 'o:Name o:Stage o:Value'],
  ])('%s', (heading, row, expected) =>
    expect(meanings(heading, `${ROW}|${row}`)).toBe(`givenName familyName email ${expected}`),
  );

  test('a project beside a stage and an amount is one, and so is a stage beside an amount and a day of closing', () => {
    const [names, three] = ['Name|Email', 'fullName email'];
    expect(meanings(`${names}|Project|Phase|Budget`, 'Ana Reis|a@example.org|Hull|Quoted|900')).toBe(
      `${three} o:Name o:Stage o:Value`,
    );
    expect(meanings(`${names}|Stage|Value|Expected close`, 'Ana Reis|a@example.org|Quoted|900|2026-05-01')).toBe(
      `${three} o:Stage o:Value o:CloseDate`,
    );
  });

  test('chances in hundredths are no name, and a second project stays a field', () => {
    expect(meanings('Name|Deal|Chance %|Stage', 'Ana Reis|Hull|40%|Quoted')).toBe('fullName o:Name - o:Stage');
    expect(meanings('Name|Project|Deal|Deal stage', 'Ana Reis|Gannet|Hull|Quoted')).toBe('fullName - o:Name o:Stage');
  });

  test('the deal may stand before the person', () =>
    expect(meanings('Deal|Stage|Value|Contact name|Contact email', 'Hull|Won|500|Ana Reis|a@example.org')).toBe(
      'o:Name o:Stage o:Value fullName email',
    ));

  test('amounts that are the numbers of days as well are amounts', () =>
    expect(meanings('Name|Deal|Value', 'Ana Reis|Hull|18500', 'Bo Lund|Mast|17200', 'Cy Moor|Oars|43900')).toBe(
      'fullName o:Name o:Value',
    ));
});

describe('and in no other', () => {
  test.each([
    ['Name|Email|Stage|Owner', 'Ana Reis|a@example.org|Student|Callum', 'fullName email stage owner'],
    ['Name|Email|Project|Status|Amount', 'Ana Reis|a@example.org|Lifeboat|Paid|50', 'fullName email - - -'],
    ['Name|Email|Order no.|Status|Total', 'Ana Reis|a@example.org|1001|Shipped|50', 'fullName email - - -'],
    ['Name|Email|Closing date|Amount', 'Ana Reis|a@example.org|2026-01-02|50', 'fullName email - -'],
    ['Name|Email|Job title|Status|Salary', 'Ana Reis|a@example.org|Rigger|Active|5000', 'fullName email title - -'],
    ['Nombre|Correo|Negocio|Estado', 'Ana Reis|a@example.org|Panadería|Málaga', 'fullName email - -'],
  ])('%s', (heading, row, expected) => expect(meanings(heading, row)).toBe(expected));
});
