import { asc, eq } from 'drizzle-orm';
import type { ExportLayout, ExportLayoutRequest } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { exportLayout } from '../../db/schema';
import { refuse } from './refusals';

export async function listExportLayouts({ db }: Database): Promise<ExportLayout[]> {
  return db.select().from(exportLayout).orderBy(asc(exportLayout.name));
}

/** Keeps a layout under its name; the same name again takes its place. */
export async function keepExportLayout({ db }: Database, layout: ExportLayoutRequest): Promise<ExportLayout> {
  const [kept] = await db
    .insert(exportLayout)
    .values(layout)
    .onConflictDoUpdate({ target: exportLayout.name, set: { fields: layout.fields, format: layout.format } })
    .returning();
  if (!kept) throw new Error('a layout was not kept');
  return kept;
}

export async function dropExportLayout({ db }: Database, id: number): Promise<void> {
  const dropped = await db.delete(exportLayout).where(eq(exportLayout.id, id)).returning({ id: exportLayout.id });
  if (!dropped.length) throw refuse.noSuchLayout();
}
