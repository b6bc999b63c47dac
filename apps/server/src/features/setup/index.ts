export { handOverAll } from './hand-over';
export { canGive, startGiving } from './start-giving';
