import { wordTable } from '../model';

/**
 * Wordings of headings by meaning, in many languages and in their own writing; they are compared folded. The first meaning that
 * has a wording keeps it, so what comes early wins: "nome" is a given name, "name" a whole one.
 */
/** Headings of whole names that say that the family name stands first. */
export const FAMILY_FIRST_HEADINGS =
  'last first|last name first|last name first name|last name and first name|surname first name|surname ' +
  'forename|surname and forename|family given|family name given name|nachname vorname|name vorname|name und ' +
  'vorname|zuname vorname|nom prénom|nom et prénom|nom et prénoms|apellidos y nombre|apellidos y nombres|apellido ' +
  'y nombre|apellidos nombre|cognome e nome|cognome nome|sobrenome e nome|achternaam voornaam|efternamn ' +
  'förnamn|efternavn fornavn|etternavn fornavn|sukunimi etunimi|nazwisko i imię|nazwisko imię|příjmení a ' +
  'jméno|příjmení jméno|priezvisko a meno|prezime i ime|priimek in ime|nume și prenume|nume prenume|név|teljes ' +
  'név|фио|ф и о|фамилия имя отчество|фамилия имя|піб|п і б|прізвище ім я|氏名|お名前|名前|姓名|이름|성명|họ tên|họ và tên';

