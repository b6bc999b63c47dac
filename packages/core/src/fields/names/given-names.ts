import { foldText } from '../values/fold';
import { MORE_GIVEN_NAMES } from './given-name-table';
import { isKnownGivenName } from './nicknames';

/**
 * Folded given names that have no short form worth a group of its own. Only for telling which word of a name is the
 * given one: matching goes by the groups of nicknames and what it learns from the data.
 */
const OTHER_GIVEN_NAMES = new Set(
  `
mario marco luca paolo matteo lorenzo davide simone stefano fabio massimo claudio giulia chiara silvia elisa valentina martina
pierre camille lucas hugo louise manon chloe lea julien mathieu thibault gilles yves yvonne odile solange margaux celine
petra lucie marta monika radka ivana veronika zuzana lenka jitka tomas vaclav milos bohumil zdenek radek ales vojtech
marek tomasz lukasz grzegorz krzysztof wojciech rafal mariusz dariusz beata dorota iwona renata urszula jadwiga
ingrid astrid solveig sigrid ragnhild ylva freja saga birgit gudrun torsten sven jens soren morten henrik lars nils ole knut
leif bjorn jorgen mette hanne kirsten pernille aino ilmari tuulikki eero juha pekka antti mikko jukka timo seija riitta paivi
sanna heikki kalle tapio zsofia agnes reka dora eszter timea ildiko emese csaba attila laszlo gyula tibor bela
balazs mate marton andras adel gizella hajnalka krisztina judit erika andrea szilvia
jesus jorge sergio alvaro ruben raul ramon pablo diego adrian marcos rocio lucia paula elena irene alba marina nuria silvia
monica raquel beatriz ines joaquim tiago rui nuno miguel duarte afonso vasco goncalo catarina leonor matilde mafalda
kenji hiroshi takashi satoshi makoto kazuo haruto haruki yuto sota ren daiki taro jiro ichiro akira yuki yuko hanako akiko
keiko michiko naoko sakura aoi hina yui mei miyu emi haruka tomoko kaori
priya amit rahul rohan arjun vikram sanjay rajesh suresh anil deepak ravi anita sunita kavita pooja neha anjali lakshmi
meera divya shreya aditya karthik venkatesh ganesh imran faisal bilal omar yusuf ibrahim ahmed mahmoud hassan hussein khalid
tariq layla leila aisha zainab maryam nour amina khadija salma yasmin samira
ngozi chidi emeka ifeoma chioma adaeze obinna oluwaseun tunde femi kunle bola yemi folake amara kwame kofi abena akua
esi thabo sipho nomsa zanele wanjiru kamau achieng otieno
mehmet mustafa ahmet huseyin murat emre burak ayse fatma emine zeynep elif merve selin can deniz
saoirse niamh aoife ciara orla sinead roisin eoin cian oisin fionn declan cormac padraig siobhan grainne
rhys owain gareth dylan carys bronwen ffion eluned iestyn morwenna loveday demelza jago piran tamsin kerra elowen
giorgos yannis nikos kostas dimitris vasilis eleni katerina sofia despina
kylie kirsty kerry tracy darren wayne craig keith brian kevin derek barry trevor graham neil stuart
tyler brandon kyle ryan justin jordan logan mason ethan noah liam oliver harper avery riley madison brooke paige
ashley courtney whitney heather amber crystal tiffany
elodie anais francois gerard benoit oceane maelle loic noel helene jeanluc frederic stephane cedric jerome thierry didier
xavier fabrice bertrand guillaume antoine clement romain maxime quentin baptiste alexis florian amelie aurelie sandrine
severine veronique brigitte nathalie valerie laetitia delphine emilie audrey virginie josephine clementine
jurgen gunter gunther heinz horst klaus dieter uwe detlef manfred siegfried reinhard rudiger hartmut annegret heike kathe
barbel gisela ursula renate hildegard sabine silke anke birte frauke wiebke maike antje ulrike karsten thorsten torben
begona inigo inaki concepcion encarnacion rosario asuncion ainhoa leire jaime javier ignacio gonzalo borja
malgorzata agnieszka stanislaw bozena zaneta zbigniew bogdan wieslaw boguslaw ewelina kinga patrycja natalia
joost anneke fenna jurrien marijke bram saskia teun loes hendrik wim gerrit sjoerd maarten pieter annelies
nicolo giosue ilaria fabrizio ornella gabriele beatrice giorgia federica alessia riccardo vincenzo salvatore
asa marta osten goran linnea hakan gunnar ake kjell annika birgitta
jiri zdenek stepan marketa bozena lubos katerina ludmila
caglar sule gokhan isil omer ugur nuray hakan serkan volkan ozge ebru
joao conceicao luis antonio graca tomas monica goncalo filipa
ειρήνη γιώργος μαρία ελένη νίκος δημήτρης κώστας
дмитрий михаил николай владимир андрей александр алексей евгений павел виктор юрий максим артём артем кирилл илья роман олег
игорь игор антон денис мария наталья татьяна ирина светлана екатерина анастасия юлия людмила галина валентина оксана дарья
софия олена наталія юлія людмила андрій сергій олексій микола володимир
`
    .trim()
    .split(/\s+/)
    .map(foldText),
);

for (const name of MORE_GIVEN_NAMES.trim().split(/\s+/)) OTHER_GIVEN_NAMES.add(foldText(name));

/** Whether a folded word is a given name that we know, from tables of many countries. */
export function isGivenName(name: string): boolean {
  return isKnownGivenName(name) || OTHER_GIVEN_NAMES.has(name);
}

