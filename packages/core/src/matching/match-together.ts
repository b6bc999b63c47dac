import { buildBlocks, PairFinder, type Blocks } from './candidates';
import { ColumnComparer } from './column-compare';
import type { MatchContext } from './levels';
import {
  decide,
  knownOf,
  learnModel,
  learnNames,
  tallies,
  type Learned,
  type MatchOptions,
  type MatchResult,
} from './match-people';
import { PairList, type PlainPairs } from './pair-list';
import { PeopleStore, type SharedPeople } from './people-store';
import { countNeighbours } from './shared-lines';

/** What another thread is asked to do for a scan, one thing after the other. */
export type HelperTask =
  | { do: 'learn'; people: SharedPeople; learned: Learned | null }
  | { do: 'compare'; blocks: Blocks; given: Pick<MatchOptions, 'sharedLines' | 'ignored'>; turns: Int32Array }
  | { do: 'count' };

export interface HelperAnswers {
  learn: Learned;
  compare: Stretch[];
  count: { home: number; office: number };
}

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

  answer(task: HelperTask): HelperAnswers[HelperTask['do']] {
    switch (task.do) {
      case 'learn':
        this.people = new PeopleStore(task.people);
        this.learned = task.learned ?? learnNames(this.people);
        return this.learned;
      case 'compare': {
        const context = knownOf(this.learned ?? learnNames(this.people), { ...task.given, threshold01: 0 });
        const sharing = new Sharing(this.people, task.blocks, context, task.turns);
        while (sharing.next());
        return sharing.done;
      }
      case 'count':
        return countNeighbours(this.people, this.learned?.nicknames ?? new Set());
    }
  }
}

/** Memory of an answer, to be handed over and not copied. */
export function memoryOfAnswer(answer: HelperAnswers[HelperTask['do']]): ArrayBuffer[] {
  return Array.isArray(answer)
    ? answer.flatMap(({ pairs: { a, b, pattern, turned } }) => [a.buffer, b.buffer, pattern.buffer, turned.buffer])
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
  ask: AskHelper,
): Promise<MatchResult> {
  people.seal();
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
  return decide(people, own.using, candidates, model, options, stopped);
}
