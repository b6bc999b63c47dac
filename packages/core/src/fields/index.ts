export { foldText, foldWords, tidyText } from './fold';
export { parseEmail, emailKey, isRoleMailbox, type EmailAddress, type EmailFault } from './email';
export { parsePhone, formatPhone, phoneKey, isLossyPhone, type PhoneNumber } from './phone';
export { findCountry, countryName } from './country';
export { parseDate, guessDateOrder, isPlaceholderDate, type DateOrder, type DateOrderGuess } from './date';
export {
  parseYesNo,
  parseNumber,
  guessDecimalMark,
  isFormulaLike,
  isPlaceholderText,
  parseUrl,
  type DecimalMark,
} from './scalar';
export { streetKey, postalKey, localityKey, formatAddress, isEmptyAddress } from './address';
export {
  GENERATIONS,
  PARTICLES,
  PREFIXES,
  SUFFIXES,
  areNicknames,
  isKnownGivenName,
  nicknameGroups,
  nicknamesOf,
} from './name-tables';
export { splitName, joinName, repairCase, type NameSplit, type PersonName } from './person-name';
export {
  Catalogue,
  CUSTOM_PREFIX,
  LONG_TEXT_LIMIT,
  STANDARD_FIELDS,
  TEXT_LIMIT,
  type FieldDefinition,
  type FieldGroup,
  type FieldType,
} from './catalogue';
export { summarise, displayNameOf, normOf, shownPhone, type ContactSummary } from './summary';
