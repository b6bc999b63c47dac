import { eq } from 'drizzle-orm';
import type { Remit, RemitParts } from './actor';
import type { Db } from './connect';
import { accountRemit } from './schema';

/** Columns of a remit, for selects that join it. */
export const REMIT = {
  owners: accountRemit.owners,
  sources: accountRemit.sources,
  tags: accountRemit.tags,
  areas: accountRemit.areas,
};

/** The part of the book that an account sees; null is all of it. */
export async function remitPartsOf(db: Db, accountId: number): Promise<RemitParts | null> {
  const [found] = await db.select(REMIT).from(accountRemit).where(eq(accountRemit.accountId, accountId));
  return found ?? null;
}

export const remitOf = (parts: RemitParts | null): Remit => (parts ? { kind: 'part', ...parts } : { kind: 'all' });

/** The condition of the views (statements/remit-views.ts), for what is not written yet. Law: both say the same. */
export function isWithin(
  { owners, sources, tags, areas }: RemitParts,
  contact: { owner: string; source: string; area: string; tags: readonly string[] },
): boolean {
  return (
    owners.includes(contact.owner) ||
    sources.includes(contact.source) ||
    areas.includes(contact.area) ||
    contact.tags.some((tag) => tags.includes(tag))
  );
}
