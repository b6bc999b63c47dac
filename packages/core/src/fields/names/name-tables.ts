import { wordTable } from '../../model';
const words = (text: string) => new Set(text.trim().split(/\s+/));

/** Titles before a name, folded. */
export const PREFIXES = words(`
mr mrs ms miss mx dr doctor prof professor sir dame lady lord rev revd reverend fr father sister br brother capt captain col colonel
lt maj major sgt cpl cdr cmdr adm gen hon rt herr frau fraulein hr fr mme mlle mons monsieur madame dhr mevr mw sr sra srta senor senora
don dona sig sigra dott dottssa ing dipl mag univ pan pani drs ir mgr msgr rabbi imam sheikh shri smt
rndr med habil dipling diplkfm dring drmed profdr mudr judr phdr mvdr inz avv arch jhr doc pastor bishop engr ustad
dra profa exmo exma ilmo ilma lic arq dna geom egr melle mlles maitre mevrouw meneer fru froken frk herra hra rouva rva neiti nti
domnul doamna domnisoara gosp gospodin gospoda gospodja gospozha gospa gda slecna datuk datin
`);

/** Titles in scripts of their own, in small letters without a point: folded, some would be names. */
export const TITLES_AS_WRITTEN = words(`
г-н г-жа г-ца гн гжа пан пані κ κος κα κύριος κυρία δρ δρα δις גב גב' גב׳ גברת הגב' السيدة الآنسة الدكتور الدكتورة المهندس المهندسة الأستاذ الأستاذة
श्री श्रीमती सुश्री डॉ นาย นาง นางสาว
`);

/** What Thai writes up to the given name. */
export const THAI_TITLE = /^(นางสาว|นาย|นาง)(?=[ก-ฮเ-ไ])/u;

/** What is said behind a name of China, Japan or Korea, with the fewest signs that the name before it has where it is written up to it. */
export const HONORIFICS: readonly (readonly [words: string, fewest: number])[] = [
  ['先生 女士 小姐 太太 選手 선생님 씨 귀하', 1],
  ['様 さま さん 殿 ちゃん', 1],
  ['님 氏', 3],
];

/** Titles that stand before a given name where only one name follows ("Sister Agnes", but "Mrs Robinson"). */
export const GIVEN_TITLES = words(`sir dame sister brother br father fr lady don dona sheikh imam`);

/** Titles that are other words as well, and count where a point stands behind them. */
export const TITLES_WITH_POINT = words(`em hc bc hab eng rag dl sn sl ifj ozv id`);

/** Titles that are given names as well, and count where a whole name follows. */
export const TITLES_OR_NAMES = words(`don dona bay bayan sayin me pr bapak ibu encik puan`);

/** Ranks of nobility, which begin a family name where small words follow them. */
export const RANKS_OF_NOBILITY = words(
  `prinz prinzessin graf grafin freiherr freifrau freiin furst furstin baron baronin herzog herzogin ritter edler`,
);

/** Small words between two family names of one person. */
export const BETWEEN_FAMILIES = words(`e y i`);

/** What stands, in small letters, before the name that somebody had at birth. */
export const BORN = words(`nee geb geborene geboren born roz rozena fodt fodd szul`);

/** Parts after a name, folded without points. */
export const SUFFIXES = words(
  `jr jnr junior sr snr senior ii iii iv v phd md dds dvm mbe obe cbe kbe dbe esq msc bsc ba ma mba frs rn llb llm dphil jd cpa ret qc kc fils pere filho neto`,
);

/** Suffixes that tell generations apart, by meaning. */
export const GENERATIONS = wordTable({
  jr: 'jr',
  jnr: 'jr',
  junior: 'jr',
  fils: 'jr',
  filho: 'jr',
  sr: 'sr',
  snr: 'sr',
  senior: 'sr',
  pere: 'sr',
  ii: 'ii',
  iii: 'iii',
  iv: 'iv',
});

/** Small words that begin a family name, folded. */
export const PARTICLES = words(`
van von vom zu zum zur de del della delle degli dei di da das do dos du des la le los las les den der ter ten te af av bin ibn bint abu
al el ap ab mac mc nic ni san santa st saint y e lo dalla dal ver op
`);

/** Given names that are often the second half of a double given name. */
export const SECOND_GIVEN = words(
  `ann anne anna marie maria lou jo lee beth jane kate jose luis carlos grace rose may mae jean claire sofia ines pia eva paul pierre louis luc`,
);

/** Family names of one syllable that East Asian people have before two more, in Latin letters. */
export const ONE_SYLLABLE_FAMILIES = words(
  `ng wong chan cheung lam leung chow kwok tsang yeung zhang wang liu chen huang zhao wu zhou xu zhu guo luo liang ` +
    `xie tang feng yu dong xiao cheng cao yuan deng jiang tan teo goh koh choi kang yoon jang shin kwon hwang`,
);

/** Family names of peoples who write the family name first. */
export const FAMILY_FIRST = words(`nguyen tran pham hoang huynh phan vu vo dang bui duong`);
