export { handOpenOf, handOpenWith } from './hand-along';
export { saveTouchSettings } from './keeping-in-touch';
export { planActivities, writeActivities, type ActivityCounts } from './import-activities';
