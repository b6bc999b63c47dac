import type { Queryable } from '../../db/connect';

/** More of them are only counted. */
const MOST_KEPT = 1000;

/** Notes what a run left as it was, and why. */
export const appendLeft = (client: Queryable, runId: number, left: readonly LeftNote[]) =>
  client.query(
    `update run set detail = jsonb_set(detail, '{left}', coalesce(detail->'left', '[]'::jsonb) || $2::jsonb)
     where id = $1 and coalesce(jsonb_array_length(detail->'left'), 0) < ${MOST_KEPT}`,
    [runId, JSON.stringify(left)],
  );

/** Why a group was not merged although it was certain when the batch began. */
export type GroupLeft = 'decided' | 'gone' | 'lessCertain' | 'recordGone' | 'keptApart' | 'recordsChanged';

/** What a run left: a contact with values that were changed since, or a group. */
export type LeftNote = { contactId: number; values: number } | { groupId: number; why: GroupLeft };
