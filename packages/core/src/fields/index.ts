export { isEastFamily, isEastName, isJapaneseName } from './east-names';
export { foldText, foldWords, tidyText } from './fold';
export {
  meantEmail,
  parseEmail,
  emailKey,
  mailboxesIn,
  nameBeside,
  isRoleMailbox,
  type EmailAddress,
  type EmailFault,
} from './email';
export {
  countryOfPhone,
  isPhoneOf,
  parsePhone,
  phonesIn,
  formatPhone,
  phoneKey,
  isLossyPhone,
  type PhoneNumber,
} from './phone';
export { findCountry, countryName, countryCodes, currencyOf } from './country';
export { parseDate, guessDateOrder, isPlaceholderDate, isZeroDate, type DateOrder, type DateOrderGuess } from './date';
export {
  parseYesNo,
  parseNumber,
  guessDecimalMark,
  isFormulaLike,
  isPlaceholderName,
  isPlaceholderText,
  currencyIn,
  parseMoney,
  parseRange,
  parseUrl,
  type DecimalMark,
} from './scalar';
export { guardCell, guardText, unguardText } from './sheet-guard';
export { addressLines, streetKey, postalKey, localityKey, formatAddress, isEmptyAddress } from './address';
export { addressParts, isLikelyPostalCode, zerosAreKept, type AddressPart } from './address-form';
export { isWholeAddress, parseAddress } from './whole-address';
export { parseTownLine } from './town-line';
export { areaOf, areaOfRecord, type Area, type AreaRule } from './area';
export { householdLine, householdName, letterLine, salutation } from './letter-line';
export { inverseRelation, isCouple, RELATIONS } from './relation';
export { showValue, typeValue } from './show-value';
export { GENERATIONS, PARTICLES, PREFIXES, SUFFIXES } from './name-tables';
export { areNicknames, isFormalName, isKnownGivenName, nicknameGroups, nicknamesOf } from './nicknames';
export { letterTitlesIn } from './letter-titles';
export { electOrder, nameVotes, repairCase, type NameOrder, type NameVotes } from './name-order';
export { isGivenName } from './given-names';
export { isFirm, isReportLine, splitName, joinName, type NameSplit, type PersonName } from './person-name';
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
  summarise,
  summaryOfName,
  WORTH_HAVING,
  displayNameOf,
  normOf,
  shownPhone,
  type ContactSummary,
} from './summary';
export { repairMojibake } from './mojibake';
export { namesOfTwo, twoGivenNames, twoTitles } from './two-people';
export { mendLetters } from './broken-letters';
