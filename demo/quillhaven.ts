/** The words of the scenario: an invented school of wooden boatbuilding and the invented people around it. */
export const STAGES: [string, string][] = [
  ['Enquiry', 'Asked about a course or a visit; nobody has spoken with them yet.'],
  ['Student', 'Has a place on a course that runs now or is about to.'],
  ['Alumnus', 'Finished at least one course.'],
  ['Donor', 'Gave to the bursary fund within five years.'],
  ['Instructor', 'Teaches here, on contract or as a guest.'],
  ['Supplier', 'Sells us timber, rope, sails or fastenings.'],
  ['Partner school', 'Another school we exchange students with.'],
];

export const TAGS = [
  'regatta',
  'bursary',
  'open yard 2025',
  'newsletter',
  'clinker',
  'sailmaking',
  'rigging',
  'phone bank',
  'volunteer',
  'press',
];
export const SOURCES = [
  'Boat fair',
  'Website',
  'Friend',
  'Open-yard day',
  'Newsletter',
  'Phone bank',
  'Harbour office',
];

export interface Culture {
  given: string[];
  family: string[];
  towns: [town: string, region: string, postal: string][];
  streets: string[];
  country: string;
}

const words = (text: string) => text.split(',').map((word) => word.trim());

export const CULTURES: Culture[] = [
  {
    country: 'GB',
    given: words(
      'Ellen, Rowan, Peregrine, Wilhelmina, Imogen, Tamsin, Jowan, Florence, Alastair, Morag, Rhys, Winifred, Callum, ' +
        'Edith, Gareth, Bronwen, Katherine, Thomas, Elizabeth, William, James, Margaret',
    ),
    family: words(
      'Pike, Adair, Ashdown, Arden, Treloar, Carlyon, Trevithick, Winterbourne, Lockhart, Sutherland, Bowen, Larkin, ' +
        'Drummond, Ravenscroft, Pritchard, Nankervis, Haddow, Thistlewood, Ellingham, Penrose',
    ),
    towns: [
      ['Falmouth', 'Cornwall', 'TR11 3'],
      ['Whitby', 'North Yorkshire', 'YO21 1'],
      ['Oban', 'Argyll', 'PA34 4'],
      ['Maldon', 'Essex', 'CM9 5'],
      ['Dartmouth', 'Devon', 'TQ6 9'],
      ['Bangor', 'Gwynedd', 'LL57 1'],
    ],
    streets: words(
      'Slip Lane, Ropewalk Road, Quay Street, Mill Lane, Castle Drive, Harbour Road, Church Lane, Station Street',
    ),
  },
  {
    country: 'US',
    given: words(
      'Barnaby, Thora, Silas, Demelza, Leopold, Chinedu, Priya, Josiah, Abigail, Caleb, Hannah, Ezra, Naomi, Robert, Susan, Michael, Jennifer, Andrew',
    ),
    family: words(
      'Goldthorpe, Strand, Coldwell, Rosewarne, Jessop, Abara, Anand, Akande, Whitcomb, Alden, Sawyer, Mercer, Holloway, Kingsley, Prescott, Winslow',
    ),
    towns: [
      ['Camden', 'ME', '0484'],
      ['Rockland', 'ME', '0484'],
      ['Mystic', 'CT', '0635'],
      ['Newport', 'RI', '0284'],
      ['Beaufort', 'NC', '2851'],
    ],
    streets: words('Water Street, Cove Road, Spruce Lane, Harbor Road, Pine Street, Shipyard Lane'),
  },
  {
    country: 'AU',
    given: words('Benedita, Anselm, Haruto, Matilda, Lachlan, Saoirse, Declan, Ines, Tunde, Freya'),
    family: words('Aguiar, Quist, Aoki, Okoro, Moreau, Kelleher, Brennan, Ferreira, Ayodele, Lindqvist'),
    towns: [
      ['Hobart', 'TAS', '700'],
      ['Port Merrow', 'VIC', '395'],
      ['Fremantle', 'WA', '616'],
    ],
    streets: words('Slip Lane, Esplanade Drive, Macquarie Street, William Street'),
  },
  {
    country: 'NO',
    given: words('Kari, Sigrid, Ingrid, Ragnhild, Søren, Bjørn, Håkon, Ylva, Åse, Leif'),
    family: words('Amundsen, Arnesen, Ahlgren, Fjeldstad, Ødegård, Haugen, Lund, Sørli, Kristiansen'),
    towns: [
      ['Risør', 'Agder', '495'],
      ['Norheimsund', 'Vestland', '560'],
      ['Bodø', 'Nordland', '801'],
    ],
    streets: words('Strandgata, Havnegata, Skolegata, Båtbyggerveien'),
  },
  {
    country: 'NL',
    given: words('Femke, Jan-Willem, Pieter, Anneke, Joost, Maaike, Hendrik, Sanne'),
    family: words('Achterberg, van den Berg, de Wit, Visser, Huisman, van Leeuwen, Bakker, de Jong'),
    towns: [
      ['Enkhuizen', 'Noord-Holland', '1601 A'],
      ['Sneek', 'Friesland', '8601 B'],
      ['Rotterdam', 'Zuid-Holland', '3014 R'],
    ],
    streets: words('Molenweg, Oude Haven, Schoolstraat, Wilhelminastraat'),
  },
  {
    country: 'PT',
    given: words('Lúcia, Joaquim, Tomé, Duarte, Ana María, Beatriz, António, Catarina, Rafael'),
    family: words('Azevedo, Avila, Almeida, Reis, dos Santos, Costa, Carvalho, Nunes'),
    towns: [
      ['Setúbal', 'Setúbal', '2900-0'],
      ['Aveiro', 'Aveiro', '3800-1'],
      ['Lagos', 'Faro', '8600-3'],
    ],
    streets: words('Rua dos Estaleiros, Largo da Praia, Rua do Cais'),
  },
];

export const FIRMS = words(
  'Alderfleet Timber Ltd, Heronbox Timber, Brackenmoor Timber Ltd, Windlass Ropeworks, Gullrock Ropeworks, Tern ' +
    'Joinery, Ironfast Fastenings, Kelpstone Rigging, Skerry School of Boats, Larchgate Joinery, Copperfast Nails ' +
    'Ltd, Saltmarrow Chandlery Ltd',
);
export const MAIL_DOMAINS = [
  'example.com',
  'example.org',
  'example.net',
  'tidepost.test',
  'kelpmail.example',
  'heronbox.example',
  'quaypost.test',
];
export const COURSES = ['Clinker dinghy', 'Sailmaking', 'Rigging', 'Oar making'];
export const NOTES = [
  'Would like to bring a brother along.',
  'Prefers larch to oak for planking.',
  'Asked for a place on the spring course.',
  'Offers to sail the committee boat at the regatta.',
  'Wants a receipt for the gift.',
  'Met at the boat fair; call before nine.',
];
