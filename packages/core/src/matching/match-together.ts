import { awaitedLater } from '../model';
import { buildBlocks, PairFinder, type Blocks } from './pairs/candidates';
import { ColumnComparer } from './comparing/column-compare';
import { groupScored, halved, householdsOf, scorePairs, type Scored } from './model/decide';
import type { MatchGroup, ScoredPair } from './pairs/group';
import type { MatchContext } from './comparing/levels';
import type { MatchOptions, MatchResult } from './match-options';
import { knownOf, learnModel, learnNames, NOTHING_FOUND, tallies, type Learned } from './match-people';
import type { MatchModel } from './model/model';
import { PairList, type PlainPairs } from './pairs/pair-list';
import { PeopleStore, type SharedPeople } from './people/people-store';
import { countNeighbours } from './model/shared-lines';

/** What another thread is asked to do for a scan, one thing after the other. */
export type HelperTask =
  | { do: 'learn'; people: SharedPeople; learned: Learned | null }
  | { do: 'compare'; blocks: Blocks; given: Pick<MatchOptions, 'sharedLines' | 'ignored'>; turns: Int32Array }
  | { do: 'count' }
  | { do: 'score'; pairs: PlainPairs; model: MatchModel; options: Deciding }
  | { do: 'group'; pairs: PlainScores };

/** What weighing and grouping go by beside the model. */
type Deciding = Pick<MatchOptions, 'keptApart' | 'threshold01' | 'onlyAgreeing'>;

export interface HelperAnswers {
  learn: Learned;
  compare: Stretch[];
  count: { home: number; office: number };
  score: Scored;
  group: MatchGroup[];
}

/** Weighed pairs as columns, which go to another thread in no time. */
interface PlainScores {
  a: Int32Array;
  b: Int32Array;
  bits: Float64Array;
}

const plainScores = (pairs: readonly ScoredPair[]): PlainScores => ({
  a: Int32Array.from(pairs, ({ a }) => a),
  b: Int32Array.from(pairs, ({ b }) => b),
  bits: Float64Array.from(pairs, ({ bits }) => bits),
});

const scoresOf = ({ a, b, bits }: PlainScores): ScoredPair[] =>
  Array.from(a, (one, i) => ({ a: one, b: b[i] ?? 0, bits: bits[i] ?? 0 }));

/** Asks the other thread; answers come in the order of questions. */
export type AskHelper = <T extends HelperTask>(task: T) => Promise<HelperAnswers[T['do']]>;

/** Pairs of one stretch of people. */
interface Stretch {
  at: number;
  pairs: PlainPairs;
}

/** Stretches that people are compared in; small enough that two threads end at about the same time. */
const STRETCHES = 256;
/** Places of what threads share: the next stretch to be taken, and whether to stop. */
const [NEXT, STOP] = [0, 1];

/** Takes stretches nobody has taken yet, until none is left or somebody says stop. */
class Sharing {
  private readonly finder: PairFinder;
  private readonly comparer: ColumnComparer;
  readonly done: Stretch[] = [];

  constructor(
    private readonly people: PeopleStore,
    blocks: Blocks,
    context: MatchContext,
    private readonly turns: Int32Array,
  ) {
    this.finder = new PairFinder(blocks);
    this.comparer = new ColumnComparer(people, context);
  }

  get using(): ColumnComparer {
    return this.comparer;
  }

  /** Does one stretch; gives false when there is none to do. */
  next(): boolean {
    const { length } = this.people;
    const size = Math.max(1, Math.ceil(length / STRETCHES));
    const at = Atomics.add(this.turns, NEXT, 1);
    if (Atomics.load(this.turns, STOP) !== 0 || at * size >= length) return false;
    const pairs = new PairList(size);
    this.finder.compare(this.comparer, pairs, at * size, Math.min(length, (at + 1) * size));
    this.done.push({ at, pairs: pairs.plain() });
    return true;
  }
}

/** The other thread's part: answers what it is asked about the people it was given. */
export class ScanHelper {
  private people = new PeopleStore();
  private learned: Learned | null = null;
  private comparer: ColumnComparer | null = null;
  private decided: { model: MatchModel; options: Deciding } | null = null;