export const PHRASES: Readonly<Record<string, string>> = {
  prefix:
    'prefix|title before name|salutation|honorific|mr mrs|courtesy title|anrede|titel|akad titel|akademischer ' +
    'titel|civilité|aanhef|tratamiento|trattamento|titolo|tratamento|tytuł|titul|titulus|megszólítás|обращение|' +
    'προσφώνηση|敬称|称谓|稱謂|hitap|appellativo|zwrot|zwrot ' +
    'grzecznościowy|forma grzecznościowa|pozdrav|oslovení|oslovenie|appel|forme de politesse|forma di ' +
    'cortesia|hälsning|tiltale|tiltaleform|tilltal|formula di saluto|pronome de tratamento|forma de tratamento|호칭|τίτλος|称呼',
  givenName:
    'legal first|name given|name first|name givenname|name firstname|given name|given|given names|first name|first|' +
    'first names|firstname|forename|forenames|christian name|name first|fname|f name|contact first name|vorname|' +
    'vornamen|rufname|prénom usuel|prénom|prénoms|nombre|nombres|nombre de pila|primer nombre|nome|nome próprio|' +
    'primeiro nome|voornaam|voornamen|fornavn|förnamn|tilltalsnamn|etunimi|etunimet|imię|imiona|jméno|křestní jméno|' +
    "meno|krstné meno|ime|prenume|keresztnév|utónév|ad|adı|isim|ism|имя|ім'я|име|име на лицето|όνομα|שם פרטי|الاسم " +
    'الأول|名|名字|名前 名|이름 명|nama depan|tên|vārds|vardas|eesnimi|nom de pila|nom propi|enw cyntaf|enw bedydd|céadainm|' +
    'ainm baiste|izena|eiginnafn|skírnarnafn|emri|نام کوچک|पहला नाम|प्रथम नाम|jina la kwanza|noemnaam|isem',
  additionalNames:
    'middle name|middle names|middle|middle initial|mi|m i|additional names|additional name|second name|second ' +
    'given name|zweiter vorname|weitere vornamen|deuxième prénom|segundo nombre|secondo nome|nome do meio|' +
    'mellannamn|mellemnavn|mellomnavn|drugie imię|отчество|по батькові|презиме',
  /** Small words before a family name, in a column of their own. */
  familyPrefix:
    'tussenvoegsel|tussenvoegsels|voorvoegsel|voorvoegsels|tussenv|namensvorsatz|vorsatzwort|particule|family prefix|surname prefix|last name prefix',
  familyName:
    'name family|name surname|name familyname|name lastname|family name|family|last name|last|last names|lastname|' +
    'surname|surnames|second surname and family name|name last|lname|l name|contact last name|nachname|familienname|' +
    'zuname|nom de famille|nom d usage|apellido|apellidos|primer apellido|segundo apellido|apellido paterno|' +
    'apellido materno|1er apellido|2o apellido|primeiro apelido|segundo apelido|cognome|sobrenome|apelido|apelidos|' +
    'último nome|achternaam|familienaam|efternavn|etternavn|efternamn|sukunimi|nazwisko|příjmení|priezvisko|prezime|' +
    'priimek|nume|nume de familie|vezetéknév|családnév|soyad|soyadı|soy isim|фамилия|прізвище|презиме фамилия|' +
    'επώνυμο|επίθετο|שם משפחה|اسم العائلة|اللقب|姓|姓氏|苗字|성|nama belakang|họ|uzvārds|pavardė|perekonnanimi|cognom|' +
    'cognoms|primer cognom|llinatges|cyfenw|sloinne|abizena|abizenak|eftirnafn|kenninafn|ættarnafn|mbiemri|نام ' +
    'خانوادگی|فامیلی|نام فامیل|خاندانی نام|उपनाम|कुलनाम|अंतिम नाम|পদবি|นามสกุล|สกุล|გვარი|ազգանուն|jina la ukoo|' +
    'jina la mwisho|kunjom',
  suffix: 'suffix|name suffix|generation|namenszusatz|post nominals|suffixe|sufijo|suffisso',
  nickname:
    'nickname|nick name|known as|called|preferred name|pref name|goes by|spitzname|surnom|apodo|soprannome|roepnaam|' +
    'kendt som|smeknamn|kallenavn|přezdívka|pseudonim|прозвище|ニックネーム|昵称',
  fullName:
    'name|names|nom|full name|fullname|last first|last name first|surname forename|family given|first last|contact|' +
    'contact name|person|contact person|display name|whole name|first and last name|first name last name|last name ' +
    'first name|surname first name|name and surname|name surname|member|member name|attendee|participant|student|' +
    'student name|donor|donor name|subscriber|supporter|volunteer|guest|customer|customer name|client|client name|' +
    'vollständiger name|name vollständig|ansprechpartner|ansprechperson|kontakt|kontaktperson|teilnehmer|' +
    'teilnehmerin|mitglied|vor und nachname|vorname und nachname|vor und zuname|vorname nachname|nachname vorname|' +
    'name vorname|nom complet|nom et prénom|nom et prénoms|prénom et nom|nom prénom|prénom nom|contact principal|' +
    'nombre completo|nombre y apellidos|nombre y apellido|apellidos y nombre|nombre apellidos|nome completo|nome e ' +
    'cognome|cognome e nome|nominativo|nome e apelido|nome e sobrenome|naam|volledige naam|contactpersoon|voor en ' +
    'achternaam|fullständigt namn|namn|för och efternamn|kontaktperson|navn|fulde navn|fullt navn|for og efternavn|' +
    'nimi|koko nimi|imię i nazwisko|nazwisko i imię|nazwa kontaktu|jméno a příjmení|celé jméno|příjmení a jméno|' +
    'meno a priezvisko|ime i prezime|ime in priimek|nume complet|nume și prenume|nume prenume|név|teljes név|ad ' +
    'soyad|adı soyadı|isim soyisim|фио|ф и о|полное имя|фамилия имя отчество|фамилия имя|піб|п і б|име и фамилия|' +
    'имена|ονοματεπώνυμο|ονομα επωνυμο|שם|שם מלא|الاسم|الاسم الكامل|اسم|氏名|お名前|名前|姓名|联系人|聯絡人|이름|성명|nama|nama ' +
    'lengkap|họ tên|họ và tên|nafn|fullt nafn|نام و نام خانوادگی|پورا نام|नाम|पूरा नाम|নাম|পুরো নাম|ชื่อ|ชื่อ ' +
    'นามสกุล|ชื่อเต็ม|სახელი|სახელი გვარი|სახელი და გვარი|անուն|անուն ազգանուն|jina|jina kamili|nom i cognoms|enw|' +
    'enw llawn|ainm|ainm iomlán|izen abizenak|emri dhe mbiemri|volle naam|registrant|delegate|applicant|visitor|' +
    'persons|full names|name of contact|name of participant|name of member|person name|skipper|tenant|nom du ' +
    'contact et prénom|adhérent|adhérente|participant e|stagiaire|élève|étudiant|étudiante|donateur|bénévole|abonné|' +
    'inscrit|invité|personne|personne de contact|interlocuteur|nom de l adhérent|nom du client|contacto|persona de ' +
    'contacto|persona|socio|socia|participante|alumno|alumna|estudiante|cliente|donante|invitado|voluntario|' +
    'asistente|nombre del contacto|nombre del cliente|nombre del socio|referente|persona di riferimento|' +
    'partecipante|allievo|studente|donatore|ospite|iscritto|nome del contatto|contatto|contato|pessoa|pessoa de ' +
    'contato|pessoa de contacto|sócio|aluno|doador|convidado|inscrito|voluntário|nome do contato|nome do cliente|' +
    'deelnemer|lid|leerling|cursist|klant|gast|vrijwilliger|persoon|naam deelnemer|naam lid|naam contactpersoon|' +
    'schüler|schülerin|kunde|kundin|spender|spenderin|besucher|interessent|bewerber|kursteilnehmer|name des ' +
    'teilnehmers|name des mitglieds|uczestnik|uczestniczka|osoba kontaktowa|osoba do kontaktu|osoba|członek|uczeń|' +
    'kursant|darczyńca|gość|wolontariusz|deltagare|medlem|elev|givare|gäst|deltager|deltaker|giver|gjest|gæst|' +
    'kontakt person|osallistuja|jäsen|oppilas|asiakas|lahjoittaja|vieras|henkilö|yhteyshenkilö|účastník|člen|žák|' +
    'zákazník|dárce|dobrovolník|kontaktní osoba|kontaktná osoba|žiak|résztvevő|tanuló|ügyfél|kapcsolattartó|' +
    'adományozó|persoană de contact|persoana de contact|membru|kontakt osoba|sudionik|učenik|katılımcı|öğrenci|' +
    'müşteri|üye|ilgili kişi|kişi|yetkili|участник|клиент|контактное лицо|контакт|ученик|гость|даритель|учасник|' +
    'клієнт|контактна особа|участник в курс|лице за контакт|επαφή|συμμετέχων|πελάτης|μέλος|参加者|参加者名|会員名|顧客名|担当者名|' +
    'ご担当者|生徒|学员|客户|客户姓名|会员姓名|联系人姓名|联络人|客戶|회원|회원명|고객|고객명|참가자|담당자명|ügyfél neve|tag neve|résztvevő neve|имя клиента|' +
    'имя участника|müşteri adı|üye adı|katılımcı adı|nume client|nome do sócio|nome do participante|wie heißen sie|' +
    'wie heißt du|heißen|who are you|come ti chiami|cómo se llama|cómo te llamas|comment vous appelez vous|hoe heet ' +
    'u|jak se jmenujete|как вас зовут',
  email:
    'email|e mail|mail|emails|e mails|email address|email addresses|e mail address|email id|mail address|mail id|e ' +
    'mail adr|email adr|email addr|primary email|mailbox|electronic mail|e mail adresse|email adresse|mailadresse|' +
    'mail adresse|elektronische post|courriel|courriels|mél|mel|adresse e mail|adresse email|adresse mail|adresse ' +
    'électronique|adresse courriel|correo|correo e|correo electrónico|correos|dirección de correo|email correo|' +
    'posta elettronica|indirizzo email|indirizzo e mail|indirizzo mail|correio eletrónico|correio eletrônico|' +
    'endereço de email|endereço de e mail|e mailadres|emailadres|mailadres|e post|epost|e postadress|epostadress|e ' +
    'post adress|mejl|mejladress|mailadress|e postadresse|epostadresse|e mailadresse|sähköposti|sähköpostiosoite|' +
    'email adresa|e mailová adresa|adres e mail|adres email|adres mailowy|adres poczty|poczta|poczta elektroniczna|' +
    'e pošta|elektronska pošta|e mail adresa|adresă email|adresa de email|adresă de e mail|e mail cím|email cím|' +
    'drótposta|e posta|eposta|e posta adresi|email adresi|эл почта|электронная почта|эл адрес|почта|емейл|имейл|' +
    'имейл адрес|ел поща|електронна пошта|ел пошта|ηλεκτρονικό ταχυδρομείο|ηλ ταχυδρομείο|διεύθυνση email|דואל|דוא ' +
    'ל|אימייל|מייל|דואר אלקטרוני|البريد الإلكتروني|البريد|بريد إلكتروني|メール|メールアドレス|電子メール|eメール|邮箱|电子邮箱|电子邮件|邮件|邮箱地址|' +
    '電子郵件|電郵|信箱|이메일|이메일 주소|전자우편|메일|surel|alamat email|e pasts|el paštas|e posti aadress|@|netfang|tölvupóstur|' +
    'tölvupóstfang|ایمیل|پست الکترونیک|رایانامه|ईमेल|ई मेल|ইমেইল|ই মেইল|อีเมล|อีเมล์|ელფოსტა|ელ ფოსტა|էլ փոստ|' +
    'էլփոստ|էլ հասցե|barua pepe|correu|correu electrònic|adreça electrònica|e bost|ebost|cyfeiriad e bost|' +
    'ríomhphost|seoladh ríomhphoist|posta elektronikoa|posta elektronike',
  tel:
    'phone|telephone|tel|phones|ph|fon|phone number|phone numbers|telephone number|tel no|tel nr|tel number|phone ' +
    'no|ph no|telno|phoneno|contact number|contact no|number to call|whom to call|call|landline|mobile|mobiles|' +
    'mobile phone|mobile number|mobile no|mob|mob no|cell|cell phone|cellphone|cell no|cell number|daytime phone|' +
    'evening phone|tel home|tel work|tel mobile|tel eve|tel day|fax|fax number|fax no|telefax|telefon|telefonnummer|' +
    'tel nummer|rufnummer|festnetz|festnetznummer|handy|handynummer|handy nr|mobil|mobilnummer|mobil nr|' +
    'mobiltelefon|mobilfunk|mobilfunknummer|téléphone|numéro de téléphone|n téléphone|no tél|téléphone portable|' +
    'portable|fixe|tél fixe|tél portable|téléphone fixe|tél mobile|gsm|teléfono|teléfonos|tlf|tlfno|tfno|telf|' +
    'número de teléfono|teléfono fijo|teléfono móvil|móvil|celular|nº de teléfono|telefono|telefoni|telefono fisso|' +
    'cellulare|recapito telefonico|numero di telefono|numero telefono|telefone|telefones|telemóvel|telefone fixo|' +
    'número de telefone|telefoon|telefoonnummer|telefoonnr|mobiel|mobiele telefoon|mobiel nummer|mobiele nummer|' +
    'vaste telefoon|vast nummer|tlf nr|telefonnr|mobilnr|mobil telefon|puhelin|puhelinnumero|puh|matkapuhelin|' +
    'kännykkä|numer telefonu|nr telefonu|nr tel|tel kom|telefon komórkowy|komórka|komórkowy|telefon stacjonarny|' +
    'stacjonarny|telefonní číslo|telefon číslo|mobilní telefon|pevná linka|telefónne číslo|mobilný telefón|telefón|' +
    'mobitel|broj telefona|broj mobitela|telefonska številka|telefonszám|mobiltelefonszám|vezetékes telefon|număr ' +
    'de telefon|nr telefon|telefon mobil|telefon fix|telefon no|telefon numarası|cep telefonu|cep tel|cep no|ev ' +
    'telefonu|iş telefonu|телефон|тел|номер телефона|мобильный|мобильный телефон|моб|моб телефон|моб тел|сотовый|' +
    'сотовый телефон|контактный телефон|мобільний|мобільний телефон|номер телефону|мобилен|мобилен телефон|τηλέφωνο|' +
    'τηλ|κινητό|κινητό τηλέφωνο|σταθερό|σταθερό τηλέφωνο|טלפון|נייד|טלפון נייד|מספר טלפון|פלאפון|الهاتف|هاتف|رقم ' +
    'الهاتف|الجوال|جوال|رقم الجوال|الموبايل|電話|電話番号|携帯|携帯電話|携帯番号|携帯電話番号|固定電話|手机|手机号|手机号码|电话|电话号码|联系电话|移动电话|固定电话|手機|' +
    '手機號碼|電話號碼|行動電話|聯絡電話|전화|전화번호|연락처|휴대폰|휴대폰 번호|휴대전화|핸드폰|telepon|nomor telepon|no telepon|nomor hp|no hp|ponsel|' +
    'điện thoại|số điện thoại|di động|tālrunis|telefonas|mobilusis|sími|símanúmer|farsími|heimasími|vinnusími|تلفن|' +
    'تلفن همراه|موبایل|شماره تلفن|شماره تماس|تلفن ثابت|फ़ोन|फोन|मोबाइल|दूरभाष|फ़ोन नंबर|फोन नंबर|मोबाइल नंबर|संपर्क ' +
    'नंबर|ফোন|মোবাইল|โทรศัพท์|เบอร์โทร|เบอร์โทรศัพท์|หมายเลขโทรศัพท์|มือถือ|โทรศัพท์มือถือ|ტელეფონი|ტელ|მობილური|' +
    'ტელეფონის ნომერი|հեռախոս|հեռախոսահամար|բջջային|simu|nambari ya simu|namba ya simu|telèfon|telèfon mòbil|mòbil|' +
    'telèfon fix|ffôn|rhif ffôn|ffôn symudol|fón|guthán|uimhir fóin|telefonoa|mugikorra|nr komórki|numer komórki|' +
    'numer kom|nr kom|nr tel kom|fixo|fijo|fisso|06 nummer|privatnummer|mobilné číslo|mobilní číslo|κιν|tlm|telem|' +
    'telef|contacto telefónico|contato telefônico|contacto telefonico|n telemóvel|휴대폰번호|휴대전화번호|핸드폰번호|连絡先|連絡先|联系方式|' +
    '직장전화|자택전화|집전화|회사전화',
  townLine:
    'town and postcode|postcode and town|city state zip|plz ort|plz und ort|plz wohnort|code postal ville|code ' +
    'postal et ville|cp ville|cap città|cap e città|cp localidad|código postal y ciudad|postcode plaats|postcode ' +
    'woonplaats|postcode en plaats|postnr ort|postnr og by|postnr by|kod miasto|kod pocztowy i miasto|psč město|' +
    'town postcode|postcode town|city and postcode|city postcode|postcode city|city zip|city and zip|city st zip|' +
    'city state|city and state|city state and zip|city state zip code|town and post code|zip city|zip and city|zip ' +
    'code and city|suburb state postcode|ort plz|plz stadt|plz und stadt|plz und wohnort|ville code postal|ville cp|' +
    'cp et ville|code postal commune|cp población|c p y localidad|c p y población|código postal y localidad|código ' +
    'postal y población|cp y ciudad|cp ciudad|localidad y código postal|cap comune|cap località|cap e località|cap ' +
    'e comune|código postal e localidade|cp localidade|código postal localidade|postcode stad|postcode en ' +
    'woonplaats|postcode en stad|plaats en postcode|postnummer och ort|postnr och ort|postnummer ort|postnummer og ' +
    'by|postnummer by|postnummer og sted|postnr sted|postnr og sted|postinumero ja postitoimipaikka|postinumero ja ' +
    'kunta|kod i miasto|kod miejscowość|kod i miejscowość|kod pocztowy miasto|kod pocztowy i miejscowość|psč a ' +
    'město|psč obec|psč a obec|psč mesto|psč a mesto|irányítószám és város|irsz város|irányítószám város|irsz ' +
    'település|poštanski broj i mjesto|poštna številka in kraj|индекс город|индекс и город|индекс місто|posta kodu ' +
    've şehir|posta kodu şehir|τκ πόλη|τ κ πόλη|τ κ και πόλη',
  street:
    'bill to|ship to|residenza|indirizzo di residenza|piso|piso y puerta|toevoeging|toev|huisnummer toevoeging|' +
    'adresszusatz|建物名|street|street address|lieferadresse|rechnungsadresse|address|addresses|addr|addr 1|address 1|' +
    'address line 1|address line|addr line 1|address line 2|address line 3|addr 2|addr 3|address 2|address 3|street ' +
    '1|street 2|street line 1|street line 2|street name|house number|house no|house nr|house name|apartment|apt|' +
    'flat|home address|postal address|mailing address|post address|residential address|road|adresse|strasse|str|' +
    'strasse und hausnummer|strasse u hausnummer|strasse hausnummer|strasse nr|strasse und nr|str nr|strassenname|' +
    'hausnummer|hausnr|haus nr|anschrift|adresszusatz|wohnadresse|postanschrift|rue|n et rue|numéro et rue|voie|' +
    'adresse postale|adresse 1|adresse 2|complément|complément d adresse|complément adresse|adresse complète|calle|' +
    'dirección|domicilio|dirección postal|calle y número|vía|via|indirizzo|indirizzo postale|via e numero|numero ' +
    'civico|civico|rua|morada|endereço|logradouro|complemento|straat|straatnaam|adres|straat en huisnummer|straat ' +
    'en nummer|straat huisnummer|huisnummer|huisnr|huisnummer toevoeging|vej|gade|vejnavn|gate|gateadresse|gata|' +
    'gatuadress|adress|utdelningsadress|postadress|postadresse|osoite|katuosoite|lähiosoite|postiosoite|ulica|ulica ' +
    'i numer|ulica nr|adres zamieszkania|adres korespondencyjny|ulice|ulice a číslo|adresa|číslo popisné|ulica a ' +
    'číslo|adresa bydliště|ulica i broj|naslov|ulica in številka|stradă|strada|adresă|adresa poștală|utca|cím|' +
    'lakcím|postacím|utca házszám|cadde|sokak|açık adres|posta adresi|адрес|улица|улица дом|дом|почтовый адрес|' +
    'адреса|вулиця|вулиця будинок|διεύθυνση|οδός|οδός αριθμός|כתובת|רחוב|العنوان|عنوان|الشارع|住所|番地|現住所|所在地|地址|联系地址|' +
    '通讯地址|详细地址|街道|通訊地址|주소|상세주소|alamat|địa chỉ|adrese|adresas|aadress|heimilisfang|heimili|آدرس|نشانی|خیابان|पता|' +
    'सड़क|गली|ঠিকানা|ที่อยู่|ถนน|მისამართი|ქუჩა|հասցե|փողոց|anwani|mtaa|adreça|adreça postal|carrer|cyfeiriad|stryd|' +
    'seoladh|sráid|helbidea|kalea|rruga|町名番地|町名|住所1|住所2|도로명주소|상세 주소',
  locality:
    'city|town|town city|city town|city or town|locality|post town|place|suburb|village|municipality|ort|wohnort|' +
    'stadt|ortschaft|gemeinde|ville|commune|localité|ciudad|localidad|población|municipio|città|comune|località|' +
    'cidade|localidade|município|concelho|woonplaats|plaats|plaatsnaam|stad|gemeente|by|poststed|sted|kommune|' +
    'postdistrikt|postort|ort stad|kaupunki|postitoimipaikka|kunta|paikkakunta|miasto|miejscowość|poczta miasto|' +
    'město|obec|mesto|grad|mjesto|kraj in pošta|oraș|oras|localitate|település|város|helység|şehir|il|semt|город|' +
    'населенный пункт|місто|населений пункт|град|населено място|πόλη|περιοχή πόλη|עיר|ישוב|المدينة|مدينة|市区町村|市町村|' +
    '城市|市|도시|시군구|kota|thành phố|pilsēta|miestas|linn|staður|bær|borg|sveitarfélag|شهر|شهرستان|शहर|नगर|गाँव|गांव|শহর|' +
    'เมือง|อำเภอ|ქალაქი|სოფელი|քաղաք|գյուղ|mji|jiji|ciutat|població|municipi|localitat|tref|dinas|pentref|cathair|' +
    'hiria|udalerria|qyteti|qytet|시|도시명|市名|所在城市|city or village|town or village',
  region:
    'region|state|county|cty|province|prov|state province|state or province|state region|county state|territory|' +
    'shire|prefecture|bundesland|kanton|département|région|departement|provincia|comunidad autónoma|comunidad|' +
    'estado|regione|distrito|uf|provincie|fylke|län|landskap|maakunta|województwo|okres|županija|județ|judet|megye|' +
    'ilçe|bölge|область|регион|край|район|νομός|περιφέρεια|מחוז|المنطقة|المحافظة|都道府県|省|省份|縣市|시도|provinsi|tỉnh|st|' +
    'استان|राज्य|प्रदेश|जिला|จังหวัด|რეგიონი|მხარე|մարզ|mkoa|kaunti|comarca|província|rhanbarth|도|광역시도|州|都道府県名',
  postalCode:
    'postal code|postcode|post code|p code|pcode|pin code|pincode|pk|zip|zip code|zipcode|zip post|zip postcode|' +
    'post|postal|zip postal code|zip postal|postnummer|postnr|post nr|plz|postleitzahl|code postal|cp|c p|código ' +
    'postal|cód postal|codpostal|cap|c a p|codice postale|codice avviamento postale|cep|c e p|kod pocztowy|kod|psč|' +
    'p s č|poštovní směrovací číslo|smerové číslo|poštanski broj|poštna številka|cod poștal|cod postal|irányítószám|' +
    'ir szám|irsz|posta kodu|postakodu|почтовый индекс|индекс|поштовий індекс|пощенски код|τκ|τ κ|ταχυδρομικός ' +
    'κώδικας|ταχ κώδικας|מיקוד|الرمز البريدي|郵便番号|邮编|邮政编码|郵遞區號|우편번호|kode pos|mã bưu điện|postinumero|pasta indekss|' +
    'pašto kodas|póstnúmer|کد پستی|کدپستی|पिन कोड|पिनकोड|डाक कोड|รหัสไปรษณีย์|საფოსტო ინდექსი|ინდექსი|փոստային ' +
    'ինդեքս|դասիչ|msimbo wa posta|codi postal|cod post|côd post|éirchód|cód poist|posta kodea|kodi postar|〒|郵便',
  country:
    'country|ctry|nation|country name|country code|country region|land|staat|pays|pays pays|país|paese|nazione|' +
    'stato|land region|maa|kraj|państwo|země|stát|štát|krajina|država|țară|tara|ország|ülke|страна|країна|държава|' +
    'χώρα|מדינה|ארץ|الدولة|البلد|国|国名|国家|國家|국가|나라|negara|quốc gia|valsts|šalis|riik|کشور|ประเทศ|ქვეყანა|երկիր|nchi|' +
    'gwlad|tír|herrialdea|shteti',
  organization:
    'organization|organisation|name of company|name of firm|name of organization|name of organisation|organization ' +
    'name|organisation name|company|company name|firm|employer|business|business name|org|school|institution|' +
    'institute|account name|account|workplace|firma|firmenname|unternehmen|betrieb|arbeitgeber|verein|institution ' +
    'firma|société|raison sociale|entreprise|organisme|employeur|structure|empresa|nombre de la empresa|compañía|' +
    'organización|entidad|azienda|ditta|società|ente|ragione sociale|organizzazione|organização|entidade|bedrijf|' +
    'bedrijfsnaam|organisatie|werkgever|företag|företagsnamn|arbetsgivare|virksomhed|bedrift|arbejdsplads|' +
    'arbejdsgiver|yritys|organisaatio|työnantaja|nazwa firmy|název firmy|název organizace|názov firmy|cégnév neve|' +
    'naziv tvrtke|denumire firmă|organizacja|instytucja|pracodawca|společnost|organizace|zaměstnavatel|spoločnosť|' +
    'tvrtka|poduzeće|podjetje|companie|firmă|societate|cég|cégnév|munkahely|vállalat|şirket|kurum|kuruluş|' +
    'организация|компания|фирма|место работы|предприятие|організація|компанія|εταιρεία|επιχείρηση|οργανισμός|חברה|' +
    'ארגון|الشركة|شركة|المؤسسة|会社|会社名|勤務先|企業名|所属|公司|公司名称|单位|工作单位|企业|公司名稱|회사|회사명|직장|소속|perusahaan|công ty|uzņēmums|' +
    'įmonė|ettevõte|fyrirtæki|stofnun|شرکت|سازمان|कंपनी|संस्था|संगठन|บริษัท|องค์กร|หน่วยงาน|კომპანია|ორგანიზაცია|' +
    'ընկերություն|կազմակերպություն|kampuni|shirika|entitat|organització|cwmni|sefydliad|comhlacht|cuideachta|' +
    'eagraíocht|enpresa|erakundea|kompania|organizata|association|vereniging|stichting|razón social|denominación ' +
    'social|razão social|denominazione|associazione|asociación|associação|stowarzyszenie|klub|club|fundacja|' +
    'förening|forening|yhdistys|spolek|egyesület|dernek|collectivité|établissement|gesellschaft|einrichtung|company ' +
    'organization|employer name|団体名|団体|組織|法人名|기관|기관명|단체|단체명|szervezet|szervezet neve|egyesület neve|单位名称|机构|机构名称|' +
    '組織名|spolek název|организация название|наименование организации',
  title:
    'job title|title|título|titre|job description|organization title|organisation title|company title|position|role|' +
    'occupation|job|function|job role|profession|department title|designation|post held|beruf|funktion|stellung|' +
    'position im unternehmen|berufsbezeichnung|poste|fonction|intitulé du poste|cargo|puesto|profesión|ruolo|' +
    'qualifica|mansione|professione|função|profissão|functie|functietitel|beroep|stilling|jobtitel|befattning|yrke|' +
    'roll|arbeidstittel|tehtävä|titteli|ammatti|stanowisko|zawód|pozice|pracovní pozice|funkce|pozícia|funkcia|' +
    'radno mjesto|funkcija|delovno mesto|funcție|funcția|poziție|beosztás|munkakör|pozíció|foglalkozás|unvan|ünvan|' +
    'görev|pozisyon|meslek|должность|профессия|посада|длъжност|позиция|θέση|ιδιότητα|επάγγελμα|תפקיד|المسمى الوظيفي|' +
    'الوظيفة|المنصب|役職|職種|職業|肩書|职位|职务|职称|職稱|職位|직책|직위|직함|직급|jabatan|chức vụ|amats|pareigos|ametikoht|starfsheiti|سمت|' +
    'شغل|عنوان شغلی|पदनाम|पेशा|ตำแหน่ง|อาชีพ|თანამდებობა|պաշտոն|cheo|càrrec|professió|swydd|teitl swydd|kargua|' +
    'funkcja|métier|incarico|puesto de trabajo|cargo en la empresa|emploi|werkzaamheden|ocupación|ocupação|povolání|' +
    'povolanie|직업|肩書き|役職名|职业',
  bday:
    'birthday|birth|birth date|birthdate|date of birth|dob|d o b|born|bday|b day|born on|day of birth|geburtstag|' +
    'geburtsdatum|geb datum|gebdatum|gebdat|geb dat|geb|geb am|geboren|geboren am|date de naissance|date de naiss|' +
    'date naissance|d naissance|naissance|né e le|né le|née le|né e|née|ddn|anniversaire|fecha de nacimiento|fecha ' +
    'nacimiento|f nacimiento|fecha nac|f nac|nacimiento|cumpleaños|data di nascita|data nascita|nascita|nato il|' +
    'nata il|nato a il|compleanno|data de nascimento|data nascimento|data nasc|dt nascimento|nascimento|' +
    'geboortedatum|geb datum|verjaardag|geboortedag|fødselsdag|fødselsdato|født|fødselsdags dato|födelsedag|' +
    'födelsedatum|född|syntymäaika|syntymäpäivä|synt aika|data urodzenia|data ur|urodziny|ur|datum narození|dat ' +
    'narození|narozen|dátum narodenia|datum rođenja|datum rojstva|rođendan|data nașterii|născut la|születési dátum|' +
    'születési idő|születésnap|szül dátum|született|doğum tarihi|d tarihi|дата рождения|день рождения|д р|др|' +
    'родился|дата народження|день народження|дата на раждане|рожден ден|ημερομηνία γέννησης|ημ γέννησης|ημνία ' +
    'γέννησης|γενέθλια|תאריך לידה|יום הולדת|تاريخ الميلاد|生年月日|誕生日|生日|出生日期|出生年月|생년월일|생일|tanggal lahir|ngày sinh|' +
    'dzimšanas datums|gimimo data|sünniaeg|fæðingardagur|fæðingardagsetning|afmæli|sünnikuupäev|sünnipäev|تاریخ ' +
    'تولد|تولد|जन्म तिथि|जन्मतिथि|जन्मदिन|जन्म दिनांक|জন্ম তারিখ|วันเกิด|วันเดือนปีเกิด|დაბადების თარიღი|დაბადების ' +
    'დღე|ծննդյան ամսաթիվ|ծննդյան օր|tarehe ya kuzaliwa|data de naixement|data naixement|dyddiad geni|pen blwydd|' +
    'dáta breithe|lá breithe|jaioteguna|jaiotze data|datëlindja|data e lindjes|doğum günü|narozeniny|narodeniny|dat ' +
    'nar|datum nar|szül idő|ημ νία γέννησης|fecha de nac|rojstni dan|zile de naștere|ziua de naștere',
  anniversary:
    'anniversary|wedding day|wedding anniversary|wedding date|wedding|married on|marriage date|hochzeitstag|' +
    'hochzeit|jahrestag|anniversaire de mariage|date de mariage|aniversario|aniversario de boda|fecha de boda|' +
    'anniversario|anniversario di matrimonio|trouwdatum|trouwdag|bryllupsdag|bröllopsdag|hääpäivä|rocznica|rocznica ' +
    'ślubu|výročí|výročí svatby|結婚記念日|纪念日|годовщина|дата свадьбы',
  tags:
    'tags|tag|groups|group|grp|group membership|group memberships|member of|labels|label|keywords|interests|lists|' +
    'list|categories|gruppe|gruppen|schlagworte|schlagwörter|stichworte|stichwörter|kategorien|étiquettes|groupes|' +
    'groupe|mots clés|catégories|etiquetas|grupos|grupo|categorías|etichette|gruppi|categorias|groepen|groep|labels ' +
    'nl|grupper|etiketter|taggar|ryhmät|tagi|grupy|etykiety|kategorie kontaktu|štítky|skupiny|skupina|oznake|' +
    'etichete|címkék|csoportok|etiketler|gruplar|метки|теги|группы|группа|мітки|групи|ετικέτες|ομάδες|תגיות|קבוצות|' +
    'タグ|グループ|标签|分组|標籤|群組|태그|그룹|กลุ่ม|แท็ก|etiquetes|grups|hópur|گروه|برچسب|समूह|ჯგუფი|խումբ|kikundi|grwpiau|' +
    'categorie|categoria|kategorie|kategorier|kategoriat|trefwoorden|trefwoord|słowa kluczowe|palabras clave|parole ' +
    'chiave|palavras chave|nyckelord|segment|segments|segmente',
  source:
    'source|ref by|refd by|how did you hear|heard via|heard of us|referred by|referral|introduced by|lead source|' +
    'contact source|heard abt us|heard about us|how did you hear about us|how heard|how did you find us|referral ' +
    'source|origin|came from|quelle|herkunft|provenance|origen|origine|origem|fonte|provenienza|bron|herkomst|kilde|' +
    'källa|lähde|źródło|zdroj|izvor|sursă|forrás|kaynak|источник|джерело|източник|πηγή|מקור|المصدر|流入元|来源|來源|출처',
  stage: 'stage|contact stage|relationship|lifecycle|lifecycle stage|relationship stage|status of contact',
  /** The stage of an opportunity, in a table that has any. */
  phase: 'phase|étape|etapa|fase|etap|fáze|стадия|этап|阶段|단계|ステージ',
  owner:
    'owner|contact owner|assigned to|assigned|assigned user|looked after by|responsible|account manager|betreuer|' +
    'betreuerin|betreut von|zuständig|responsable|suivi par|responsabile|responsável|eigenaar|beheerder|ansvarig|' +
    'ansvarlig|vastuuhenkilö|opiekun|odpovědná osoba|felelős|sorumlu|ответственный|менеджер|υπεύθυνος|担当者|担当|负责人|負責人|담당자',
  note:
    'note|notes|observ|obs|misc|miscellaneous|other info|other information|further information|anything else|remark|' +
    'remarks|comment|comments|message|memo|description|additional information|additional info|free text|enquiry|' +
    'inquiry|your message|your enquiry|what would you like to ask|what would you like to know|how can we help|how ' +
    'can we help you|what can we do for you|how may we help you|question|text|details|nachricht|ihre nachricht|' +
    'mitteilung|anliegen|votre message|demande|votre demande|mensaje|consulta|mensagem|messaggio|richiesta|bericht|' +
    'uw bericht|besked|meddelande|melding|viesti|wiadomość|zpráva|správa|poruka|sporočilo|mesaj|üzenet|сообщение|' +
    'повідомлення|съобщение|μήνυμα|הודעה|رسالة|お問い合わせ内容|メッセージ|留言|메시지|bemerkung|bemerkungen|notiz|notizen|kommentar|' +
    'kommentare|anmerkung|anmerkungen|hinweis|hinweise|sonstiges|remarque|remarques|commentaire|commentaires|' +
    'observation|observations|notas|nota|observaciones|comentarios|comentario|osservazioni|commenti|annotazioni|' +
    'observações|obs|comentários|opmerking|opmerkingen|notitie|notities|toelichting|anteckning|anteckningar|övrigt|' +
    'kommentarer|noter|bemærkning|bemærkninger|merknad|merknader|notat|notater|huomautus|huomautukset|muistiinpanot|' +
    'lisätiedot|uwagi|uwaga|notatki|notatka|komentarz|poznámka|poznámky|pozn|komentář|napomena|napomene|opomba|' +
    'opombe|observații|observatii|comentarii|megjegyzés|megjegyzések|jegyzet|not|notlar|açıklama|açıklamalar|' +
    'примечание|примечания|комментарий|комментарии|заметки|заметка|примітка|примітки|коментар|бележки|забележка|' +
    'σημειώσεις|σημείωση|παρατηρήσεις|σχόλια|הערות|הערה|ملاحظات|ملاحظة|備考|メモ|コメント|备注|说明|備註|비고|메모|catatan|keterangan|' +
    'ghi chú|piezīmes|pastabos|märkused|athugasemd|athugasemdir|توضیحات|یادداشت|टिप्पणी|मन्तव्य|หมายเหตุ|บันทึก|' +
    'შენიშვნა|նշում|նշումներ|մեկնաբանություն|maelezo|maoni|observacions|nodiadau|sylwadau|nótaí|oharrak|shënime|' +
    'bijzonderheden|info|infos|zusatzinfo|zusatzinformation|zusatzinformationen|informations complémentaires|' +
    'información adicional|informazioni aggiuntive|informações adicionais|informacje dodatkowe|dodatkowe informacje|' +
    'further comments|other comments|aanvullende informatie|questions|comments questions|comments or questions|' +
    'questions or comments|questions comments|mitteilen|anything to add|what else should we know|anything you want ' +
    'to tell us|dietary requirements and notes|messaggio o richiesta',
  url:
    'website|web site|web|url|link|homepage|home page|web page|webpage|web address|profile|profile link|webseite|' +
    'internet|internetseite|site web|site internet|site|sitio web|página web|sito|sito web|página|webadres|hemsida|' +
    'webbplats|hjemmeside|nettside|kotisivu|verkkosivu|strona www|strona internetowa|www|webová stránka|webové ' +
    'stránky|spletna stran|weboldal|honlap|web sitesi|сайт|веб сайт|вебсайт|ιστοσελίδα|ιστότοπος|אתר|الموقع ' +
    'الإلكتروني|ウェブサイト|ホームページ|网站|网址|網站|웹사이트|홈페이지|situs web',
  tz: 'time zone|timezone|tz|zeitzone|fuseau horaire|zona horaria|fuso orario|tijdzone|tidszon|часовой пояс|時間帯|时区',
  externalId:
    'contact id|contact key|contact no|contact number id|external id|outside id|record id|person id|id|uid|uuid|' +
    'guid|legacy id|会員番号|顧客番号|会员号|客户编号|编号|회원번호|고객번호|код клиента|номер клиента|identifiant|identificador|' +
    'identificativo|identyfikator|membership number|membership no|member no|member number|membership id|n tessera|' +
    'numero tessera|tessera|relatienummer|relatie nr|lidmaatschapsnummer|kd nr|kdnr|matricola|matricule|matrícula|' +
    'sygnatura|nr ewidencyjny|evidenční číslo|ref|ref no|reference|reference number|reference no|our ref|référence|' +
    'réf|référence client|riferimento|rif|referencia|código|codice|sifra|azonosító|αριθμός μέλους|κωδικός πελάτη|' +
    'κωδικός μέλους|αρ μέλους|üye numarası|müşteri numarası|členské číslo|č člena|členské č|№ карты|no карты|номер ' +
    'карты|карта|会员编号|客户号|客户编码|tagsági szám|tagsági sz|членский номер|номер участника|会員no|会員id|顧客id|顧客コード|회원 번호|' +
    'número de socio|nr de membru|članski broj',
  opportunityId:
    'opp id|opportunity id|opportunity key|deal id|deal no|opportunity no|opportunity number|opp no|opp key|chancen ' +
    'nr|chancennummer|verkaufschancen nr|chancen id|n opportunité|n affaire|id opportunité|id oportunidad|id ' +
    'opportunità|kansnummer|id oportunidade',
  opportunityName:
    'opp name|opportunity|opportunity name|opp|deal name|deal|opportunity title|opp title|chance|verkaufschance|' +
    'chancenname|opportunité|affaire|nom de l opportunité|oportunidad|nombre de la oportunidad|opportunità|' +
    'trattativa|verkoopkans|kans|oportunidade|affärsmöjlighet|salgsmulighed|szansa sprzedaży|příležitost|lehetőség|' +
    'сделка|название сделки|商談|商談名|商机|商机名称|영업기회',
  opportunityStage:
    'opp stage|opportunity stage|deal stage|pipeline stage|opp status|opportunity status|deal status|verkaufsphase|' +
    'chancenphase|étape de vente|etapa de venta|fase di vendita|verkoopfase|商談フェーズ|этап сделки|销售阶段',
  opportunityValue:
    'opp value|opportunity value|deal value|opp amount|opportunity amount|deal amount|deal size|amount|betrag|' +
    'umsatz|montant|importe|importo|bedrag|valor|belopp|beløb|beløp|kwota|částka|összeg|tutar|сумма|сума|金額|金额|금액',
  opportunityCloseDate:
    'opp close date|expected close|expected close date|close date|opportunity close date|closing date|opp close|' +
    'expected date|expected on|due to close|abschlussdatum|erwarteter abschluss|voraussichtlicher abschluss|date de ' +
    'clôture|clôture prévue|fecha de cierre|data di chiusura|data de fechamento|sluitingsdatum|verwachte sluiting|' +
    'avslutsdatum|data zamknięcia|datum uzavření|дата закрытия|完了予定日|预计成交日期',
  department:
    'department|dept|department name|business unit|abteilung|abteilungsname|departamento|depto|dipartimento|reparto|afdeling|' +
    'avdelning|avdeling|osasto|dział|oddělení|oddelenie|odjel|oddelek|osztály|部署|部署名|部門|部门|отдел|отделение|відділ|부서|부서명',
  gender:
    'gender|sex|m f|gender identity|geschlecht|sexe|genre|sexo|género|sesso|genere|geslacht|kön|køn|kjønn|sukupuoli|płeć|pohlaví|' +
    'pohlavie|spol|пол|стать|性別|性别|성별|cinsiyet|φύλο|sukup',
  language:
    'language|languages|preferred language|lang|spoken language|first language|language preference|language code|correspondence language|' +
    'sprache|muttersprache|korrespondenzsprache|langue|langue maternelle|langue préférée|idioma|lengua|lingua|língua|taal|voorkeurstaal|' +
    'språk|sprog|kieli|äidinkieli|język|jazyk|nyelv|limba|язык|мова|език|言語|语言|語言|언어|γλώσσα',
};

