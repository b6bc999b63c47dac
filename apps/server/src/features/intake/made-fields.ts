import { eq, sql } from 'drizzle-orm';
import { CUSTOM_PREFIX, foldText } from '@gray-loom/core/fields';
import type { NewField } from '@gray-loom/core/mapping';
import { nearMisses } from '@gray-loom/core/quality';
import type { Tx } from '../../db/connect';
import { customField } from '../../db/schema';
import { tell } from '../../feed/events';
import { loadCatalogue } from '../../book/picks';
import { refuse } from './refusals';
import { deleteUnused, retireUnused, unretire } from './statements/made-fields';

/**
 * The field that a column asks for: the one of that name, also where it was retired, or a new one. Asks once before there are two of
 * what may be one.
 */
export async function fieldFor(
  tx: Tx,
  intakeId: number,
  column: number,
  { name, type, choices, despite }: NewField,
): Promise<string> {
  const { fields } = await loadCatalogue(tx.db);
  const same = fields.find((field) => foldText(field.name) === foldText(name));
  if (same?.retired)
    await tx.db
      .update(customField)
      .set({ retired: false })
      .where(eq(customField.id, Number(same.key.slice(CUSTOM_PREFIX.length))));
  if (same) return same.key;
  const inUse = fields.filter(({ retired }) => !retired);
  const [near] = nearMisses(
    name,
    inUse.map((field) => field.name),
  );
  const like = inUse.find((field) => field.name === near?.label);
  if (like && !despite) throw refuse.nearMiss({ column, name, like: like.name, target: like.key });
  const [last] = await tx.db
    .select({ n: sql<number>`coalesce(max(${customField.ordinal}), 0)::int` })
    .from(customField);
  const [made] = await tx.db
    .insert(customField)
    .values({ name, type, choices, madeFor: intakeId, ordinal: (last?.n ?? 0) + 1 })
    .returning({ id: customField.id });
  await tell(tx.client, { topic: 'setup' });
  return `${CUSTOM_PREFIX}${made?.id}`;
}

async function tellOf(tx: Tx, { rows }: { rows: unknown[] }): Promise<void> {
  if (rows.length) await tell(tx.client, { topic: 'setup' });
}

/** Takes away the fields that were made for a file, where neither its mapping nor anything else needs them. */
export const dropMadeFields = async (tx: Tx, intakeId: number): Promise<void> =>
  tellOf(tx, await deleteUnused(tx.client, intakeId));

/** Retires the fields that were made for an import which is taken back, where nobody uses them. */
export const retireMadeFields = async (tx: Tx, importRun: number): Promise<void> =>
  tellOf(tx, await retireUnused(tx.client, importRun));

/** The fields of an import whose undo is taken back. */
export const bringBackFields = async (tx: Tx, importRun: number): Promise<void> =>
  tellOf(tx, await unretire(tx.client, importRun));
