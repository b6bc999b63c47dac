import { type Issue } from '@gray-loom/core/model';
import { type RowOutcome } from '../../../../db/schema';
import type { Queryable } from '../../../../db/connect';

export const rowsWithOutcome = (client: Queryable, runId: number, first: number, last: number) =>
  client.query<{ row: number; outcome: RowOutcome; issues: Issue[] | null; settled: string | null }>(
    'select row, outcome, issues, settled from import_row where run_id = $1 and row between $2 and $3',
    [runId, first, last],
  );
