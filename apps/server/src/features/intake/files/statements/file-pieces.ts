import type { Queryable } from '../../../../db/connect';

export const pieceOfFile = (client: Queryable, intakeId: number, seq: number) =>
  client.query<{ bytes: Buffer }>('select bytes from file_chunk where intake_id = $1 and seq = $2', [intakeId, seq]);

export const insertPiece = (client: Queryable, intakeId: number, seq: number, bytes: Buffer<ArrayBuffer>) =>
  client.query('insert into file_chunk (intake_id, seq, bytes) values ($1, $2, $3)', [intakeId, seq, bytes]);
