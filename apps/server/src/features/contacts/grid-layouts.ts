import { asc, eq } from 'drizzle-orm';
import type { GridLayout, GridLayoutRequest } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { gridLayout } from '../../db/schema';
import { refuse } from './refusals';

export async function listGridLayouts({ db }: Database): Promise<GridLayout[]> {
  return db.select().from(gridLayout).orderBy(asc(gridLayout.name));
}

/** Keeps a layout of the grid under its name; the same name again takes its place. */
export async function keepGridLayout({ db }: Database, layout: GridLayoutRequest): Promise<GridLayout> {
  const { name: _name, ...rest } = layout;
  const [kept] = await db
    .insert(gridLayout)
    .values(layout)
    .onConflictDoUpdate({ target: gridLayout.name, set: rest })
    .returning();
  if (!kept) throw new Error('a layout was not kept');
  return kept;
}

export async function dropGridLayout({ db }: Database, id: number): Promise<void> {
  const dropped = await db.delete(gridLayout).where(eq(gridLayout.id, id)).returning({ id: gridLayout.id });
  if (!dropped.length) throw refuse.noSuchLayout();
}
