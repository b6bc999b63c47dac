import {
  bitsOfProbability,
  comparisons,
  componentsOf,
  factsOf,
  groupPeople,
  indexKeys,
  keyHash,
  preparePerson,
  scorePair,
  type MatchPerson,
  type ScoredPair,
} from '@gray-loom/core/matching';
import type { ContactRecord } from '@gray-loom/core/model';
import type { Database } from '../../db/connect';
import { currentModel, keptApartPairs, pairKey, settleGroups, type FrozenModel } from './match-groups';
import { contactsByKeys, livePeople, openGroupsTouching } from './statements/match-groups';

/** Others looked at for one contact: those who share most. */
const MOST_CANDIDATES = 400;
/** In a part of more people than this only pairs that share a key are looked at: the others are hardly ever one person. */
const MOST_TOGETHER = 300;

/** Pairs that may be one person, in the making. */
class Pairs {
  readonly people = new Map<number, MatchPerson>();
  readonly found = new Map<string, ScoredPair>();
  private readonly keepBits: number;

  constructor(
    private readonly frozen: FrozenModel,
    private readonly apart: ReadonlySet<string>,
  ) {
    this.keepBits = bitsOfProbability(frozen.model.thresholds.possible);
  }

  learn(rows: readonly { id: number; record: ContactRecord }[]): void {
    for (const { id, record } of rows) if (!this.people.has(id)) this.people.set(id, preparePerson(factsOf(record)));
  }

  /** Compares two people, once. Those who are kept apart are of interest where `keepsApart`. */
  compare(x: number, y: number, keepsApart: boolean): void {
    const key = pairKey(x, y);
    const [a, b] = [this.people.get(x), this.people.get(y)];
    if (!a || !b || x === y || this.found.has(key)) return;
    const isApart = this.apart.has(key);
    if (isApart && !keepsApart) return;
    const bits = isApart ? -Infinity : scorePair(this.frozen.model, a, b).bits;
    if (isApart || bits >= this.keepBits) this.found.set(key, { a: Math.min(x, y), b: Math.max(x, y), bits });
  }

  groups() {
    return groupPeople({
      model: this.frozen.model,
      compare: comparisons(this.frozen.model, (id) => this.people.get(id)),
      isKeptApart: (a, b) => this.apart.has(pairKey(a, b)),
      pairs: [...this.found.values()],
      thresholdBits: this.keepBits,
    });
  }
}

/** People who share look-up keys with others, by the id of each other; those who share most first. One question for all. */
async function candidatesOf(
  { pool }: Database,
  people: ReadonlyMap<number, MatchPerson>,
): Promise<Map<number, readonly number[]>> {
  const keysOf = new Map([...people].map(([id, person]) => [id, indexKeys(person).map(keyHash)]));
  const { rows } = await contactsByKeys(pool, [...new Set([...keysOf.values()].flat())]);
  const byKey = new Map(rows.map(({ key, ids }) => [Number(key), ids.map(Number)]));
  const candidates = new Map<number, readonly number[]>();
  for (const [id, keys] of keysOf) {
    const shared = new Map<number, number>();
    for (const key of keys)
      for (const other of byKey.get(key) ?? []) if (other !== id) shared.set(other, (shared.get(other) ?? 0) + 1);
    const inOrder = [...shared].sort(([a, n], [b, m]) => m - n || a - b).map(([other]) => other);
    candidates.set(id, inOrder.slice(0, MOST_CANDIDATES));
  }
  return candidates;
}

/**
 * Checks contacts against everybody by the index, under the current model, and settles the groups they fall in together
 * with the open groups these touch. Used after an import, an entry and an edit. The cost is near linear in the contacts, however
 * many of them share a name.
 */
export async function checkContacts(database: Database, ids: readonly number[]): Promise<Record<string, number>> {
  const frozen = await currentModel(database.db);
  if (!frozen || ids.length === 0) return {};
  const { pool } = database;
  const pairs = new Pairs(frozen, await keptApartPairs(database));
  pairs.learn(await livePeople(pool, ids));
  const candidates = await candidatesOf(database, pairs.people);
  const others = new Set([...candidates.values()].flat());
  pairs.learn(
    await livePeople(
      pool,
      [...others].filter((id) => !pairs.people.has(id)),
    ),
  );
  for (const [id, list] of candidates) for (const other of list) pairs.compare(id, other, false);
  if (pairs.found.size === 0) return {};
  // Open groups that these pairs touch are looked at again together with them.
  const linked = [...pairs.found.values()].map(({ a, b }) => [a, b]);
  const open = await openGroupsTouching(pool, [...new Set(linked.flat())]);
  const groups = open.rows.map(({ member_ids: members }) => members.map(Number));
  pairs.learn(
    await livePeople(
      pool,
      [...new Set(groups.flat())].filter((id) => !pairs.people.has(id)),
    ),
  );
  const parts = componentsOf([...linked, ...groups]).filter((part) => part.length <= MOST_TOGETHER);
  for (const together of [...parts, ...groups])
    together.forEach((x, i) => {
      for (const y of together.slice(i + 1)) pairs.compare(x, y, true);
    });
  return settleGroups(
    database,
    frozen,
    pairs.groups().map((group) => ({ memberIds: group.members, bits: group.weakestBits })),
    open.rows.map((row) => row.id),
  );
}
