import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { eq, sql } from 'drizzle-orm';
import type { SessionInfo } from '@gray-loom/wire';
import type { Person } from '../../db/actor';
import type { Database } from '../../db/connect';
import { account, session } from '../../db/schema';

function tokenHash(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

// Verified when there is no such account, so that the time taken does not tell whether there is one.
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$kFjyXUBwZeUYSmfiJz5nRlkYQkKPKYbBGBSmmzMyPpU';

/** Checks a password (argon2id) and opens a session; null when they do not fit. */
export async function signIn(
  { db }: Database,
  email: string,
  password: string,
  days: number,
): Promise<{ token: string; info: SessionInfo } | null> {
  const [found] = await db.select().from(account).where(eq(account.email, email.toLowerCase()));
  const fits = await verify(found?.passwordHash ?? NOBODY, password);
  if (!found || !fits) return null;
  const token = randomBytes(32).toString('base64url');
  await db
    .insert(session)
    .values({ tokenHash: tokenHash(token), accountId: found.id, expiresAt: new Date(Date.now() + days * 86_400_000) });
  await db.delete(session).where(sql`${session.expiresAt} < now()`);
  return { token, info: { accountId: found.id, name: found.name, email: found.email, role: found.role } };
}

export async function sessionOf({ db }: Database, token: string): Promise<SessionInfo | null> {
  const [found] = await db
    .select({ accountId: account.id, name: account.name, email: account.email, role: account.role })
    .from(session)
    .innerJoin(account, eq(account.id, session.accountId))
    .where(sql`${session.tokenHash} = ${tokenHash(token)} and ${session.expiresAt} > now()`);
  return found ?? null;
}

/** An account as it reads and writes. */
export function personOf({ accountId, name, role }: Pick<SessionInfo, 'accountId' | 'name' | 'role'>): Person {
  return { kind: 'person', accountId, name, role, remit: { kind: 'all' } };
}

/** The administrator who was there first, in whose name commands act; null before there is one. */
export async function firstAdministrator({ db }: Database): Promise<Person | null> {
  const [found] = await db
    .select({ accountId: account.id, name: account.name, role: account.role })
    .from(account)
    .where(eq(account.role, 'administrator'))
    .orderBy(account.id)
    .limit(1);
  return found ? personOf(found) : null;
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
