export { planMerge, type MergeInput, type MergePlan } from './plan-merge';
export { ALSO_PREFIX, type MergeMember, type MergeRow, type RowKind } from './merge-fields';
