export { keepImportSegment } from './segments';
