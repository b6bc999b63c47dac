import { selectLists } from './statements/lists';
import type { CountedPick, LabelCount, Lists } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import type { PickKind, TallyKind } from '../../db/schema';
import { catalogueOf } from '../../book/picks';

/** Fields, pick-lists and how many live contacts have each value, from the kept counts. */
export async function loadLists({ pool }: Database, country: string): Promise<Lists> {
  const { rows } = await selectLists(pool);
  const { catalogue, picks, owners, counts } = rows[0] ?? {
    catalogue: { fields: [], rules: [] },
    picks: [],
    owners: [],
    counts: [],
  };
  const counted = new Map<string, LabelCount>();
  let opportunities = 0;
  for (const [kind, label, who, n] of counts) {
    if (who === 'opportunity') {
      if (kind === 'live') opportunities += n;
      continue;
    }
    const key = `${kind}:${label}`;
    const count = counted.get(key) ?? { label, people: 0, organizations: 0 };
    count[who === 'person' ? 'people' : 'organizations'] += n;
    counted.set(key, count);
  }
  // Accounts are offered as owners, also those who own nothing yet.
  for (const [label] of owners) {
    const key = `owner:${label}`;
    if (!counted.has(key)) counted.set(key, { label, people: 0, organizations: 0 });
  }
  const listed = (kind: PickKind): CountedPick[] =>
    picks
      .filter((one) => one.kind === kind)
      .map(({ label, meaning, colour }) => ({
        ...(counted.get(`${kind}:${label}`) ?? { label, people: 0, organizations: 0 }),
        meaning,
        colour,
      }));
  const labels = (kind: TallyKind): LabelCount[] =>
    [...counted]
      .filter(([key]) => key.startsWith(`${kind}:`))
      .map(([, count]) => count)
      .sort((a, b) => a.label.localeCompare(b.label));
  const everybody = counted.get('live:');
  return {
    fields: [...catalogueOf(catalogue).fields],
    tags: listed('tag'),
    sources: listed('source'),
    stages: listed('stage'),
    owners: labels('owner'),
    areas: labels('area'),
    people: everybody?.people ?? 0,
    organizations: everybody?.organizations ?? 0,
    opportunities,
    country,
  };
}
