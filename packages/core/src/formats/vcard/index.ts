export {
  CardSplitter,
  type CutCard,
  looksLikeCards,
  readCardText,
  writeCardText,
  type CardProperty,
  type CardText,
} from './card-text';
export { cardsOfJson } from './json-cards';
export { readCard, type CardPicture } from './read-card';
export { CardTable, type CardColumn } from './card-table';
export { writeCard } from './write-card';
export { CardEdit } from './card-edit';
export { labelOf, typesFor, withGroupLabels } from './card-labels';
export { cutWritten, lineText, withoutParams, written, writtenLike } from './card-lines';
export {
  ADR,
  addressLines,
  dateText,
  firstText as firstOfProperty,
  NAME_PARTS,
  partsOf,
  phoneText,
} from './card-values';
