import { eq } from 'drizzle-orm';
import type { PickRename } from '@gray-loom/core/syncing';
import type { RemitParts } from '../db/actor';
import type { Tx } from '../db/connect';
import { accountRemit } from '../db/schema';
import { accountsWhoseRemitNames, recountRemits } from './statements/remits';

const PART_OF: Record<string, keyof RemitParts> = {
  owner: 'owners',
  source: 'sources',
  tags: 'tags',
  area: 'areas',
};

/** A remit as it was before a rename. */
export interface RemitBefore extends RemitParts {
  accountId: number;
}

/** Accounts whose remit names a value, by their names. */
export async function namedInRemits(tx: Tx, field: string, label: string): Promise<string[]> {
  const part = PART_OF[field];
  return part ? (await accountsWhoseRemitNames(tx.client, part, label)).rows.map(({ name }) => name) : [];
}

/** Lets a rename reach the remits that name the value; gives them as they were. In the transaction of the rename. */
export async function renameInRemits(tx: Tx, { field, from, into }: PickRename): Promise<RemitBefore[]> {
  const part = PART_OF[field];
  if (!part) return [];
  const before = (await tx.db.select().from(accountRemit).for('update')).filter((one) => one[part].includes(from));
  for (const one of before) {
    const names = [...new Set(one[part].map((name) => (name === from ? into : name)))];
    await tx.db
      .update(accountRemit)
      .set({ [part]: names, changedAt: new Date() })
      .where(eq(accountRemit.accountId, one.accountId));
  }
  if (before.length)
    await recountRemits(
      tx.client,
      before.map(({ accountId }) => accountId),
    );
  return before;
}

/** Gives remits back what a merge of two values did to them, where they still name what it became. */
export async function restoreRemits(
  tx: Tx,
  { field, into }: PickRename,
  before: readonly RemitBefore[],
): Promise<void> {
  const part = PART_OF[field];
  if (!part) return;
  for (const { accountId, [part]: names } of before) {
    const [now] = await tx.db.select().from(accountRemit).where(eq(accountRemit.accountId, accountId)).for('update');
    if (!now?.[part].includes(into)) continue;
    const kept = now[part].filter((name) => name !== into);
    await tx.db
      .update(accountRemit)
      .set({ [part]: [...new Set([...kept, ...names])], changedAt: new Date() })
      .where(eq(accountRemit.accountId, accountId));
    await recountRemits(tx.client, [accountId]);
  }
}
