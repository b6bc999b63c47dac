export { byWeek } from './by-week';
export { householdOf, householdsOf, lineOfHousehold, livingTogether } from './households';
export { currentModel, findCandidates, modelOfVersion } from './match-groups';
export { forgetOrganizations, likelyOrganizations } from './match-organizations';
export { matchSettings, readSetting } from './match-settings';
