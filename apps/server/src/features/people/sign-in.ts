import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { eq, sql } from 'drizzle-orm';
import type { SessionInfo } from '@gray-loom/wire';
import type { Person } from '../../db/actor';
import type { Database } from '../../db/connect';
import { REMIT, remitOf, remitPartsOf } from '../../db/remits';
import { account, accountRemit, session } from '../../db/schema';
import { refuse } from './refusals';
import { takeCode } from './second-factor';
import { markSeen } from './statements/sessions';

export function tokenHash(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

// Verified when there is no such account, so that the time taken does not tell whether there is one.
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$kFjyXUBwZeUYSmfiJz5nRlkYQkKPKYbBGBSmmzMyPpU';

/** Where a session is opened from. */
export interface From {
  address: string;
  browser: string;
}

/** Whether a password is that of an account; takes as long where there is none. */
export async function passwordFits(passwordHash: string | undefined, password: string): Promise<boolean> {
  return verify(passwordHash ?? NOBODY, password);
}

export const hashPassword = (password: string): Promise<string> => hash(password);

/** Checks password (argon2id) and second factor, and opens a session. Errors: what does not fit. */
export async function signIn(
  { db, pool }: Database,
  { email, password, code }: { email: string; password: string; code: string },
  { days, from, secretKey }: { days: number; from: From; secretKey: Buffer | null },
): Promise<{ token: string; info: SessionInfo }> {
  const [found] = await db.select().from(account).where(eq(account.email, email.toLowerCase()));
  const fits = await passwordFits(found?.passwordHash, password);
  if (!found || !fits || found.retiredAt) throw refuse.wrongSignIn();
  if (found.totpSecret) {
    if (!code) throw refuse.codeWanted();
    if (!(await takeCode({ pool }, found, code, secretKey))) throw refuse.wrongCode();
  }
  return openSession({ db }, found, days, from);
}

/** Opens a session of an account; the token goes to the browser and is kept nowhere. */
export async function openSession(
  { db }: Pick<Database, 'db'>,
  of: Pick<typeof account.$inferSelect, 'id' | 'name' | 'email' | 'role' | 'picture' | 'totpSecret'>,
  days: number,
  { address, browser }: From,
): Promise<{ token: string; info: SessionInfo }> {
  const token = randomBytes(32).toString('base64url');
  await db.insert(session).values({
    tokenHash: tokenHash(token),
    accountId: of.id,
    expiresAt: new Date(Date.now() + days * 86_400_000),
    address,
    browser: browser.slice(0, 300),
  });
  await db.delete(session).where(sql`${session.expiresAt} < now()`);
  const { id: accountId, name, email, role, picture, totpSecret } = of;
  const remit = await remitPartsOf(db, accountId);
  return { token, info: { accountId, name, email, role, picture, secondFactor: totpSecret !== null, remit } };
}

/** Who a session is of, and which it is; null where it has ended. */
export async function sessionOf(
  { db, pool }: Database,
  token: string,
): Promise<(SessionInfo & { sessionId: number }) | null> {
  const [found] = await db
    .select({
      accountId: account.id,
      name: account.name,
      email: account.email,
      role: account.role,
      picture: account.picture,
      secondFactor: sql<boolean>`${account.totpSecret} is not null`,
      remit: REMIT,
      sessionId: session.id,
      isStale: sql<boolean>`${session.seenAt} < now() - interval '1 minute'`,
    })
    .from(session)
    .innerJoin(account, eq(account.id, session.accountId))
    .leftJoin(accountRemit, eq(accountRemit.accountId, account.id))
    .where(
      sql`${session.tokenHash} = ${tokenHash(token)} and ${session.expiresAt} > now() and ${account.retiredAt} is null`,
    );
  if (!found) return null;
  const { isStale, ...info } = found;
  if (isStale) await markSeen(pool, info.sessionId);
  return info;
}

/** Whether nobody has an account yet. */
export async function isNew({ db }: Pick<Database, 'db'>): Promise<boolean> {
  return (await db.select({ id: account.id }).from(account).limit(1)).length === 0;
}

/** An account as it reads and writes. */
export function personOf({
  accountId,
  name,
  role,
  remit,
}: Pick<SessionInfo, 'accountId' | 'name' | 'role' | 'remit'>): Person {
  return { kind: 'person', accountId, name, role, remit: remitOf(remit) };
}

/** The administrator who was there first, in whose name commands act; null before there is one. */
export async function firstAdministrator({ db }: Database): Promise<Person | null> {
  const [found] = await db
    .select({ accountId: account.id, name: account.name, role: account.role })
    .from(account)
    .where(sql`${account.role} = 'administrator' and ${account.retiredAt} is null`)
    .orderBy(account.id)
    .limit(1);
  return found ? personOf({ ...found, remit: null }) : null;
}

export async function signOut({ db }: Database, token: string): Promise<void> {
  await db.delete(session).where(eq(session.tokenHash, tokenHash(token)));
}

/** Makes the first administrator when there is no account yet. Returns the password only when one was made. */
export async function ensureAdministrator(
  { db }: Database,
  wanted: { email: string; name: string; password: string },
): Promise<boolean> {
  const existing = await db.select({ id: account.id }).from(account).limit(1);
  if (existing.length) return false;
  await db.insert(account).values({
    email: wanted.email.toLowerCase(),
    name: wanted.name,
    role: 'administrator',
    passwordHash: await hash(wanted.password),
  });
  return true;
}
