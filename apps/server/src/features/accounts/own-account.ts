import { eq } from 'drizzle-orm';
import type { Handed, OwnAccountChange, PasswordChange, SecondFactor } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { account } from '../../db/schema';
import { tell } from '../../feed/events';
import { hashPassword, newRecoveryCodes, newSecret, passwordFits, sealSecret, stepOf } from '../people';
import { renameOwner } from './accounts';
import { requireFreeName } from './invitations';
import { refuse } from './refusals';
import { endSessions, lockAccounts, pictureHere } from './statements/accounts';

type AccountRow = typeof account.$inferSelect;

async function requireOwn({ db }: Pick<Tx, 'db'>, id: number): Promise<AccountRow> {
  const [found] = await db.select().from(account).where(eq(account.id, id));
  if (!found) throw refuse.noSuchAccount();
  return found;
}

async function requirePassword(own: AccountRow, password: string, field: 'current' | 'password'): Promise<void> {
  if (!(await passwordFits(own.passwordHash, password))) throw refuse.wrongPassword({ field });
}

/** Another name or picture of one's own. A new name reaches the contacts one owns, as a run. */
export async function changeOwn(database: Database, id: number, { name, picture }: OwnAccountChange): Promise<Handed> {
  return inTransaction(database, async (tx) => {
    await lockAccounts(tx.client);
    const own = await requireOwn(tx, id);
    if (name && name !== own.name) await requireFreeName(tx, name, id);
    if (picture && !(await pictureHere(tx.client, picture)).rowCount) throw refuse.noPicture({ field: 'picture' });
    await tx.db
      .update(account)
      .set({ name: name ?? own.name, ...(picture === undefined ? {} : { picture }) })
      .where(eq(account.id, id));
    await tell(tx.client, { topic: 'setup' });
    return name && name !== own.name ? renameOwner(tx, own.name, name) : { runId: null, finished: true };
  });
}

/** A new password, by the one there is; all other sessions end. */
export async function changePassword(
  database: Database,
  { id, sessionId }: { id: number; sessionId: number },
  { current, next }: PasswordChange,
): Promise<void> {
  await requirePassword(await requireOwn(database, id), current, 'current');
  const passwordHash = await hashPassword(next);
  await inTransaction(database, async (tx) => {
    await tx.db.update(account).set({ passwordHash }).where(eq(account.id, id));
    await endSessions(tx.client, id, sessionId);
  });
}

/** Begins a second factor; nothing is kept until a code of it is typed. */
export async function beginFactor(database: Database, id: number): Promise<SecondFactor> {
  return newSecret((await requireOwn(database, id)).email);
}

/** Keeps a second factor whose first code fits, and gives the recovery codes, which are shown this once. */
export async function confirmFactor(
  database: Database,
  id: number,
  { secret, code }: { secret: string; code: string },
  secretKey: Buffer | null,
): Promise<{ codes: string[] }> {
  const step = stepOf(secret, code, Date.now());
  if (step === null) throw refuse.wrongCode({ field: 'code' });
  const { codes, hashes } = newRecoveryCodes();
  await database.db
    .update(account)
    .set({ totpSecret: sealSecret(secret, secretKey), totpStep: step, recoveryHashes: hashes })
    .where(eq(account.id, id));
  return { codes };
}

/** New recovery codes; the old ones count no more. */
export async function renewCodes(database: Database, id: number, password: string): Promise<{ codes: string[] }> {
  const own = await requireOwn(database, id);
  await requirePassword(own, password, 'password');
  if (!own.totpSecret) throw refuse.noFactor();
  const { codes, hashes } = newRecoveryCodes();
  await database.db.update(account).set({ recoveryHashes: hashes }).where(eq(account.id, id));
  return { codes };
}

export async function dropFactor(database: Database, id: number, password: string): Promise<void> {
  const own = await requireOwn(database, id);
  await requirePassword(own, password, 'password');
  await database.db
    .update(account)
    .set({ totpSecret: null, totpStep: null, recoveryHashes: [] })
    .where(eq(account.id, id));
}
