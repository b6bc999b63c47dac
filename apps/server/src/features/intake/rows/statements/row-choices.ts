import type { Queryable } from '../../../../db/connect';

export const intakeToChoose = (client: Queryable, intakeId: number) =>
  client.query<{ import_run: number | null; row_count: number }>(
    'select import_run, row_count from intake where id = $1',
    [intakeId],
  );

/** A contact that a row can go to: one that is here, or, to be brought back, one that was deleted. */
export const contactToChoose = (client: Queryable, contactId: number, back: boolean) =>
  client.query(`select 1 from contact where id = $1 and (state = 'live' or ($2 and state = 'deleted'))`, [
    contactId,
    back,
  ]);
