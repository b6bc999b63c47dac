/**
 * Names of China, Japan and Korea as they are written there: the family in front, mostly with nothing between. How many signs
 * are the family's is told by which families there are; the tables hold those of nine in ten people of China and Korea, and
 * of seven in ten of Japan.
 */

const HANGUL = /^\p{Script=Hangul}+$/u;
const HAN = /^[\p{Script=Han}々ヶ]+$/u;

/** Families of one sign, Chinese and Japanese: three signs that begin otherwise are two and one, as mostly in Japan. */
const ONE_SIGN = new Set(
  '王李张張刘劉陈陳杨楊黄黃赵趙吴吳周徐孙孫马馬朱胡郭何高罗羅郑鄭梁谢謝宋唐许許韩韓冯馮邓鄧曹彭曾肖蕭萧董袁潘于蒋蔣蔡余杜叶葉程苏蘇魏吕呂丁任沈姚卢盧姜崔钟鍾谭譚陆陸汪范範金廖贾賈韦韋付方白邹鄒孟熊秦邱尹薛闫閻閆阎段雷侯龙龍陶黎贺賀顾顧毛郝龚龔邵万萬钱錢严嚴武戴莫孔汤湯朴林' +
    '石夏田樊史傅江常文覃赖賴康尤乔喬施洪牛殷俞倪章鲁魯葛柳毕畢聂聶丛焦向齐齊梅莊庄辛管祝左涂谷祁时時舒耿牟卜路詹关關苗凌费費纪紀靳盛童欧歐甄项項曲成游裴席卫衛查屈鲍鮑位覃霍翁甘景薄单單包司柏宁寧柯阮桂闵閔解柴麻华華车車房边邊古吉饶饒刁瞿戚丘池古芦蘆仇匡冉晏褚芮储儲靖' +
    '森原東西南北谷岸辻堀関星島菅泉桜榊菊角畑畠岡浜濱橘楠椿栗牧沢澤滝瀧乾平宮嶋嶺峯峰茂柴岩杉梶柏荻萩鶴窪堤境中上',
);
const CHINESE_PAIRS = new Set(
  '欧阳 歐陽 司马 司馬 上官 诸葛 諸葛 东方 東方 皇甫 尉迟 尉遲 公孙 公孫 慕容 令狐 司徒 夏侯 轩辕 軒轅 宇文 长孙 長孫 南宫 南宮 端木 西门 西門 东郭 東郭'.split(
    ' ',
  ),
);