/** Wordings that may be something else, and are believed where the values fit: an outside id where none comes twice, a postal code. */
export const IF_VALUES_FIT: ReadonlySet<string> = new Set(
  'ref|ref no|reference|reference number|reference no|our ref|reference client|riferimento|rif|referencia|codigo|codice|sifra|pk'.split(
    '|',
  ),
);

/** Words that say whose or which one it is; an ending star stands for any ending. */
export const LABEL_WORDS: readonly (readonly [label: string, words: string])[] = [
  ['fax', 'fax|telefax|faks|φαξ|факс|传真|傳真|팩스|ファックス'],
  [
    'mobile',
    'mobile|mob|06|port|cell|cellphone|cellular|handy*|mobil*|portable|móvil|celular|cel|cellulare|telemóvel|gsm|' +
      'kom|komórka|komórk*|cep|matkapuhelin|kännykkä|mobiel*|сотов*|моб|κινητό|נייד|פלאפון|الجوال|جوال|الموبايل|携帯*|' +
      '手机*|手機*|移动电话|行動電話|휴대폰|휴대전화|핸드폰|κιν|tlm|ponsel|hp|động',
  ],
  [
    'work',
    'work|office|business|company|corporate|daytime|day|direct|dienst*|geschäft*|büro*|arbeit*|beruflich|firma|' +
      'firmen*|bureau|travail|pro|professionnel|trabajo|oficina|laboral|empresa|lavoro|ufficio|aziendale|trabalho|' +
      'comercial|escritório|werk|kantoor|zakelijk|job|jobb|arbete*|arbets*|arbejde*|arbejds*|arbeid*|työ*|praca|pracy|' +
      'służb*|firmowy|раб|单位|職場|prac|práce|pracovní|pracovný|posao|služ*|serviciu|munkahely*|céges|iş|рабоч*|служеб*|' +
      'робоч*|εργασίας|עבודה|العمل|勤務先|会社|工作|办公|직장|회사',
  ],
  [
    'home',
    'home|private|personal|evening|eve|night|residence|privat*|heim*|domicile|perso|personnel|casa|particular|' +
      'abitazione|privato|thuis|privé|hjem*|hem*|bostad*|koti*|dom|domu|domowy|prywatny|domů|domácí|soukromý|domáci|' +
      'kućni|domači|acasă|otthon*|lakás*|magán*|ev|домашн*|личн*|σπιτιού|οικίας|בית|المنزل|自宅|家庭|住宅|집|자택|дом|' +
      'residencial|οικίας|landline|festnetz*|fixe|fijo|fisso|fixo|vaste|stacjonarny|pevná|pevny',
  ],
];

