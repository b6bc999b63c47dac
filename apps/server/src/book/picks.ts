import { sql } from 'drizzle-orm';
import {
  Catalogue,
  currencyOf,
  CUSTOM_PREFIX,
  foldText,
  type FieldDefinition,
  type Pipeline,
} from '@gray-loom/core/fields';
import type { ReadingContext } from '@gray-loom/core/mapping';
import type { Db, Tx } from '../db/connect';
import type { fieldRule, customField } from '../db/schema';
import { pick, type PickKind } from '../db/schema';

/** Own fields of this workspace and what is asked of fields, as one JSON column of a statement. */
export const CATALOGUE_JSON = `json_build_object(
  'fields', coalesce((select json_agg(f order by f.ordinal, f.id) from custom_field f), '[]'),
  'rules', coalesce((select json_agg(json_build_object('field', field, 'required', required, 'unique', unique_rule)) from field_rule), '[]'))`;

export interface CatalogueJson {
  fields: (typeof customField.$inferSelect)[];
  rules: (typeof fieldRule.$inferSelect)[];
}

/** The catalogue of this workspace: the standard fields and its own. */
export async function loadCatalogue(db: Db): Promise<Catalogue> {
  const { rows } = await db.execute<{ catalogue: CatalogueJson }>(sql.raw(`select ${CATALOGUE_JSON} as catalogue`));
  return catalogueOf(rows[0]?.catalogue ?? { fields: [], rules: [] });
}

export function catalogueOf({ fields, rules }: CatalogueJson): Catalogue {
  return new Catalogue(
    fields.map((row): FieldDefinition => ({
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

/** Values of the pick-lists in their order, as one JSON column of a statement. */
export const PICKS_JSON = `coalesce((
  select json_agg(json_build_object('kind', kind, 'label', label, 'foldKey', fold_key, 'formerly', formerly) order by ordinal, id) from pick), '[]')`;

export interface PickJson {
  kind: PickKind;
  label: string;
  foldKey: string;
  formerly?: string[];
}

/** Accounts that can own contacts, as one JSON column of a statement: name and e-mail of each. */
export const OWNERS_JSON = `coalesce((
  select json_agg(json_build_array(name, email) order by id) from account where retired_at is null), '[]')`;

const PIPELINES_JSON = `coalesce((
  select json_agg(json_build_object('name', name, 'stages', stages) order by ordinal, id) from pipeline), '[]')`;

/** Pick-lists in memory: the kept writing of each value by its folded form. */
export class PickLists {
  private readonly byKey = new Map<string, string>();
  readonly stages: string[] = [];
  private readonly fresh: FreshPick[] = [];

  constructor(
    rows: readonly PickJson[],
    readonly pipelines: readonly Pipeline[] = [],
    owners: readonly (readonly [name: string, email: string])[] = [],
  ) {
    for (const [name, email] of owners) {
      this.byKey.set(`owner:${email.toLowerCase()}`, name);
      this.byKey.set(`owner:${foldText(name) || name}`, name);
    }
    for (const row of rows) {
      this.byKey.set(`${row.kind}:${row.foldKey}`, row.label);
      if (row.kind === 'stage') this.stages.push(row.label);
    }
    // What is called so now comes before what was called so once.
    for (const { kind, label, formerly = [] } of rows)
      for (const key of formerly) if (!this.byKey.has(`${kind}:${key}`)) this.byKey.set(`${kind}:${key}`, label);
  }

  static async load(db: Db): Promise<PickLists> {
    const { rows } = await db.execute<{ picks: PickJson[]; pipelines: Pipeline[]; owners: [string, string][] }>(
      sql.raw(`select ${PICKS_JSON} as picks, ${PIPELINES_JSON} as pipelines, ${OWNERS_JSON} as owners`),
    );
    return new PickLists(rows[0]?.picks ?? [], rows[0]?.pipelines ?? [], rows[0]?.owners ?? []);
  }

  /** What cells of a file or a form are read against. */
  context(country: string): ReadingContext {
    return {
      country,
      stages: this.stages,
      formerStage: (key) => this.formerStage(key),
      thisYear: new Date().getFullYear(),
      settle: (kind, text) => this.settle(kind, text),
      isOwner: (text) =>
        this.byKey.has(`owner:${text.trim().toLowerCase()}`) || this.byKey.has(`owner:${foldText(text)}`),
      opportunities: { pipelines: this.pipelines, currency: currencyOf(country) },
    };
  }

  /** The stage that is called so, or was once (folded); an old file still means it. */
  formerStage(key: string): string | undefined {
    return this.byKey.get(`stage:${key}`);
  }

  /** The kept writing of a value; a new one is remembered and written with the next `save`. An owner who is no account stays as written. */
  settle(kind: PickKind | 'owner', text: string): string {
    if (kind === 'owner')
      return this.byKey.get(`owner:${text.trim().toLowerCase()}`) ?? this.byKey.get(`owner:${foldText(text)}`) ?? text;
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
