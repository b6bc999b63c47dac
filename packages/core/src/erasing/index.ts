export { identityForms, blockedBy, type IdentityForm, type Identified } from './identity-forms';
export { asMerged, ERASED, erasedChanges, erasingOperations, namesEver } from './erase';
