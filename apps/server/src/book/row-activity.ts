import type { Activity } from '@gray-loom/core/activity';

/** Something that happened, as a row tells it. */
export interface ToldActivity {
  activity: Activity;
  /** Which occurrence of the same content it is, of its contact in the file; from 1. */
  nth: number;
}

/** The same with its contact; in a trial a contact that is new has no id yet. */
export interface RowActivity extends ToldActivity {
  row: number;
  contactId: number | null;
  /** First row of the contact in this file. */
  contactRow: number;
}
