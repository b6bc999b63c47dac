import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { candidateFacts, indexKeys, matchPeople, preparePerson, scorePair } from '@gray-loom/core/matching';
import { buildBlocks, forEachPair } from '../packages/core/src/matching/pairs/candidates';
import { readRecords } from '../apps/loom/src/match';
import { atLeast, type Claim } from './harness';

/** Records of which every pair is compared, as the slow way to the same end. */
const ORACLE = 2000;

/** Pairs of records that are one person and can be told to be, by the truth of a corpus. */
function truePairs(folder: string, ids: readonly string[]): [number, number][] {
  const place = new Map(ids.map((id, i) => [id, i]));
  const byEntity = new Map<string, number[]>();
  const [, ...lines] = readFileSync(join(folder, 'truth.csv'), 'utf8').trim().split(/\r?\n/);
  for (const line of lines) {
    const [id = '', entity = '', kind = ''] = line.split(',');
    const at = place.get(id);
    if (at === undefined || kind.includes('undecidable')) continue;
    byEntity.set(entity, [...(byEntity.get(entity) ?? []), at]);
  }
  return [...byEntity.values()].flatMap((members) =>
    members.flatMap((a, i) => members.slice(i + 1).map((b): [number, number] => [Math.min(a, b), Math.max(a, b)])),
  );
}

/** How many of the pairs are brought together by these, directly or by way of other records of the same person. */
function together(pairs: readonly [number, number][], links: readonly [number, number][]): number {
  const above = new Map<number, number>();
  const rootOf = (i: number): number => {
    let at = i;
    for (let up = above.get(at); up !== undefined; up = above.get(at)) at = up;
    return at;
  };
  for (const [a, b] of links) {
    const [x, y] = [rootOf(a), rootOf(b)];
    if (x !== y) above.set(x, y);
  }
  return pairs.filter(([a, b]) => rootOf(a) === rootOf(b)).length;
}

/**
 * What each of the roads to a verdict reaches: the candidates of a full scan, and the look-up keys in the database that a
 * single check and a check of what changed go by; and what blocking misses of all that a comparison of every pair finds.
 */
export function reach(folder: string): { claims: Claim[]; figures: Record<string, number> } {
  const { ids, candidates } = readRecords(join(folder, 'records.csv'));
  const people = candidates.map((candidate) => preparePerson(candidateFacts(candidate)));
  const pairs = truePairs(folder, ids);
  const compared = new Set<number>();
  forEachPair(buildBlocks(people), (a, b) => compared.add(a * people.length + b));
  const keys = people.map((person) => new Set(indexKeys(person)));
  const byScan = pairs.filter(([a, b]) => compared.has(a * people.length + b));
  const byIndex = pairs.filter(([a, b]) => [...(keys[a] ?? [])].some((key) => keys[b]?.has(key)));
  const some = people.slice(0, ORACLE);
  const scanMs = performance.now();
  const { model } = matchPeople(some, { threshold01: 0.5 });
  const scannedMs = performance.now() - scanMs;
  const near = new Set<number>();
  forEachPair(buildBlocks(some), (a, b) => near.add(a * some.length + b));
  let found = 0;
  let reached = 0;
  const oracleMs = performance.now();
  for (let a = 0; a < some.length; a++)
    for (let b = a + 1; b < some.length; b++) {
      const [x, y] = [some[a], some[b]];
      if (!x || !y || scorePair(model, x, y).probability01 < model.thresholds.possible) continue;
      found++;
      if (near.has(a * some.length + b)) reached++;
    }
  const comparedMs = performance.now() - oracleMs;
  return {
    claims: [
      atLeast(
        'decidable pairs of the corpus that blocking brings together',
        together(pairs, byScan) / pairs.length,
        0.985,
        '',
      ),
      atLeast(`pairs of ${ORACLE} people that comparing all finds and blocking reaches`, reached / found, 0.99, ''),
    ],
    figures: {
      directlyByScan: byScan.length / pairs.length,
      directlyByCheck: byIndex.length / pairs.length,
      togetherByCheck: together(pairs, byIndex) / pairs.length,
      oracleOverScan: comparedMs / scannedMs,
    },
  };
}
