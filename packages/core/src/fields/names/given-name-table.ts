/** Given names by where they are common, as written in Latin letters; they are compared folded. */
export const MORE_GIVEN_NAMES =
  `
maya zoe ava isla freya poppy aria luna hazel aurora savannah brooklyn skylar paisley kinsley naomi ruby piper ` +
  `lydia jade ivy
willow autumn nevaeh jayden aiden elijah levi hunter wyatt carter jaxon jaxson grayson asher ` +
  `ezra nolan easton colton kayden bryson
austin cody chad brett shane jared kristen lindsay brittany kayla haley ` +
  `hailey tara dawn gemma leanne callum ewan angus fraser
cillian dexter blake chase cole connor dalton damien ` +
  `damian darius darrell devin dominic drew dustin dwayne dwight earl eddie
edwin elias ella elliot emmett ernest ` +
  `ethel eugene evan everett ezekiel fern finlay finley fletcher floyd forrest garrett gavin
geoffrey gilbert ` +
  `gladys glenn gloria grady greta gwen gwendolyn harley harvey hayden heath herbert hope howard hudson hugh ` +
  `hugo
imogen ingrid irene iris isaac isabella isaiah jace jackie jasmine jasper jay jeremiah jeremy jerome jesse ` +
  `jill joel joey jolene
joni josie joy joyce juliet june kara karl katelyn kendall kendra kenneth kirk krista ` +
  `kurt kyla lacey lance lana lara lauren leah
leigh lena leo leroy leslie lester lexi lillian lily linda lionel ` +
  `lisa logan lois lola lorna lorraine louie lucille luther lyle
mabel macy madeline mallory mandy marcus marian ` +
  `marilyn marlene marlon marshall marvin maureen max maxine mckenna megan melanie
melinda melvin mercedes meredith ` +
  `mia miles milo milton mindy miranda misty molly mona monica muriel myra myrtle nadine nathan
neville nigel nina ` +
  `nora noreen norma olive olivia opal orville oscar otis owen pamela patience paula pauline pearl penelope ` +
  `percy
perry petra philippa phoebe phyllis preston priscilla quincy rachel ralph ramona randall raquel raven ` +
  `reagan reese regina rex
rhoda rhonda rita robyn roderick rodney roland ronnie rory rosalind rosalie roscoe ` +
  `rosemary rowan roxanne roy rufus rupert
russell sabrina sadie sally samantha sandra sasha saul savanna scarlett ` +
  `sebastian selena serena seth shannon sharon shaun shauna
sheila shelby sheldon sheri sherri sherry sheryl ` +
  `shirley sidney sienna simone sonia sonya sophie spencer stacey stella
stewart sybil sylvia tabitha tamara tammy ` +
  `tanya tasha terrence tess tessa thea thelma theo todd toby tony tracey travis trent
trenton tricia trina trisha ` +
  `tristan troy tyrone tyson valerie vanessa velma vera verity verna vernon vicky victor viola violet
vivian vivien ` +
  `wade wallace wanda warren wendy wesley wilbur wilfred willa winifred winston xander yvette zachary zander zara ` +
  `zelda
alana alyssa amanda amaya amberley anya april ariana arianna ariel arlene ashton athena aubrey audra ` +
  `avril bailey barrett barney
basil beau becky belinda bella benny bernadette bernice bessie bethany beulah ` +
  `beverley beverly bianca blanche blythe bonnie boris
brad bradley brady braden brayden brenda brendan brennan ` +
  `brent bridget bridie bronwyn bryan bryce bryony buddy byron caitlin calum
calvin camden candace candice cara ` +
  `carl carla carlton carly carmel carmen carol carolyn carrie casey cassandra cassidy cassie
cecil cecilia cedric ` +
  `celeste celia chantelle charlene charmaine chelsea cherie cheryl chester christa clara clarence clarissa
claude ` +
  `claudia claudine clay clayton cleo clifford clifton clinton clyde colby colette colin colleen cooper cora coral ` +
  `corey
corinne cornelia courtney cynthia cyril dahlia daisy dakota dale dallas damon dana danielle daphne darcy ` +
  `darla daria darlene
darryl dawson deanna debbie deborah declan deirdre delia delilah della delores demi denise ` +
  `dennis denzel desmond dessie diana
diane dina dinah dion dolores donald donna donovan dora doreen doris dorothea ` +
  `dougal douglas duane dudley edgar edith edmund edna
effie eileen elaine eleanor eli elijah elise elliott ellis ` +
  `elsie elton elvira elvis emerson emery erica erin esme esmeralda estelle
esther eunice eva evangeline evelyn ` +
  `faith fay faye felicia felicity felix fergus fiona flora florence frances frankie freda
gabriella gail gale ` +
  `garth gary genevieve georgia georgina gerald geraldine germaine gertrude gideon gina giselle glen glenda ` +
  `goldie
grace gracie graeme greg gregory griffin guinevere gus hank hannah harold harriet harrison hattie heidi ` +
  `helen helena henrietta
hilary hilda hillary holly homer horace hubert ian ida imelda ina india irma irvin irving ` +
  `isabel isabelle isadora isobel ivan ivor
jacqueline jaime jan jana jane janelle janet janice janine jarvis jean ` +
  `jeanette jeanne jeannie jed jeff jemima jemma jenna jennifer
jeremy jessica jethro jo joan joann joanna joanne ` +
  `jocelyn jodie johanna johnny jonah jonathan joseph josephine josh joshua josiah
judith judy julia julian juliana ` +
  `julianne julie juliette julius justine karen kari karla kate kathryn kathy katrina kay keely keira
keiran keith ` +
  `kelley kelsey kelvin kerrie kieran kiera kim kimberley kimberly kirstin kirstie kristin kristina kristy lachlan ` +
  `laila
larry laura laurel laurence laurie lavinia lawrence leanna lee leila leilani leland lennox leona leonard ` +
  `leonie leonora leopold
leticia letitia lewis libby liberty lilian lincoln lindsey linus liza lloyd lonnie ` +
  `loretta lottie louis louisa lowell lucas
lucian lucinda lucy luella luke lulu luna lynda lyndon lynette lynn ` +
  `lynne mack maddison madeleine mae magdalena maisie malachi
malcolm malik mamie marcella marcia margot maria ` +
  `mariah mariana marianne maribel marina marion maris marissa marjorie mark
marla marley marlowe marsha martha ` +
  `martina mary maryann mathilda matthew maud maude mavis may melissa melody mercy mervyn
micah michaela michele ` +
  `michelle mikayla mildred millicent millie mimi minerva minnie mitch mitchell moira mollie mordecai morris
moses ` +
  `myles nadia nancy natalie natasha nathaniel ned nell nellie nettie nichola nicola nicole noelle norman octavia ` +
  `odette
ophelia otto pansy paige patience patrice patricia patrick patsy patti payton peggy penny petula philip ` +
  `philomena pippa polly
portia prudence queenie quentin rae ramsey ray reece reginald rene renee reuben rhett ` +
  `rhian rhiannon ricky robbie robin rocky
roger romeo ron ronald ronan rosa rosalyn rosanna rose roseanne rosetta ` +
  `rosie roslyn rowena roxy royce ruth saffron
salvador samson sandy sarah sean serenity shana shanice shanna ` +
  `sharron shawn shayla shayne shea shelley sherman sherwood sian
sid silas sinclair skye solomon sophia stan ` +
  `stanley stefanie stephanie sterling steve stevie sue summer susan susannah suzanne
suzette sydney talia tania ` +
  `tarquin tatiana taylor ted teresa terri terrance theresa tiana tia tina tobias trinity trudy
ty tyra una uriah ` +
  `ursula vance vaughan vaughn vera verna vic victoria vince virgil vivienne walter walt waverley wes
wilhelmina ` +
  `will winnie wyn yasmin yolanda zac zack zane zeke zena zoey zuri
aaliyah alondra amari andre antoine antwan ` +
  `aretha cheyenne daquan deandre demetrius denzel deshawn ebony imani jalen jamal jamar
jazmine jermaine keisha ` +
  `kenya kiana lakeisha lamar lashonda latasha latisha latonya latoya marquis monique nikita shanika shaniqua
tamika ` +
  `tanisha terrell tia trayvon tremaine tyrese xavier
leon finn felix ida frieda emilia mia lina mila lotta lotte ` +
  `mats moritz maximilian niklas nils ole malte jannik jannis lasse
bastian fabian florian dominik dennis marcel ` +
  `rene ronny sascha torsten ralf rolf rudi ruediger bernd bernhard burkhard carsten
christoph claus diethelm ` +
  `dietmar dietrich eberhard eckhard edeltraud egon elfriede elke elsbeth emil erich erna erwin ewald
friederike ` +
  `friedhelm friedrich fritz georg gerda gerhard gerlinde gert gertraud gisbert gottfried gudrun guido hanna ` +
  `hannelore
hannes hans harald hedwig heiko heiner heinrich heinz helga helge helmut henning herbert hermann ` +
  `hilde holger hubert ilona ilse
inge ingeborg ingo irmgard irmtraud isolde jochen joachim johann johannes jorn ` +
  `josef jost jutta kai karin karla karlheinz
katharina kathrin katja kerstin kirsten konrad konstantin korbinian ` +
  `kristina leonhard leopold lieselotte liesel linus lothar
ludwig lutz magdalene manuela marianne marius markus ` +
  `marlies martin mathias mechthild meike meinhard melitta mirko monika
nadine nele nepomuk nina norbert oda olaf ` +
  `oskar otmar otto pascal petra philipp pia rainer regine reiner reinhold reinhild
roland rosemarie rosi roswitha ` +
  `rudolf ruprecht sabina samuel sandra sebastian siegbert sieglinde sigrun simone sonja sophie
stefan steffen ` +
  `susanne svenja swantje sylvia tabea tanja theodor theresia thilo thomas tilman timo tobias traudel udo ulf ` +
  `ulrich
urs uta ute valentin vera verena veit viktoria volker waldemar walburga waltraud werner wilfried wilhelm ` +
  `wilma winfried wolf
wolfgang wolfram xaver yvonne zita beat reto ueli urs vreni heidi mirjam
theo hugo raphael ` +
  `arthur nathan enzo noe ethan gabin jules leo louis mael mathis maxence nolan rayan sacha timeo tom yanis
adele ` +
  `agathe alix ambre anouk apolline aya capucine charlotte clara coralie elise elsa emma eva flora gabrielle ` +
  `garance heloise
ines jeanne jade juliette justine lena lilou lise lola lou louna lucie maeva maelys margot ` +
  `mathilde melina nina noemie oceane
pauline romane rose salome sarah valentine victoire zoe albert alfred andree ` +
  `annick anne armand arlette armelle aude aurelien
benedicte benjamin bernadette brice bruno celestin charles ` +
  `christelle christian christiane christophe claire claude colette
corentin corinne cyril cyrille damien daniel ` +
  `danielle david denis denise dominique edith edmond edouard eliane elisabeth eloise
emmanuel emmanuelle eric ` +
  `ernest estelle etienne eugene eugenie evelyne fabien fabienne felicie fernand florence florent francine
francis ` +
  `franck francoise gaelle gaetan gaston gautier genevieve georges geraldine germain gerald ghislaine gregory ` +
  `guilhem gustave
guy gwenaelle henri henriette herve huguette isabelle jacky jacqueline jacques jean jeannine ` +
  `jocelyne joel joseph josette josiane
julie karine kevin laurence laurent leonie lilian lionel loick luc lucien ` +
  `lucienne ludovic lydie madeleine magali marc marcel
marcelle marguerite marie marielle marine marion marius ` +
  `marthe martine maryse mauricette maurice michele michel mireille monique
morgane muriel mylene nadege nadine ` +
  `nicolas nicole noelle odette olivier pascal pascale patrice patricia patrick paulette philippe
pierrette quentin ` +
  `raymonde regine regis remi remy renaud rene renee richard robert rodolphe roger roland rosalie roseline ` +
  `sabine
samuel serge severin simone sophie stephanie suzanne sylvain sylvette sylviane sylvie tanguy theophile ` +
  `therese tiphaine tristan
valentin victor vincent violette viviane yann yannick yoann yolande
camila emilia ` +
  `mateo matias santiago sebastian valeria ximena renata regina jimena fernanda isabela isabella mariana daniela ` +
  `andrea
paola gabriela alejandra adriana claudia veronica leticia guadalupe lupita ximena yolanda araceli norma ` +
  `gloria margarita esperanza
dolores mercedes milagros pilar consuelo remedios socorro soledad amparo angeles ` +
  `trinidad montserrat nieves luz paz aurora alicia
amalia ana angela antonia araceli ariadna aurelia belen berta ` +
  `blanca candela carlota carmen carolina catalina cecilia celia clara
concha cristina daria diana elisa elvira ` +
  `emma encarna esther eva evelyn fabiola fatima fe felisa flor florencia francisca genoveva
gema graciela ignacia ` +
  `inmaculada isabel jacinta josefa josefina juana judith julia juliana laura lara leonor lidia lola lorena ` +
  `lourdes
lucero luisa macarena magdalena maite manuela maribel maricarmen marisa marisol marta maruja matilde ` +
  `mayra mireia miriam monserrat
natalia noelia nerea noemi olga olivia patricia paz petra piedad purificacion ` +
  `rafaela ramona rebeca rita rosa rosalia rosana roxana
salome sara sonia susana teresa tomasa vanesa victoria ` +
  `virginia violeta yesenia zaida zulema
abel adan agustin aitor alberto alejandro alfonso alfredo alonso amador ` +
  `amado ander andres angel anselmo antonio arturo asier augusto
baltasar bartolome basilio benito bernardo brais ` +
  `carlos carmelo casimiro cayetano cesar claudio clemente conrado cristian cristobal
damian dario david domingo ` +
  `edgar edmundo eduardo efrain eladio eloy emiliano emilio enrique ernesto esteban eugenio eusebio ezequiel
fabian ` +
  `facundo federico felipe felix fermin fernando fidel florencio francisco gabriel gaspar german gerardo gerson ` +
  `gregorio
guillermo gustavo hector heriberto hernan hilario horacio hugo humberto ibai iker indalecio isaac ` +
  `isaias isidro ismael israel ivan
jacinto jacobo jairo jeronimo joan joaquin joel jon jonathan jordi jose josue ` +
  `juan julian julio justo lautaro lazaro leandro leo
leonardo leonel leopoldo lisandro lorenzo luciano luis ` +
  `macario manolo manuel marcelino marcelo mariano mauricio maximiliano melchor
miguel moises nahuel narciso nestor ` +
  `nicolas norberto octavio omar oriol orlando oscar osvaldo pablo paco pascual patricio paulino
pedro pepe plinio ` +
  `prudencio rafael ramiro reinaldo renato ricardo rigoberto roberto rodolfo rodrigo rogelio roman romulo
roque ` +
  `ruben rufino salvador samuel saturnino saul severino simon tadeo teodoro thiago tito tobias urbano valentin
valeriano ` +
  `vicente victor vidal virgilio wilfredo xabier xavi xavier yago yeray
abigail alan alex alexandre alice aline ` +
  `amanda anderson andressa ayrton barbara bernardo bianca breno bruna caio camila caroline
cassia catia cauan ` +
  `cicero clarice cleber cleide cristiane davi debora denise edson eduarda elaine eliane elisangela emanuel ` +
  `enzo
erica everton fabiana fabiano felipe fernanda flavia flavio francisca gabriel geraldo giovana gisele ` +
  `gustavo heitor helena heloisa
henrique iago iara igor isabela isadora ivo jaqueline joana joice jonas josiane juliana juliano julio jussara karina larissa leandro
leticia livia lorena luan luana lucas luciana luciano luiz luiza luzia marcela marcelo marcia marcio marlene mateus matheus mauro
maysa melissa milena miriam murilo natasha nathalia neuza nelson nilson nivaldo osvaldo otavio patricia pedro poliana priscila rafaela
raissa rafael regina renan renata renato rita roberta roberto rodrigo rogerio ronaldo rosangela samara sandra sara sergio silvana
simone solange soraia sueli suzana tainara tais tania tatiane telma teresa thais thiago tiago valdir valeria vanderlei vanessa vania
vera vicente vinicius vitor vitoria viviane wagner wanderley washington wellington wesley wilson yara yasmin yuri zelia zilda
afonso alcides amadeu anibal armando artur baltazar belmiro carlota clotilde custodia dinis domingos edite eduardo ernesto eugenia
fatima felicidade fernao filomena francisco glória gonçalo graça helder herminia horácio isaura ivone jacinto joel jorge laurinda
leonel lidia lourenço luisa lurdes mafalda manuela margarida matias mauricio noemia olinda otilia palmira raquel rodrigo rosário
salvador santiago simao teodoro tomé valter vasco zulmira
pier piero gian giampiero giampaolo giancarlo gianpiero pierangelo pierfrancesco alberto aldo alessandra alessandro alessio
alfredo amedeo andrea angela angelo annalisa annamaria antonella antonio arianna arturo
assunta aurora barbara benedetta bruna bruno camilla carla carlo carmela carmelo carmine caterina cecilia cesare cinzia cira ciro
clara claudia claudio concetta corrado cosimo cristian cristiana cristiano cristina daniela daniele daria dario debora delia
diego domenico donatella donato edoardo elena eleonora elia elisabetta emanuela emanuele emilio emma enrica enrico enzo ermanno
ernesto ettore eugenio eva fabiana fabiola fausto felice ferdinando fernanda filippo fiorella flavia flavio francesca francesco
franca franco gabriella gaetano gaia gennaro gerardo gianfranco gianluca gianmarco gianni gianpaolo gilda gina gino gioia gioacchino
giovanna giovanni giulio giuliana giuliano giuseppe giuseppina giusy gloria graziano graziella guglielmo guido ida ignazio immacolata
irene iris ivan ivana ivo jacopo katia lara laura leonardo letizia licia lidia liliana linda livia loredana loris luana lucia luciana
luciano ludovica luigi luigia luisa manuel manuela mara marcella marcello margherita maria mariangela mariano mariella marina marisa
marta massimiliano matilde mattia maurizio mauro melissa michela michele miriam mirella mirko moreno nadia natale nello nicola
nicoletta nicolas nina noemi nunzia nunzio olga omar oriana oscar osvaldo ottavio paola pasquale patrizia patrizio piera pierluigi
piero pietro pina primo raffaele raffaella renata renato renzo rita roberta roberto rocco rodolfo romano romeo romina rosa rosalba
rosanna rosaria rosario rossana rossella ruggero sabrina samuele sandra sandro sara savino serena sergio silvana silvano
simona sofia sonia stefania tania teodoro teresa tiziana tiziano tommaso tullio ubaldo umberto valentino valeria valerio vanessa vera
veronica vilma viola virginia vito vittoria vittorio viviana walter
daan sem bram finn lucas levi luuk milan noud thijs tijn tess sanne lieke fleur sophie emma julia anouk evi noor saar lotte roos
femke maud isa jip kees klaas koen lars maarten mees mark martijn matthijs menno michiel niels olivier paul pim rik rob robbert
roel ruben rutger sander siebe stijn thomas tim tom tristan wessel willem wout wouter yvo aart ad adriaan adrie albert alwin andre
ank anita annemarie annemieke annette antoon arend arie arjan arjen arno arnoud astrid barend bart bas bastiaan bea ben bert
berend bernadette betty bianca bob carla caroline chantal charlotte christiaan claudia coen conny cor corrie cornelis corry daphne
debbie dennis diana dick dirk ditte dorien ed edwin ellen elly els elsbeth elske emiel erik erwin esmee esther eva evelien evert femmie
fien floor floris frank frans frederik freek frits geert geertje gerard gerben gerda gert gijs greet guus hanneke hannie hans harm
harrie heleen hennie henk henny herman hetty hilde huub ilse ineke inge irma ivo jaap jacco jacob jacqueline jan janneke janny jannie
jasper jeannette jeroen jesse jet jildau jitske joep johan johanna jolanda joop joos joris jos josien judith karel karin katrien
kim koos lambert laurens leen leendert leontien leo lia lianne lidwien lies liesbeth linda lisette loek louis luc lucie maaike
maartje machteld mandy marcel margriet marian mariska marja marjan marjolein marjon marleen marloes martin martine matthias melanie
mia miep mieke miranda mirjam monique nel nelleke nick nico nienke nina nynke okke onno pascal patrick peter petra piet pien pieternel
rianne ria rien rineke rinus riet ronald rosanne roy ruud sabine sandra sara sebastiaan sjaak sjors silvia simon sofie sonja stefan
stephan suzan suzanne sven sylvia tamara teun theo thea tineke tjeerd toon trudy truus wendy wiebe wietske wilco wilhelmina wilma yolanda
adam agata aleksander aleksandra alicja aneta anna andrzej antoni artur barbara bartlomiej bartosz blanka boleslaw bronislaw celina
cezary czeslaw damian daniel danuta dawid dominik dominika edward edyta elzbieta emil emilia ernest eugeniusz ewa feliks filip
franciszek gabriela genowefa grazyna halina hanna helena henryk hubert ignacy ilona irena ireneusz izabela jacek jakub jan janina janusz
jaroslaw jerzy jolanta jozef julia julian justyna kacper kamil kamila karol karolina katarzyna kazimierz klaudia konrad kornelia
krystian krystyna lech leon leszek lidia lucyna ludwik magdalena maja malwina marcel marcin marek maria marian marlena
marzena mateusz michal mikolaj milena miroslaw miroslawa monika natalia nikodem nina norbert olga oliwia oskar patryk paulina pawel piotr
przemyslaw radoslaw robert roman ryszard sandra sebastian slawomir stefan stefania sylwester sylwia szymon tadeusz teresa tymon tymoteusz
wanda weronika wiktor wiktoria wieslawa wioletta witold wladyslaw wlodzimierz zdzislaw zenon zofia zuzanna zygmunt
adela ales alena alzbeta andrej andrea anezka antonin barbora blanka bohuslav branislav bronislava dagmar dalibor dana daniel daniela
david denisa dominik dominika dusan eliska emil erik eva filip frantisek gabriela hana helena honza hynek irena iva ivan ivo jakub jan
jana jarmila jarmil jaromir jaroslav jaroslava jindrich jirina josef jozef julie kamil kamila karel karla karolina klara kristyna
kvetoslava ladislav lada lenka leos libor libuse linda lubomir luboslav lucie ludek lukas magdalena marcela marek marie marketa martin
martina matej matyas michaela michal milada milan milena miloslav miloslava milos miriam miroslav miroslava monika nela nikola nikol
oldrich olga oliver ondrej oskar ota otakar patrik pavel pavla pavlina peter petr petra premysl robert roman ruzena samuel sara simona
slavomir sona stanislav stepanka svatopluk tadeas tamara tereza terezie tibor vaclava valerie vendula veronika viera viktor viktorie
vilem vit vladimir vladimira vlasta vladislav vratislav xenie zdenka zora zuzka
adel agota akos albert alexandra aliz ambrus anett aniko anna antal aranka aron barbara barnabas bence benedek bernadett bianka boglarka
borbala brigitta csenge csilla daniel david dalma denes dezso domonkos dominik dorka dorina dorottya edina edit emese emoke eniko ernest
erno ervin erzsebet eva fanni ferenc flora fruzsina gabor gabriella geza gergely gergo gyongyi gyorgy hanna helga henrietta hunor ibolya
ilona imre iren istvan ivett izabella jakab janka janos jazmin jeno jolan jozsef judit julianna kalman karoly kata katalin kinga klara
kornel krisztian lajos lehel lenard levente lili lilla lorand luca magdolna marcell marianna maria mariann melinda mihaly miklos milan
miklos monika nandor nikolett nikoletta noemi nora norbert olga oliver orsolya oszkar panna petra peter piroska rebeka renata robert
rozsa sandor sara sebestyen szabina szabolcs szilard tamas tamara terez tunde valeria vanda vencel veronika viktoria vilmos virag vivien
zita zoltan zsanett zsigmond zsolt zsombor zsuzsa zsuzsanna gyozo lorinc jeno bela gyula endre ede odon elemer gyorgyi marta melitta terka ilka
adrian alexandru alin alina ana anca andrei andreea angela aurel aurelia bianca bogdan camelia carmen catalin catalina cezar ciprian
claudiu constantin corina cornel cosmin cristian cristina dan daniel daniela dana denisa diana dorin doru dragos dumitru ecaterina elena
emil eugen florin florentina gabriel gabriela georgeta gheorghe gica grigore horia iancu ileana ilie ioan ioana ion ionel ionut irina
iulia iulian laura laurentiu liviu loredana luminita lucian madalina magdalena marcel marian mariana marin marius mihaela mihai mircea
mirela monica nadia natalia nicolae nicoleta octavian oana ovidiu paul petre petru radu raluca ramona razvan roxana sanda sebastian
sergiu silviu simona sorin stefan stefania teodora tiberiu traian tudor valentin vasile veronica victor violeta viorel viorica vlad
aleksandar ana andjela anja ante ante bojan bojana boris borislav bosko branka branko damir danica danijela darko davor dejan dragan
dragana drazen drago dubravka dusanka edin emina franjo goran gordana hrvoje igor ines iva ivana ivica ivo jadranka jasmina jasna jelena
josip josipa jovan jovana jure kristijan lana ljiljana ljubica luka maja marija marijana marina marko matija mato milan milena mile
milica miljana milorad mirela mirjana mirko miroslav mladen nada natasa nebojsa nemanja nenad nevena nikola nikolina ognjen olivera
pero petar predrag radmila radovan ratko sanja sara sasa senad slavica slavko slobodan snezana srdjan stipe suzana svetlana tanja
tatjana tea tihana tijana tomislav uros valentina vedran vera vesna viktorija vinko vlado vladan vojislav zdravko zeljka zeljko zlata
zlatko zoran zorana zvonimir alenka ales andraz anze bostjan darja gasper gregor jernej katja klemen lara lojze matej matevz meta miha
mojca nejc nina petra polona primoz rok saso spela tadej tina tjasa urska urban vid ziga
agnete aksel alf alfhild alva amund anders anette anja anna anne annelie annette annica arne arnold arvid aslaug aud axel beate bendik
bengt bente berit bertil bjarne bjarni borge bosse bo carina carl cathrine cecilie christer christina dag daniel ebba egil eirik eivind
elin elisabet ella ellen ellinor elsa elvira emelie emil emma erik erika erling ester eva even fanny filip finn frida fredrik geir gerd
gro greta gunilla gunn gunnhild gunvor gustaf gustav halvor hans harald hedda hedvig heidi helena helene helga helle henrik herman hilde
hjalmar hugo ida inga inge inger ingeborg ingunn ingvar isak ivar jakob jan janne jarle jeanette jenny jeppe jesper joakim johan johanna
johannes john jon jonas josefin joseph julia karl karin karina karoline kasper katarina kaspar katja kenneth kerstin kim kirsti kjersti
klara knud kristian kristin kristina kristine kristoffer kurt lasse laura laust lene lena lennart leo lina linda linn lisa lisbeth liv
lone lotta lotte louise lovisa lukas mads magnus magnhild maja malene malin malte marcus maren mari maria marianne marie marit markus
martin mathias mathilde matilda mattias max melker merete mia mikael mikkel mille mina moa mona monica nanna nicklas niels nikolai nina
nora odd ola olav olga olle olof oscar oskar otto oyvind palle patrik pelle per pernilla peder peter petra petter pia poul ragna ragnar
rakel rasmus rebecka rikke robert robin roger rolf ronja roy rune ruth sander sandra sara sebastian selma sigurd silje simon sindre sissel
sofia sofie sonja staffan stein steinar stian stig stina stine sture sunniva susanne svante svea svein synne tage terje thea theodor
therese thomas thor thorbjorn thyra tiril tobias tone tor tora torbjorn tord tore torgeir trine trond truls trygve tuva ulf ulla ulrika
ulrik unni ursula vegard vera vibeke victor vidar viggo viktor vilde vilhelm villads wenche wilma ylva yngve
aada aapo aaron aatu ahti aki aleksi alina anja anna anne anneli anni annika annikki antero anton anu ari arja armas arto arttu
arvo asko aulis eemeli eerika eerik eetu eeva eija eila eino elias eliisa elina ella elli elsa emilia emma ensio erik erkki esa esko
essi eveliina hanna hannele hannes hannu harri heidi heikki helena helmi henna henri hilkka iida iina iiris ilkka ilona ilpo inka inkeri
irma ismo jaakko jaana jaani janne jani jarkko jarmo jenni jere jesse joel johanna joni joona jouko jouni juhani jussi jyrki kaarina
kaarlo kai kaija kaisa kalevi kari karoliina katja katri kauko kerttu kimmo kirsi klaus kristiina kyllikki lasse laura lauri leena leo
liisa lotta maija mari maria maritta marja marjatta marko markku markus marko martta matias matilda matti mauri meri merja mervi mia miika
mika mikael mikko milla minna mirja mirjami mirka miro niina niklas niko olavi olli onni oona orvokki osmo ossi otto outi paavo paula
pauli pauliina pentti pertti petri petra petteri pia piia pilvi pirjo pirkko raija raili raimo rasmus rauha rauno reijo riikka riina ritva
roope saana saara sakari salla sami samu samuli santeri sari satu sauli saija seppo sini sinikka sirkka sirpa soile sofia susanna
tanja tarja tarmo taru teemu tellervo teppo tero tiia tiina toivo tommi toni topi tuija tuire tuomas tuomo tuukka tuula tytti ulla urho
vappu veera veijo veikko veli vesa vieno vilho ville vilma voitto
aivars aldis andris anita arturs baiba dace daiga dainis edgars edvins egils elina evija guntis ieva ilze imants inese inga inta ivars
janis juris kaspars kristaps laima lasma liga maris martins normunds peteris raimonds sandis sanita santa uldis valdis vija zane zigurds
algirdas andrius antanas arturas asta audrius aurelija birute dainius daiva dalia darius deividas edita egle gediminas giedre gintaras
inga jolanta jonas juozas jurgita justas karolis kestutis laima laimute laura linas lina lukas mantas marius mindaugas nijole paulius
petras raimondas ramune rasa rimantas ruta rytis saulius simona sigita tomas vaida valdas vida vilius vytautas zivile
aino aivar anneli annika andres anu ants arvo eha eve heiki helle ilmar imbi indrek jaan jaak juri kadri kaido kairi kalev karin katrin
kersti koit kristel kristjan krista lembit liina liis maarja madis margit margus mari marika mart meelis merle mihkel peeter piret priit
raivo rein riina siiri signe sirje taavi tarmo tiit tiiu toivo toomas tonis ulle urmas vello viive
abdul abdullah abdulrahman abdelkader abdou abir adel adam adnan ahlam aicha akram alaa amal amani amani amine amir amira ammar anas anwar
arwa asma asmaa ayman aya ayoub aziza badr bahaa basel basma bassam bilal bouchra boutros chadi dalal dalia dina driss duha ehab emad eman
esraa fadi fadia fadwa fahd faisal faiza fares farid farida farouk fatiha fatema fawzi fayrouz firas ghada ghassan habib habiba hadi hadeel
hafsa haifa hala hamad hamid hamida hamza hana hanan hani hasan hatem hayat haytham hiba hicham hind houda hussam hussain iman ines intisar
isra issam jaber jabir jad jaafar jamal jamil jamila jana jawad joud kamal kamel kareem karim karima khadijeh khaled khalil khawla lamia
lamya latifa layal lina loubna lubna maha maher mahdi mai maisa majd majed majid malak malek manal mansour maram mariam marwa marwan maya
mazen mehdi mina mohamed mohammad mohammed mona moncef mounir moustafa muhammad muna munir mustapha nabil nabila nada nader nadia nadim
nahla naima najat najib najla najwa naser nasser nawal nawaf nayef nazir nesrine nisreen noha noor noura nouf nuha osama othman ouafa qasim
rabab rabia radwan rafik raghad rami rana rand rania rasha rashed rashid rawan rayan reem rihab rima roula ruba saad sabah sabri sabrina
safa safaa safia sahar said saida saif salah saleh salem salim salma salman salwa sami samia samira samir sana sara sarah sawsan shadi
shahd shaimaa sharif sherif shireen siham sirine soha soraya souad soufiane suha suhail suleiman suzan taha tahar talal talib tamer tarek
thamer umar waad wael wafa wafaa walid warda wassim widad yahya yara yaser yasin yassin yassine yazan younes youcef youssef yusra zahra
zakaria zaki zeina zied ziad zineb zuhair
arash ali amirhossein anahita arezoo arman armin ashkan atefeh azadeh babak bahar bahman bahram behnaz behrouz bita dariush ehsan elahe
elham elnaz fariba farhad farid farideh farnaz farshad fereshteh firouzeh ghazal golnar hamed hamideh hassan homa hooman hossein iman iraj
javad kamran kaveh keyvan khosrow ladan laleh leila mahdi mahin mahnaz mahsa mahtab majid mana marjan maryam masoud mehran mehrdad mehri
milad mina minoo mitra mohsen mojgan morteza nader nahid narges nasim nasrin navid nazanin negar niloofar nima omid parastoo parisa parvaneh
parviz payam pegah pejman pooya ramin reza roya saeed sahar samaneh saman sanaz sara sepideh setareh shabnam shahab shahin shahla shahram
shahrzad shima shirin siavash sima simin soheil sohrab soraya tara vahid yalda yasaman zahra ziba
aarav aaradhya abhay abhijit abhishek aditi ajay ajit akash akhil akshay alka alok aman amar amita amol amrita anand ananya anika aniket
anirudh anjana ankit ankita ankur anuja anupam anuradha anushka aparna archana arnav aruna arvind asha ashish ashok ashwin atul avinash
ayaan ayush babita bala balaji bharat bharati bhavesh bhavna bhushan bina chandan chandra charu chetan chirag chitra damini darshan dev
devika dhananjay dhanush dharmesh dhruv dilip dinesh dipak dipika diya esha farhan gaurav gauri gautam gayatri geeta girish gopal govind
gulshan gurpreet hardik harish harpreet harsh harsha hema hemant himanshu indira indu isha ishaan ishita jagdish jai jaya jayant jayanti
jaspreet jatin jayesh jitendra jyoti kabir kajal kalpana kamala kamal kamlesh kanchan karan karuna kartik kavya keerthi ketan kiran kirti
komal krishna kriti kunal kusum lalit lalita lata latha leela madhav madhu madhuri mahesh mala malini mamta manasi mandeep manish manisha
manjeet manjula manoj mayank meena meenakshi megha milind minal mohan mohini mohit monika mukesh mukul mythili nandini naresh narayan
narendra navin naveen nayana neelam neeraj neeta nikhil nikita nilesh nimisha niranjan nirmala nisha nishant nitin nitya om omkar padma
pallavi pankaj parul parvati pavan pawan payal prabha prabhu pradeep prakash pramod pranav prasad prashant pratap pratik preeti prem prema
prerna pritam priti priyanka purnima pushpa rachana radha raghav raghu raj raja rajan rajani rajat rajeev rajendra rajni raju rakesh raman
ramesh rani ranjit rashmi ratna ravindra reena rekha renu renuka reshma revathi richa rishabh rishi ritu riya rohini rohit roshan roshni
ruchi rudra rupa rupali sachin sadhana sagar sahil sakshi sameer samir sandeep sandhya sangeeta sanjana sanjeev sanjiv santosh sarita
sarika saroj saraswati sarthak satish savita saurabh shailesh shalini shankar shanti sharad sharda shashi shilpa shiv shivani shobha
shraddha shrikant shruti shubham shweta siddharth simran smita sneha sohan sonal sonali sonam sonia soumya sourav sridhar srinivas
subhash sudha sudhir sujata sukanya suman sumit sundar sunil supriya suraj surekha surendra surya sushant sushil sushma swapna swapnil
swati tanvi tara tarun tejas tushar uday uma umesh usha utkarsh vaibhav vaishali vandana varsha varun vasant vasudha veena venkat vidya
vidhi vijay vikas vimal vimala vinay vineet vineeta vinod vipin vipul viraj vishal vishnu vivek yash yashoda yogesh yogita yuvraj
abdur afreen ali amjad arif asif ayesha babar bushra faheem farah farhana fiza ghulam hamza haris hina humaira iqbal irfan junaid kashif
khurram mahnoor mehwish mubashir nadeem naila naveed nida nighat parveen qasim rabia rahat rashid rehana rizwan rubina saba sadia sajid
salman sameena sana shabana shabnam shahbaz shahid shahnaz shazia sohail sumaira tahir tanveer tayyaba usman uzma waqar waqas zahid zara
zeeshan zoya
ai akihiko akihiro akira akiyo asami asuka atsuko atsushi aya ayako ayumi chieko chika chiyo daichi daisuke eiji eiko emiko eri eriko etsuko
fumiko fumio goro hajime hana harumi haruo haruto hayato hideaki hideki hideko hideo hikari hiro hiroaki hiroko hiromi hiroto hiroyuki
hisashi hisako hitomi hitoshi ikuko isamu itsuki izumi jun junichi junko kaito kana kanako katsumi kazue kazuhiro kazuko kazuya
keisuke keita ken kenichi kenta kimiko kiyoshi kohei koji koichi kouta kumiko kyoko mai maki mako mami mana manabu mari mariko masaaki
masahiro masako masami masanori masao masaru masashi masato masayuki mayu mayumi megumi michio midori miho mika miki mikiko minako minoru
misaki mitsuko mitsuo miwa miyako miyuki mizuki momoka momoko nana nanami naoki naoya naomi natsuki natsumi noboru nobu nobuko nobuo
nobuyuki noriko nozomi osamu rei reiko rie riko riku rika rin rina rumi ryo ryoko ryota ryuichi sachiko saki sakiko satomi sayaka sayuri
seiji seiko setsuko shigeo shigeru shinichi shinji shinya shiori shiro sho shoji shota shun susumu tadashi taichi takahiro takako takanori
takao takayuki takeo takeru takeshi takuma takumi takuya tamiko tatsuo tatsuya tetsuo tetsuya tomohiro tomoki tomomi tomoya toru toshiaki
toshiko toshio tsubasa tsuyoshi wataru yasuhiro yasuko yasuo yoichi yoko yoshiaki yoshie yoshihiro yoshiko yoshio yosuke yumi yumiko yuri
yuriko yusuke yutaka
binh bich cuong dung duc giang hanh hien hoa hung huong huy khanh khoa linh loan loc mai minh my nga ngan ngoc nguyet nhan nhi nhung oanh
phat phong phuc phuong quang quan quoc quyen quynh tam thanh thao thi thien thinh thu thuy tien tin trang tri trinh trung truc tu tuan tung
tuyen tuyet uyen van vinh xuan yen
agus ahmad andi anisa arif astuti ayu bambang budi citra dedi dewi diah dian dwi eka eko endang erna fajar fitri hadi hendra heri indah
indra intan irwan ita joko kartika lestari lia maya mega nanang ningsih novi nur nurul putra putri rahmat ratna retno rina rini rizki rudi
sari setiawan siti slamet sri sugeng suharto sukarno suparman susi sutrisno tini titik tri tuti udin wahyu wati wayan widodo yanti yudi
yuli yulia yusuf azizah farah faizal hafiz haslinda nabila norhayati nurul rosli rosnah shahrul siti suraya syafiq zainal zulkifli
abel abiola ade adebayo adebola adeola adeyemi afia ajoa akosua akua akwasi alhassan amadou ama aminata aminu ankomah asha awa ayodele
ayomide babajide baraka bashir bintou blessing bukola chika chinedu chinonso chinwe chioma chukwuma cheikh comfort damilola dayo desta dikembe
doreen ebele efua ekene ekow enitan eniola esi esther fadhili faith fanta fatou fatoumata fiifi florence folashade funmilayo gbenga gloria
grace habib halima hamisi haruna hawa ibironke idris ifeanyi ikechukwu ime inno issa itunu jabari jabulani jelani jomo juma kagiso kalisa
kamau kato kayode kehinde kelechi khadija khumo kiprono kofi kojo kwabena kwaku kwasi lerato lindiwe lulu lwazi mabel makena malaika mamadou
mandla maryam masego mbali mercy mihret mohamud modupe moussa mpho mulu musa mwangi nakato naledi nana nandi neema neo nia njeri njoroge
nkechi nkosana nnamdi nokuthula nomvula nonhlanhla nosipho nthabiseng nyambura nyasha obi oby ogechi okechukwu okon olamide olu olufemi
olumide oluwadamilola omolara omondi onyeka osagie ousmane patience peace precious rahma rehema rudo rutendo sade saidu samuel sefu segun
selam seun sibusiso simba sinazo siyabonga sizwe sekou tafadzwa taiwo tapiwa tariro tendai thandeka thandi themba thulani titilayo tola
tope tshepo tumelo uche ugochi unathi uzoma vusi wambui wangari wanjiku yaa yakubu yared yaw yetunde yusufu zainabu zandile zawadi zodwa
zola zuberi akinyi zuri imani nomvula ama nadia
abigail adina alon amit anat ariel asaf avi aviva avraham ayelet batsheva batya binyamin boaz chaim chana chaya dafna dalia daniel dov
dvora efrat ehud eitan elad elisheva eliyahu esther ezra gadi gal gideon hadas hadassah hagit hila hillel idan ilan ilana inbal itai
itzhak keren lior liora maayan malka meir menachem michal miriam mordechai moshe naftali naomi neta nir nitzan noa noam nurit ofer ofra ori
orit orly ran reuven rina rivka ron ronen roni sarit shai shani sharon shimon shira shlomo shmuel shoshana shula tal tali talia tamar
tamir tova tzipora tzvi uri uriel yaakov yael yair yaniv yaron yehuda yehudit yitzhak yoav yochanan yonatan yosef yossi yuval zehava zeev zvi
achilleas alexandra alexandros aliki anastasia anastasios anastasis andreas angeliki anna antonis apostolos argyro aristea aristidis athanasios
athina charalampos christina christos chrysa danae dimitra dimitrios dimitris dionysis efi eftychia eirini elisavet emmanouil evangelia
evangelos fotini fotis georgia georgios giannis giorgos grigoris haralambos ilias ioanna ioannis irini kalliopi katerina konstantina
konstantinos kyriaki kyriakos lambros lefteris magdalini manolis margarita maria marios michalis myrto natasa nektaria nektarios niki nikolaos
olga panagiota panagiotis pantelis paraskevi pavlos petros polina sotiria sotiris spyridon spyros stavros stavroula stefanos stelios stella
thanasis thanos theodora theodoros vasiliki vasilios xenia yannis yiannis zoi
agim albana alban albert alma altin anila ardian arben arta artan besa besnik blerim blerta bujar dritan drita edona elira enver erion
fatmir fatos fisnik flutura gent gezim ilir jeta kreshnik liridon luan lulzim mimoza mirela rozafa shkelqim shpresa skender teuta valbona
valon vjosa vlora
aram arman armen artur ashot davit gayane gevorg gohar hakob hasmik hayk karen lilit lusine mariam mher narek narine nune ruzanna samvel
sargis siranush tatev tigran vahan vardan zara avtandil beka davit eka eteri giorgi irakli ketevan khatia lasha levan lia maka manana mari
mariam maia medea nana natia nika nino nodar otar rati salome shota tamar tamuna temur tinatin zaza zurab
ainur aisulu akmaral alibek alma anuar arman aruzhan askar assel azamat bakhyt bekzat bolat botagoz daniyar dastan dinara erlan gulnara
gulnaz kairat madina marat nurlan nursultan rustam saltanat serik timur zhanar zhanna aziz bakhodir dilfuza dilnoza feruza jamshid kamola
malika nargiza nodira otabek rano sardor sevara shavkat sherzod umida zulfiya elchin elnur gunel leyla nigar rashad tural vugar
`;
