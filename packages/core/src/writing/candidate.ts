import type { ValueContent } from '../model';

/** A value that some way in offers for a contact, not yet anybody's. */
export interface CandidateValue {
  v: ValueContent;
  norm?: string;
  label?: string;
  atMs?: number;
}

/** What one row, form or message says about a person, by field key. */
export type Candidate = Record<string, CandidateValue[]>;
