export { awaitedLater } from './awaited-later';
export { wordTable } from './word-table';
export { ok, err, type Result } from './result';
export {
  KIND,
  ALSO_PREFIX,
  LIFECYCLE,
  emptyRecord,
  firstText,
  firstValue,
  isAddress,
  isMoney,
  isRange,
  isRelation,
  kindOf,
  lifecycleOf,
  sameContent,
  valuesOf,
  type AddressValue,
  type ContactRecord,
  type LifecycleValue,
  type MoneyValue,
  type RangeValue,
  type ContactKind,
  type RecordKind,
  type RelationValue,
  type Value,
  type ValueContent,
} from './value';
export {
  applyOperations,
  creationOf,
  invertOperations,
  operationHolds,
  undoWherePossible,
  withoutUndone,
  type HistoryStep,
  type Operation,
  type OperationConflict,
  type UndoOutcome,
} from './operation';
export { holdsRow, type Issue, type IssueCode, type IssuePath } from './issue';
export { wordIssue, type IssueNext } from './word-issue';
