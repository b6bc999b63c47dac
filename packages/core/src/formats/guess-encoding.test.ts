import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { guessEncoding } from './guess-encoding';
import { sniffEncoding } from './sniff-bytes';
import { openDecoder } from './text-decoder';

/** Bytes by character in an encoding, found by decoding what its bytes can be. */
function tableOf(encoding: string, isWide: boolean): Map<string, number[]> {
  const table = new Map<string, number[]>();
  const read = (bytes: number[]) => {
    const decoder = openDecoder(encoding);
    return decoder.decode(Uint8Array.from(bytes)) + decoder.decode();
  };
  for (let a = 0; a < 256; a++) {
    const one = read([a]);
    if ([...one].length === 1 && one !== '\ufffd') table.set(one, [a]);
    for (let b = 0x40; isWide && a > 0x80 && b < 0xff; b++) {
      const two = read([a, b]);
      if ([...two].length === 1 && two !== '\ufffd' && !table.has(two)) table.set(two, [a, b]);
    }
  }
  return table;
}

const tables = new Map<string, Map<string, number[]>>();

function encode(text: string, encoding: string, isWide = false): Uint8Array {
  const table = tables.get(encoding) ?? tableOf(encoding, isWide);
  tables.set(encoding, table);
  return Uint8Array.from([...text].flatMap((c) => table.get(c) ?? fail(`${encoding} has no ${c}`)));
}

function fail(why: string): never {
  throw new Error(why);
}

const WORDS = {
  german: 'Müller Schäfer Bärbel Jörg Günther Weiß Köhler Böhm Großmann Lübeck Königsberg Süß Käthe',
  french: 'François Hélène Gérard Besançon Bérénice Noël Chloé Rhône Mérignac Benoît Joël Anaïs',
  spanish: 'José Íñigo Muñoz Núñez García Begoña Córdoba Málaga Peña Ibáñez Sebastián',
  western: 'José François Müller Sørensen Åsa Zoë Nuñez Büchner Håkon Jørgen Gonçalves Käthe',
  icelandic: 'Þór Sigurðsson Björk Guðmundsdóttir Ólafur Hafnarfjörður Ísafjörður Jónsdóttir Þórður',
  polish: 'Łukasz Żółć Wąsik Śnieżka Gdańsk Łódź Małgorzata Święty Grażyna Częstochowa Zieliński',
  czech: 'Jiří Dvořák Šťastná Žaneta Příbram Ústí Kateřina Růžena Čeněk Němec Tomáš Ďáblice',
  hungarian: 'Szűcs Győr Erzsébet Kőszeg Csőke Jenő Fűzfő Ödön Tünde László Ágnes Bőrönd',
  turkish: 'Işıl Çağlar Gökçe Şahin Doğan İbrahim Güneş Yıldız Öztürk Işık Beşiktaş Kadıköy',
  lithuanian: 'Žydrūnas Šarūnas Ąžuolas Eglė Giedrė Klaipėda Šiauliai Panevėžys Jūratė',
  russian: 'Иванов Пётр Сергеевич Соколова Москва Юрий Щербаков Екатерина Новгород Волга',
  shouted: 'ИВАНОВ ПЁТР СЕРГЕЕВИЧ СОКОЛОВА МОСКВА ЮРИЙ ЩЕРБАКОВ ЕКАТЕРИНА НОВГОРОД',
  ukrainian: 'Олексій Київ Ірина Запоріжжя Юлія Шевченко Львів Наталія Дніпро Євген',
  greek: 'Γιώργος Παπαδόπουλος Μαρία Αθήνα Θεσσαλονίκη Ελένη Οικονόμου Κώστας Πάτρα',
  arabic: 'محمد أحمد فاطمة القاهرة علي حسن الرياض خالد عبدالله بيروت يوسف',
  japanese: '山田 佐藤 ハナコ 東京都 大阪府 たかし 鈴木 株式会社 さくら 住所 氏名',
  chinese: '王小明 李娜 张伟 上海 北京 长江路 经理 公司 刘洋 陈静 海船厂 广州 姓名',
  traditional: '王小明 張偉 臺北 高雄 中山路 經理 劉洋 陳靜 造船廠 姓名 電話 地址',
  korean: '김철수 이영희 박지훈 서울 부산 주식회사 대표 전화 이름 주소 최민수 인천',
};

