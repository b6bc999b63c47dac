import { asc } from 'drizzle-orm';
import type { CountedPick, Lists } from '@gray-loom/wire';
import type { Database } from '../db/connect';
import { pick, type PickKind, type TallyKind } from '../db/schema';
import { loadCatalogue } from './picks';

/** Fields, pick-lists and how many live contacts have each value, from the kept counts. */
export async function loadLists(database: Database, country: string): Promise<Lists> {
  const [catalogue, picks, counts] = await Promise.all([
    loadCatalogue(database.db),
    database.db.select().from(pick).orderBy(asc(pick.ordinal), asc(pick.label)),
    database.pool.query<{ kind: TallyKind; label: string; n: number }>(
      'select kind, label, sum(n)::int as n from tally group by 1, 2 having sum(n) <> 0',
    ),
  ]);
  const countOf = new Map(counts.rows.map(({ kind, label, n }) => [`${kind}:${label}`, n]));
  const counted = (kind: PickKind): CountedPick[] =>
    picks
      .filter((one) => one.kind === kind)
      .map(({ label, meaning, colour }) => ({ label, meaning, colour, count: countOf.get(`${kind}:${label}`) ?? 0 }));
  const labels = (kind: TallyKind) =>
    counts.rows
      .filter((row) => row.kind === kind)
      .map(({ label, n }) => ({ label, count: n }))
      .sort((a, b) => a.label.localeCompare(b.label));
  return {
    fields: [...catalogue.fields],
    tags: counted('tag'),
    sources: counted('source'),
    stages: counted('stage'),
    owners: labels('owner'),
    areas: labels('area'),
    people: countOf.get('live:person') ?? 0,
    organizations: countOf.get('live:organization') ?? 0,
    country,
  };
}
