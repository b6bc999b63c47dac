export interface ScoredPair {
  a: number;
  b: number;
  bits: number;
}

export interface MatchGroup {
  members: number[];
  /** Mean weight between members, in bits. */
  meanBits: number;
  /** Weight of the weakest member to the others on average, in bits. */
  weakestBits: number;
}

/** One pair counts for no more than this either way, so that a single link does not carry a chain. */
const PAIR_CAP_BITS = 16;
const COMPONENT_LIMIT = 400;
/** Two clusters never join over a pair that speaks against it this clearly, whatever the others say. */
const VETO_BITS = -6;

const cap = (bits: number) => Math.max(-PAIR_CAP_BITS, Math.min(PAIR_CAP_BITS, bits));

function components(pairs: readonly ScoredPair[]): number[][] {
  const parent = new Map<number, number>();
  const find = (x: number): number => {
    let root = x;
    while ((parent.get(root) ?? root) !== root) root = parent.get(root) ?? root;
    while ((parent.get(x) ?? x) !== root) {
      const next = parent.get(x) ?? x;
      parent.set(x, root);
      x = next;
    }
    return root;
  };
  for (const { a, b } of pairs) {
    if (!parent.has(a)) parent.set(a, a);
    if (!parent.has(b)) parent.set(b, b);
    const [x, y] = [find(a), find(b)];
    if (x !== y) parent.set(Math.max(x, y), Math.min(x, y));
  }
  const sets = new Map<number, number[]>();
  for (const x of parent.keys()) {
    const root = find(x);
    const set = sets.get(root);
    if (set) set.push(x);
    else sets.set(root, [x]);
  }
  return [...sets.values()].map((set) => set.sort((x, y) => x - y));
}

/**
 * Groups people by average linkage: two clusters join only while the mean weight between their members is above the
 * threshold, so a chain of weak links makes no group and each member agrees with the others on the whole.
 * Independent of the order of pairs (ties by smaller ids). `weigh` scores pairs that no block brought together.
 * Pairs kept apart by a person come with weight -Infinity and never share a group.
 */
export function groupPairs(
  pairs: readonly ScoredPair[],
  thresholdBits: number,
  weigh: (a: number, b: number) => number,
): MatchGroup[] {
  const linked = pairs.filter((pair) => pair.bits >= thresholdBits);
  const known = new Map<string, number>();
  for (const { a, b, bits } of pairs) known.set(a < b ? `${a}:${b}` : `${b}:${a}`, bits);
  const bitsOf = (a: number, b: number) => {
    const key = a < b ? `${a}:${b}` : `${b}:${a}`;
    let bits = known.get(key);
    if (bits === undefined) {
      bits = weigh(Math.min(a, b), Math.max(a, b));
      known.set(key, bits);
    }
    return bits === -Infinity ? -1e6 : cap(bits);
  };
  const groups: MatchGroup[] = [];
  for (const members of components(linked)) {
    const clusters = members.length > COMPONENT_LIMIT ? [] : joinClusters(members, thresholdBits, bitsOf);
    for (const cluster of clusters) if (cluster.length > 1) groups.push(measure(cluster, bitsOf));
  }
  return groups.sort((x, y) => (x.members[0] ?? 0) - (y.members[0] ?? 0));
}

function joinClusters(members: number[], thresholdBits: number, bitsOf: (a: number, b: number) => number): number[][] {
  let clusters = members.map((member) => [member]);
  // Sums of weights between clusters; components are small, so the plain way is fast enough.
  const sum = clusters.map((x, i) =>
    clusters.map((y, j) => {
      if (i === j) return 0;
      const bits = bitsOf(x[0] ?? 0, y[0] ?? 0);
      return bits <= VETO_BITS ? -1e6 : bits;
    }),
  );
  for (;;) {
    let best = -Infinity;
    let at: [number, number] | null = null;
    for (let i = 0; i < clusters.length; i++) {
      for (let j = i + 1; j < clusters.length; j++) {
        const mean = (sum[i]?.[j] ?? 0) / ((clusters[i]?.length ?? 1) * (clusters[j]?.length ?? 1));
        if (mean > best + 1e-9) {
          best = mean;
          at = [i, j];
        }
      }
    }
    if (!at || best < thresholdBits) return clusters;
    const [i, j] = at;
    clusters[i] = [...(clusters[i] ?? []), ...(clusters[j] ?? [])].sort((x, y) => x - y);
    for (let k = 0; k < clusters.length; k++) {
      if (k === i || k === j) continue;
      const joined = (sum[i]?.[k] ?? 0) + (sum[j]?.[k] ?? 0);
      (sum[i] ?? [])[k] = joined;
      (sum[k] ?? [])[i] = joined;
    }
    clusters = clusters.filter((_, k) => k !== j);
    sum.splice(j, 1);
    for (const row of sum) row.splice(j, 1);
  }
}

function measure(members: number[], bitsOf: (a: number, b: number) => number): MatchGroup {
  let total = 0;
  let weakest = Infinity;
  for (const a of members) {
    let own = 0;
    for (const b of members) if (a !== b) own += bitsOf(a, b);
    const mean = own / (members.length - 1);
    total += mean;
    if (mean < weakest) weakest = mean;
  }
  return { members, meanBits: total / members.length, weakestBits: weakest };
}
