import { asc } from 'drizzle-orm';
import { postalKey, type AreaRule } from '@gray-loom/core/fields';
import type { AreaDefinition } from '@gray-loom/wire';
import { inTransaction, type Database } from '../../db/connect';
import { renameInRemits } from '../../book/renamed-remits';
import { renameInGiving } from './giving';
import { area } from '../../db/schema';
import { refuseArea } from './refusals';
import { startDerivation } from './field-setup';
import { likeliestAddress } from './statements/areas';

export async function listAreas({ db }: Database): Promise<AreaDefinition[]> {
  return (await db.select().from(area).orderBy(asc(area.ordinal), asc(area.id))).map(({ name, rules }) => ({
    name,
    rules,
  }));
}

/** Puts new definitions in force and starts the run that works out everybody's area anew. The order decides where two areas fit. */
export async function saveAreas(database: Database, areas: readonly AreaDefinition[]): Promise<{ runId: number }> {
  const names = new Set<string>();
  for (const { name, rules } of areas) {
    if (names.has(name.toLowerCase())) throw refuseArea.nameTaken({ name });
    names.add(name.toLowerCase());
    for (const rule of rules)
      if (!rule.country && !rule.region && !rule.postalPrefix) throw refuseArea.emptyRule({ name });
  }
  return inTransaction(database, async (tx) => {
    const before = await tx.db.select().from(area);
    for (const { name: from, rules } of before) {
      // One that is gone, with the rules of a new one, has another name now.
      const renamed = areas.find((one) => !before.some(({ name }) => name === one.name) && sameRules(one.rules, rules));
      if (renamed && !names.has(from.toLowerCase())) {
        await renameInRemits(tx, { field: 'area', from, into: renamed.name });
        await renameInGiving(tx, from, renamed.name);
      }
    }
    await tx.db.delete(area);
    if (areas.length)
      await tx.db.insert(area).values(
        areas.map(({ name, rules }, ordinal) => ({
          name,
          ordinal,
          rules: rules.map((rule) => ({
            ...rule,
            postalPrefix: rule.postalPrefix ? postalKey(rule.postalPrefix) : null,
          })),
        })),
      );
    return { runId: await startDerivation(tx, 'Areas worked out anew') };
  });
}

const sameRules = (a: readonly AreaRule[], b: readonly AreaRule[]) =>
  JSON.stringify(a.map(ruleKey)) === JSON.stringify(b.map(ruleKey));
const ruleKey = ({ country, region, postalPrefix }: AreaRule) => [
  country ?? '',
  region ?? '',
  postalPrefix ? postalKey(postalPrefix) : '',
];

/** Towns, regions and postal codes of addresses that are here, for completing what is typed. Most common first. */
export async function completeAddress(
  { pool }: Database,
  typed: { postalCode: string; locality: string; country: string },
): Promise<{ locality: string; region: string; postalCode: string; country: string }[]> {
  const wanted = typed.postalCode.trim() || typed.locality.trim();
  if (wanted.length < 2) return [];
  const { rows } = await likeliestAddress(
    pool,
    typed.postalCode.trim().replace(/[%_\\]/g, ''),
    typed.locality.trim().replace(/[%_\\]/g, ''),
    typed.country,
  );
  return rows;
}
