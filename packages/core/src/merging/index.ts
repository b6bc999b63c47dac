export { planMerge, type MergeInput, type MergePlan } from './plan-merge';
export { type MergeMember, type MergeRow, type RowKind } from './merge-fields';
export { isLengthy, NEWEST_ALWAYS, SURVIVOR_RULES, type MergeRules, type SurvivorRule } from './merge-fields';
export { type ShareOf } from './spelling';
