export { nearMisses, slips, type NearMiss } from './near-misses';
