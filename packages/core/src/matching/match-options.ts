import type { MatchGroup, ScoredPair } from './pairs/group';
import type { ComparedField } from './comparing/levels';
import type { MatchModel } from './model/model';

export interface MatchOptions {
  /** Probability from which two records count as one person. */
  threshold01: number;
  /** Lines that a person said are shared, beside those that the data tell. */
  sharedLines?: readonly string[];
  /** Fields that are not compared. */
  ignored?: ComparedField[];
  thresholds?: MatchModel['thresholds'];
  /** What people's decisions add, where they were adopted. */
  corrections?: MatchModel['corrections'];
  /** Groups only records whose names agree, as a batch asks for. */
  onlyAgreeing?: boolean;
  /** Called now and then with the share done; returning false stops the scan. */
  onProgress?: (done01: number) => boolean;
  /** Pairs that a person keeps apart, by their code. */
  keptApart?: ReadonlySet<number>;
  /** A model learned before; without one it is learned from these people. */
  model?: MatchModel;
}

export interface MatchResult {
  model: MatchModel;
  pairs: ScoredPair[];
  groups: MatchGroup[];
  /** People of one home, never to be merged. */
  households: number[][];
  comparedPairs: number;
  stopped: boolean;
}
