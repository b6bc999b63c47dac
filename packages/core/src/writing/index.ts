export { type Candidate, type CandidateValue } from './candidate';
export { contentKey, addressesAgree } from './content-key';
export { planWrite, recordFrom, WRITE_RULES, type Stamp, type WritePlan, type WriteRule } from './plan-write';
export { CHANNELS, permissionState, strictest, type Channel, type Evidence, type PermissionState } from './permission';
export { planBatch, type BatchChange, type BatchPlan, type BatchRefusal } from './batch-change';
