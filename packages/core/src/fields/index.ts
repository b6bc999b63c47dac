export { isEastFamily, isEastName, isJapaneseName } from './names/east-names';
export { foldText, foldWords, tidyText } from './values/fold';
export {
  meantEmail,
  parseEmail,
  emailKey,
  mailboxesIn,
  nameBeside,
  isRoleMailbox,
  type EmailAddress,
  type EmailFault,
} from './values/email';
export {
  countryOfPhone,
  isPhoneOf,
  parsePhone,
  phonesIn,
  formatPhone,
  phoneKey,
  isLossyPhone,
  type PhoneNumber,
} from './phones/phone';
export { findCountry, countryName, countryCodes, currencyOf } from './addresses/country';
export {
  parseDate,
  guessDateOrder,
  isPlaceholderDate,
  isZeroDate,
  type DateOrder,
  type DateOrderGuess,
} from './values/date';
export {
  parseYesNo,
  parseNumber,
  guessDecimalMark,
  isFormulaLike,
  isNobodysName,
  isPlaceholderName,
  isPlaceholderText,
  currencyIn,
  parseMoney,
  sumMoney,
  parseRange,
  parseUrl,
  type DecimalMark,
} from './values/scalar';
export { guardCell, guardText, unguardText } from './values/sheet-guard';
export { addressLines, streetKey, postalKey, localityKey, formatAddress, isEmptyAddress } from './addresses/address';
export { addressParts, isLikelyPostalCode, zerosAreKept, type AddressPart } from './addresses/address-form';
export { isWholeAddress, parseAddress } from './addresses/whole-address';
export { parseTownLine } from './addresses/town-line';
export { areaOf, areaOfRecord, type Area, type AreaRule } from './addresses/area';
export { householdLine, householdName, letterLine, partnerByName, salutation } from './names/letter-line';
export { inverseRelation, isCouple, RELATIONS } from './relation';
export { showValue, typeValue } from './show-value';
export { GENERATIONS, PARTICLES, PREFIXES, SUFFIXES } from './names/name-tables';
export { areNicknames, isFormalName, isKnownGivenName, nicknameGroups, nicknamesOf } from './names/nicknames';
export { letterTitlesIn } from './names/letter-titles';
export { electOrder, nameVotes, repairCase, type NameOrder, type NameVotes } from './names/name-order';
export { isGivenName } from './names/given-names';
export { isFirm, isReportLine, splitName, joinName, type NameSplit, type PersonName } from './names/person-name';
export {
  Catalogue,
  CUSTOM_PREFIX,
  CUSTOM_TYPES,
  LONG_TEXT_LIMIT,
  OPPORTUNITY_FIELDS,
  STANDARD_FIELDS,
  TEXT_LIMIT,
  TYPE_NAMES,
  UNIQUE_TYPES,
  type FieldDefinition,
  type FieldGroup,
  type FieldRule,
  type FieldType,
  type UniqueRule,
} from './catalogue';
export { outcomeOf, type Pipeline, type PipelineStage, type StageOutcome } from './opportunity';
export {
  countedOf,
  foundIn,
  foundInAddress,
  summarise,
  summaryOfName,
  displayNameOf,
  normOf,
  shownPhone,
  type ContactSummary,
} from './summary';
export { repairMojibake } from './values/mojibake';
export { isOfSeveral, namesOfTwo, twoGivenNames, twoTitles } from './names/two-people';
export { mendLetters } from './values/broken-letters';
export {
  completenessOf,
  EQUAL_WEIGHTS,
  faultOfWeights,
  missingOf,
  MOST_WEIGHT,
  PERSON_FIELDS,
  WORTH_HAVING,
  type Weights,
} from './completeness';
