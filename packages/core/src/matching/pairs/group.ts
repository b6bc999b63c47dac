export interface ScoredPair {
  a: number;
  b: number;
  bits: number;
}

export interface MatchGroup {
  members: number[];
  /** Weight of the member that fits the others least, in bits. */
  weakestBits: number;
}

/** What grouping asks: the weight, in bits, of two sets of records being of one person; -Infinity where they are kept apart. */
export type WeighSets = (a: readonly number[], b: readonly number[]) => number;

/** More records than this are not put in one group; nobody could look at it. */
const MOST_MEMBERS = 60;

interface Cluster {
  members: number[];
  /** Clusters that share a link, by their number. */
  near: Set<number>;
}

interface Offer {
  a: number;
  b: number;
  bits: number;
}

/** A heap of offers, the heaviest first; ties by the smaller numbers, so that the order of input does not matter. */
class Offers {
  private readonly heap: Offer[] = [];

  push(offer: Offer): void {
    const { heap } = this;
    let i = heap.push(offer) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (!before(heap[i] as Offer, heap[up] as Offer)) break;
      [heap[i], heap[up]] = [heap[up] as Offer, heap[i] as Offer];
      i = up;
    }
  }

  pop(): Offer | undefined {
    const { heap } = this;
    const top = heap[0];
    const last = heap.pop();
    if (heap.length === 0 || last === undefined) return top;
    heap[0] = last;
    for (let i = 0; ;) {
      let best = i;
      for (const child of [2 * i + 1, 2 * i + 2])
        if (child < heap.length && before(heap[child] as Offer, heap[best] as Offer)) best = child;
      if (best === i) return top;
      [heap[i], heap[best]] = [heap[best] as Offer, heap[i] as Offer];
      i = best;
    }
  }
}

function before(x: Offer, y: Offer): boolean {
  return x.bits !== y.bits ? x.bits > y.bits : x.a !== y.a ? x.a < y.a : x.b < y.b;
}

/**
 * Groups records by person. The two sets that fit best are joined first, and every set is weighed as a whole: by the best
 * agreement in each field over all its records, with contradictions standing. So a second address or a married name
 * that one record explains does not part the others, and a chain of weak links makes no group: a member stays only
 * while its weight to the others together is above the threshold.
 * Independent of the order of pairs (ties by smaller numbers). Cost near linear in pairs while groups are small.
 */
export function groupPairs(pairs: readonly ScoredPair[], thresholdBits: number, weigh: WeighSets): MatchGroup[] {
  const clusters = new Map<number, Cluster>();
  const clusterAt = (i: number): Cluster => {
    const known = clusters.get(i);
    if (known) return known;
    const cluster: Cluster = { members: [i], near: new Set() };
    clusters.set(i, cluster);
    return cluster;
  };
  const offers = new Offers();
  for (const { a, b, bits } of pairs) {
    if (bits === -Infinity) continue;
    clusterAt(a).near.add(b);
    clusterAt(b).near.add(a);
    if (bits >= thresholdBits) offers.push({ a: Math.min(a, b), b: Math.max(a, b), bits });
  }
  // A cluster is known by a number that is new with every joining, so that offers to what it was before are seen as stale.
  let next = 0;
  for (const i of clusters.keys()) next = Math.max(next, i + 1);
  for (let offer = offers.pop(); offer; offer = offers.pop()) {
    const [x, y] = [clusters.get(offer.a), clusters.get(offer.b)];
    if (!x || !y || x.members.length + y.members.length > MOST_MEMBERS) continue;
    clusters.delete(offer.a);
    clusters.delete(offer.b);
    const joined: Cluster = { members: [...x.members, ...y.members].sort((p, q) => p - q), near: new Set() };
    const name = next++;
    for (const other of [...x.near, ...y.near]) {
      const neighbour = clusters.get(other);
      if (!neighbour || joined.near.has(other)) continue;
      joined.near.add(other);
      neighbour.near.delete(offer.a);
      neighbour.near.delete(offer.b);
      neighbour.near.add(name);
      const bits = weigh(joined.members, neighbour.members);
      if (bits >= thresholdBits) offers.push({ a: other, b: name, bits });
    }
    clusters.set(name, joined);
  }
  const groups: MatchGroup[] = [];
  for (const { members } of clusters.values())
    if (members.length > 1) groups.push(...settled(members, thresholdBits, weigh));
  return groups.sort((x, y) => (x.members[0] ?? 0) - (y.members[0] ?? 0));
}

/** A group without the members that do not hold to the others any more. */
function settled(members: readonly number[], thresholdBits: number, weigh: WeighSets): MatchGroup[] {
  let kept = [...members];
  const [one, other] = kept;
  if (kept.length === 2 && one !== undefined && other !== undefined) {
    // Each of two holds to the other as well as the other to it.
    const weakestBits = weigh([one], [other]);
    return weakestBits >= thresholdBits ? [{ members: kept, weakestBits }] : [];
  }
  while (kept.length > 1) {
    let weakestBits = Infinity;
    let weakest = 0;
    for (const member of kept) {
      const bits = weigh(
        [member],
        kept.filter((other) => other !== member),
      );
      if (bits < weakestBits) [weakestBits, weakest] = [bits, member];
    }
    if (weakestBits >= thresholdBits) return [{ members: kept, weakestBits }];
    kept = kept.filter((member) => member !== weakest);
  }
  return [];
}
