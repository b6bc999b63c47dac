import { desc, inArray, sql } from 'drizzle-orm';
import {
  bandOf,
  indexKeys,
  isUsable,
  keyHash,
  modelFromJson,
  type MatchModel,
  type MatchPerson,
} from '@gray-loom/core/matching';
import type { ContactRecord } from '@gray-loom/core/model';
import { inTransaction, type Database, type Db, type Tx, type Queryable } from '../../db/connect';
import { matchGroup, matchModel, sharedLine } from '../../db/schema';
import { tell } from '../../feed/events';
import { matchSettings } from './match-settings';
import { closeGhosts, insertGroups, selectKeptApart, contactsSharingKeys } from './statements/match-groups';

export interface FrozenModel {
  version: number;
  model: MatchModel;
}

/** Kept with what of the set-up it was made with. */
let cached: (FrozenModel & { lines: string }) | null = null;

/** The newest frozen model; null before the first scan. A frozen model never changes, so it is kept. */
export async function currentModel(db: Db): Promise<FrozenModel | null> {
  const [newest] = await db
    .select({ version: matchModel.version })
    .from(matchModel)
    .orderBy(desc(matchModel.version))
    .limit(1);
  return newest ? modelOfVersion(db, newest.version) : null;
}

/** A frozen model by its version, with the thresholds in force and the lines that people said are shared. */
export async function modelOfVersion(db: Db, version: number): Promise<FrozenModel | null> {
  const said = await saidLines(db);
  const settings = await matchSettings(db);
  const lines = JSON.stringify([said, settings]);
  if (cached?.version === version && cached.lines === lines) return cached;
  const [row] = await db
    .select()
    .from(matchModel)
    .where(sql`${matchModel.version} = ${version}`);
  if (!row || !isUsable(row.model)) return null;
  const model = modelFromJson(row.model);
  cached = {
    version: row.version,
    lines,
    model: { ...model, ...settings, sharedLines: new Set([...model.sharedLines, ...said]) },
  };
  return cached;
}

/** E-mails and phones that a person said are used by several. */
export async function saidLines(db: Db): Promise<string[]> {
  return (await db.select({ line: sharedLine.line }).from(sharedLine).orderBy(sharedLine.line)).map(({ line }) => line);
}

export interface FoundGroup {
  memberIds: number[];
  /** Weight of the weakest member to the others. */
  bits: number;
}

export function memberKey(ids: readonly number[]): string {
  return [...ids].sort((a, b) => a - b).join(',');
}

/**
 * Stores groups by their members. A group that was decided or put off keeps its state, so nobody is asked twice;
 * `replaces` names open groups that these take the place of.
 */
export async function saveGroups(
  tx: Tx,
  frozen: FrozenModel,
  groups: readonly FoundGroup[],
  replaces: 'allOpen' | readonly number[],
  kind: 'person' | 'organization' = 'person',
): Promise<Record<string, number>> {
  const counts: Record<string, number> = { certain: 0, likely: 0, possible: 0 };
  if (replaces === 'allOpen')
    await tx.db
      .update(matchGroup)
      .set({ state: 'gone' })
      .where(sql`${matchGroup.state} = 'open'`);
  else if (replaces.length)
    await tx.db
      .update(matchGroup)
      .set({ state: 'gone' })
      .where(sql`${inArray(matchGroup.id, [...replaces])} and ${matchGroup.state} = 'open'`);
  const rows = groups.map(({ memberIds, bits }) => {
    const probability01 = 1 / (1 + 2 ** -bits);
    const found = bandOf(frozen.model, probability01);
    const band = found === 'apart' ? 'possible' : found;
    counts[band] = (counts[band] ?? 0) + 1;
    return { key: memberKey(memberIds), ids: [...memberIds].sort((a, b) => a - b), band, probability01, bits };
  });
  // A group goes by the name of whoever of it says most.
  if (rows.length) await insertGroups(tx.client, kind, frozen.version, JSON.stringify(rows));
  await tell(tx.client, { topic: 'groups' });
  return counts;
}

/**
 * Stores groups in a transaction of their own. Whoever was deleted between the look at them and now leaves no group behind:
 * the reader of the feed closed what stood at the time, and did not see these.
 */
export async function settleGroups(
  database: Database,
  frozen: FrozenModel,
  groups: readonly FoundGroup[],
  replaces: readonly number[],
  kind: 'person' | 'organization' = 'person',
): Promise<Record<string, number>> {
  const counts = await inTransaction(database, (tx) => saveGroups(tx, frozen, groups, replaces, kind));
  await closeGhosts(
    database.pool,
    groups.flatMap(({ memberIds }) => memberIds),
  );
  return counts;
}

export async function keptApartPairs(db: Database | Tx): Promise<Set<string>> {
  const source = 'pool' in db ? db.pool : db.client;
  const { rows } = await selectKeptApart(source);
  return new Set(rows.map(({ a, b }) => `${a}:${b}`));
}

export function pairKey(a: number, b: number): string {
  return a < b ? `${a}:${b}` : `${b}:${a}`;
}

/** People in the database who share a look-up key with a person, or have one of `more`; those who share most first, at most `limit`. */
export async function findCandidates(
  { pool }: { pool: Queryable },
  person: MatchPerson,
  exceptId: number | null,
  limit = 400,
  more: readonly number[] = [],
): Promise<{ id: number; record: ContactRecord }[]> {
  const keys = new Set([...indexKeys(person).map((key) => keyHash(key)), ...more]);
  return contactsSharingKeys(pool, [...keys].map(String), exceptId, limit);
}