/** Words that add nothing to what a heading means. */
export const FILLERS: ReadonlySet<string> = new Set(
  (
    'primary main principal other first second secondary third alternative alternate additional alt your my the ' +
    'contact billing mailing delivery preferred current legal full number numbers no nr num nummer numero nmr n ' +
    'numer cislo szam broj value val of for in de del der des di do da en et und y e i a og och am le la du del ' +
    'dell della dello vom von van het el los les das der die til til för for av na do what whats is are was were ' +
    'which when wann wie wo who whom please enter give us we you any further at with on by reach best ist sind ' +
    'lautet ihr ihre ihren ihrem sie bitte weitere mochten uns noch etwas quel quelle quels quelles est votre vos ' +
    'vous avez autres cual es su sus tu tus por favor otros otras qual il lo tuo tua suo sua vostro altri altre seu ' +
    'teu outras outros wat uw jouw je andere overige verdere vad ar ditt din dina er hvad hvilken dit deres hva ' +
    'dine mika sinun jaki jest twoj twoje pani pana inne jake vase vas tve dalsi ostatni mi az nedir ваш ваша ваше ' +
    'какой укажите другие'
  ).split(' '),
);

/** Short writings of words in headings. */
export const SHORT = wordTable({
  nm: 'name',
  nme: 'name',
  cd: 'code',
  cde: 'code',
  dt: 'date',
  dte: 'date',
  bdate: 'birthdate',
  brth: 'birth',
  ph: 'phone',
  phn: 'phone',
  tele: 'telephone',
  mbl: 'mobile',
  mobl: 'mobile',
  eml: 'email',
  em: 'email',
  addr: 'address',
  adr: 'address',
  add: 'address',
  cntry: 'country',
  ctry: 'country',
  org: 'organization',
  orgn: 'organization',
  organis: 'organization',
  organiz: 'organization',
  co: 'company',
  comp: 'company',
  emp: 'employer',
  empl: 'employer',
  posn: 'position',
  pos: 'position',
  occup: 'occupation',
  prof: 'profession',
  desc: 'description',
  fam: 'family',
  giv: 'given',
  chr: 'christian',
  mid: 'middle',
  '1st': 'first',
  '2nd': 'second',
  annivers: 'anniversary',
  anniv: 'anniversary',
  wed: 'wedding',
  pcode: 'postcode',
  pc: 'postcode',
  cat: 'category',
  cats: 'categories',
  grps: 'groups',
  cmt: 'comment',
  cmts: 'comments',
  cmnts: 'comments',
  rem: 'remarks',
  rmks: 'remarks',
  prov: 'province',
  reg: 'region',
  sal: 'salutation',
  wk: 'work',
  hm: 'home',
  biz: 'business',
  bus: 'business',
  pers: 'personal',
  priv: 'private',
});

