import { createHash } from 'node:crypto';
import type { Database } from '../../db/connect';
import { refuse } from './refusals';
import { countTries, forgetOldTries, forgetTries, knowAddress } from './statements/sign-in-tries';

/** Tries in five minutes: of one account from one address, from one address in all, of one account in all. */
const LIMITS = { both: 10, address: 60, account: 100 } as const;

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');

function keysOf(email: string, address: string): Record<keyof typeof LIMITS, string> {
  const account = email.toLowerCase();
  return { both: hashOf(`${account} ${address}`), address: hashOf(address), account: hashOf(account) };
}

/**
 * Counts a try to sign in before its password is looked at, so that many at once are counted as many. Whoever has signed in to
 * an account from an address before is not kept out of it by tries from elsewhere. Errors: too many tries.
 */
export async function countTry({ pool }: Database, email: string, address: string): Promise<void> {
  const keys = keysOf(email, address);
  const { rows } = await countTries(pool, Object.keys(keys), Object.values(keys), keys.both);
  const isOver = (kind: keyof typeof LIMITS) => {
    const row = rows.find((one) => one.kind === kind);
    return row !== undefined && row.count > LIMITS[kind] && !(kind === 'account' && row.known);
  };
  if (isOver('both') || isOver('address') || isOver('account')) throw refuse.tooManyTries();
}

/**
 * After the right password: what was tried wrongly before is forgotten, and the address is known. A right try counts for nobody: a whole
 * office may sign in from one address.
 */
export async function forgetTry({ pool }: Database, email: string, address: string): Promise<void> {
  const { both, ...others } = keysOf(email, address);
  await forgetTries(pool, both, Object.values(others));
  await knowAddress(pool, both);
  await forgetOldTries(pool);
}