  answer(task: HelperTask): HelperAnswers[HelperTask['do']] {
    switch (task.do) {
      case 'learn':
        this.people = new PeopleStore(task.people);
        this.learned = task.learned ?? learnNames(this.people);
        return this.learned;
      case 'compare': {
        const context = knownOf(this.learned ?? learnNames(this.people), { ...task.given, threshold01: 0 });
        const sharing = new Sharing(this.people, task.blocks, context, task.turns);
        this.comparer = sharing.using;
        while (sharing.next());
        return sharing.done;
      }
      case 'count':
        return countNeighbours(this.people, this.learned?.nicknames ?? new Set());
      case 'score':
        this.decided = { model: task.model, options: task.options };
        return scorePairs(this.people, PairList.joined([task.pairs]), task.model, task.options);
      case 'group':
        if (!this.comparer || !this.decided) throw new Error('people are compared and weighed before they are grouped');
        return groupScored(this.comparer, this.decided.model, scoresOf(task.pairs), this.decided.options);
    }
  }
}

/** Memory of an answer, to be handed over and not copied. */
export function memoryOfAnswer(answer: HelperAnswers[HelperTask['do']]): ArrayBuffer[] {
  return Array.isArray(answer)
    ? answer.flatMap((one) =>
        'pairs' in one
          ? [one.pairs.a, one.pairs.b, one.pairs.pattern, one.pairs.turned].map(({ buffer }) => buffer)
          : [],
      )
    : [];
}

export interface TogetherOptions extends Omit<MatchOptions, 'onProgress'> {
  /** Waited for now and then with the share done; no stops the scan. */
  onProgress?: (done01: number) => Promise<boolean>;
}

/**
 * Finds duplicates as matchPeople does, to the same result, with the help of another thread: it learns names while keys are put
 * together here, and both compare, taking stretches of people in turn. Listens between stretches, so that it can be stopped.
 */
export async function matchTogether(
  people: PeopleStore,
  { onProgress, ...options }: TogetherOptions,
  askNow: AskHelper,
): Promise<MatchResult> {
  people.seal();
  const ask = ((task) => awaitedLater(askNow(task))) as AskHelper;
  const asked = ask({ do: 'learn', people: people.shared(), learned: options.model ?? null });
  const blocks = buildBlocks(people);
  const learned = await asked;
  const turns = new Int32Array(new SharedArrayBuffer(8));
  const given = { sharedLines: options.sharedLines, ignored: options.model?.ignored ?? options.ignored };
  const theirs = ask({ do: 'compare', blocks, given, turns });
  const own = new Sharing(people, blocks, knownOf(learned, options), turns);
  let stopped = false;
  while (own.next()) {
    stopped = (await onProgress?.(Math.min(1, Atomics.load(turns, NEXT) / STRETCHES))) === false;
    if (stopped) Atomics.store(turns, STOP, 1);
  }
  const stretches = [...own.done, ...(await theirs)].sort((x, y) => x.at - y.at);
  const candidates = PairList.joined(stretches.map(({ pairs }) => pairs));
  let { model } = options;
  if (!model) {
    const counting = ask({ do: 'count' });
    const counted = tallies(people, own.using);
    model = learnModel(counted, await counting, candidates, learned, options);
  }
  if (stopped) return { model, ...NOTHING_FOUND, comparedPairs: candidates.count, stopped };
  const { keptApart, threshold01, onlyAgreeing } = options;
  const middle = candidates.count >> 1;
  const deciding = { keptApart, threshold01, onlyAgreeing };
  const scoring = ask({ do: 'score', pairs: candidates.plain(middle), model, options: deciding });
  const first = scorePairs(people, candidates, model, options, 0, middle);
  const second = await scoring;
  const scored = { pairs: first.pairs.concat(second.pairs), homes: first.homes.concat(second.homes) };
  const [here, there] = halved(people.length, scored.pairs);
  const grouping = ask({ do: 'group', pairs: plainScores(there) });
  const groups = groupScored(own.using, model, here, options)
    .concat(await grouping)
    .sort((x, y) => (x.members[0] ?? 0) - (y.members[0] ?? 0));
  return {
    model,
    pairs: scored.pairs,
    groups,
    households: householdsOf(scored, model),
    comparedPairs: candidates.count,
    stopped,
  };
}
