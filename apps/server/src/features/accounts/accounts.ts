import { eq } from 'drizzle-orm';
import { foldText } from '@gray-loom/core/fields';
import { nearMisses } from '@gray-loom/core/quality';
import type { AccountChange, Handed, InviteLink, OwnSession, People } from '@gray-loom/wire';
import { accountIdOf } from '../../db/actor';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { account, invitation, session } from '../../db/schema';
import { tell } from '../../feed/events';
import { renameInRemits } from '../../book/renamed-remits';
import { handOpenOf } from '../activity';
import { handOverAll } from '../setup';
import { linkForReset, requireFreeName } from './invitations';
import { refuse } from './refusals';
import { requireRemit, saveRemit, tryRemit } from './remits';
import { tellHeir } from './statements/hand-over';
import {
  administratorsBeside,
  allAccounts,
  endSessions,
  lockAccounts,
  openInvitations,
  ownedBy,
  ownersWithoutAccount,
  sessionsOf,
} from './statements/accounts';

type AccountRow = typeof account.$inferSelect;

export async function listPeople(database: Database): Promise<People> {
  const { pool } = database;
  const [{ rows: accounts }, { rows: invitations }, { rows: unknown }] = await Promise.all([
    allAccounts(pool),
    openInvitations(pool),
    ownersWithoutAccount(pool),
  ]);
  const strangers = unknown.map((one) => ({ ...one, likely: likelyAccount(one.name, accounts) }));
  return {
    accounts: await Promise.all(
      accounts.map(async (one) => ({
        ...one,
        within: one.remit && (await tryRemit(database, one.remit)).within,
      })),
    ),
    invitations,
    strangers,
  };
}

/** The account that a name is most likely of: the same but for a slip, or one of its names alone. Null where several are. */
export function likelyAccount(
  name: string,
  accounts: readonly Pick<People['accounts'][number], 'id' | 'name' | 'email' | 'retiredAt'>[],
): number | null {
  const here = accounts.filter(({ retiredAt }) => !retiredAt);
  const words = foldText(name).split(' ');
  const byName = here.filter((one) => {
    const own = foldText(one.name).split(' ');
    return words.every((word) => own.includes(word)) || own.every((word) => words.includes(word));
  });
  const byMail = here.filter(({ email }) => email === name.trim().toLowerCase());
  const near = nearMisses(
    name,
    here.map((one) => one.name),
  ).map(({ label }) => label);
  const found = byMail.length ? byMail : byName.length ? byName : here.filter((one) => one.name === near[0]);
  return found.length === 1 ? (found[0]?.id ?? null) : null;
}

/** Makes contacts of an owner that is no account those of one; a run that can be undone. */
export async function matchOwner(database: Database, name: string, to: number): Promise<Handed> {
  return inTransaction(database, async (tx) => {
    const heir = await requireAccount(tx, to);
    if (heir.retiredAt) throw refuse.retired({ name: heir.name });
    const { rows } = await ownersWithoutAccount(tx.client);
    if (!rows.some((one) => one.name === name)) throw refuse.noSuchOwner({ name });
    return handOverAll(tx, { from: name, into: heir.name, title: `The owner ${name} is ${heir.name}` });
  });
}

/** An account, while nobody else changes who may what. */
async function requireAccount(tx: Tx, id: number): Promise<AccountRow> {
  await lockAccounts(tx.client);
  const [found] = await tx.db.select().from(account).where(eq(account.id, id));
  if (!found) throw refuse.noSuchAccount();
  return found;
}

/** Refuses what would leave nobody to manage the workspace. */
async function requireAnotherAdministrator(tx: Tx, { id, role, retiredAt }: AccountRow): Promise<void> {
  if (role !== 'administrator' || retiredAt) return;
  const { rows } = await administratorsBeside(tx.client, id);
  if (!rows[0]?.n) throw refuse.lastAdministrator();
}

/**
 * Gives an account another name or role. A new name reaches the contacts it owns, as a run. Of two administrators who demote each other
 * the second is refused: by then it is none.
 */
