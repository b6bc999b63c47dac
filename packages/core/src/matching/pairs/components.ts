/**
 * Parts into which links divide what they link: whoever is linked, directly or through others, is in one part. Each link is a list of
 * numbers that belong together. Parts in order of their smallest number, each in ascending order. Cost near linear (union by rank
 * with path halving; Tarjan 1975).
 */
export function componentsOf(links: Iterable<readonly number[]>): number[][] {
  const parent = new Map<number, number>();
  const rank = new Map<number, number>();
  const rootOf = (number: number): number => {
    let at = number;
    for (;;) {
      const up = parent.get(at) ?? at;
      if (up === at) return at;
      const next = parent.get(up) ?? up;
      parent.set(at, next);
      at = next;
    }
  };
  const join = (a: number, b: number): void => {
    const [x, y] = [rootOf(a), rootOf(b)];
    if (x === y) return;
    const [low, high] = (rank.get(x) ?? 0) < (rank.get(y) ?? 0) ? [x, y] : [y, x];
    parent.set(low, high);
    if (rank.get(low) === rank.get(high)) rank.set(high, (rank.get(high) ?? 0) + 1);
  };
  for (const link of links) {
    for (const number of link) {
      if (parent.has(number)) continue;
      parent.set(number, number);
      rank.set(number, 0);
    }
    for (const number of link.slice(1)) join(link[0] ?? number, number);
  }
  const parts = new Map<number, number[]>();
  for (const number of [...parent.keys()].sort((a, b) => a - b)) {
    const root = rootOf(number);
    const part = parts.get(root);
    if (part) part.push(number);
    else parts.set(root, [number]);
  }
  return [...parts.values()];
}
