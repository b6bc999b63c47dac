import { level, type Comparison } from './comparing/levels';
import type { MatchModel } from './model/model';
import { classOf } from './model/score';

/** People of one home at most; more at one address with one line are a hostel or an office. */
const MOST_OF_A_HOME = 12;

const SAME_PLACE = level('place', 'same');
const PHONES = new Set([level('phone', 'same'), level('phone', 'sameShared')]);
const EMAILS = new Set([level('email', 'same'), level('email', 'sameShared')]);

/** Whether two share an address and a line, by their levels alone. */
export function sharesAddressAndLine([, , email = 0, phone = 0, , place = 0]: readonly number[]): boolean {
  return place === SAME_PLACE && (PHONES.has(phone) || EMAILS.has(email));
}

/** Whether two different people are of one home rather than of one office, by the kinds of pair that a model knows. */
export function isOfOneHome(model: MatchModel, comparison: Comparison): boolean {
  return sharesAddressAndLine(comparison.levels) && classOf(model, comparison, ['home', 'office', 'random']) === 'home';
}

class Sets {
  private readonly above = new Map<number, number>();

  rootOf(i: number): number {
    let at = i;
    for (let up = this.above.get(at); up !== undefined; up = this.above.get(at)) at = up;
    return at;
  }

  /** The smaller of two stands for both, so that the order of joining does not matter. */
  join(a: number, b: number): void {
    const [x, y] = [this.rootOf(a), this.rootOf(b)];
    if (x !== y) this.above.set(Math.max(x, y), Math.min(x, y));
  }
}

/**
 * Households: people of one home, two to twelve. Records that may be one person stand for one, by the smallest.
 * `homes` are pairs of different people of one home, `ones` pairs that may be one person. Order-independent.
 */
export function findHouseholds(
  homes: readonly { a: number; b: number }[],
  ones: readonly { a: number; b: number }[],
): number[][] {
  const people = new Sets();
  for (const { a, b } of ones) people.join(a, b);
  const home = new Sets();
  for (const { a, b } of homes) home.join(people.rootOf(a), people.rootOf(b));
  const byHome = new Map<number, Set<number>>();
  for (const pair of homes) {
    for (const i of [pair.a, pair.b]) {
      const person = people.rootOf(i);
      const root = home.rootOf(person);
      const members = byHome.get(root);
      if (members) members.add(person);
      else byHome.set(root, new Set([person]));
    }
  }
  return [...byHome.values()]
    .filter(({ size }) => size >= 2 && size <= MOST_OF_A_HOME)
    .map((members) => [...members].sort((a, b) => a - b))
    .sort((x, y) => (x[0] ?? 0) - (y[0] ?? 0));
}
