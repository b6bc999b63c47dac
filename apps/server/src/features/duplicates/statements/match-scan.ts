import type { Queryable } from '../../../db/connect';

export const openScan = (client: Queryable) =>
  client.query(
    `select 1 from run where kind = 'scan' and not detail ? 'ofRun' and state in ('queued', 'running') limit 1`,
  );
