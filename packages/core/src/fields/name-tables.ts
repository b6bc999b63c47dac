const words = (text: string) => new Set(text.trim().split(/\s+/));

/** Titles before a name, folded. */
export const PREFIXES = words(`
mr mrs ms miss mx dr doctor prof professor sir dame lady lord rev revd reverend fr father sister br brother capt captain col colonel
lt maj major sgt cpl cdr cmdr adm gen hon rt herr frau fraulein hr fr mme mlle mons monsieur madame dhr mevr mw sr sra srta senor senora
don dona sig sigra dott dottssa ing dipl mag univ pan pani drs ir mgr msgr rabbi imam sheikh shri smt
`);

/** Parts after a name, folded without points. */
export const SUFFIXES = words(
  `jr jnr junior sr snr senior ii iii iv v phd md dds dvm mbe obe cbe kbe dbe esq msc bsc ba ma mba frs rn llb llm dphil jd cpa ret qc kc fils pere filho neto`,
);

/** Suffixes that tell generations apart, by meaning. */
export const GENERATIONS: Record<string, string> = {
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
};

/** Small words that begin a family name, folded. */
export const PARTICLES = words(`
van von vom zu zum zur de del della delle degli dei di da das do dos du des la le los las les den der ter ten te af av bin ibn bint abu
al el ap ab mac mc nic ni san santa st saint y e lo dalla dal ver op
`);

/** Given names that are often the second half of a double given name. */
export const SECOND_GIVEN = words(
  `ann anne anna marie maria lou jo lee beth jane kate jose luis carlos grace rose may mae jean claire sofia ines pia eva paul pierre louis luc`,
);

/** Family names of peoples who write the family name first. */
export const FAMILY_FIRST = words(`nguyen tran pham hoang huynh phan vu vo dang bui duong`);

