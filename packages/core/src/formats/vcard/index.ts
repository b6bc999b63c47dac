export {
  CardSplitter,
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
