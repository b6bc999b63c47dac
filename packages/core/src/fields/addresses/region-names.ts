import { foldText } from '../values/fold';

/** Regions that stand on a line of their own, or behind the town, in addresses: of Britain and Ireland, North America, Australia. */
const NAMES = `
avon|bedfordshire|berkshire|buckinghamshire|cambridgeshire|cheshire|cleveland|cornwall|county durham|cumbria|cumberland|derbyshire
devon|dorset|durham|east sussex|east yorkshire|essex|gloucestershire|greater london|greater manchester|hampshire|herefordshire
hertfordshire|huntingdonshire|isle of wight|kent|lancashire|leicestershire|lincolnshire|merseyside|middlesex|norfolk
north yorkshire|northamptonshire|northumberland|nottinghamshire|oxfordshire|rutland|shropshire|somerset|south yorkshire
staffordshire|suffolk|surrey|sussex|tyne and wear|warwickshire|west midlands|west sussex|west yorkshire|westmorland|wiltshire
worcestershire|yorkshire|beds|berks|bucks|cambs|derbys|glos|hants|herts|lancs|leics|lincs|northants|notts|oxon|staffs|wilts|worcs
aberdeenshire|angus|argyll|ayrshire|banffshire|caithness|clackmannanshire|dumfriesshire|dunbartonshire|east lothian|fife
inverness-shire|kincardineshire|kinross|kirkcudbrightshire|lanarkshire|midlothian|moray|nairnshire|orkney|perthshire|renfrewshire
ross-shire|roxburghshire|selkirkshire|shetland|stirlingshire|sutherland|west lothian|wigtownshire
anglesey|clwyd|carmarthenshire|ceredigion|conwy|denbighshire|dyfed|flintshire|glamorgan|gwent|gwynedd|mid glamorgan|monmouthshire
pembrokeshire|powys|south glamorgan|west glamorgan|antrim|armagh|co antrim|co armagh|co down|co fermanagh|co londonderry|co tyrone
county antrim|county armagh|county down|county fermanagh|county londonderry|county tyrone|fermanagh|londonderry|tyrone
co carlow|co cavan|co clare|co cork|co donegal|co dublin|co galway|co kerry|co kildare|co kilkenny|co laois|co leitrim|co limerick
co longford|co louth|co mayo|co meath|co monaghan|co offaly|co roscommon|co sligo|co tipperary|co waterford|co westmeath
co wexford|co wicklow|county clare|county cork|county donegal|county dublin|county galway|county kerry|county kildare
county kilkenny|county limerick|county mayo|county meath|county sligo|county tipperary|county waterford|county wexford|county wicklow
alabama|alaska|arizona|arkansas|california|colorado|connecticut|delaware|florida|georgia|hawaii|idaho|illinois|indiana|iowa|kansas
kentucky|louisiana|maine|maryland|massachusetts|michigan|minnesota|mississippi|missouri|montana|nebraska|nevada|new hampshire
new jersey|new mexico|new york|north carolina|north dakota|ohio|oklahoma|oregon|pennsylvania|rhode island|south carolina
south dakota|tennessee|texas|utah|vermont|virginia|washington|west virginia|wisconsin|wyoming|district of columbia
alberta|british columbia|manitoba|new brunswick|newfoundland and labrador|newfoundland|northwest territories|nova scotia|nunavut
ontario|prince edward island|quebec|saskatchewan|yukon
new south wales|northern territory|queensland|south australia|tasmania|victoria|western australia|australian capital territory
`;

const REGIONS: ReadonlySet<string> = new Set(NAMES.trim().split(/[|\n]/).map(foldText));

/** Whether a line of an address is a region alone, by its name or by the letters of a state. */
export function isRegionName(text: string): boolean {
  return /^[A-Z]{2,3}$/.test(text) || REGIONS.has(foldText(text));
}

/** A town and the region behind it, as in "Portland, Oregon" or "Portland Oregon"; null where there is none. */
export function regionBehind(text: string): { locality: string; region: string } | null {
  const words = text.split(/[,\s]+/);
  for (let n = 1; n <= 3 && n < words.length; n++) {
    const region = words.slice(-n).join(' ');
    if (!REGIONS.has(foldText(region))) continue;
    const cut = text.lastIndexOf(words.at(-n) ?? '');
    const locality = text.slice(0, cut).replace(/[,\s]+$/, '');
    // "New York" and "West Virginia" are names of their own.
    if (locality && !/^(?:new|west|south|north)$/i.test(words.at(-n - 1) ?? ''))
      return { locality, region: text.slice(cut) };
  }
  return null;
}
