import { wordTable } from '../../model';
import { getCountries } from 'libphonenumber-js/min';
import { OTHER_NAMES } from './country-names';
import { foldText } from '../values/fold';

const LANGUAGES =
  'en de fr es pt it nl da nb sv fi is pl cs sk hu ro el tr ru uk ja ko zh ar he hi vi id ca gl eu cy ga et lv lt sl hr'.split(
    ' ',
  );
const CURRENCIES = wordTable({
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
});

/** Currency (ISO 4217) that amounts without one are taken in where a workspace lives; euros where nothing is known. */
export function currencyOf(country: string): string {
  return CURRENCIES[country] ?? 'EUR';
}

/** ISO 3166-1 alpha-3 codes, each with its alpha-2 code behind it, and behind them some short writings of sport that are none of those. */
const THREE_LETTERS =
  'AFGAF ALAAX ALBAL DZADZ ASMAS ANDAD AGOAO AIAAI ATGAG ARGAR ARMAM ABWAW AUSAU AUTAT AZEAZ BHSBS BHRBH BGDBD ' +
  'BRBBB BLRBY BELBE BLZBZ BENBJ BMUBM BTNBT BOLBO BIHBA BWABW BRABR IOTIO BRNBN BGRBG BFABF BDIBI CPVCV KHMKH ' +
  'CMRCM CANCA CYMKY CAFCF TCDTD CHLCL CHNCN COLCO COMKM COGCG CODCD COKCK CRICR CIVCI HRVHR CUBCU CUWCW CYPCY ' +
  'CZECZ DNKDK DJIDJ DMADM DOMDO ECUEC EGYEG SLVSV GNQGQ ERIER ESTEE SWZSZ ETHET FLKFK FROFO FJIFJ FINFI FRAFR ' +
  'GUFGF PYFPF GABGA GMBGM GEOGE DEUDE GHAGH GIBGI GRCGR GRLGL GRDGD GLPGP GUMGU GTMGT GGYGG GINGN GNBGW GUYGY ' +
  'HTIHT HNDHN HKGHK HUNHU ISLIS INDIN IDNID IRNIR IRQIQ IRLIE IMNIM ISRIL ITAIT JAMJM JPNJP JEYJE JORJO KAZKZ ' +
  'KENKE KIRKI PRKKP KORKR KWTKW KGZKG LAOLA LVALV LBNLB LSOLS LBRLR LBYLY LIELI LTULT LUXLU MACMO MDGMG MWIMW ' +
  'MYSMY MDVMV MLIML MLTMT MHLMH MTQMQ MRTMR MUSMU MYTYT MEXMX FSMFM MDAMD MCOMC MNGMN MNEME MSRMS MARMA MOZMZ ' +
  'MMRMM NAMNA NRUNR NPLNP NLDNL NCLNC NZLNZ NICNI NERNE NGANG NIUNU NFKNF MKDMK MNPMP NORNO OMNOM PAKPK PLWPW ' +
  'PSEPS PANPA PNGPG PRYPY PERPE PHLPH POLPL PRTPT PRIPR QATQA REURE ROURO RUSRU RWARW BLMBL SHNSH KNAKN LCALC ' +
  'MAFMF SPMPM VCTVC WSMWS SMRSM STPST SAUSA SENSN SRBRS SYCSC SLESL SGPSG SXMSX SVKSK SVNSI SLBSB SOMSO ZAFZA ' +
  'SSDSS ESPES LKALK SDNSD SURSR SJMSJ SWESE CHECH SYRSY TWNTW TJKTJ TZATZ THATH TLSTL TGOTG TKLTK TONTO TTOTT ' +
  'TUNTN TURTR TKMTM TCATC TUVTV UGAUG UKRUA AREAE GBRGB USAUS URYUY UZBUZ VUTVU VATVA VENVE VNMVN VGBVG VIRVI ' +
  'WLFWF ESHEH YEMYE ZMBZM ZWEZW GERDE SUICH NEDNL DENDK PORPT GREGR CROHR BULBG LATLV SLOSI RSAZA PHIPH MASMY ' +
  'INAID VIEVN';

let byOrder: readonly string[] | null = null;
let byName: Map<string, string> | null = null;

function nameTable(): Map<string, string> {
  if (byName) return byName;
  const table = new Map<string, string>();
  for (const language of LANGUAGES)
    for (const style of ['long', 'short'] as const) {
      const names = new Intl.DisplayNames([language], { type: 'region', fallback: 'none', style });
      for (const code of getCountries()) {
        const name = names.of(code);
        if (!name) continue;
        for (const key of [name.toLowerCase(), foldText(name)]) if (key && !table.has(key)) table.set(key, code);
      }
    }
  for (const [code, names] of Object.entries(OTHER_NAMES))
    for (const name of names.split('|')) for (const key of [name, foldText(name)]) if (key) table.set(key, code);
  for (const code of getCountries()) table.set(code.toLowerCase(), code);
  for (const pair of THREE_LETTERS.split(' ')) {
    const three = pair.slice(0, 3).toLowerCase();
    if (!table.has(three)) table.set(three, pair.slice(3));
  }
  return (byName = table);
}

/** The ISO 3166-1 alpha-2 code of a country named in any of some forty languages or by its code, or null. */
export function findCountry(text: string): string | null {
  const plain = text.trim();
  if (!plain) return null;
  const table = nameTable();
  const lower = plain.toLowerCase();
  const folded = foldText(plain);
  // Short words of other scripts fold to what are codes here.
  const isCode = folded.length < 4 && !/^[A-Za-z. ]+$/.test(plain);
  return table.get(lower) ?? (isCode ? null : table.get(folded)) ?? table.get(lower.replaceAll('.', '')) ?? null;
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