describe('the encoding of text that is no UTF-8', () => {
  test.each([
    ['german', 'windows-1252'],
    ['german', 'ibm850'],
    ['french', 'windows-1252'],
    ['french', 'macintosh'],
    ['spanish', 'windows-1252'],
    ['western', 'windows-1252'],
    ['icelandic', 'windows-1252'],
    ['polish', 'windows-1250'],
    ['polish', 'iso-8859-2'],
    ['polish', 'ibm852'],
    ['czech', 'windows-1250'],
    ['hungarian', 'windows-1250'],
    ['turkish', 'windows-1254'],
    ['lithuanian', 'windows-1257'],
    ['russian', 'windows-1251'],
    ['russian', 'koi8-u'],
    ['russian', 'ibm866'],
    ['russian', 'iso-8859-5'],
    ['shouted', 'windows-1251'],
    ['shouted', 'koi8-u'],
    ['ukrainian', 'windows-1251'],
    ['greek', 'windows-1253'],
    ['arabic', 'windows-1256'],
    ['japanese', 'shift_jis'],
    ['japanese', 'euc-jp'],
    ['chinese', 'gb18030'],
    ['traditional', 'big5'],
    ['korean', 'euc-kr'],
  ] as const)('%s text in %s is read as written', (language, encoding) => {
    const isWide = ['japanese', 'chinese', 'traditional', 'korean'].includes(language);
    const text = `Name;Mail\n${WORDS[language].split(' ').join(';ana@example.org\n')}`;
    const bytes = encode(text, encoding, isWide);
    const found = sniffEncoding(bytes);
    const decoder = openDecoder(found.ok ? found.value.decoder : 'utf-8');
    expect(decoder.decode(bytes) + decoder.decode()).toBe(text);
  });
  test('the euro sign tells the newer of two encodings', () =>
    expect(guessEncoding(encode('Gift;1 250,50 €\nGift;80,00 €\n', 'iso-8859-15'))).toBe('iso-8859-15'));
  test.each([
    ['Balance;£1171.49\n;£71.37\n', 'windows-1252'],
    ['Port Townsend\nCoeur d’Alene\n', 'windows-1252'],
    ['Noëlle\nDaniël\nJurriën\n', 'windows-1252'],
    ['VISSER\u00a0\nDANI\u00cbL\nHoorn\u00a0\n20\u00a0april\n', 'windows-1252'],
    ['Rūta Šalnė\nEglė Žukauskienė\n', 'windows-1257'],
  ])('a few letters tell as well: %j', (text, encoding) =>
    expect(guessEncoding(encode(text, encoding))).toBe(encoding),
  );
  test('text without a blank is looked at as far as it tells', () => {
    for (const [language, encoding] of [
      ['chinese', 'gb18030'],
      ['japanese', 'shift_jis'],
    ] as const) {
      const bytes = encode(WORDS[language].replaceAll(' ', ''), encoding, true);
      const long = new Uint8Array(bytes.length * 20_000);
      for (let i = 0; i < 20_000; i++) long.set(bytes, i * bytes.length);
      for (const cut of [0, 1]) expect(guessEncoding(long.subarray(0, long.length - cut))).toBe(encoding);
    }
  });
  test('bytes of any kind get an encoding that can be read', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        expect(() => openDecoder(guessEncoding(bytes)).decode(bytes)).not.toThrow();
      }),
    ));
});

describe('decoding piece by piece', () => {
  const cut = (bytes: Uint8Array, size: number, label: string) => {
    const decoder = openDecoder(label);
    let text = '';
    for (let i = 0; i < bytes.length; i += size) text += decoder.decode(bytes.slice(i, i + size));
    return text + decoder.decode();
  };
  test('UTF-8 gives the same text however it is cut', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), fc.integer({ min: 1, max: 5 }), (text, size) => {
        const plain = text.replace(/^\ufeff+/, '');
        expect(cut(new TextEncoder().encode(plain), size, 'utf-8')).toBe(plain);
      }),
    ));
  test('bytes of another encoding in UTF-8 keep their letters, and no byte is lost at a cut', () => {
    const bytes = Uint8Array.from([
      ...new TextEncoder().encode('Žaneta;Ærø\n'),
      ...[...'Jörg;Änne\n'].map((c) => c.charCodeAt(0)),
      ...new TextEncoder().encode('漢字;🙂\n'),
      0xe9,
    ]);
    for (let size = 1; size <= bytes.length; size++)
      expect(cut(bytes, size, 'utf-8')).toBe('Žaneta;Ærø\nJörg;Änne\n漢字;🙂\né');
    expect(sniffEncoding(bytes)).toMatchObject({ ok: true, value: { name: 'utf-8' } });
  });
  test('the marks of windows-1252 are marks, in a file of it and in one of UTF-8', () => {
    expect(cut(Uint8Array.of(0x80, 0x84, 0x93, 0x96), 4, 'windows-1252')).toBe('€„“–');
    expect(cut(Uint8Array.of(0xc3, 0xa4, 0x80, 0x93), 4, 'utf-8')).toBe('ä€“');
  });
  test('a byte-order mark is no text', () => expect(cut(Uint8Array.of(0xef, 0xbb, 0xbf, 0x61), 1, 'utf-8')).toBe('a'));
  test('an encoding that nobody knows is refused', () => expect(() => openDecoder('quill-1')).toThrow('quill-1'));
});
