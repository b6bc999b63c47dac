export {
  CardSplitter,
  type CutCard,
  looksLikeCards,
  readCardText,
  writeCardText,
  type CardProperty,
  type CardText,
} from './card-text';
export { addressOfParts, CARD_FIELDS, genderParts, isKnownProperty, saidBy, type CardField } from './card-properties';
export { cardsOfJson } from './json-cards';
export { readCard, type CardPicture } from './read-card';
export { CardTable, type CardColumn } from './card-table';
export { writeCard } from './write-card';
export { CardEdit } from './card-edit';
export { byPreference, typesFor, withGroupLabels } from './card-labels';
export { cutWritten, lineText, plainText, withoutParams, written, writtenLike } from './card-lines';
export { ADR, firstText as firstOfProperty, NAME_PARTS, partsOf } from './card-values';
