import { expect, test } from '@jest/globals';
import { defaultMapping } from './default-mapping';
import { guessColumns } from './guess-columns';

/** What each column of a table means: target, label, which address; left out ones are a dash. */
function meanings(heading: string, rows: string[]): string[] {
  const headers = heading.split('|');
  const cells = rows.map((row) => row.split('|'));
  return defaultMapping(guessColumns(headers, cells), 'GB').columns.map((column) => {
    const steps = (column.transforms ?? []).map(({ kind }) => `+${kind}`);
    const more = [column.label, column.nth ? `#${column.nth + 1}` : '', column.wholeAddress ? 'whole' : '', ...steps];
    return [column.target ?? '-', ...more.filter(Boolean)].join(' ');
  });
}

const LAYOUTS: [name: string, heading: string, rows: string[], expected: string][] = [
  [
    'tickets of an event',
    'Order #|Order date|First Name|Last Name|Email|Quantity|Total Paid|Cell Phone|Home Address 1|Home City|Home State|Home Zip',
    [
      '1001|2026-03-01 10:12:00|Ana|Reis|ana@example.org|1|25.00|206-555-0101|12 Harbor St|Mystic|CT|06355',
      '1002|2026-03-02 11:00:00|Tom|Wray|tom@example.org|2|50.00|206-555-0102|4 Main St|Mystic|CT|06355',
    ],
    'activityId | activityDate | givenName | familyName | email | activityQuantity | activityAmount | ' +
      'tel mobile | street home | locality home | region home | postalCode home',
  ],
  [
    'children with their parents: the parent is who can be written to',
    "Child's name|Child's date of birth|Parent 1 name|Parent 1 email|Parent 1 phone|Address|Allergies",
    [
      'Ana Reis|2015-03-01|Maria Reis|maria@example.org|07700 900301|12 Quay Lane, Falmouth TR11 3AB|None',
      'Tom Wray|2014-05-06|Ann Wray|ann@example.org|07700 900302|4 Slip Street, Penryn TR10 8AA|Nuts',
    ],
    '- | - | fullName | email | tel | street whole | -',
  ],
  [
    'who bought and who comes: one of them is the person',
    'Order ID|Buyer First Name|Buyer Last Name|Buyer Email|Attendee First Name|Attendee Last Name|Attendee Email|Attendee Phone',
    [
      '1001|Maya|Okafor|maya@example.org|Maya|Okafor|maya@example.org|07700 900123',
      '1001|Maya|Okafor|maya@example.org|Sam|Okafor||',
      '1002|Jonas|Brandt|jonas@example.org|Eva|Brandt|eva@example.org|07700 900457',
    ],
    '- | givenName | familyName | email | - | - | - | -',
  ],
  [
    'pupils with their teacher, who can be written to: the pupil is the person',
    'Student First Name|Student Last Name|Teacher Name|Teacher Email|Town',
    ['Maya|Okafor|Tom Reis|tom@example.org|Mystic', 'Sam|Brandt|Tom Reis|tom@example.org|Noank'],
    'givenName | familyName | - | - | locality',
  ],
  [
    'who comes, where no one else has a name',
    'Attendee First Name|Attendee Last Name|Attendee Email|Student Union member',
    ['Maya|Okafor|maya@example.org|Yes', 'Jonas|Brandt|jonas@example.org|No'],
    'givenName | familyName | email | -',
  ],
  [
    'payments: whom they all went to is nobody of the rows',
    'Payer|From Email Address|To Email Address|Contact Phone Number',
    [
      'Maya Okafor|maya@example.org|office@example.org|07700 900123',
      'Jonas Brandt|jonas@example.org|office@example.org|07700 900124',
    ],
    'fullName | email | - | tel',
  ],
  [
    'how letters begin is no title',
    'Addressee|Salutation|Address1|City',
    ['Dr. Maya Okafor|Dear Dr. Okafor|4 Main St|Mystic', 'Tom Reis|Dear Tom|12 Harbor St|Mystic'],
    'fullName | - | street | locality',
  ],
  [
    'questions of a form, as people ask',
    "What's your name?|Best email to reach you|Phone (optional)",
    ['Maya Okafor|maya@example.org|07700 900123', 'jonas brandt|jonas@example.org|'],
    'fullName | email | tel',
  ],
  [
    'two people of a row, each numbered: the first is the person',
    'Name 1|Name 2|Address 1|Address 2|Town|Email 1|Email 2|Phone',
    [
      'Maya Okafor|Sam Okafor|3 Quay Lane|Old Harbour|Tidemouth|maya@example.org|sam@example.org|07700 900123',
      'Jonas Brandt|Eva Brandt|18 Mill Rd||Tidemouth|jonas@example.org|eva@example.org|07700 900456',
    ],
    'fullName | - | street | street | locality | email | - | tel',
  ],
  [
    'two people of a row with names in parts',
    'First name 1|Last name 1|First name 2|Last name 2|Email 1|Email 2',
    [
      'Maya|Okafor|Sam|Okafor|maya@example.org|sam@example.org',
      'Jonas|Brandt|Eva|Brandt|jonas@example.org|eva@example.org',
    ],
    'givenName | familyName | - | - | email | -',
  ],
  [
    'two mailboxes of one person, whose firm has two lines',
    'Name|Company 1|Company 2|Email 1|Email 2',
    [
      'Maya Okafor|Mill Works|Boat yard|maya@example.org|m@work.example',
      'Jonas Brandt|Mill Works|Boat yard|jonas@example.org|j@work.example',
    ],
    'fullName | organization | - | email | email',
  ],
  [
    'parents with their children: the parent is the person',
    'Parent name|Parent email|Parent mobile|Child name|Child age',
    ['Maria Reis|maria@example.org|07700 900301|Ana Reis|9', 'Ann Wray|ann@example.org|07700 900302|Tom Wray|10'],
    'fullName | email | tel mobile | - | -',
  ],
  [
    'children alone',
    "Child's name|Child's date of birth|E-mail",
    ['Ana Reis|2015-03-01|maria@example.org', 'Tom Wray|2014-05-06|ann@example.org'],
    'fullName | bday | email',
  ],
  [
    'a name of the person beside those of others',
    'Student|E-mail|Father name|Mother name|Mother e-mail',
    ['Ana Reis|ana@example.org|Rui Reis|Maria Reis|maria@example.org'],
    'fullName | email | - | - | -',
  ],
  [
    'berths: a boat and whom to call in need are nobody’s names',
    'E-mail|Boat name|Emergency contact name|Emergency phone|Berth',
    ['ana@example.org|Gannet|Rui Reis|07700 900301|12', 'tom@example.org|Heron|Ann Wray|07700 900302|14'],
    'email | - | - | - | -',
  ],
  [
    'orders are no opportunities',
    'Kunde|E-Mail|Auftragsnr.|Betrag|Bestelldatum',
    ['Ana Reis|ana@example.org|A-1001|60,00|01.03.2026', 'Tom Wray|tom@example.org|A-1002|90,00|02.03.2026'],
    'fullName | email | - | - | -',
  ],
  [
    'donors of an Australian club',
    'Salutation|Donor name|Spouse|Street|Suburb|State|P/code|Ph (h)|Ph (w)|Ph (m)|Email 1|Email 2|Last gift $|Last gift date',
    [
      'Mr|Tom Wray|Ann|12 Marine Parade|Manly|NSW|2095|02 5550 0101|02 5550 0102|0491 570 156|tom@example.org|tw@example.com|50|12/03/2024',
      'Ms|Ana Reis||4 Slip St|Bondi|NSW|2026|||0491 570 157|ana@example.org||100|15/04/2024',
    ],
    'prefix | fullName | - | street | locality | region | postalCode | tel home | tel work | tel mobile | email | email | activityAmount | activityDate',
  ],
  [
    'answers of a form',
    'Timestamp|Email Address|What is your full name?|Which session will you attend?|Emergency contact name|Emergency contact number',
    [
      '3/1/2026 10:12:00|ana@example.org|Ana Reis|Morning|Maria Reis|07700 900301',
      '3/2/2026 11:13:14|tom@example.org|Tom Wray|Afternoon|Ann Wray|07700 900302',
    ],
    '- | email | fullName | - | - | -',
  ],
  [
    'a British list with locality and town',
    'Forename|Surname|House name/number|Street|Locality|Town|County|Postcode|Tel no|Mobile no|E-mail|Gift Aid',
    [
      'Ana|Reis|The Old Mill|Quay Lane|Flushing|Falmouth|Cornwall|TR11 3AB|01326 555010|07700 900301|ana@example.org|Y',
      'Tom|Wray|12|Slip Street||Penryn|Cornwall|TR10 8AA||07700 900302|tom@example.org|N',
    ],
    'givenName | familyName | street | street | street | locality | region | postalCode | tel | tel mobile | email | -',
  ],
  [
    'accounts with two addresses',
    'Account Name|Contact: First Name|Contact: Last Name|Contact: Email|Contact: Title|Billing Street|Billing ' +
      'City|Billing Zip|Shipping Street|Shipping City|Shipping Zip',
    ['Tern Joinery|Ana|Reis|ana@example.org|Skipper|12 Quay Lane|Falmouth|TR11 3AB|4 Slip Street|Penryn|TR10 8AA'],
    'organization | givenName | familyName | email | title | street | locality | postalCode | street #2 | locality #2 | postalCode #2',
  ],
  [
    'capitals, American dates and ZIP codes that lost their zeros',
    'LAST NAME, FIRST NAME|DOB|SEX|PHONE|EMAIL|ADDRESS|CITY|ST|ZIP',
    [
      'REIS, ANA|03/01/1980|F|206-555-0101|ana@example.org|12 HARBOR ST|MYSTIC|CT|6355',
      'WRAY, TOM|12/15/1975|M|206-555-0102|tom@example.org|4 MAIN ST|MYSTIC|CT|6355',
    ],
    'fullName | bday | gender | tel | email | street | locality | region | postalCode +zeros',
  ],
  [
    'members of a German club',
    'Anrede|Titel|Vorname|Name|Straße|Hausnr.|PLZ|Ort|Tel. p.|Tel. d.|Mobil|Fax|E-Mail privat|E-Mail dienstl.|Geb.|Eintritt|IBAN',
    [
      'Frau|Dr.|Ana|Reis|Hafenweg|12a|24103|Kiel|0431 555010|0431 555011|0151 ' +
        '5550101||ana@example.org|a@example.com|01.03.1980|01.01.2010|DE02120300000000202051',
      'Herr||Tom|Wray|Am Kai|3|01067|Dresden||||||t@example.com|15.12.1975|01.05.2012|DE02500105170137075030',
    ],
    'prefix +join | - | givenName | familyName | street | street | postalCode | locality | tel home | tel work | ' +
      'tel mobile | tel fax | email home | email work | bday | - | -',
  ],
  [
    'members of a yacht club',
    'Membership no.|Title|Initials|Surname|Known as|Address line 1|Address line 2|Post town|Postcode|Home tel|Mobile|Email|Paid until|Boat name|Sail no.',
    [
      'M001|Mr|T. J.|Wray|Tom|12 Slip Street|Flushing|Falmouth|TR11 5TX|01326 555010|07700 900301|tom@example.org|31/12/2026|Gannet|K 1234',
      'M002|Mrs|A.|Reis|Ana|The Old Mill|Quay Lane|Falmouth|TR11 5UF|||ana@example.org|31/12/2025|Heron|GBR 77',
    ],
    'externalId | prefix | - | familyName | givenName | street | street | locality | postalCode | tel home | tel mobile | email | - | - | -',
  ],
  [
    'licences of a French federation',
    'nom|prenom|sexe|ddn|adr1|adr2|cp|ville|tel1|tel2|mail|licence',
    [
      'REIS|Ana|F|01/03/1980|12 rue du Port||35400|SAINT-MALO|0299555010|0611111111|ana@example.org|123456A',
      'WRAY|Tom|M|15/12/1975|4 quai des Voiles|Bat B|44000|NANTES|0240555010||tom@example.org|123457B',
    ],
    'familyName | givenName | gender | bday | street | street | postalCode | locality | tel | tel | email | -',
  ],
  [
    'customers of a shop',
    'Customer|Contact|Phone|Email|Bill to|Ship to|Terms|Open balance',
    [
      'Tern Joinery Ltd|Ana Reis|01632 960301|ana@example.org|12 Quay Lane, Falmouth TR11 3AB|12 Quay Lane, Falmouth TR11 3AB|Net 30|120.00',
      'Wray, Tom|Tom Wray|01632 960302|tom@example.org|4 Slip Street, Penryn TR10 8AA|4 Slip Street, Penryn TR10 8AA|On receipt|0.00',
    ],
    'organization | fullName | tel | email | street whole | street #2 whole | - | -',
  ],
  [
    'graduates of an American school',
    'full_name|first|middle|last|maiden|sfx|email_home|email_work|cell|home_ph|work_ph|addr|city|st|zip|class_yr',
    [
      'Ana Maria Reis|Ana|Maria|Reis|Silva||ana@example.org|ana@example.com|206-555-0101|||12 Harbor St|Mystic|CT|06355|1998',
      'Tom J Wray Jr|Tom|J|Wray||Jr|tom@example.org||206-555-0102|||4 Main St|Mystic|CT|06355|2001',
    ],
    'fullName | givenName | additionalNames | familyName | - | - | email home | email work | tel mobile | tel home ' +
      '| tel work | street | locality | region | postalCode | -',
  ],
  [
    'members of a Dutch club',
    'Lidnr|Voorletters|Tussenvoegsel|Achternaam|Roepnaam|Straatnaam|Huisnr|Toev|Postcode|Plaats|Telefoon|Mobiel|Geb.datum',
    [
      '1|A.M.|van der|Berg|Anna|Prinsengracht|12|A|1015 DV|Amsterdam|020-5550101|06-12345678|01-03-1980',
      '2|J.||Smit|Jan|Dorpsweg|4||8601 AB|Sneek||06-12345679|15-12-1975',
    ],
    'externalId | - | familyName +join | - | givenName | street | street | street | postalCode | locality | tel | tel mobile | bday',
  ],
  [
    'members of a Spanish club',
    'Id_socio|Nombre|Apellido 1|Apellido 2|DNI|F. Nac.|Domicilio|Piso|C.P.|Población|Tfno 1|Alta|Observ.',
    [
      '1|Ana|Reis|Silva|12345678Z|01/03/1980|C/ del Puerto 12|2º B|11001|Cádiz|956555010|01/01/2020|pago anual',
      '2|José|Ruiz|Gil|23456789D|15/12/1975|Plaza Mayor 4||36201|Vigo|600111223|01/05/2019|',
    ],
    'externalId | givenName | familyName +join | - | - | bday | street | street | postalCode | locality | tel | - | note',
  ],
  [
    'members of an Italian club',
    'Cognome|Nome|Luogo di nascita|Data di nascita|Codice fiscale|Residenza|CAP|Comune|Prov.|Cell.|E-mail|Tessera n.',
    ['Galli|Anna|Genova|01/03/1980|GLLNNA80C41D969X|Via Roma 12|16121|Genova|GE|333 1234567|anna@example.org|T-12'],
    'familyName | givenName | - | bday | - | street | postalCode | locality | region | tel mobile | email | externalId',
  ],
  [
    'a Swedish club with those who look after children',
    'Förnamn|Efternamn|Gatuadress|Postnr|Ort|Tel hem|Tel mobil|E-post|Målsman|Målsmans mobil|Grupp',
    [
      'Karin|Ek|Storgatan 5|414 51|Göteborg|031-555010|070-1740605|karin@example.org|||Vuxen',
      'Erik|Ek|Storgatan 5|414 51|Göteborg||070-1740606|erik@example.org|Karin Ek|070-1740605|Jolle',
    ],
    'givenName | familyName | street | postalCode | locality | tel home | tel mobile | email | - | - | -',
  ],
  [
    'a Japanese list',
    '氏名|フリガナ|生年月日|郵便番号|都道府県|市区町村|番地|建物名|電話番号|携帯電話|メールアドレス|入会日|備考',
    [
      '佐藤 花子|サトウ ハナコ|1980/3/1|220-0012|神奈川県|横浜市西区|みなとみらい2-3|港荘101|045-555-0101|090-1234-5678|hanako@example.org|2020/4/1|',
    ],
    'fullName | - | bday | postalCode | region | locality | street | street | tel | tel mobile | email | - | note',
  ],
  [
    'a Chinese list with whole addresses',
    '姓名|性别|手机|电子邮箱|公司|职位|地址|邮编|备注',
    [
      '王伟|男|13800138000|wang@example.org|北方造船有限公司|经理|北京市朝阳区建国路12号|100020|',
      '李静|女|13900139001|li@example.org|帆缆店|店主|上海市浦东新区世纪大道4号|200120|老客户',
    ],
    'fullName | gender | tel mobile | email | organization | title | street whole | postalCode | note',
  ],
  [
    'an Indian list',
    'Contact Person|Designation|Organisation Name|Landline|Mobile Number|E-mail ID|Pin Code|City/Town|State|Ref. by',
    [
      'Mr. Rajesh Kumar|Manager|Tern Pvt Ltd|0484-2555010|9876543210|rajesh@example.org|682001|Kochi|Kerala|Anil',
      'Ms. Sunita Rao|Owner|Kelp & Co|080-25550101|9876543211|sunita@example.org|560001|Bengaluru|Karnataka|Web',
    ],
    'fullName | title | organization | tel home | tel mobile | email | postalCode | locality | region | source',
  ],
  [
    'volunteers',
    'volunteer_id|pref_name|legal_first|legal_last|next_of_kin|nok_phone|passport_no|postcode|email|phone',
    [
      'V1|Annie|Ana|Reis|Rui Reis|07700 900301|P123456|TR11 3AB|ana@example.org|07700 900302',
      'V2|Tom|Thomas|Wray|Ann Wray|07700 900303|P123457|TR10 8AA|tom@example.org|07700 900304',
    ],
    'externalId | nickname | givenName | familyName | - | - | - | postalCode | email | tel',
  ],
  [
    'contacts of a mail program, with the technical side of each mailbox',
    'First Name|Last Name|E-mail Address|E-mail Type|E-mail Display Name|Direct line|Department|Gender|Language|address.street|address.city|address.zip',
    [
      'Ada|Penrose|ada@example.org|SMTP|Ada Penrose (ada@example.org)|01632 960101|Rigging|Female|English|1 Slip Lane|Falmouth|TR11 3WI',
      'Bea|Trelawny|bea@example.org|SMTP|Bea Trelawny (bea@example.org)|01632 960102|Sails|F|fr|2 Slip Lane|Falmouth|TR11 3WI',
      'Cai|Rosewarne|cai@example.org|EX|Rosewarne, Cai|01632 960103|Office|male|en-GB|3 Slip Lane|Falmouth|TR11 3WI',
    ],
    'givenName | familyName | email | - | - | tel work | department | gender | language | street | locality | postalCode',
  ],
];