/** Families: who looks after children, and children. In a list of them they are the people. */
export const OF_FAMILIES: ReadonlySet<string> = new Set(
  (
    'parent guardian carer child children mother father mum mom dad eltern elternteil mutter vater ' +
    'erziehungsberechtigte erziehungsberechtigter mere pere madre padre genitore ouder moeder vader verzorger ' +
    'malsman vardnadshavare foresatt foralder rodic matka otec rodzic ojciec'
  ).split(' '),
);

/** Words that make a heading that of somebody else's data. */
export const OF_OTHERS: ReadonlySet<string> = new Set(
  (
    'emergency emerg ice spouse partner kin assistant secretary referee boat vessel nok notfall notfallkontakt ' +
    'urgence emergencia emergenza noodgeval husband wife ehepartner ehefrau ehemann conjoint conjointe conyuge ' +
    'coniuge echtgenoot'
  ).split(' '),
);

/** Words that make of a value's heading one about it: no "Phone type" is a phone. */
export const ABOUT: ReadonlySet<string> = new Set(
  (
    'extension ext type types typ art kind label tipo soort typ consent opt optin optout preference preferences ' +
    'status verified valid size count sent card format bounced allowed permission newsletter'
  ).split(' '),
);
/** Of those, the ones that say which of several kinds the value beside is. */
export const KIND_WORDS: ReadonlySet<string> = new Set('type typ art kind label tipo soort'.split(' '));

/** Meanings of which one is never only part of another's name, by how much they say: "Address 1 - City" is a town. */
export const TELLING: readonly string[] = [
  'email',
  'url',
  'tel',
  'bday',
  'postalCode',
  'country',
  'locality',
  'region',
  'street',
  'organization',
];

/** Single wordings that also stand in headings of another meaning and say nothing there. */
export const ONLY_ALONE: ReadonlySet<string> = new Set(
  (
    'first last given family middle names ime prenom link web site profile internet call contact person post postal ' +
    'st cp cap kod index by il mi ad ort place stad via str born place land staat business school org account job ' +
    'role function position web page mel ev not obs geb ur by sted kraj maa mail list nation state unit flat dom ' +
    'road group label value day month page fix cep home work mobil mobile handy portable cell gsm firma empresa ' +
    'company bureau structure voie dom posta poczta ente do si ho guo zhou tir dr ming ten krai tk'
  ).split(' '),
);
