import { type RowOutcome } from '../../../db/schema';
import type { Queryable } from '../../../db/connect';

export const settledRows = (client: Queryable, runId: number, first: number, last: number) =>
  client.query<{ row: number; outcome: RowOutcome; contact_id: number | null }>(
    'select row, outcome, contact_id from import_row where run_id = $1 and row between $2 and $3',
    [runId, first, last],
  );