test.each(LAYOUTS)('%s', (_name, heading, rows, expected) =>
  expect(meanings(heading, rows).join(' | ')).toBe(expected),
);

/** What each column of a table without headings means. */
function meaningsWithout(rows: string[]): string {
  const cells = rows.map((row) => row.split('|'));
  return guessColumns(
    (cells[0] ?? []).map(() => null),
    cells,
  )
    .map(({ field }) => field ?? '-')
    .join(' | ');
}

test.each([
  [
    'Chinese',
    [
      '1|王芳|13912345678|fang@example.org',
      '2|李小龙|13812345679|long@example.org',
      '3|欧阳娜|13712345670|na@example.org',
    ],
    '- | fullName | tel | email',
  ],
  [
    'Japanese, prefectures beside them',
    ['田中太郎|石川県|taro@example.org', '長谷川博|福島県|hiro@example.org', '凪田 花子|千葉県|hana@example.org'],
    'fullName | region | email',
  ],
  [
    'Japanese, family and given name apart',
    ['佐藤|花子|hanako@example.org', '鈴木|一郎|ichiro@example.org', '凪田|美咲|misaki@example.org'],
    'familyName | givenName | email',
  ],
  ['Korean', ['김민준|010-1234-5678', '이서연|010-2345-6789', '남궁민|010-3456-7890'], 'fullName | tel'],
])('names without headings: %s', (_, rows, expected) => expect(meaningsWithout(rows)).toBe(expected));