/** Japanese families of two signs, the commonest first. */
const JAPANESE_PAIRS = new Set(
  `佐藤 鈴木 高橋 髙橋 田中 伊藤 渡辺 渡邊 渡邉 山本 中村 小林 加藤 吉田 山田 山口 松本 井上 木村 斎藤 斉藤 齋藤 齊藤 清水 山崎 阿部 池田 橋本 山下 石川 中島 前田 藤田 後藤 小川 岡田 村上 長谷 近藤
   石井 坂本 遠藤 藤井 青木 福田 三浦 西村 藤原 太田 松田 原田 岡本 中川 中野 小野 田村 竹内 金子 和田 中山 石田 上田 森田 柴田 酒井 工藤 横山 宮崎 宮本 内田 高木 安藤 谷口 大野 丸山 今井 高田 藤本 武田
   村田 上野 杉山 増田 平野 菅原 小島 久保 千葉 松井 岩崎 桜井 櫻井 木下 松尾 野口 野村 新井 渡部 佐野 菊地 菊池 古川 杉本 市川 水野 小松 山内 西田 西川 北村 五味 安田 大塚 川口 平田 中田 飯田 川崎 吉川
   本田 久保 沢田 澤田 辻本 東野 川村 福島 田口 小山 荒木 永井 服部 樋口 秋山 矢野 広瀬 石原 早川 松岡 馬場 望月 大西 黒田 熊谷 吉村 浅野 松下 須藤 菅野 大橋 堀内 野田 川上 荒井 松村 山中 永田 西山 福井
   中西 森本 土屋 関口 片山 本間 岩田 浜田 濱田 田辺 横田 植田 岡崎 高野 福本 大島 富田 栗原 尾崎 児玉 小池 三宅 奥村 古賀 内藤 萩原 津田 天野 大石 永野 小田 平井 片岡 上村 篠原 成田 川田 小原 今村 高山
   大川 森下 中井 大谷 桑原 松原 小西 大沢 牧野 神田 西尾 堀田 梅田 金田 関根 落合 青山 河野 白石 宮田 宮下 三上 西岡 星野 大森 河合 岡村 松永 大竹 榎本 黒川 堀江 山根 坂口 篠田 小沢 相馬 相沢 岸本 須田 稲垣
   小倉 河村 三好 川島 吉岡 大山 井口 飯塚 平川 中尾 村山 高島 藤川 根本 水谷 田島 塚本 杉浦 榊原 米田 長尾 戸田 奥田 東山 北川 竹田 下田 西本 石橋 谷川 南部 甲斐 今野 土井 土田 安部 安達 足立 岩本 岩井 高井
   倉田 亀井 梶原 村井 村松 島田 嶋田 徳永 野中 野崎 野島 古田 古谷 日高 江口 江藤 武藤 武井 二宮 西沢 金井 金沢 手塚 富永 伊東 伊達 宇野 矢島 矢口 生田 角田 沼田 有馬 有田 前川 前原 町田 笠原 笠井 細川
   細田 丹羽 吉野 吉本 吉原 本多 岡部 岡野 松浦 松崎 竹中 竹下 藤岡 藤沢 藤野 大村 大田 大木 大内 大場 宮川 宮沢 宮澤 宮原 宮内 浅井 浅田 浅川 浅見 平山 平松 平岡 内山 内海 長田 長野 長島 長沢 永山 永島 青柳
   鎌田 福岡 福山 福原 柳田 柳沢 菊川 植木 植村 堀川 高瀬 高松 高見 北野 北原 石黒 石塚 黒木 黒沢 緒方 畠山 志村 志賀 庄司 小泉 小柳 小嶋 小室 小野 三木 三原 三谷 三輪 八木 五島 千田 宇田 比嘉 金城 大城 宮城
   新垣 玉城 上原 島袋 平良 山城 知念 仲村 奥山 奥野 岩瀬 岩間 岩下 稲葉 稲田 豊田 曽根 桐山 瀬戸 滝沢 瀧本 若林 若松 星川 染谷 横井 横尾 関谷 飛田 鳥居 鶴田 鷲尾 赤松 赤坂 白井 白川 青野 茂木 辻村 谷本
   谷村 川原 川西 川端 川本 川瀬 河原 河田 河本 今田 今西 中原 中谷 中沢 中澤 中本 中嶋 仲田 上杉 下村 下山 木内 木原 木田 本橋 本山 森山 森岡 森川 杉田 杉原 松山 桜田 梅本 梅原 柏木 柏原 栗田 根岸 桑田 楠本 榎田`
    .trim()
    .split(/\s+/),
);
/** Japanese families of three signs and more. */
const JAPANESE_LONGER = new Set(
  `佐々木 長谷川 五十嵐 大久保 久保田 佐久間 小笠原 宇佐美 日比野 小野寺 小早川 曽我部 波多野 長谷部 小田切 小野田 御手洗 阿久津 海老原 加賀美 加賀谷 我妻 大和田 大河原 小田原 小宮山 勅使河原 武者小路 五十川 三田村
   二階堂 八重樫 八木沢 仲宗根 仲村渠 具志堅 我那覇 喜屋武 東恩納 大河内 河原崎 長曽我部 宇都宮 比留間 日下部 西園寺 伊集院 伊地知 冷泉 宝生 神宮寺 鬼頭 海老沢 海老名 東海林 四十万 増渕 山之内 木之下 竹之内 井之上`
    .trim()
    .split(/\s+/)
    .filter((family) => family.length > 2),
);
/** Korean families of two signs; all others have one. */
const KOREAN_PAIRS = new Set('남궁 황보 제갈 사공 선우 서문 독고 동방'.split(' '));
const KOREAN = new Set(
  '김이박최정강조윤장임한오서신권황안송류유전홍고문양손배백허남심노하곽성차주우구민나진지엄채원천방공현함변염여추도소석선설마길연위표명기반왕금옥육인맹제모탁국어은편용예경봉사부가복태목형피두감음빈동온호범좌팽승간상시갈단',
);

