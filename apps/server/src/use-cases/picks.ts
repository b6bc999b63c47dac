import { asc } from 'drizzle-orm';
import { Catalogue, CUSTOM_PREFIX, foldText, type FieldDefinition, type FieldType } from '@gray-loom/core/fields';
import type { Db, Tx } from '../db/connect';
import { customField, fieldRule, pick, type PickKind } from '../db/schema';

/** The catalogue of this workspace: the standard fields and its own. */
export async function loadCatalogue(db: Db): Promise<Catalogue> {
  const [rows, rules] = await Promise.all([
    db.select().from(customField).orderBy(asc(customField.ordinal), asc(customField.id)),
    db.select().from(fieldRule),
  ]);
  return new Catalogue(
    rows.map((row): FieldDefinition => ({
      key: `${CUSTOM_PREFIX}${row.id}`,
      name: row.name,
      type: row.type,
      group: 'custom',
      several: false,
      choices: row.choices,
      ...(row.currency ? { currency: row.currency } : {}),
      heading: row.heading,
      retired: row.retired,
    })),
    rules,
  );
}

/** Makes a custom field, or finds the one of that name and type. */
export async function makeField(tx: Tx, name: string, type: FieldType, choices: string[]): Promise<string> {
  const found = (await tx.db.select().from(customField)).find((field) => foldText(field.name) === foldText(name));
  if (found) return `${CUSTOM_PREFIX}${found.id}`;
  const made = await tx.db.insert(customField).values({ name, type, choices }).returning({ id: customField.id });
  return `${CUSTOM_PREFIX}${made[0]?.id}`;
}

/** Pick-lists in memory: the kept writing of each value by its folded form. */
export class PickLists {
  private readonly byKey = new Map<string, string>();
  readonly stages: string[] = [];
  private readonly fresh: FreshPick[] = [];

  constructor(rows: readonly { kind: PickKind; label: string; foldKey: string }[]) {
    for (const row of rows) {
      this.byKey.set(`${row.kind}:${row.foldKey}`, row.label);
      if (row.kind === 'stage') this.stages.push(row.label);
    }
  }

  static async load(db: Db): Promise<PickLists> {
    return new PickLists(
      await db
        .select({ kind: pick.kind, label: pick.label, foldKey: pick.foldKey })
        .from(pick)
        .orderBy(asc(pick.ordinal), asc(pick.id)),
    );
  }

  /** The kept writing of a value; a new one is remembered and written with the next `save`. */
  settle(kind: PickKind, text: string): string {
    const key = foldText(text) || text;
    const known = this.byKey.get(`${kind}:${key}`);
    if (known !== undefined) return known;
    this.byKey.set(`${kind}:${key}`, text);
    this.fresh.push({ kind, label: text, key });
    return text;
  }

  /** New values since the last call, for whoever writes them. */
  takeFresh(): FreshPick[] {
    return this.fresh.splice(0);
  }

  async save(tx: Tx): Promise<void> {
    await savePicks(tx, this.takeFresh());
  }
}

export interface FreshPick {
  kind: PickKind;
  label: string;
  key: string;
}

export async function savePicks(tx: Tx, fresh: readonly FreshPick[]): Promise<void> {
  if (!fresh.length) return;
  await tx.db
    .insert(pick)
    .values(fresh.map(({ kind, label, key }) => ({ kind, label, foldKey: key })))
    .onConflictDoNothing();
}
