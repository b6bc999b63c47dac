export { nearMisses, type NearMiss } from './near-misses';
