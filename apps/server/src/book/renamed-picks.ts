import { isDeepStrictEqual } from 'node:util';
import { eq, isNull, sql } from 'drizzle-orm';
import { withTests, type Condition, type Test } from '@gray-loom/core/segments';
import { renamedMapping, renamedPlaces, type Mapping, type PlaceMove } from '@gray-loom/core/mapping';
import { renamedSetup, withoutStage, type PickRename, type SyncSetup } from '@gray-loom/core/syncing';
import type { Tx } from '../db/connect';
import { connection, intake, resultFeed, savedMapping, segment } from '../db/schema';
import type { Rhythm } from '@gray-loom/core/activity';
import { askForReview } from './statements/renamed-picks';
import { setSetting } from './statements/settings';
import { TOUCH, touchSettings } from './touch-settings';

/** Set-ups and mappings as they were before a rename, of those that named the value. */
export interface NamedBefore {
  setups: { id: number; setup: SyncSetup }[];
  mappings: { id: number; mapping: Mapping }[];
  segments?: { id: number; condition: Condition }[];
  /** Connections whose published numbers stood for it. */
  feeds?: { id: number; sources: Record<string, string> }[];
}

const same = (a: unknown, b: unknown) => isDeepStrictEqual(a, b);

/** A condition that asks for the new name beside the old one, which some have until the rename is through. */
function asksForBoth(condition: Condition, { field, from, into }: PickRename): Condition {
  return withTests(condition, (test) =>
    asksFor(test, field, from) ? { ...test, value: [...new Set([...(test.value as string[]), into])] } : test,
  );
}

/** The same once nobody has the old name any more. */
function asksForNew(condition: Condition, field: string, from: string): Condition {
  return withTests(condition, (test) =>
    asksFor(test, field, from) && (test.value as string[]).length > 1
      ? { ...test, value: (test.value as string[]).filter((one) => !isName(field, one, from)) }
      : test,
  );
}

const isName = (field: string, one: string, name: string) =>
  field === 'tags' ? one.toLowerCase() === name.toLowerCase() : one === name;
const asksFor = (test: Test, field: string, name: string) =>
  test.field === field &&
  test.op === 'is' &&
  Array.isArray(test.value) &&
  test.value.some((one) => isName(field, one, name));

/** Changes conditions of segments, and lets everybody be held against those that changed. Gives them as they were. */
async function changeSegments(
  tx: Tx,
  change: (condition: Condition, id: number) => Condition,
): Promise<{ id: number; condition: Condition }[]> {
  const before: { id: number; condition: Condition }[] = [];
  for (const { id, condition } of await tx.db.select().from(segment).for('update')) {
    const changed = change(condition, id);
    if (same(changed, condition)) continue;
    before.push({ id, condition });
    await tx.db
      .update(segment)
      .set({ condition: changed, changedAt: sql`clock_timestamp()`, reviewedAt: null })
      .where(eq(segment.id, id));
  }
  if (before.length) await askForReview(tx.client);
  return before;
}

/** Lets segments ask for the new name alone, once nobody has the old one any more. */
export async function dropFromSegments(tx: Tx, field: string, from: string): Promise<void> {
  await changeSegments(tx, (condition) => asksForNew(condition, field, from));
}

/**
 * Lets a rename of a value reach everything that names it: set-ups of connections, mappings that are kept for the next file,
 * and files that are not in yet. In the transaction of the rename. What a set-up does is the same as before, so it is not
 * tried anew.
 */
export async function renameReferences(tx: Tx, rename: PickRename): Promise<NamedBefore> {
  const before: NamedBefore = { setups: [], mappings: [] };
  for (const { id, setup } of await tx.db.select().from(connection).for('update')) {
    const renamed = renamedSetup(setup, rename);
    if (same(renamed, setup)) continue;
    before.setups.push({ id, setup });
    await tx.db.update(connection).set({ setup: renamed }).where(eq(connection.id, id));
  }
  before.mappings = await changeMappings(tx, (mapping) => renamedMapping(mapping, rename));
  before.segments = await changeSegments(tx, (condition) => asksForBoth(condition, rename));
  if (rename.field === 'stage') await renameRhythm(tx, rename.from, rename.into);
  if (rename.field === 'source') before.feeds = await changeFeeds(tx, (sources) => renamedSources(sources, rename));
  return before;
}

const renamedSources = (sources: Record<string, string>, { from, into }: PickRename) =>
  Object.fromEntries(Object.entries(sources).map(([number, source]) => [number, source === from ? into : source]));

