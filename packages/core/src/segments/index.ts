export { looksAt, movesByItself, predicateOf, type Predicate } from './predicate';
export { dateTest, dayFrom, dayOf, movesWithDays, type DateTest, type DayRange } from './days';
export { dayOfMs, findFragments, keysOfField, meets, NOTHING_ELSE, type ActivityFact, type Subject } from './evaluate';
export { ADDRESS_PARTS, factLabel, factsJson, factsOf, factText, LABELLED, textsOfFact, type Facts } from './facts';
export { findsNearly, fragmentsWithRoom, matchOf, type Match } from './finding';
export { checkFields, retiredIn, sayConditionFault, testsOf } from './fields';
export {
  allOf,
  blanksOf,
  EVERYBODY,
  isBlank,
  isGroup,
  isOneOf,
  MOST_CHARACTERS,
  readCondition,
  readConditionText,
  renamedCondition,
  SENT,
  SUBJECTS,
  testsIn,
  withAnswers,
  withTests,
  type ActivitySpan,
  type Condition,
  type ConditionFault,
  type DayBound,
  type DaySpan,
  type Group,
  type NumberSpan,
  type SubjectKey,
  type Test,
  type TestOp,
  type TestValue,
} from './tree';
export { nameOfField, sayCondition, sayDay, sayTest, type Names } from './words';
