export { callTheseNext } from './call-next';
export { troubled } from './trouble';
export { lateStops, sayLate } from './late-stops';
