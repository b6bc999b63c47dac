import { describe, expect, test } from '@jest/globals';
import { areNicknames, nicknamesOf } from './nicknames';
import { repairCase } from './name-order';
import { joinName, splitName } from './person-name';

const parts = (text: string) => {
  const { name } = splitName(text);
  return [name.prefix, name.givenName, name.additionalNames, name.familyName, name.suffix].join('|');
};

describe('splitting a full name', () => {
  test.each([
    ['Dr. Ana María de la Cruz Ortiz', 'Dr.|Ana María||de la Cruz Ortiz|'],
    ['van den Berg, Jan-Willem', '|Jan-Willem||van den Berg|'],
    ['Prof. Sir Rupert A. Ellingham', 'Prof. Sir|Rupert|A.|Ellingham|'],
    ['James Thistlewood Jr.', '|James||Thistlewood|Jr.'],
    ['Smith-Jones, Mary Ann', '|Mary Ann||Smith-Jones|'],
    ['佐藤 健二', '|健二||佐藤|'],
    ['Ottilie', '|Ottilie|||'],
    ['Rev. Dr Theodore Haddow PhD', 'Rev. Dr|Theodore||Haddow|PhD'],
    ['de Wit, mr. P.J.', 'mr.|P.J.||de Wit|'],
    ['OKAFOR Ngozi', '|Ngozi||Okafor|'],
    ['John I Smith', '|John|I|Smith|'],
    ['van den Berg Jan', '|Jan||van den Berg|'],
    ['Иванов Пётр Сергеевич', '|Пётр|Сергеевич|Иванов|'],
    ['Pyotr Sergeyevich Ivanov', '|Pyotr|Sergeyevich|Ivanov|'],
    ['José Luis García Márquez', '|José Luis||García Márquez|'],
    ['Ng Wei Ling', '|Wei Ling||Ng|'],
    ['Haddow T.', '|T.||Haddow|'],
    ['Dipl.-Ing. Ottilie Krüger', 'Dipl.-Ing.|Ottilie||Krüger|'],
    ['Herr Müller', 'Herr|||Müller|'],
    ['Mrs Robinson', 'Mrs|||Robinson|'],
    ['Dr.Smith', 'Dr.|||Smith|'],
    ['Sister Agnes', 'Sister|Agnes|||'],
    ['Don Smith', '|Don||Smith|'],
    ['Don Diego de la Vega', 'Don|Diego||de la Vega|'],
    ['Em Carlyon', '|Em||Carlyon|'],
    ['Prof. em. Dr. h.c. Karl Schmidt', 'Prof. em. Dr. h.c.|Karl||Schmidt|'],
    ['The Hon. Sarah Jones', 'The Hon.|Sarah||Jones|'],
    ['Bc. Tomáš Dvořák', 'Bc.|Tomáš||Dvořák|'],
    ['Gogh, Vincent van', '|Vincent||van Gogh|'],
    ['Leyen, Ursula von der', '|Ursula||von der Leyen|'],
    ['Elizabeth Windsor née Smith', '|Elizabeth||Windsor|née Smith'],
    ['Anna Müller (geb. Schmidt)', '|Anna||Müller|geb. Schmidt'],
    ['Max Born', '|Max||Born|'],
    ['Lt. Col. John Smith (Ret.)', 'Lt. Col.|John||Smith|(Ret.)'],
    ['José Ortega y Gasset', '|José||Ortega y Gasset|'],
    ['João da Silva e Souza', '|João||da Silva e Souza|'],
    ['Georg Friedrich Prinz von Preußen', '|Georg|Friedrich|Prinz von Preußen|'],
    ['Steffi Graf', '|Steffi||Graf|'],
    ['Park Geun-hye', '|Geun-hye||Park|'],
    ['Min-jun Kim', '|Min-jun||Kim|'],
    ['김민준', '|민준||김|'],
    ['남궁민수', '|민수||남궁|'],
    ['JRR Tolkien', '|JRR||Tolkien|'],
    ['Smith J.A.', '|J.A.||Smith|'],
    ['Smith John A', '|John|A|Smith|'],
    ['van Dijk P.J.', '|P.J.||van Dijk|'],
    ['John Smith M.D.', '|John||Smith|M.D.'],
    ['Okafor Maya L', '|Maya|L|Okafor|'],
    ['Brandt J. P.', '|J.|P.|Brandt|'],
    ['Ms. Anna O.', 'Ms.|Anna||O.|'],
    ['Okafor Maya Mrs', 'Mrs|Okafor||Maya|'],
    ['Okafor, Maya Mrs', 'Mrs|Maya||Okafor|'],
    ['Maya Okafor (deceased)', '|Maya||Okafor|(deceased)'],
    ['12. Maya Okafor *', '|Maya||Okafor|'],
    ['"Maya Okafor"', '|Maya||Okafor|'],
    ['LE GALL Yann', '|Yann||Le Gall|'],
    ['VAN DER BERG Jan', '|Jan||Van Der Berg|'],
    ['Okafor; Maya', '|Maya||Okafor|'],
    ['Lo Presti Giuseppe', '|Giuseppe||Lo Presti|'],
    ['Van Morrison', '|Van||Morrison|'],
    ['McDONALD Ronald', '|Ronald||McDonald|'],
    ['Ana REIS', '|Ana||Reis|'],
    ['LE BON, Simon', '|Simon||Le Bon|'],
    ['Priya D/O Ramesh', '|Priya||D/O Ramesh|'],
  ])('%s is %s', (text, expected) => expect(parts(text)).toBe(expected));

  test.each([
    'Mr & Mrs Okafor',
    'Pat and Chris Bickford',
    'The Brackenmoor Family',
    'Brackenmoor Household',
    'Ana Reis or Tom Okoro',
    'Ana Reis e Tom Okoro',
    'Juan y María García',
    'Ana Reis c/o Tom Okoro',
    'Famille Dupont',
  ])('%s is more than one person', (text) => expect(splitName(text).fault).toBe('twoPeople'));
  test('two words in brackets are doubted', () =>
    expect(splitName('Ana Reis (Tarn Timber)').certainty01).toBeLessThan(0.7));
  test.each([
    'info@quillhaven.example',
    'Region: North',
    'Grand total',
    'Summe',
    'Kelpstone Rigging Ltd',
    'Page 2 of 2',
  ])('%s is no name', (text) => expect(splitName(text).fault).toBe('notAPerson'));
  test('a nickname in quotes is kept apart', () =>
    expect(splitName('"Kit" Christopher Carlyon').name.nickname).toBe('Kit'));
  test('what can be read in two ways is less certain', () => {
    expect(splitName('SMITH JOHN').certainty01).toBeLessThan(0.75);
    expect(splitName('Nguyen Thi Mai').certainty01).toBeLessThan(0.7);
    expect(splitName('Ludwig zu Rantzlau').certainty01).toBeGreaterThan(0.9);
  });
  test('no word is lost', () => {
    for (const text of ['Maria da Conceição dos Santos', 'Ragnhild Ødegård Fjeldstad', 'Capt. Ana Reis MBE']) {
      expect(joinName(splitName(text).name).split(' ').sort()).toEqual(text.split(' ').sort());
    }
  });
  test('shouted names are written as names', () => {
    expect(repairCase("O'DOHERTY-MCBRIDE")).toBe("O'Doherty-McBride");
    expect(repairCase('van Gogh')).toBe('van Gogh');
  });
  test('short names stand for long ones, both ways', () => {
    expect(areNicknames('kate', 'katherine')).toBe(true);
    expect(areNicknames('kate', 'tom')).toBe(false);
    expect(nicknamesOf('andrew')).toContain('andy');
  });
});