/** Changes what the published numbers of connections stand for. Gives them as they were, of those that changed. */
async function changeFeeds(
  tx: Tx,
  change: (sources: Record<string, string>, id: number) => Record<string, string>,
): Promise<NonNullable<NamedBefore['feeds']>> {
  const before: NonNullable<NamedBefore['feeds']> = [];
  for (const { connectionId: id, sources } of await tx.db.select().from(resultFeed).for('update')) {
    const changed = change(sources, id);
    if (same(changed, sources)) continue;
    before.push({ id, sources });
    await tx.db.update(resultFeed).set({ sources: changed }).where(eq(resultFeed.connectionId, id));
  }
  return before;
}

/** A rhythm of keeping in touch goes with its stage; where the new stage has one of its own, that stays. */
async function renameRhythm({ client }: Tx, from: string, into: string): Promise<void> {
  const settings = await touchSettings(client);
  const isOf = (stage: string) => (one: Rhythm) => 'stage' in one && one.stage === stage;
  if (!settings.rhythms.some(isOf(from))) return;
  const rhythms = settings.rhythms.some(isOf(into))
    ? settings.rhythms.filter((one) => !isOf(from)(one))
    : settings.rhythms.map((one) => (isOf(from)(one) ? { ...one, stage: into } : one));
  await setSetting(client, TOUCH, { ...settings, rhythms });
}

/** Changes mappings that are kept, and those of files that are not in yet; gives the kept ones as they were, of those that changed. */
async function changeMappings(tx: Tx, change: (mapping: Mapping) => Mapping): Promise<NamedBefore['mappings']> {
  const before: NamedBefore['mappings'] = [];
  for (const { id, mapping } of await tx.db.select().from(savedMapping).for('update')) {
    const changed = change(mapping);
    if (same(changed, mapping)) continue;
    before.push({ id, mapping });
    await tx.db.update(savedMapping).set({ mapping: changed }).where(eq(savedMapping.id, id));
  }
  const open = await tx.db
    .select({ id: intake.id, mapping: intake.mapping })
    .from(intake)
    .where(isNull(intake.importRun))
    .for('update');
  for (const { id, mapping } of open) {
    const changed = change(mapping);
    if (!same(changed, mapping)) await tx.db.update(intake).set({ mapping: changed }).where(eq(intake.id, id));
  }
  return before;
}

/** Lets renamed pipelines and stages of opportunities reach the mappings that name them. In the transaction of the rename. */
export async function renamePlaces(tx: Tx, moves: readonly PlaceMove[]): Promise<void> {
  await changeMappings(tx, (mapping) => renamedPlaces(mapping, moves));
}

/** Takes back what a merge of two values did to set-ups and mappings, where nobody changed them since. */
export async function restoreReferences(tx: Tx, rename: PickRename, before: NamedBefore): Promise<void> {
  for (const { id, setup } of before.setups) {
    const [now] = await tx.db.select().from(connection).where(eq(connection.id, id)).for('update');
    if (now && same(now.setup, withoutStage(renamedSetup(setup, rename), rename.from)))
      await tx.db.update(connection).set({ setup }).where(eq(connection.id, id));
  }
  const segments = new Map(before.segments?.map(({ id, condition }) => [id, condition]));
  await changeSegments(tx, (now, id) => {
    const was = segments.get(id);
    return was && same(now, asksForNew(asksForBoth(was, rename), rename.field, rename.from)) ? was : now;
  });
  for (const { id, mapping } of before.mappings) {
    const [now] = await tx.db.select().from(savedMapping).where(eq(savedMapping.id, id)).for('update');
    if (now && same(now.mapping, renamedMapping(mapping, rename)))
      await tx.db.update(savedMapping).set({ mapping }).where(eq(savedMapping.id, id));
  }
  const feeds = new Map(before.feeds?.map(({ id, sources }) => [id, sources]));
  await changeFeeds(tx, (now, id) => {
    const was = feeds.get(id);
    return was && same(now, renamedSources(was, rename)) ? was : now;
  });
}

/** Takes a stage that nobody has any more out of the set-ups. */
export async function dropStageFromSetups(tx: Tx, stage: string): Promise<void> {
  for (const { id, setup } of await tx.db.select().from(connection).for('update')) {
    const without = withoutStage(setup, stage);
    if (!same(without, setup)) await tx.db.update(connection).set({ setup: without }).where(eq(connection.id, id));
  }
}
