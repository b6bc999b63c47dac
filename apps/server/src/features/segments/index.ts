export { keepImportSegment } from './segments';
export { reviewSegments } from './review-segments';
