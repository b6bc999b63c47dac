export { mailboxKey, preparePerson, organizationWords, usefulPhone, type MatchPerson } from './person';
export type { PersonFacts } from './person-facts';
export { candidateFacts, FACT_FIELDS, factsOf, keyFactsOf } from './record-facts';
export { indexKeys, isSamePhone, keyHash, lineOf, phoneBlock, soundKeys, wholeNameKeys } from './keys';
export { grown, KeyNumbers } from './key-numbers';
export { PeopleStore, type People, type SharedPeople } from './people-store';
export { type NameCard } from './levels';
export { namesAgree } from './compare';
export { believedModel, type MatchModel } from './model';
export { isUsable, modelFromJson, modelToJson, type MatchModelJson } from './model-json';
export {
  correctionBits,
  DECISIONS_NEEDED,
  isEnough,
  learnCorrections,
  type Corrections,
  type Decision,
} from './corrections';
export { bitsOfProbability, evidenceBits, rulingOf, scorePair, bandOf, type Band, type PairScore } from './score';
export type { MatchOptions, MatchResult } from './match-options';
export { pairCode } from './pair-list';
export { comparisons, groupPeople } from './sets';
export type { MatchGroup, ScoredPair } from './group';
export { matchPeople, DEFAULT_THRESHOLDS, histogramOf, type PairHistogram } from './match-people';
export {
  matchTogether,
  memoryOfAnswer,
  ScanHelper,
  type AskHelper,
  type HelperAnswers,
  type HelperTask,
} from './match-together';
export { explainPair, type Reason } from './explain';
export { COMPARED, type ComparedField } from './levels';
export {
  explainOrganizations,
  learnOrganizations,
  matchOrganizations,
  OrganizationBook,
  type MatchOrganization,
  organizationOf,
  type OrganizationModel,
} from './organizations';
