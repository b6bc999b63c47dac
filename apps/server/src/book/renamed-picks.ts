import { isDeepStrictEqual } from 'node:util';
import { eq, isNull } from 'drizzle-orm';
import { renamedMapping, renamedPlaces, type Mapping, type PlaceMove } from '@gray-loom/core/mapping';
import { renamedSetup, withoutStage, type PickRename, type SyncSetup } from '@gray-loom/core/syncing';
import type { Tx } from '../db/connect';
import { connection, intake, savedMapping } from '../db/schema';

/** Set-ups and mappings as they were before a rename, of those that named the value. */
export interface NamedBefore {
  setups: { id: number; setup: SyncSetup }[];
  mappings: { id: number; mapping: Mapping }[];
}

const same = (a: unknown, b: unknown) => isDeepStrictEqual(a, b);

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
  return before;
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
  for (const { id, mapping } of before.mappings) {
    const [now] = await tx.db.select().from(savedMapping).where(eq(savedMapping.id, id)).for('update');
    if (now && same(now.mapping, renamedMapping(mapping, rename)))
      await tx.db.update(savedMapping).set({ mapping }).where(eq(savedMapping.id, id));
  }
}

/** Takes a stage that nobody has any more out of the set-ups. */
export async function dropStageFromSetups(tx: Tx, stage: string): Promise<void> {
  for (const { id, setup } of await tx.db.select().from(connection).for('update')) {
    const without = withoutStage(setup, stage);
    if (!same(without, setup)) await tx.db.update(connection).set({ setup: without }).where(eq(connection.id, id));
  }
}
