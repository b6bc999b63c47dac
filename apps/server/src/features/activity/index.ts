export { handOpenOf, handOpenWith } from './hand-along';
export { planActivities, writeActivities } from './import-activities';
