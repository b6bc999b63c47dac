import { desc } from 'drizzle-orm';
import { bitsOfProbability, COMPARED, type MatchModel } from '@gray-loom/core/matching';
import { NEWEST_ALWAYS, planMerge, type MergeRules, type ShareOf } from '@gray-loom/core/merging';
import { showValue } from '@gray-loom/core/fields';
import type { Value } from '@gray-loom/core/model';
import type { MatchSetup, MatchSetupRequest, MergeRuleSetup, MergeRuleTrial, ThreadKind } from '@gray-loom/wire';
import { inTransaction, type Database, type Db } from '../../db/connect';
import { matchModel, setting } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { runsIn, threadsOf } from '../../book/run-threads';
import { AS_SHIPPED, MATCHING, matchSettings, readSetting } from './match-settings';
import { loadCatalogue } from '../../book/picks';
import { liveRecordsOf } from '../../book/statements/contact-records';
import { currentModel } from './match-groups';
import { rebandGroups, groupsToTry } from './statements/match-setup';

const MERGING = 'merging';
const THREAD_KINDS: readonly ThreadKind[] = [
  'hand',
  'form',
  'addressBook',
  'inbox',
  'dialer',
  'mailer',
  'file',
  'rule',
];
const RULES_AS_SHIPPED: MergeRuleSetup = { ...NEWEST_ALWAYS, byField: {}, trusted: [...THREAD_KINDS] };

/** The set-up with what each threshold would catch, by the pairs of the last scan. */
export async function matchSetup({ db }: Database): Promise<MatchSetup> {
  const [newest] = await db
    .select({ pairs: matchModel.pairs, people: matchModel.people, at: matchModel.createdAt })
    .from(matchModel)
    .orderBy(desc(matchModel.version))
    .limit(1);
  const { thresholds, ignored } = await matchSettings(db);
  return {
    thresholds,
    ignored,
    asShipped: AS_SHIPPED.thresholds,
    pairs: newest?.pairs ?? null,
    people: newest?.people ?? 0,
    scannedAt: newest?.at.toISOString() ?? null,
  };
}

/** Changes thresholds and fields; groups that wait get their band by the new thresholds at once. */
export async function saveMatchSetup(database: Database, wanted: MatchSetupRequest): Promise<void> {
  const { certain, likely, possible } = wanted.thresholds;
  if (!(certain > likely && likely > possible)) throw refuse.thresholdsCross();
  if (COMPARED.every((field) => wanted.ignored.includes(field) || field === 'generation'))
    throw refuse.nothingCompared();
  await inTransaction(database, async (tx) => {
    await tx.db
      .insert(setting)
      .values({ key: MATCHING, value: wanted })
      .onConflictDoUpdate({ target: setting.key, set: { value: wanted } });
    await rebandGroups(tx.client, bitsOfProbability(certain), bitsOfProbability(likely));
    await tell(tx.client, { topic: 'groups' });
  });
}

/** The rules by which a merge chooses values, and the order in which threads are trusted. */
export async function mergeRules(db: Db): Promise<MergeRuleSetup> {
  const kept = await readSetting<MergeRuleSetup>(db, MERGING);
  if (!kept) return RULES_AS_SHIPPED;
  const unnamed = THREAD_KINDS.filter((kind) => !kept.trusted.includes(kind));
  return { ...kept, trusted: [...kept.trusted, ...unnamed] };
}

export async function saveMergeRules({ db }: Database, rules: MergeRuleSetup): Promise<void> {
  const catalogue = await loadCatalogue(db);
  const unknown = Object.keys(rules.byField).find((field) => !catalogue.find(field));
  if (unknown) throw refuse.noSuchField({ field: unknown });
  await db
    .insert(setting)
    .values({ key: MERGING, value: rules })
    .onConflictDoUpdate({ target: setting.key, set: { value: rules } });
}

/** The rules as a merge asks them, for values of these runs. */
export function weighingOf(
  rules: MergeRuleSetup,
  threads: Record<number, { kind: ThreadKind }>,
  model: Pick<MatchModel, 'givenShare' | 'familyShare'> | null | undefined,
): { rules: MergeRules; trustOf: (value: Value) => number; shareOf: ShareOf } {
  const shares: Record<string, ReadonlyMap<string, number> | undefined> = {
    givenName: model?.givenShare,
    familyName: model?.familyShare,
  };
  return {
    rules,
    shareOf: (field, folded) => shares[field]?.get(folded) ?? 0,
    trustOf: (value) => {
      const kind = threads[value.run]?.kind;
      const place = kind ? rules.trusted.indexOf(kind) : -1;
      return place < 0 ? rules.trusted.length : place;
    },
  };
}
const EXAMPLES = 12;

/** How the results of the groups that wait would differ under other rules; nothing is written. */
export async function tryMergeRules(database: Database, wanted: MergeRuleSetup): Promise<MergeRuleTrial> {
  const { db, pool } = database;
  const groups = await groupsToTry(pool);
  const records = await liveRecordsOf(
    pool,
    groups.rows.flatMap((group) => group.member_ids),
  );
  const byId = new Map(records.map((row) => [row.id, row]));
  const threads = await threadsOf(
    database,
    records.flatMap(({ record }) => runsIn(record)),
  );
  const catalogue = await loadCatalogue(db);
  const timeOf = (value: Value) => value.atMs ?? Date.parse(threads[value.run]?.at ?? '') ?? 0;
  const now = await mergeRules(db);
  const frozen = await currentModel(db);
  const trial: MergeRuleTrial = { groups: 0, differing: 0, values: 0, examples: [] };
  for (const group of groups.rows) {
    const members = group.member_ids.flatMap((id) => byId.get(Number(id)) ?? []);
    if (members.length < 2) continue;
    trial.groups++;
    const [before, after] = [now, wanted].map((rules) =>
      planMerge({ members, choices: {}, catalogue, timeOf, run: 0, ...weighingOf(rules, threads, frozen?.model) }),
    );
    const changed = (after?.rows ?? []).flatMap((row) => {
      const was = before?.rows.find((one) => one.field === row.field);
      const text = (values: readonly Value[]) => values.map((value) => showValue(row.field, value)).join(', ');
      return row.chosen !== null && was && text(was.result) !== text(row.result)
        ? [{ field: row.name, before: text(was.result), after: text(row.result) }]
        : [];
    });
    if (!changed.length) continue;
    trial.differing++;
    trial.values += changed.length;
    if (trial.examples.length < EXAMPLES) trial.examples.push({ groupId: group.id, name: group.name, changed });
  }
  return trial;
}
