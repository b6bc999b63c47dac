import { getCountries } from 'libphonenumber-js/min';
import { foldText } from './fold';

const LANGUAGES =
  'en de fr es pt it nl da nb sv fi is pl cs sk hu ro el tr ru uk ja ko zh ar he hi vi id ca gl eu cy ga et lv lt sl hr'.split(
    ' ',
  );
const EXTRA: Record<string, string> = {
  uk: 'GB',
  'great britain': 'GB',
  britain: 'GB',
  england: 'GB',
  scotland: 'GB',
  wales: 'GB',
  'northern ireland': 'GB',
  usa: 'US',
  'u s a': 'US',
  'u s': 'US',
  america: 'US',
  'united states of america': 'US',
  holland: 'NL',
  eire: 'IE',
  'republic of ireland': 'IE',
  uae: 'AE',
  czechia: 'CZ',
};

const CURRENCIES: Record<string, string> = {
  GB: 'GBP',
  US: 'USD',
  CA: 'CAD',
  AU: 'AUD',
  NZ: 'NZD',
  CH: 'CHF',
  NO: 'NOK',
  SE: 'SEK',
  DK: 'DKK',
  PL: 'PLN',
  CZ: 'CZK',
  HU: 'HUF',
  JP: 'JPY',
  IN: 'INR',
  ZA: 'ZAR',
  BR: 'BRL',
  MX: 'MXN',
};

/** Currency (ISO 4217) that amounts without one are taken in where a workspace lives; euros where nothing is known. */
export function currencyOf(country: string): string {
  return CURRENCIES[country] ?? 'EUR';
}

/** ISO 3166-1 alpha-3 codes with their alpha-2 codes, and behind them some short writings of sport that are none of those. */
const THREE_LETTERS =
  'AFG:AF ALA:AX ALB:AL DZA:DZ ASM:AS AND:AD AGO:AO AIA:AI ATG:AG ARG:AR ARM:AM ABW:AW AUS:AU AUT:AT AZE:AZ BHS:BS BHR:BH BGD:BD BRB:BB BLR:BY BEL:BE BLZ:BZ BEN:BJ BMU:BM BTN:BT BOL:BO BIH:BA BWA:BW BRA:BR IOT:IO BRN:BN BGR:BG BFA:BF BDI:BI CPV:CV KHM:KH CMR:CM CAN:CA CYM:KY CAF:CF TCD:TD CHL:CL CHN:CN COL:CO COM:KM COG:CG COD:CD COK:CK CRI:CR CIV:CI HRV:HR CUB:CU CUW:CW CYP:CY CZE:CZ DNK:DK DJI:DJ DMA:DM DOM:DO ECU:EC EGY:EG SLV:SV GNQ:GQ ERI:ER EST:EE SWZ:SZ ETH:ET FLK:FK FRO:FO FJI:FJ FIN:FI FRA:FR GUF:GF PYF:PF GAB:GA GMB:GM GEO:GE DEU:DE GHA:GH GIB:GI GRC:GR GRL:GL GRD:GD GLP:GP GUM:GU GTM:GT GGY:GG GIN:GN GNB:GW GUY:GY HTI:HT HND:HN HKG:HK HUN:HU ISL:IS IND:IN IDN:ID IRN:IR IRQ:IQ IRL:IE IMN:IM ISR:IL ITA:IT JAM:JM JPN:JP JEY:JE JOR:JO KAZ:KZ KEN:KE KIR:KI PRK:KP KOR:KR KWT:KW KGZ:KG LAO:LA LVA:LV LBN:LB LSO:LS LBR:LR LBY:LY LIE:LI LTU:LT LUX:LU MAC:MO MDG:MG MWI:MW MYS:MY MDV:MV MLI:ML MLT:MT MHL:MH MTQ:MQ MRT:MR MUS:MU MYT:YT MEX:MX FSM:FM MDA:MD MCO:MC MNG:MN MNE:ME MSR:MS MAR:MA MOZ:MZ MMR:MM NAM:NA NRU:NR NPL:NP NLD:NL NCL:NC NZL:NZ NIC:NI NER:NE NGA:NG NIU:NU NFK:NF MKD:MK MNP:MP NOR:NO OMN:OM PAK:PK PLW:PW PSE:PS PAN:PA PNG:PG PRY:PY PER:PE PHL:PH POL:PL PRT:PT PRI:PR QAT:QA REU:RE ROU:RO RUS:RU RWA:RW BLM:BL SHN:SH KNA:KN LCA:LC MAF:MF SPM:PM VCT:VC WSM:WS SMR:SM STP:ST SAU:SA SEN:SN SRB:RS SYC:SC SLE:SL SGP:SG SXM:SX SVK:SK SVN:SI SLB:SB SOM:SO ZAF:ZA SSD:SS ESP:ES LKA:LK SDN:SD SUR:SR SJM:SJ SWE:SE CHE:CH SYR:SY TWN:TW TJK:TJ TZA:TZ THA:TH TLS:TL TGO:TG TKL:TK TON:TO TTO:TT TUN:TN TUR:TR TKM:TM TCA:TC TUV:TV UGA:UG UKR:UA ARE:AE GBR:GB USA:US URY:UY UZB:UZ VUT:VU VAT:VA VEN:VE VNM:VN VGB:VG VIR:VI WLF:WF ESH:EH YEM:YE ZMB:ZM ZWE:ZW GER:DE SUI:CH NED:NL DEN:DK POR:PT GRE:GR CRO:HR BUL:BG LAT:LV SLO:SI RSA:ZA PHI:PH MAS:MY INA:ID VIE:VN';

let byOrder: readonly string[] | null = null;
let byName: Map<string, string> | null = null;

function nameTable(): Map<string, string> {
  if (byName) return byName;
  const table = new Map<string, string>();
  for (const language of LANGUAGES) {
    const names = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' });
    for (const code of getCountries()) {
      const name = names.of(code);
      if (!name) continue;
      for (const key of [name.toLowerCase(), foldText(name)]) if (key && !table.has(key)) table.set(key, code);
    }
  }
  for (const code of getCountries()) table.set(code.toLowerCase(), code);
  for (const pair of THREE_LETTERS.split(' ')) {
    const [three = '', code = ''] = pair.split(':');
    if (!table.has(three.toLowerCase())) table.set(three.toLowerCase(), code);
  }
  for (const [name, code] of Object.entries(EXTRA)) table.set(name, code);
  return (byName = table);
}

/** The ISO 3166-1 alpha-2 code of a country named in any of some forty languages or by its code, or null. */
export function findCountry(text: string): string | null {
  const plain = text.trim();
  if (!plain) return null;
  const table = nameTable();
  const lower = plain.toLowerCase();
  return table.get(lower) ?? table.get(foldText(plain)) ?? table.get(lower.replaceAll('.', '')) ?? null;
}

/** ISO 3166-1 alpha-2 codes of all countries, in the order of their names. */
export function countryCodes(): readonly string[] {
  byOrder ??= getCountries().sort((a, b) => countryName(a).localeCompare(countryName(b)));
  return byOrder;
}

/** The country's name in English, or what was given when it is no code. */
export function countryName(code: string): string {
  if (!/^[A-Z]{2}$/.test(code)) return code;
  return new Intl.DisplayNames(['en'], { type: 'region', fallback: 'code' }).of(code) ?? code;
}
