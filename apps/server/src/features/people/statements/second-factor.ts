import type { Queryable } from '../../../db/connect';

/** Keeps the step whose code is used now; no row where that code, or a later one, was used before. */
export const keepStep = (client: Queryable, accountId: number, step: number) =>
  client.query('update account set totp_step = $2 where id = $1 and (totp_step is null or totp_step < $2)', [
    accountId,
    step,
  ]);

/** Takes a recovery code away; no row where there is no such code. */
export const takeRecoveryHash = (client: Queryable, accountId: number, hash: string) =>
  client.query(
    'update account set recovery_hashes = array_remove(recovery_hashes, $2) where id = $1 and $2 = any(recovery_hashes)',
    [accountId, hash],
  );