/** Folded given names that are common family names too, so that they tell little about the order of a name. */
const ALSO_FAMILIES = new Set(
  (
    `
james thomas martin george paul simon lewis scott henry charles allen allan alan graham neil craig stuart ` +
    `kelly morgan taylor
jordan riley murray grant dean ross lee kim owen rhys francis vincent bernard robert richard ` +
    `albert andre gilbert laurent oliver
gabriel lucas victor julien arthur raymond roger daniel mathieu nicolas ` +
    `denis guy david michel michael gerard philippe marie
werner walter otto peter ernst friedrich gunther hermann ` +
    `konrad ludwig arnold heinrich franz jung curtis mitchell russell
hunter carter hayden wyatt grayson easton ` +
    `colton bryson austin blake chase cole connor dalton drew fletcher floyd forrest garrett
grady griffin harley ` +
    `harvey heath howard hudson hugh marshall miles milton neville preston ralph roland rowan roy sheldon shelby
spencer ` +
    `sterling stewart travis trent tyson vaughan vaughn wade wallace warren wesley winston ashton bailey barrett ` +
    `beau bradley
brady brennan bryan bryce byron casey cassidy clay clayton clifford clifton clinton cooper dale ` +
    `dallas dawson donovan ellis emerson
emery glen greg gregory hank harrison holly irving jarvis joseph kay lawrence ` +
    `lincoln lloyd lowell lynn mack mark marley may merritt
morris norman otto quincy ramsey randall reece reese ` +
    `reagan rhodes royce sidney sinclair solomon stacey stanley summer sydney terrell
todd vance virgil walt ward ` +
    `west will wolf fabian felix ferdinand heinz hans jost kai lutz veit ulrich claus urs beat
franck georges guy ` +
    `jacques joly leo louis marcel martel maurice norbert pascal patrice remy rene romain serge simone valentin
alfonso ` +
    `alonso alberto angel augusto benito bernardo blanco calvo carlos crespo david domingo duran esteban felipe ` +
    `fernando flores gil
izquierdo jaime jorge julian leal luna luz mateo matias montes oliva orlando pascual paz ` +
    `ramon reyes ricardo rios rivera roman romero rosario
salvador santiago santos serrano sol soto tomas vega ` +
    `vicente vidal aurora cruz
adamo alessi amato angelo basile bruno carlo conte costa donato felice fiore franco ` +
    `gallo grasso greco leone leonardi luciano marino
mauro milani moreno natale palmieri pietro primo renzi ricci ` +
    `rinaldi romano rossi russo santoro silvestri tito valentino villa vitale
daniels willems hendriks jansen pieters ` +
    `jacobs maas peters simons wouters lambert leenders adriaan
abdullah abdul amin bakr farouk habib hadi hakim ` +
    `hamad hamid hamza hasan jaber jamal kamal karim khaled mahdi majid malik mansour nader
najjar nasser omar osman ` +
    `qasim rashid saad said salah saleh salem salman sharif suleiman taha yassin zaki kaur singh kumar lal prasad
chandra ` +
    `dev gopal krishna mohan narayan prakash raj ram rao ravi shankar sharma nair das dutta joshi anand bala raja ` +
    `raman hari
minh thi van duc quang anh tran ho le ly mai vinh mwangi kamau njoroge otieno omondi musa juma issa ` +
    `adebayo adeyemi okafor bello diallo
ron tal gal alon dov ran ori nir shai katz levi cohen aram davit petros ` +
    `yannis wolf bruce cameron douglas duncan gordon logan mason harper parker brooke frank carl ray max jose rosa bruno marco marcos leon
ali hassan hussein ahmed ibrahim khalil aziz rahman can deniz yilmaz bela balazs gyula
`
  )
    .trim()
    .split(/\s+/),
);

export function isAlsoFamily(name: string): boolean {
  return ALSO_FAMILIES.has(name);
}

/** Folded family names that are common where the family name is written first. */
const FAMILIES_FIRST = new Set(
  `
nagy kovacs toth szabo horvath varga kiss molnar nemeth farkas balogh papp takacs juhasz lakatos meszaros olah racz fekete szilagyi
torok feher gal kocsis orosz fodor szucs hegedus pinter
sato suzuki takahashi tanaka watanabe ito yamamoto nakamura kobayashi kato yoshida yamada sasaki yamaguchi matsumoto inoue kimura
hayashi shimizu saito yamazaki mori abe ikeda hashimoto ishikawa ogawa okada hasegawa fujita goto
wang li zhang liu chen yang huang zhao wu zhou xu sun ma zhu hu guo he lin gao luo zheng liang xie tang deng feng song cao peng
xiao cheng jiang mao deng xi
kim lee park choi jung jeong kang cho yoon jang lim han shin seo kwon hwang ahn yoo
nguyen tran pham hoang huynh phan vu vo dang bui duong
`
    .trim()
    .split(/\s+/),
);

const SLAVIC_FAMILY =
  /^\p{Script=Cyrillic}+(?:ов|ев|ёв|ин|ын|ий|ой|ова|ева|ёва|ина|ына|ая|ко|ук|юк|чук|ян|дзе|швили)$/u;

/** Whether a word looks like a family name of a people who write it first. */
export function isFamilyOfFamilyFirst(word: string): boolean {
  const folded = foldText(word).replaceAll(' ', '');
  return FAMILIES_FIRST.has(folded) || (SLAVIC_FAMILY.test(word.toLowerCase()) && !isGivenName(folded));
}
