export { mailboxKey, preparePerson, organizationWords, usefulPhone, type MatchPerson } from './people/person';
export type { PersonFacts } from './people/person-facts';
export { candidateFacts, FACT_FIELDS, factsOf, keyFactsOf } from './people/record-facts';
export { indexKeys, isSamePhone, keyHash, lineOf, phoneBlock, soundKeys, wholeNameKeys } from './people/keys';
export { keysOfWritings, mayBeOneName } from './people/writings';
export { grown, KeyNumbers } from './people/key-numbers';
export { PeopleStore, type People, type SharedPeople } from './people/people-store';
export { type NameCard } from './comparing/levels';
export { isSlip } from './comparing/text-distance';
export { namesAgree } from './comparing/compare';
export { believedModel, type MatchModel } from './model/model';
export { isUsable, modelFromJson, modelToJson, withoutNames, type MatchModelJson } from './model/model-json';
export {
  correctionBits,
  DECISIONS_NEEDED,
  isEnough,
  learnCorrections,
  type Corrections,
  type Decision,
} from './model/corrections';
export { bitsOfProbability, evidenceBits, rulingOf, scorePair, bandOf, type Band, type PairScore } from './model/score';
export type { MatchOptions, MatchResult } from './match-options';
export { componentsOf } from './pairs/components';
export { pairCode } from './pairs/pair-list';
export { comparisons, groupPeople } from './comparing/sets';
export type { MatchGroup, ScoredPair } from './pairs/group';
export { matchPeople, DEFAULT_THRESHOLDS, histogramOf, type PairHistogram } from './match-people';
export {
  matchTogether,
  memoryOfAnswer,
  ScanHelper,
  type AskHelper,
  type HelperAnswers,
  type HelperTask,
} from './match-together';
export { explainPair, type Reason } from './model/explain';
export { COMPARED, type ComparedField } from './comparing/levels';
export {
  explainOrganizations,
  learnOrganizations,
  matchOrganizations,
  OrganizationBook,
  type MatchOrganization,
  organizationOf,
  type OrganizationModel,
} from './organizations';
