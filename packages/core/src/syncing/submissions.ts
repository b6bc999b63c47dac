import type { OutsidePage } from './results';

/** One question of a form over there. */
export interface OutsideQuestion {
  key: string;
  text: string;
  /** All that may be answered, where that is a list. */
  options?: readonly string[];
}

/** A form over there. */
export interface OutsideForm {
  id: string;
  name: string;
  questions: OutsideQuestion[];
}

/** What somebody answered to a form. */
export interface OutsideSubmission {
  /** Its id over there; no other ever has it. */
  id: string;
  /** By the clock over there (ISO 8601, UTC). */
  at: string;
  /** By the keys of its questions, also of those that the form has no more. */
  answers: Record<string, string>;
}

/** The forms of a tool, and what was answered to them: past answers too, the oldest first. */
export interface OutsideForms {
  all(): Promise<OutsideForm[]>;
  submissions(form: string, cursor: string | null): Promise<OutsidePage<OutsideSubmission>>;
}
