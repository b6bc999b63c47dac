export { lateStops, sayLate } from './late-stops';
