import { isKnownGivenName } from '../../fields';
import { leniently } from './romanised';
import { isSlip } from '../comparing/text-distance';

/**
 * Names in Han signs against names in another script. Folding reads the signs as Mandarin does, which is how Chinese names
 * are written in Latin letters; Japanese ones are read otherwise, and the signs do not tell how.
 */

const SYLLABLE = new RegExp(
  String.raw`(?:zh|ch|sh|[bpmfdtnlgkhjqxrzcsyw])?(?:iang|iong|uang|ueng|ang|eng|ing|ong|ian|iao|uai|uan|ai|an|ao` +
    String.raw`|ei|en|er|ia|ie|in|iu|ou|ua|ue|ui|un|uo|a|e|i|o|u|(?<=[ln])v)`,
);
const MORA =
  /(?:kk|ss|tt|pp|cch|ssh|tch|sh|ch|ts|[kgnhbmpr]y|[kgsztdnhbpmyrwfj])?(?:oh(?![aeiou])|ou|[aeiou])|n(?![aeiouy])/;
const wholeOf = (part: RegExp) => new RegExp(`^(?:${part.source})+$`);
const allOf = (part: RegExp) => new RegExp(part.source, 'g');
const [PINYIN, ROMAJI, SYLLABLES, MORAE] = [wholeOf(SYLLABLE), wholeOf(MORA), allOf(SYLLABLE), allOf(MORA)];

/** Whether a folded word could be a Chinese name as Mandarin is written in Latin letters (pinyin). */
export const isPinyin = (word: string): boolean => word.length > 1 && !/^[iuv]/.test(word) && PINYIN.test(word);

/** Whether a folded word could be a Japanese name in Latin letters. */
const isRomaji = (word: string): boolean => word.length > 1 && ROMAJI.test(word);

/** Letters of a word that neither a Chinese nor a Japanese name would have there. */
const strangeLetters = (word: string): number =>
  Math.min(word.replace(SYLLABLES, '').length, word.replace(MORAE, '').length);

/**
 * How families of one Han sign write themselves elsewhere than in Mandarin (Cantonese, Hokkien, Wade-Giles, Korean,
 * Vietnamese), by what Mandarin makes of the sign.
 */
const FAMILIES = new Map(
  (
    `wang wong ong vuong; li lee yi ly lei; zhang chang cheung cheong teo teoh jang truong; liu lau low ryu yoo yu ` +
    `luu; chen chan tan tran jin chin;
   yang yeung yeoh young duong; huang wong hwang ng ooi wee hoang huynh; zhao ` +
    `chiu chao cho jo trieu; wu ng goh woo oh ngo; zhou chow chou chew joo chu;
   xu hsu tsui chee hui seo tu hua; ` +
    `sun suen sng son ton; zhu chu choo joo; hu woo oh ho; guo kwok kuo quek kwak quach; he ho hor ha; gao ko kho ` +
    `kao;
   lin lam lim im; luo law lo loh la; zheng cheng tay jung jeong chung trinh; liang leung leong neo ryang ` +
    `luong; xie hsieh tse chia ta; song sung soong tong;
   tang tong; deng teng dang; han hon; feng fung phung; ` +
    `cao tsao cho tao; peng pang; zeng tsang chan tang; xiao siu hsiao siew tieu; cai choi tsai chua chae thai;
   pan poon phua; tian tin; dong tung; yuan yuen; jiang chiang keung kong kang khuong; ye yip yap ip diep; du to do; su so soh to; wei ngai wai; lu lo loo;
   jin kim gim; pei bae; shen sim sum shum; yin yun; cui choi choe; quan kwon; ren im yam; an ahn; nan nam; hong hung; bai paek baek; wen moon mun man`
  )
    .split(';')
    .map((line) => {
      const [mandarin = '', ...others] = line.trim().split(/\s+/);
      return [mandarin, new Set(others)];
    }),
);

/** Whether a folded word is how a family name in Han signs is read. */
export function isFamilyReading(han: string, read: string): boolean {
  return isReading(han, read) || FAMILIES.get(han)?.has(read) === true;
}

/** The same of a given name. */
export function isReading(han: string, read: string): boolean {
  if (!han || !read) return false;
  if (han === read) return true;
  const [x, y] = [leniently(han), leniently(read)];
  return x === y || (x.length > 3 && y.length > 3 && isSlip(x, y));
}

/** What a name in another script tells of where it comes from: it is Chinese for sure, or cannot be East Asian but for slips. */
export interface Origin {
  chinese: boolean;
  /** Of the given and of the family name: whether it is from elsewhere. */
  given: boolean;
  family: boolean;
}

/** A name has one slip, hardly two. */
const SLIPS = 1;

/** Tells it of the words of a given and a family name, folded. */
export function originOf(given: readonly string[], family: readonly string[]): Origin {
  const words = [...given, ...family].filter((word) => word.length > 1);
  const strange = (list: readonly string[]) =>
    list.reduce((sum, word) => sum + (word.length > 1 ? strangeLetters(word) : 0), 0);
  const isElsewhere = strange(words) > SLIPS;
  return {
    chinese: words.length > 0 && words.every(isPinyin) && !words.every(isRomaji),
    given: strange(given) > (isElsewhere || given.some(isKnownGivenName) ? 0 : SLIPS),
    family: strange(family) > (isElsewhere ? 0 : SLIPS),
  };
}
