import type { Queryable } from '../../../db/connect';

export const dontWaitForDisk = (client: Queryable) => client.query('set local synchronous_commit = off');
