import { eq } from 'drizzle-orm';
import type { AccountRole, RemitTrial } from '@gray-loom/wire';
import type { RemitParts } from '../../db/actor';
import type { Database, Tx } from '../../db/connect';
import { accountRemit } from '../../db/schema';
import { countLivePeople } from '../../book/statements/contact-records';
import { dropRemitTallies, recountRemits } from '../../book/statements/remits';
import { refuse } from './refusals';
import { namesInUse, peopleWithin } from './statements/remits';

const WORDS: Record<keyof RemitParts, string> = { owners: 'owner', sources: 'source', tags: 'tag', areas: 'area' };
const KINDS = Object.keys(WORDS) as (keyof RemitParts)[];

/** Refuses a remit that names what is not there, or that somebody gets who manages the workspace. The account's own name counts as there. */
export async function requireRemit(
  tx: Tx,
  role: AccountRole,
  remit: RemitParts | null,
  ownName: string,
): Promise<void> {
  if (!remit) return;
  if (role === 'administrator') throw refuse.administratorSeesAll({ field: 'remit' });
  const { rows } = await namesInUse(tx.client);
  const here = rows[0];
  for (const kind of KINDS)
    for (const name of remit[kind])
      if (!here?.[kind].includes(name) && !(kind === 'owners' && name === ownName))
        throw refuse.noSuchPart({ field: 'remit', kind: WORDS[kind], name });
}

/** Keeps which part of the book an account sees; what it has open is another book from its next request on. */
export async function saveRemit(tx: Tx, accountId: number, remit: RemitParts | null): Promise<void> {
  if (!remit) {
    await tx.db.delete(accountRemit).where(eq(accountRemit.accountId, accountId));
    await dropRemitTallies(tx.client, accountId);
  } else {
    await tx.db
      .insert(accountRemit)
      .values({ accountId, ...remit })
      .onConflictDoUpdate({ target: accountRemit.accountId, set: { ...remit, changedAt: new Date() } });
    await recountRemits(tx.client, [accountId]);
  }
}

/** How many people are in a remit, of how many; null is everybody. */
export async function tryRemit({ pool }: Pick<Database, 'pool'>, remit: RemitParts | null): Promise<RemitTrial> {
  const of = (await countLivePeople(pool)).rows[0]?.n ?? 0;
  return { of, within: remit ? ((await peopleWithin(pool, remit)).rows[0]?.n ?? 0) : of };
}
