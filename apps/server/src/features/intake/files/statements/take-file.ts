import type { Queryable } from '../../../../db/connect';

export const insertIntake = (client: Queryable, name: string, accountId: number | null) =>
  client.query<{ id: number }>(
    `insert into intake (name, bytes, state, shape, guesses, mapping, issues, row_count, actor_id)
         values ($1, 0, 'read', '{}', '[]', '{}', '[]', 0, $2) returning id`,
    [name, accountId],
  );

export const firstPiece = (client: Queryable, intakeId: number) =>
  client.query<{ bytes: Buffer }>('select bytes from file_chunk where intake_id = $1 and seq = 0', [intakeId]);
