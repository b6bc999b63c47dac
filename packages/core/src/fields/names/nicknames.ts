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
peter pete pieter
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
aaron ron ronnie
abdallah abdullah abdulla
abdulrahman abdelrahman abdurrahman
abhishek abhi
abimbola bimbo bola
adebayo bayo ade
adeola ade ola
aditya adi
adrianus adri ad arie janus
agnieszka aga agnes
agnes agi agnete
ahmed ahmad ahmet
aikaterini katerina kate katia
aisha ayesha aysha
alasdair ally al alastair alistair
alberto beto berto
aleksandar aca sasa
aleksandra ola sasha
aleksandr sasha shura alex
aleksei alexei alyosha lyosha alexey
alessandra sandra ale
alessandro sandro ale alex
alicia licha ali
alida aly
anastasia nastya tasia natasa stacy
anatoly tolya anatoli
andras bandi andris
andreas andi andy anders
andreu andy
andrei andrey andryusha
andrzej jedrek
angelika geli angie
angharad harry
aniruddha ani
anjali anju
anna ania anya ana anni ans anneke annika aninha anka hania
annegret anne gretel
annemarie annemie anne
antoine toine tonio
antonella anto nella
antonia toni toni tonka
antonio tono toninho to toze tonino
antonius ton toon anton
apostolos tolis
arturo art turo
ashwin ash
asuncion asun
athanasios thanasis thanos
avraham avi
ayodele ayo dele
babatunde tunde baba
balthasar balz
barbara babsi barbel barbro
barbora bara barka
barry baz
beatriz bea bia
bengt benke
bernhard bernd hardy
binyamin benny ben
birgitta gitta britt
bogdan bodzio
boris borya
brigitte gitte biggi
carl kalle calle
carlos carlinhos carlito charlie
carmela mela carmen
carmen menchu carmela
carol caz carrie
caroline caz line
catarina cata cati
caterina rina cate
catharina toos tineke rina trijn
cathal charlie
catherine cathy katy cate
catriona cat trina
charles charlot chas
chidinma chidi
chinedu nedu
christine tine christl chrissy
christophe chris kiki
chukwuemeka emeka
claudia claudi
conceicao sao
concepcion concha conchi
concetta tina
consuelo chelo
cornelia corrie conny nel cor
cornelis cees kees cor
cristina cris tina
dafydd dai dave
daniel danny dani danko
daniela dani
danuta danka
darren daz
david davy davie dudu dai
debbie debs
deepak deepu
diarmuid dermot
dietrich dieter
dimitrios dimitris mitsos jimmy dimos
dmitri dima mitya dmitry
dolores lola loli
domenico mimmo nico mico
domingos mingo
dominik nik domi
dominique dom domi
dorothea doro thea dorle
dorota dorotka
eberhard ebi
edward edek
eduardo edu lalo dudu
edouard doudou
efstathios stathis
eilidh ellie
ekaterina katya kate
eleanora nora
eleni lena helen
eleonora nora ele
elisabet liisa elsa betta
elisabeth els lies betty liesbeth lisa liesel sissi elsa elli betti babeth lise lisbet beth
elisabetta betta lisa betty
elizaveta liza
elzbieta ela
emanuele lele manu
emmanouil manolis
emmanuel manu manny
emmanuelle manu
encarnacion encarni
enrique quique kike
erzsebet bozsi erzsi
esperanza espe
esther esti etty
evangelos vangelis
evelina eve lina
evgeni zhenya evgeny eugene
evgenia zhenya
ewa ewka eva
fatima fatma fatimah
federico fede chicco kiko
ferenc feri
fernanda nanda fe
fernando nando fer
filippo pippo lippo
filomena mena
folasade sade fola
francesca franca checca franci
francesco franco ciccio checco
franciscus frans franc
francisco paco pancho curro kiko fran chico xico quico
franciszek franek
frantisek franta
francois fanfan
francoise soizic
franziska franzi zissi
franz franzl
frederic fred
friederike rike fritzi
friedrich fritz fiete
funmilayo funmi
fyodor fedya
gabor gabi
gabriel gabi gabe
gabriela gabi gaby
gabriele gabi lele
gabrielle gaby
galina galya
gary gaz
gareth gaz gary
geertruida truus trudy geertje
genevieve ginette
georg schorsch jorg george
georgi zhora gosha
georgios giorgos george yorgos
gerard gege
gerardo lalo gera
gerhard gerd
gerrit ger gert
gilberto beto giba
giorgio giorgi
giovanna gianna vanna
giovanni gianni nino vanni gio
giuseppe beppe peppe pino peppino
giuseppina pina giusy
graciela chela
gregorio goyo
grigori grisha
grzegorz grzesiek
guadalupe lupe lupita
guilherme gui
guillaume guigui
guillermo memo guille
gurpreet gary
gustav gosta gus
gustavo guga gus tavo
gwenllian gwen
gyorgy gyuri
halina halinka
hamish james
hannelore lore hanne
hanna hania
harish hari
harpreet harry
hassan hasan
heikki henrik
helena lena leni leena
hendrik henk rik hein driek
hendrika riek rika
henri riton
henriette jette henni
henrique rique
henryk heniek
hussein husain hussain
ibrahim ibo ebrahim
ifeanyi ify ifey
ignacio nacho inaki
ikechukwu ike
ilona ili ica
inmaculada inma
ioannis giannis yannis john yiannis
irena irka
irina ira
isabel isa chabela bel belinha
isabelle isa
istvan pista steve
ivan vanya ivica johnny
jacek jack
jacoba coba
jacobus jaap koos ko jacob
jacques jacquot
jakub kuba
jan honza janek jasiek janne
jana janka
janos jani jancsi
jaroslav jarda
jaswinder jas
javier javi
jennifer jen jenna jenni
jerzy jurek
jesus suso chus
jiri jirka
joana jo
joanna asia
joao joca
joaquim quim juca
johanna hanna hanni jo joke
johannes hannes joop hans jo jussi johs jan hansi
jolanta jola
jonas joni
josef sepp jupp pepa jos
josefa pepa pepi
josefina fina
josip joza
jose ze zeca pepe chepe
jovan jova
jozef jozek jos
jozsef jozsi
juan juanito juancho
juhani juha jussi
julia julka jul
julianna juli
julie jules
jurgen jorg
kalle karl kaarle
karel karlik
karoline line caro
katalin kati kata
katarina kaja karin kata kati
katarzyna kasia kaska
katerina katka
katharina kathi kathe trine kati katha
kathleen kath kathy kay
kazimierz kazik
kelechi kele
khalid khaled
konstantin kostya kosta
konstantinos kostas costas dinos
kristian kris christian
kristina stina kia kris
krystyna krysia
krzysztof krzysiek kris
kseniya ksyusha ksenia oksana
ladislav lada
lakshmi laxmi
larisa lara
laszlo laci les
laurent lolo
laurence lolo
leonid lyonya leo
leonor nono
leszek leslaw
leticia leti
lidia lida
lilian lil
lorenzo renzo enzo
loredana lory
louis loulou
ludwig lutz
luigi gigi gino
luisa lu
luis lula
lukasz luk luki
lyubov lyuba
lyudmila lyuda mila
madalena lena
madeleine mado
magdalena magda lena leni majda
mahmoud mahmud
maija maria
mairead mags
mairi mary
malgorzata gosia gosha malgosia
manfred manni
manuel manolo lolo manu manel nelo
manuela manu
marcin marcinek
marek mark
margareta greta
margarete grete gretel greta
margaretha greet griet marga greetje
margarida guida magui
margherita rita marghe
margit gitta
marguerite margot
maria marysia ria marie mieke marijke maja mia mitzi mariazinha mara
mariana mari
marianne janne
marija mara
marina rina
maryam mariam miriam
massimiliano max massi
massimo max
mateusz mati
mathieu mat
mats matte
matteo teo
matthias matze hias matti
matias matti
maurice momo
maximilian max maxi
mehmet memo mohammed
mercedes merche meche
michael michi mischa micha
michal mike
michele lele
miguel migue micas
mikhail misha mike
mikolaj miki nicolas
miklos miki
milagros mila
milan milo
miriam miri mimi
miroslav mirek
mohammed mohamed muhammad muhammed mohamad mohd
moni monika
montserrat montse
morenike nike
moshe moishe
mustafa mostafa
mykola kolya
nadezhda nadya
natalia natasha nati talia
nathalie nath
nathaniel nate
nikola nik
nikolai kolya nick
nikolaos nikos nick
nikolaus klaus niko niklas
nils nisse
nnamdi namdi
obinna obi
olabisi bisi
ole olav
oleksandr sashko sasha alex
olena lena
olga olya
olufemi femi
olumide mide
oluwafemi femi
oluwakemi kemi
oluwaseun seun
oluwatobi tobi
omar umar
omolara lara
opeyemi yemi ope
padraig paddy patrick pauric
panagiotis panos takis
paraskevi vivi voula
pascal pasc
pasquale lino
patricia pati patti
patrizia pat patti
pauline line
paulo paulinho
pavel pasha pavlo
pawel pawelek
pedro pedrinho perico
pekka petri
per pelle peder
peter peti petko
petrus piet peter
pieter piet peter petrus
petr petka
philippe phil
pilar pili
piotr piotrek
polina polya
pooja puja
pyotr petya
rafaela rafa
raffaele lello raffa
raffaella raffa lella
rajendra raju raj
rajesh raj raju
ramon moncho
raquel quel
reinhard reini
remigius remy
renate reni
ricardo rico cadu richie
riccardo ricky
rivka riki
roberto beto berto betinho robi
rodrigo digo rod
roman roma
rosalia rosa lia
rosaria rosa
rosario charo
rudolf rudi
ruslan rus
ryszard rysiek
sabine bine
salvador chava salva
salvatore toto turi sasa
samuel samu
sandor sanyi alex
santiago santi yago
sebastian basti wast sebas seb
sebastien seb
seamus shay jim
sergei seryozha sergey serge
sharon shaz
shlomo solomon
shmuel sam
siddharth sid
siegfried sigi siggi
siobhan shiv
sofia sonya sofi zosia
soledad sole
solveig solvi
spyridon spyros
srinivas srini vasu
stanislav standa slava
stanislaw staszek stas
stavros steve
stefan steffen stefi
stefania stefi
stefano ste stef
stephane steph
stephanie steph fanny steffi
stepan styopa
subramaniam subbu
sunita sunny
susana susi
susanne susi sanne
sven svenne
svetlana sveta lana
tadeusz tadek
tadhg tim
tamas tomi tom
tamara tami
tatiana tanya tania
temitope temi tope
terezia terka
tereza terka
teresa tere tete teresinha tina
theodoros thodoris theo
theodorus theo dorus
thierry titi
thomas tommi tomek tomasz toms
titilayo titi
tomas tomik tom
uchenna uche
ulrich uli ulli
ulrike uli ulli rike
urszula ula
ursula uschi ulla ursel
vaclav vasek
valentin valya val
valentina valya vale
vasileios vasilis bill
vasili vasya
venkatesh venkat venky
veronica vero roni
veronika vroni nika
veronique vero
vicente chente
victoria vicky toya
vijay viju
vikram vik vicky
viktor vitya vic
viktoria vika vicky
vincenzo enzo cenzo
vittoria vicky vitto
vitalii vitalik
vladimir volodya vova vlad
vladyslav vlad
vyacheslav slava
walter wolle
wieslaw wiesiek
wilhelm willi wim helmi willy
wilhelmina mina willy wil
willem wim pim
william liam billy bill
wladyslaw wladek
wojciech wojtek
wolfgang wolf wolfi
yaakov kobi jacob
yaroslav slava
yetunde yemi tunde
yitzhak itzik
yosef yossi joseph
yousef yusuf youssef
yulia yulya julia
yuri yura
zainab zeinab
zbigniew zbyszek
zdenek zdena
zinaida zina
zofia zosia sophie
zoltan zoli
zsuzsanna zsuzsa zsuzsi
zuzana zuzka
zuzanna zuzia
dimitar mitko mityo dimo dimcho mitak
georgi gosho zhoro joro gogo
ivan vanko vancho vanyo ivo
ivanka vanya vanche
hristo itso hristi
petar pesho petyo pero
nikolay niki kolyo nikola
nikola niko nino nidzo
todor tosho todo
stefan stefcho stevo stipe
vasil vasko vaso
yordan dancho
yordanka dancho danche
tsvetan tsetso tsvetko
aleksandar sasho aleks
krasimir krasi
desislava desi
rositsa rosi
mariya mimi mara
gheorghe gigi ghita george gicu gelu
constantin costel costica costi dinu
nicolae nicu nae niculae
alexandru sandu alex alecu
ion ionel nelu ionut
ioan ionel nelu ionut
vasile vasilica lica sile
dumitru mitica titi
mihai misu mihaita
mihaela miha ela
ecaterina cati catinca katy
maria maricica mita marioara
ioana oana
elena lenuta ileana
cristian cristi
cristina cristi
florin florinel
razvan razvi
catalin cata
catalina cata
andreea deea andra
stefan fane
gudrun gunna runa
gudmundur gummi mundi
gunnar gunni
jon nonni
johannes joi
johann joi
johanna joa
sigurdur siggi
sigridur sigga
sigrun sirra runa
olafur oli
kristjan stjani
kristin stina kiddy
ragnheidur ragga
ragnar raggi
ingibjorg inga imba
margret magga
magnus maggi
thorsteinn steini
bjorn bjossi
halldor dori
helga hella
stefan stebbi
einar eini
arnar addi
arni addi
gudjon gaui
kjartan kjarri
moshe moishi moses
yosef yosi josef
yitzhak itsik tzahi isaac yitzchak
yaakov koby yankel yakov
avraham abraham avrum
david dudi
shmuel shmulik samuel
shimon shimi simon
rachel racheli rochel
sarah sari
rivka rebecca
ester esti
michal miki
eliyahu eli
binyamin beni
menachem meni
mordechai moti motti
yehuda udi yudi
yehoshua shuki joshua
shlomo momi
naftali tali
mustafa mus mustapha moustafa
ibrahim ibro abraham
hussein husein hossein
abdelkader kader
abdelaziz aziz
fatima fatoumata fati fatema
khadija khadidja dija
zainab zaynab zeynep
yusuf youssef yousef yousuf joseph
omar omer
osman othman uthman
suleiman sulaiman soliman sulejman
ali aliou
ismail ismael
mehmet memet
tariq tarek tarik
said saeed sayed
maryam meryem
layla leila laila leyla
noor nour nur
antun ante tonci
ante tonci toni
josip joso jozo bepo
ivana ivka iva
marija marica maja
stjepan stipe stipo stevo
tomislav tomo tomica
zvonimir zvonko
branislav brane bane
slobodan boban
milorad mica
vladislav vlada
radoslav rade
dragoljub dragan
juraj jura duro
matija mato
katarina kaca
jelena jeca jela
nenad neso
bojan bole
aleksandra aca sandra
johannes juha hannu
mikael mika
antero antti
kaarina kaisa
katariina kati katri kaisa
elisabet elli
kristiina kirsi tiina
margareta marketta reetta maret
heikki heka
tapani tapsa
kalevi kalle
eeva eevi
anneli anne
johanna jonna
kristjan kris
margus mark
katrin kati kadri
jurgis jurgutis
jonas jonukas
andrius andriukas
janis janka
ivars ivo
bambang bams
wahyudi yudi
setiawan wawan iwan
kurniawan wawan iwan
muhammad mamat
ricardo ric carding
eduardo dodong ed
ferdinand dindo
josefa pepita
remedios remy
rosario charito charing
corazon cora
teresita tess tessie
leticia letty
erlinda linda
concepcion connie
sergei seryoga serhii serhiy
ludmila lyuda mila lyudmila
yaroslav yarik
svyatoslav slava
rostislav slava
viktoriya vika
oksana ksana ksyusha
volodymyr vova volodya vladimir
oleksandr oleks alexander
mykola nicholas
mykhailo mykhas misha michael
kateryna katya
olena helen
nataliia natalka nata
tetiana tanya
iryna ira irina
anastasiia nastya
bohdan bodya
jaroslav slavek
jaroslava jarka slavka
miroslava mirka
zdenek zdenda
jiri jura
lukas luky
ondrej ondra
martin mata
tomas tomasek
ladislav laca
bohumil bohous
antonin tonda
josef pepik jozka
jan jenda
petr petan
pavel paja
katerina kacka
veronika verca
lucie lucka
marketa marky
alzbeta betka bety
ludmila lida
bozena bozka
vera verka
jana janicka
hana hanka hanicka
michaela misa
michal misa misko
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

const formal = new Set(groupNames.map((names) => names[0] ?? ''));

/** Whether a folded given name is the full form that others are short for. */
export function isFormalName(name: string): boolean {
  return formal.has(name);
}