// One line per group of given names that stand for one another. Sources: common knowledge of English, German, Dutch,
// Romance, Slavic and Nordic short forms; a name may stand in several groups.
const NICKNAME_GROUPS = `
abigail abby abbie gail
abraham abe abram bram
adam ad
adelaide addie ada heidi
adriana adri
agnes aggie nessa
aidan aiden
alan allan allen al
albert al bert bertie alb
alejandra sandra ale jandra
alejandro alex sandro ale jandro
aleksander alek sasha olek alex
alexander alex al sandy alec lex xander sasha alexandre sascha sander alasdair alistair
alexandra alex sandra sandy alexa lexi sasha alix
alfred alf fred alfie freddie
alice ally allie
alison ally ali
amanda mandy
amelia amy millie mel
andrea andy andie
andrew andy drew andi andre andreas anders andrzej
angela angie ange
anna ann anne annie anita hanna nan ania anja anneke
antonia toni tonia
antonio toni tonio nino antoni
anthony tony ant antony anton
archibald archie
arthur art artie
barbara barb babs barbie basia
bartholomew bart
beatrice bea trixie beatrix beattie
benjamin ben benny benji
bernard bernie bern
bethany beth
bridget bridie biddy brigitte
caroline carol carrie caro lina
carolina caro lina
cassandra cass cassie
catherine kate cathy katie katherine kathy kit kitty cat kath kathryn catharine kathleen trina katharine katrina kat
cecilia cece cissy celia
charles charlie chuck chas chaz carl karl
charlotte charlie lottie lotte char
christian chris kit
christina chris tina christine chrissie kirsty christa kristina kirsten
christopher chris kit topher christoph kris
clifford cliff
constance connie
cornelius cor con neil kees
cynthia cindy
daniel dan danny
daniela dani
david dave davey davie dai
deborah deb debbie debs debra
dennis den denny
dominic dom nick
donald don donnie
dorothy dot dottie dolly dora
douglas doug dougie
duncan dunc
edith edie
edmund ed eddie ned ted
eduardo edu lalo
edward ed eddie ned ted teddy eddy
edwin ed eddie win
eleanor ellie nell nora elle ella elinor leonora
elena lena ele
elizabeth liz lizzie beth betty eliza lisa libby elsie bess bessie liza betsy lilibet elisabeth lise elsbeth
ellen nell nellie ellie
emily em emmy millie
emma em emmy
eric rick
ernest ernie
eugene gene
evelyn eve evie
ezekiel zeke
federico fede rico
felicity flick fliss
fernando nando fer
florence flo florrie flossie
frances fran fanny frankie
francesca fran chess cesca franca
francesco franco cesco
francis frank fran frankie
francisco paco pancho cisco fran kiko
franziska franzi
frederick fred freddie rick freddy frederic friedrich fritz
gabriel gabe gabi
gabriella gabby gabi ella gaby
geoffrey geoff jeff jeffrey
george georgie jorge
georgina georgie gina
gerald gerry jerry
gerard gerry ger
gertrude trudy gert gertie
giovanni gianni vanni nino
giuseppe beppe peppe pino
gregory greg gregor
guillermo memo guille
gwendolyn gwen wendy
hannah han hanna
harold harry hal
harriet hattie harry
heinrich heinz heini
helen nell nellie ellen lena helena helene
henrik rik henk
henry harry hal hank hen henri
hubert hugh bert
hugh hughie hugo
humphrey humph
ignacio nacho
ingrid inga
irene rene
isaac zac ike
isabella bella izzy isa isabel ella bell isabelle
isabel isa bel izzy isobel belle
jacob jake jack jacques jakob
jacqueline jackie jacqui
james jim jimmy jamie jem seamus
jan johannes janek hans
jane janie jenny janet
janet jan jenny
janice jan
jason jay jase
jean jeanie
jennifer jen jenny jenn
jeremy jerry jem jez
jessica jess jessie
jesus chus chuy
joan joanie
joanna jo joanne joan asia
johann hans
john jack johnny jon ian sean johnnie
jonathan jon jonny nathan john
jose pepe joseph
josef sepp
joseph joe joey jos jo jose
josephine jo josie
joshua josh
juan juanito
judith judy jude judi
julia julie jules
julian jules jul
justin jus
katarzyna kasia
katarina kati katja
kenneth ken kenny
kimberly kim kimmy
kristoffer kris stoffer
lars lasse
laura laurie lori
lawrence larry laurie laurence lars
leonard len leo lenny
leonardo leo nardo
leopold leo poldi
lillian lily lil lilly
linda lin lindy
louis lou lewis lou luis ludwig
louisa lou louise lulu
lucia lucy lu
lucille lucy
lucinda lucy cindy
luis lucho
madeleine maddie maddy
magdalena lena magda
malcolm mal
malgorzata gosia
manuel manolo manny
marcus marc mark
margaret maggie meg peggy marge margie greta peg madge mags rita daisy
margarita rita marga
maria mary marie mia mariella masha maja
marjorie marge margie
martha marty patsy
martin marty mart
mary molly polly may mamie
matilda tilly mattie tilda
matthew matt matty mat matthias mateusz mateo
maurice morris mo
maximilian max maxim
melanie mel
melissa mel missy lissa
michael mike mick mickey mikey mitch michel miguel mikael
mildred millie
mikhail misha
mohammed mohamed muhammad mo mohammad
nancy nan
natalie nat natasha
nathaniel nat nate nathan
nicholas nick nicky nico nicolas klaus niklas nicol
nicola nicky nic
nicole nicky nic
nigel nige
norman norm
oliver ollie olly noll
olivia liv livvy ollie
oscar ozzy
pamela pam
patricia pat patty tricia trish patsy paddy
patrick pat paddy pad padraig
paul pauly
paula pauline
penelope penny pen nell
percival percy
peter pete pieter pete
petronella nel nellie
philip phil pip phillip
philippa pippa pip
phyllis phyl
prudence pru prue
rachel rach rae
rafael rafa
randolph randy
raymond ray
rebecca becky becca bec
reginald reg reggie
ricardo rico ricky
richard rick dick rich ricky dickie richie
robert rob bob bobby robbie bert rab robin
roberto beto berto
roderick rod roddy rory
rodney rod
roger rodge
roland rolly
ronald ron ronnie
rosalind ros roz
rosemary rose rosie ros
rose rosie
rosa rosita
rudolf rudi rolf
russell russ
rupert rupe
samantha sam sammy
samuel sam sammy
sandra sandy
santiago santi
sarah sally sara sadie
sebastian seb bas basti
sergio checo
sharon shaz
sidney sid
simon sim
solomon sol
sophia sophie sofia
stanislaw staszek stan
stanley stan
stephanie steph stevie stefanie
stephen steve stevie steven stefan steph
stuart stu
susan sue susie suzy susanna sukie
susanna sue susie sanna susan
suzanne sue suzy
sylvia syl
tamsin tam tamsyn tammy
terence terry tel
thaddeus tad thad
theodora thea dora
theodore ted teddy theo
theresa terry tess tessa teresa tracy
thomas tom tommy tam thom tomas
timothy tim timmy
tobias toby tobi
valentina val tina
valerie val
vera ronnie
veronica ronnie vera nica
victor vic
victoria vicky vic tori viki vickie
vincent vince vin vinny
violet vi
virginia ginny ginger
vivian viv
vladimir vova vlad
walter wally walt wat
wilfred wilf will fred
wilhelm willi will wim
wilhelmina mina billie minnie willa wil
william bill will billy willie liam wills wm
winifred win winnie freda
zachary zac zack zach
`;

const groupNames = NICKNAME_GROUPS.trim()
  .split('\n')
  .map((line) => line.split(' '));
const namesByName = new Map<string, string[]>();
let groupsByName: Map<string, number[]> | null = null;

function nicknameIndex(): Map<string, number[]> {
  if (groupsByName) return groupsByName;
  groupsByName = new Map();
  groupNames.forEach((names, group) => {
    for (const name of names) {
      const groups = groupsByName?.get(name);
      if (groups) groups.push(group);
      else groupsByName?.set(name, [group]);
    }
  });
  return groupsByName;
}

/** The groups of given names a folded name stands in; names of one group may be the same person's. */
export function nicknameGroups(name: string): readonly number[] {
  return nicknameIndex().get(name) ?? [];
}

/** Whether one folded given name is a usual short or foreign form of the other. */
export function areNicknames(a: string, b: string): boolean {
  if (a === b) return false;
  const groups = nicknameIndex().get(a);
  const others = groups && nicknameIndex().get(b);
  return !!others && groups.some((group) => others.includes(group));
}

/** All names that stand in a group with a folded given name. */
export function nicknamesOf(name: string): readonly string[] {
  const kept = namesByName.get(name);
  if (kept) return kept;
  const names = (nicknameIndex().get(name) ?? []).flatMap((group) => groupNames[group] ?? []);
  if (names.length) namesByName.set(name, names);
  return names;
}

export function isKnownGivenName(name: string): boolean {
  return nicknameIndex().has(name);
}
