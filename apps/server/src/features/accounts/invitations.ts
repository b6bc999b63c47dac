import { randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { Accept, FirstAccount, Invite, InviteLink, OpenInvitation } from '@gray-loom/wire';
import { accountIdOf, type RemitParts } from '../../db/actor';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { account, invitation } from '../../db/schema';
import { tell } from '../../feed/events';
import { hashPassword, tokenHash } from '../people';
import { refuse } from './refusals';
import { requireRemit, saveRemit } from './remits';
import { accountNamed, endSessions, lockAccounts } from './statements/accounts';

const DAY_MS = 86_400_000;
/** How long a link is good. */
const INVITE_DAYS = 7;
const RESET_DAYS = 1;

type AccountRow = typeof account.$inferSelect;
type InvitationRow = typeof invitation.$inferSelect;

export async function requireFreeName(tx: Tx, name: string, exceptId: number): Promise<void> {
  if ((await accountNamed(tx.client, name, exceptId)).rowCount) throw refuse.nameTaken({ field: 'name', name });
}

async function makeLink(
  tx: Tx,
  of: Pick<InvitationRow, 'email' | 'name' | 'role' | 'remit' | 'accountId'>,
  days: number,
): Promise<InviteLink> {
  const token = randomBytes(24).toString('base64url');
  const expiresAt = new Date(Date.now() + days * DAY_MS);
  await tx.db
    .insert(invitation)
    .values({ ...of, tokenHash: tokenHash(token), madeBy: accountIdOf(tx.actor), expiresAt });
  await tell(tx.client, { topic: 'setup' });
  return { path: `/invitation/${token}`, expiresAt: expiresAt.toISOString() };
}

/** Makes a link by which somebody becomes an account. An earlier link to the same address counts no more. */
export async function invite(database: Database, { name, email, role, remit }: Invite): Promise<InviteLink> {
  return inTransaction(database, async (tx) => {
    await lockAccounts(tx.client);
    const [here] = await tx.db.select().from(account).where(eq(account.email, email));
    if (here) throw refuse.emailTaken({ field: 'email', email });
    await requireFreeName(tx, name, 0);
    await requireRemit(tx, role, remit, name);
    await tx.db.delete(invitation).where(eq(invitation.email, email));
    return makeLink(tx, { name, email, role, remit, accountId: null }, INVITE_DAYS);
  });
}

/** Makes a link by which an account gets a new password. */
export async function linkForReset(tx: Tx, { id, name, email, role }: AccountRow): Promise<InviteLink> {
  await tx.db.delete(invitation).where(eq(invitation.accountId, id));
  return makeLink(tx, { name, email, role, remit: null, accountId: id }, RESET_DAYS);
}

export async function takeBackInvitation(database: Database, id: number): Promise<void> {
  const gone = await database.db
    .delete(invitation)
    .where(eq(invitation.id, id))
    .returning({ usedAt: invitation.usedAt });
  if (!gone.length) throw refuse.noSuchInvitation();
  await tell(database.pool, { topic: 'setup' });
}

function requireOpen(found: InvitationRow | undefined): InvitationRow {
  if (!found) throw refuse.noSuchLink();
  if (found.usedAt) throw refuse.linkUsed();
  if (found.expiresAt.getTime() < Date.now()) throw refuse.linkLate();
  return found;
}

/** What a link is for, before it is used. Errors: it was used, is late, or there is none. */
export async function openInvitation({ db }: Database, token: string): Promise<OpenInvitation> {
  const [row] = await db
    .select()
    .from(invitation)
    .where(eq(invitation.tokenHash, tokenHash(token)));
  const { name, email, accountId, madeBy } = requireOpen(row);
  const [by] =
    madeBy === null ? [] : await db.select({ name: account.name }).from(account).where(eq(account.id, madeBy));
  return { name, email, isReset: accountId !== null, invitedBy: by?.name ?? '' };
}

/** Uses a link: the account is made, or gets its password and is signed out everywhere else. Of two at once one is too late. */
export async function acceptInvitation(
  database: Database,
  token: string,
  { name, password }: Accept,
): Promise<AccountRow> {
  const passwordHash = await hashPassword(password);
  return inTransaction(database, async (tx) => {
    await lockAccounts(tx.client);
    const [row] = await tx.db
      .select()
      .from(invitation)
      .where(eq(invitation.tokenHash, tokenHash(token)))
      .for('update');
    const open = requireOpen(row);
    await tx.db.update(invitation).set({ usedAt: new Date() }).where(eq(invitation.id, open.id));
    await tell(tx.client, { topic: 'setup' });
    if (open.accountId === null) {
      const own = name || open.name;
      return makeAccount(tx, { ...open, name: own, passwordHash, remit: withOwnName(open.remit, open.name, own) });
    }
    const [changed] = await tx.db
      .update(account)
      .set({ passwordHash })
      .where(eq(account.id, open.accountId))
      .returning();
    if (!changed) throw refuse.noSuchAccount();
    if (changed.retiredAt) throw refuse.retired({ name: changed.name });
    await endSessions(tx.client, changed.id, 0);
    return changed;
  });
}

/** Whoever takes another name than the invitation has owns contacts by that one. */
function withOwnName(remit: RemitParts | null, invited: string, own: string): RemitParts | null {
  return remit && { ...remit, owners: remit.owners.map((name) => (name === invited ? own : name)) };
}

async function makeAccount(
  tx: Tx,
  {
    name,
    email,
    role,
    passwordHash,
    remit = null,
  }: Pick<AccountRow, 'name' | 'email' | 'role' | 'passwordHash'> & { remit?: RemitParts | null },
): Promise<AccountRow> {
  const [here] = await tx.db.select().from(account).where(eq(account.email, email));
  if (here) throw refuse.emailTaken({ field: 'email', email });
  await requireFreeName(tx, name, 0);
  const [made] = await tx.db.insert(account).values({ name, email, role, passwordHash }).returning();
  if (!made) throw new Error('an account that was made is there');
  if (remit) await saveRemit(tx, made.id, remit);
  return made;
}

/** The first administrator of a workspace that has no account; whoever comes second is told to sign in. */
export async function makeFirst(database: Database, { name, email, password }: FirstAccount): Promise<AccountRow> {
  const passwordHash = await hashPassword(password);
  return inTransaction(database, async (tx) => {
    await lockAccounts(tx.client);
    if ((await tx.db.select({ id: account.id }).from(account).limit(1)).length) throw refuse.notNew();
    return makeAccount(tx, { name, email, role: 'administrator', passwordHash });
  });
}