/** What stands behind the name of a place, a firm or a school, and never behind a family. */
const NO_GIVEN =
  /^(?:[県縣市町村区區郡府都道州省]|.*(?:商店|商会|工業|建設|製作所|産業|株式会社|会社|公司|集团|集團|学校|學校|病院|医院|大学|大學|银行|銀行))$/u;

/** The longest that the family in front of a name may be, in signs. */
const LONGEST_FAMILY = 4;

/** Signs of the family that is known to stand in front of a name with nothing behind it; 0 where none is known. */
function knownFamilySigns(text: string): number {
  if (HANGUL.test(text)) {
    if (text.length > 2 && KOREAN_PAIRS.has(text.slice(0, 2))) return 2;
    return KOREAN.has(text[0] ?? '') ? 1 : 0;
  }
  for (let n = Math.min(LONGEST_FAMILY, text.length - 1); n > 2; n--)
    if (JAPANESE_LONGER.has(text.slice(0, n))) return n;
  const pair = text.slice(0, 2);
  if (text.length > 2 && (CHINESE_PAIRS.has(pair) || JAPANESE_PAIRS.has(pair))) return 2;
  return ONE_SIGN.has(text[0] ?? '') ? 1 : 0;
}

/** Signs of the family in a name that is written without a blank (two or more signs). */
export function familySigns(text: string): number {
  if (HANGUL.test(text)) return text.length > 2 && KOREAN_PAIRS.has(text.slice(0, 2)) ? 2 : 1;
  if (text.length === 2) return 1;
  const known = knownFamilySigns(text);
  // Four signs are two and two, as mostly in Japan, unless a longer family is known.
  return text.length === 3 ? known || 2 : Math.max(2, known);
}

/** Whether a text is written as a whole name of China, Japan or Korea is, with a family that is known or a blank between. */
export function isEastName(text: string): boolean {
  const [family = '', given, ...more] = text.trim().split(/[\s・]+/u);
  if (more.length) return false;
  if (given !== undefined)
    return (
      (HAN.test(family) &&
        family.length <= LONGEST_FAMILY &&
        /^[\p{Script=Han}々\p{Script=Hiragana}\p{Script=Katakana}]{1,4}$/u.test(given)) ||
      (HANGUL.test(family) &&
        knownFamilySigns(family + given) === family.length &&
        HANGUL.test(given) &&
        given.length <= 3)
    );
  if (HANGUL.test(family)) return family.length > 1 && family.length < 5 && knownFamilySigns(family) > 0;
  const signs = knownFamilySigns(family);
  return (
    signs > 0 &&
    family.length - signs <= 3 &&
    !NO_GIVEN.test(family.slice(signs)) &&
    /^[\p{Script=Han}々ヶ]+[\p{Script=Hiragana}\p{Script=Katakana}]*$/u.test(family) &&
    family.length > 1
  );
}

/** Whether a text is a family name of these and nothing else. */
export function isEastFamily(text: string): boolean {
  const plain = text.trim();
  if (HANGUL.test(plain)) return KOREAN_PAIRS.has(plain) || (plain.length === 1 && KOREAN.has(plain));
  return (
    JAPANESE_LONGER.has(plain) ||
    JAPANESE_PAIRS.has(plain) ||
    CHINESE_PAIRS.has(plain) ||
    (plain.length === 1 && ONE_SIGN.has(plain))
  );
}

/** Whether a name in Han signs is Japanese for sure: by letters of Japan, or a family that is known there alone. */
export function isJapaneseName(text: string): boolean {
  const plain = text.trim();
  if (/[\p{Script=Hiragana}\p{Script=Katakana}々]/u.test(plain)) return true;
  return JAPANESE_PAIRS.has(plain.slice(0, 2)) || JAPANESE_LONGER.has(plain.slice(0, 3));
}
