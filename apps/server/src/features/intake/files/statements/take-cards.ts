import type { Queryable } from '../../../../db/connect';

export const countPieces = (client: Queryable, intakeId: number) =>
  client.query<{ n: number }>('select count(*)::int as n from file_chunk where intake_id = $1', [intakeId]);

export const deletePiecesBefore = (client: Queryable, intakeId: number, first: number) =>
  client.query('delete from file_chunk where intake_id = $1 and seq < $2', [intakeId, first]);

export const renumberPieces = (client: Queryable, intakeId: number, first: number) =>
  client.query('update file_chunk set seq = seq - $2 where intake_id = $1', [intakeId, first]);
