export { CardSplitter, looksLikeCards } from './card-text';
export { readCard, type CardPicture } from './read-card';
export { CardTable } from './card-table';
export { writeCard } from './write-card';
