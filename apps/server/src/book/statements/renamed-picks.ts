import type { Queryable } from '../../db/connect';

/** Asks for everybody to be held against the segments that changed. */
export const askForReview = (client: Queryable) =>
  client.query(`select graphile_worker.add_job('reviewSegments', job_key := 'reviewSegments')`);
