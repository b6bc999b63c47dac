import { readFileSync } from 'node:fs';

export interface GroupScore {
  precision: number;
  recall: number;
  f1: number;
  /** Pairs of different people put together, of whom at least one is easily confused, over 1,000 such records. */
  falsePerThousandHard: number;
}

function columns(path: string): string[][] {
  const [, ...lines] = readFileSync(path, 'utf8').trim().split(/\r?\n/);
  return lines.map((line) => line.split(','));
}

const pairsOf = (n: number) => (n * (n - 1)) / 2;

function countBy(keys: Iterable<string>): Map<string, number> {
  const counts = new Map<string, number>();
  for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1);
  return counts;
}

const sum = (counts: Map<string, number>) => [...counts.values()].reduce((total, n) => total + pairsOf(n), 0);

/** Pairwise precision and recall of groups (record_id, group_id) against the truth; records without a group are alone. */
export function scoreGroups(truthPath: string, groupsPath: string): GroupScore {
  const groupOf = new Map(columns(groupsPath).map(([id = '', group = '']) => [id, group || `alone:${id}`]));
  const truth = columns(truthPath).map(([id = '', entity = '', kind = '']) => ({
    entity,
    group: groupOf.get(id) ?? `alone:${id}`,
    isHard: kind.startsWith('hn_'),
  }));
  const found = sum(countBy(truth.map(({ entity, group }) => `${group}\u0001${entity}`)));
  const together = sum(countBy(truth.map(({ group }) => group)));
  const same = sum(countBy(truth.map(({ entity }) => entity)));
  const inGroup = countBy(truth.map(({ group }) => group));
  const ofOne = countBy(truth.map(({ entity, group }) => `${group}\u0001${entity}`));
  const hard = truth.filter(({ isHard }) => isHard);
  const wrong = hard.reduce(
    (total, { entity, group }) => total + (inGroup.get(group) ?? 0) - (ofOne.get(`${group}\u0001${entity}`) ?? 0),
    0,
  );
  const precision = together ? found / together : 1;
  const recall = same ? found / same : 1;
  return {
    precision,
    recall,
    f1: (2 * precision * recall) / (precision + recall || 1),
    falsePerThousandHard: (1000 * wrong) / (hard.length || 1),
  };
}
