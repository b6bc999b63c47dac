export {
  brakeReasons,
  DEFAULT_LIMITS,
  NO_TOTALS,
  wordBrake,
  type BrakeLimits,
  type BrakeReason,
  type PassTotals,
} from './brake';
export { BY_HAND, LISTS, type ByHand, type ListLine } from './kept-lists';
export { chooseHolder, handedTo } from './hand-over';
export { findFights, type Fight } from './fights';
export { LABELS, NAME_FIELDS, sayLine, stagesByLabel, WHOLE_NAME, type SyncDirection, type SyncLine } from './lines';
export {
  NEW_FIELD_TYPES,
  type Capabilities,
  type NewFieldType,
  type NewOutsideField,
  type OutsideField,
  type OutsideFields,
  type OutsideFieldType,
  type OutsideRecord,
  type OutsideValue,
} from './outside';
export { writeOver } from './bulk';
export type { ListMoves, OutsideList, OutsideLists } from './lists-there';
export type { OutsideForm, OutsideForms, OutsideQuestion, OutsideSubmission } from './submissions';
export { confirmation, outsideWrite } from './pair-writes';
export {
  enquiryOfResult,
  entryOfResult,
  fateOf,
  faultOfResult,
  howOfStop,
  RESULT_KINDS,
  resultNumber,
  sayOutcome,
  type OutsidePage,
  type OutsideResult,
  type OutsideStop,
  type ResultFate,
  type ResultKnown,
  type ResultKind,
} from './results';
export { renamedSetup, withFormerLabels, withoutStage, type PickRename } from './renamed-setup';
export { SyncPass } from './pass';
export { ItemShelf, type ItemCodec } from './item-shelf';
export type { PassEnd, PassItem, SyncSetup } from './pass-item';
export type { PassPlan } from './pass-options';
export { isQuiet, planPair, type Base, type PairPlan, type PlannedChange, type PlannedConflict } from './plan-pair';
export {
  ToolTrouble,
  type ApartReason,
  type BulkAnswers,
  type BulkWriter,
  type Changes,
  type Identity,
  type IdentityBand,
  type Intent,
  type Link,
  type LinkState,
  type OurPerson,
  type OutsideWrite,
  type OutsideWritten,
  type PairEvent,
  type PairWrite,
  type SecondTake,
  type SyncStore,
  type Tool,
  type TroubleKind,
  type WriteResult,
} from './ports';
export { itemsOf, outsideField, project, readOutside, SYNCED_TYPES, type Item, type SyncContext } from './project';
export {
  sayApart,
  sayScope,
  takesPart,
  type Scope,
  type ScopeTreatment,
  type ScopeWho,
  type SyncChoice,
  type WhyNot,
} from './scope';
export {
  leftApart,
  removalOf,
  settleLine,
  settleList,
  settleWho,
  standingOf,
  staysInStep,
  type DisputedPair,
  type SettleFault,
  type ValueDecision,
  type WhoDecision,
} from './settle';
export { isMadeField, madeField, madeFieldKey, withMadeFields } from './made-fields';
