import { eq } from 'drizzle-orm';
import type { Giving } from '@gray-loom/wire';
import { lifecycleOf, type ContactRecord, type Operation } from '@gray-loom/core/model';
import { accountIdOf } from '../../db/actor';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { account, setting } from '../../db/schema';
import { tell } from '../../feed/events';
import { readSetting } from '../duplicates';
import type { GiveChange } from './many-change';
import { refuseGiving } from './refusals';
import {
  activeAmong,
  areasOfContacts,
  givenByRun,
  joinTurns,
  keepTurns,
  lockTurns,
  noteGiven,
} from './statements/giving';

const GIVING = 'giving';

/** Among whom people are given out: in turn, and by the area they live in. */
export async function readGiving({ db }: Pick<Database, 'db'>): Promise<Giving> {
  return (await readSetting<Giving>(db, GIVING)) ?? { inTurn: [], byArea: [] };
}

export async function saveGiving(database: Database, giving: Giving): Promise<void> {
  await inTransaction(database, async (tx) => {
    for (const id of [...giving.inTurn, ...giving.byArea.map(({ accountId }) => accountId)]) {
      const [found] = await tx.db.select().from(account).where(eq(account.id, id));
      if (!found || found.retiredAt) throw refuseGiving.noSuchAccount({ name: found?.name ?? '' });
    }
    await tx.db
      .insert(setting)
      .values({ key: GIVING, value: giving })
      .onConflictDoUpdate({ target: setting.key, set: { value: giving } });
    await tell(tx.client, { topic: 'setup' });
  });
}

export const heirsOf = ({ inTurn, byArea }: Giving, by: GiveChange['by']): number[] =>
  by === 'inTurn' ? inTurn : [...byArea.map(({ accountId }) => accountId), ...inTurn];

/**
 * What giving out does to some contacts: each goes to whoever of the area has it, or to whoever has been given fewest so far. The counts are
 * under lock until the transaction ends, so that two runs at once are as fair as one. Who is retired is passed over.
 */
export async function planGiving(
  tx: Tx,
  runId: number,
  { by }: GiveChange,
  contacts: readonly { id: number; record: ContactRecord }[],
): Promise<{ contactId: number; operations: Operation[] }[]> {
  const giving = await readGiving(tx);
  const { rows: active } = await activeAmong(tx.client, heirsOf(giving, by));
  const names = new Map(active.map(({ id, name }) => [id, name]));
  const inTurn = giving.inTurn.filter((id) => names.has(id));
  await joinTurns(tx.client, inTurn);
  const turns = (await lockTurns(tx.client, inTurn)).rows;
  const areas = new Map(
    (
      await areasOfContacts(
        tx.client,
        contacts.map(({ id }) => id),
      )
    ).rows.map(({ id, area }) => [id, area]),
  );
  const ofArea = new Map(giving.byArea.map(({ area, accountId }) => [area, names.get(accountId)]));
  const next = () => {
    const [least] = turns.sort((a, b) => a.given - b.given || a.id - b.id);
    if (!least) return undefined;
    least.given++;
    return names.get(least.id);
  };
  const changes = contacts.flatMap(({ id, record }) => {
    if (lifecycleOf(record) || record.f.owner?.length) return [];
    const name = (by === 'byArea' ? ofArea.get(areas.get(id) ?? '') : undefined) ?? next();
    if (!name) return [];
    const operation: Operation = {
      target: id,
      field: 'owner',
      slot: 0,
      before: null,
      after: { slot: 0, v: name, run: runId },
    };
    return [{ contactId: id, operations: [operation] }];
  });
  await keepTurns(
    tx.client,
    turns.map(({ id }) => id),
    turns.map(({ given }) => given),
  );
  return changes;
}

/** Tells everybody who was given contacts by a run, save whoever started it. */
export async function tellGiven(tx: Tx, runId: number): Promise<void> {
  const by = accountIdOf(tx.actor);
  for (const { id, n } of (await givenByRun(tx.client, runId)).rows)
    if (id !== by) await noteGiven(tx.client, id, by, runId, n);
}

/** Lets a renamed area keep whoever has it. */
export async function renameInGiving(tx: Tx, from: string, into: string): Promise<void> {
  const giving = await readGiving(tx);
  const byArea = giving.byArea.map((one) => (one.area === from ? { ...one, area: into } : one));
  await tx.db
    .update(setting)
    .set({ value: { ...giving, byArea } })
    .where(eq(setting.key, GIVING));
}
