export { handOverAll } from './hand-over';