export async function changeAccount(
  database: Database,
  id: number,
  { name, role, remit }: AccountChange,
): Promise<Handed> {
  return inTransaction(database, async (tx) => {
    const found = await requireAccount(tx, id);
    await requireStillAdministrator(tx);
    if (role && role !== found.role && found.role === 'administrator') await requireAnotherAdministrator(tx, found);
    if (name && name !== found.name) await requireFreeName(tx, name, id);
    await tx.db
      .update(account)
      .set({ name: name ?? found.name, role: role ?? found.role })
      .where(eq(account.id, id));
    if (remit !== undefined) {
      await requireRemit(tx, role ?? found.role, remit, name ?? found.name);
      await saveRemit(tx, id, remit);
    } else if (role === 'administrator') await saveRemit(tx, id, null);
    await tell(tx.client, { topic: 'setup' });
    return name && name !== found.name ? renameOwner(tx, found.name, name) : { runId: null, finished: true };
  });
}

/** Contacts name their owner; whoever is called otherwise is so there too. */
export async function renameOwner(tx: Tx, from: string, into: string): Promise<Handed> {
  await renameInRemits(tx, { field: 'owner', from, into });
  return handOverAll(tx, { from, into, title: `${from} is now called ${into}` });
}

/** Whoever asks may have been demoted or retired by somebody who was quicker. */
async function requireStillAdministrator(tx: Tx): Promise<void> {
  const id = accountIdOf(tx.actor);
  if (id === null) return;
  const [asking] = await tx.db.select().from(account).where(eq(account.id, id));
  if (asking?.role !== 'administrator' || asking.retiredAt) throw refuse.noLongerAdministrator();
}

/** A link for a new password; whoever has lost the second factor has it taken off. */
export async function resetAccount(database: Database, id: number, secondFactor: boolean): Promise<InviteLink> {
  return inTransaction(database, async (tx) => {
    const found = await requireAccount(tx, id);
    if (found.retiredAt) throw refuse.retired({ name: found.name });
    if (secondFactor)
      await tx.db
        .update(account)
        .set({ totpSecret: null, totpStep: null, recoveryHashes: [] })
        .where(eq(account.id, id));
    return linkForReset(tx, found);
  });
}

/** Retires an account: it is signed out everywhere, and what it owns goes to somebody else in the same step. Its runs go on. */
export async function retireAccount(database: Database, id: number, handTo: number | null): Promise<Handed> {
  return inTransaction(database, async (tx) => {
    const found = await requireAccount(tx, id);
    await requireStillAdministrator(tx);
    if (found.retiredAt) throw refuse.retired({ name: found.name });
    await requireAnotherAdministrator(tx, found);
    if (handTo === id) throw refuse.handToSelf({ field: 'handTo' });
    const [heir] = handTo === null ? [] : await tx.db.select().from(account).where(eq(account.id, handTo));
    if (handTo !== null && !heir) throw refuse.noSuchAccount();
    if (heir?.retiredAt) throw refuse.retired({ name: heir.name });
    await tx.db.update(account).set({ retiredAt: new Date() }).where(eq(account.id, id));
    await endSessions(tx.client, id, 0);
    await tx.db.delete(invitation).where(eq(invitation.accountId, id));
    await tell(tx.client, { topic: 'setup' });
    if (!heir) return { runId: null, finished: true };
    const title = `What ${found.name} owned, handed to ${heir.name}`;
    const { rows } = await ownedBy(tx.client, found.name);
    const handed = await handOverAll(tx, { from: found.name, into: heir.name, title });
    await handOpenOf(tx, handed.runId, id, heir.id);
    const n = rows[0]?.n ?? 0;
    if (n && heir.id !== accountIdOf(tx.actor))
      await tellHeir(tx.client, heir.id, accountIdOf(tx.actor), handed.runId, n);
    return handed;
  });
}

/** Lets a retired account sign in again, by the password it had. */
export async function bringAccountBack(database: Database, id: number): Promise<void> {
  await inTransaction(database, async (tx) => {
    const found = await requireAccount(tx, id);
    await tx.db.update(account).set({ retiredAt: null }).where(eq(account.id, found.id));
    await tell(tx.client, { topic: 'setup' });
  });
}

/** Where an account is signed in, the latest first. */
export async function listSessions({ pool }: Database, accountId: number, thisId: number): Promise<OwnSession[]> {
  const { rows } = await sessionsOf(pool, accountId);
  return rows.map((row) => ({ ...row, isThis: row.id === thisId }));
}

/** Ends one session of an account. */
export async function endSession({ db, pool }: Database, accountId: number, id: number): Promise<void> {
  const [found] = await db.select({ accountId: session.accountId }).from(session).where(eq(session.id, id));
  if (found?.accountId !== accountId) throw refuse.noSuchSession();
  await db.delete(session).where(eq(session.id, id));
  await tell(pool, { topic: 'setup' });
}
