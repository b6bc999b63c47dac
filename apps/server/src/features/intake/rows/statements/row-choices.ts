import type { Queryable } from '../../../../db/connect';

export const intakeToChoose = (client: Queryable, intakeId: number) =>
  client.query<{ import_run: number | null; row_count: number }>(
    'select import_run, row_count from intake where id = $1',
    [intakeId],
  );

export const liveContact = (client: Queryable, contactId: number) =>
  client.query(`select 1 from contact where id = $1 and state = 'live'`, [contactId]);
