export { sniffEncoding, type TextEncoding } from './sniff-bytes';
export { DelimitedReader, type DelimitedOptions, type DelimitedRecord, type StrayQuote } from './delimited-reader';
export { labelWord, ofFamily, readHeader, saysNameOrder, type HeaderReading } from './header-words';
export { headingAt } from './heading-rows';
export { ENCODINGS } from './guess-encoding';
export { openDecoder } from './text-decoder';
export { TableReader } from './table-reader';
export { sniffDelimited, type DelimitedShape, type DelimitedSniff } from './sniff-delimited';
export {
  type CardColumn,
  CardSplitter,
  type CutCard,
  cardsOfJson,
  looksLikeCards,
  readCard,
  writeCard,
  CardTable,
  type CardPicture,
  readCardText,
  writeCardText,
  type CardProperty,
  type CardText,
  ADR,
  addressOfParts,
  byPreference,
  CARD_FIELDS,
  type CardField,
  CardEdit,
  cutWritten,
  firstOfProperty,
  genderParts,
  isKnownProperty,
  lineText,
  NAME_PARTS,
  partsOf,
  plainText,
  saidBy,
  typesFor,
  withGroupLabels,
  withoutParams,
  written,
  writtenLike,
} from './vcard';
export {
  LABEL_MARK,
  looksLikeMessage,
  messageRow,
  messageTable,
  type MailedPerson,
  type MessageParts,
} from './message';
export {
  isOtherXml,
  readJsonObjects,
  rowsOfAligned,
  rowsOfRuled,
  tableOfBlocks,
  tableOfLabelled,
  tableOfMailboxes,
  tableOfObjects,
  TEXT_KIND_NAMES,
  textKind,
  type JsonObject,
  type MadeOf,
  type TextKind,
} from './records';
export { sheetCellText, trimSheet, type SheetCell } from './sheet-text';
export { writeDelimitedLine, writeRawLine } from './write-delimited';
export { activityKindIn, activityRoles, type ActivityRole } from './activity-words';
export { opportunityHeading, type OpportunityReading, type OpportunityRole } from './opportunity-words';
