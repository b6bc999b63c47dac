import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import {
  candidateFacts,
  PeopleStore,
  preparePerson,
  scorePair,
  type HelperAnswers,
  type HelperTask,
  type PersonFacts,
} from '@gray-loom/core/matching';
import { buildBlocks, forEachPair, PairFinder } from '../packages/core/src/matching/pairs/candidates';
import { ColumnComparer } from '../packages/core/src/matching/comparing/column-compare';
import { scorePairs } from '../packages/core/src/matching/model/decide';
import { knownOf, matchPeople } from '../packages/core/src/matching/match-people';
import { PairList } from '../packages/core/src/matching/pairs/pair-list';
import { readRecords } from '../apps/loom/src/match';
import { atLeast, median, type Claim } from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
const TURNS = 7;

function factsIn(path: string): PersonFacts[] {
  return readRecords(path).candidates.map((candidate) => candidateFacts(candidate));
}

function storeOf(facts: readonly PersonFacts[]): PeopleStore {
  const people = new PeopleStore();
  for (const one of facts) people.add(preparePerson(one));
  people.seal();
  return people;
}

const sum = (pairs: readonly { bits: number }[]) => pairs.reduce((total, { bits }) => total + bits, 0);

/**
 * Pairs compared and weighed as a scan does it (people as columns, prepared once) against the plain way: both records prepared and
 * weighed each time, one object with another. Both give the same verdicts, which is looked at.
 */
export function scoring(path: string): { claims: Claim[]; figures: Record<string, number> } {
  const facts = factsIn(path);
  const people = storeOf(facts);
  const { model } = matchPeople(people, { threshold01: 0.5 });
  const blocks = buildBlocks(people);
  const comparer = new ColumnComparer(people, knownOf(model, { threshold01: 0.5 }));
  const fast: number[] = [];
  const ratios: number[] = [];
  let compared = 0;
  for (let turn = 0; turn < TURNS; turn++) {
    let startedMs = performance.now();
    const candidates = new PairList();
    new PairFinder(blocks).compare(comparer, candidates, 0, people.length);
    const { pairs } = scorePairs(people, candidates, model, {});
    fast.push(performance.now() - startedMs);
    compared = candidates.count;
    startedMs = performance.now();
    const plainPairs: { bits: number }[] = [];
    const least = Math.min(...pairs.map(({ bits }) => bits));
    forEachPair(blocks, (a, b) => {
      const { bits } = scorePair(model, preparePerson(facts[a] ?? {}), preparePerson(facts[b] ?? {}));
      if (bits >= least) plainPairs.push({ bits });
    });
    ratios.push((performance.now() - startedMs) / (fast.at(-1) ?? 1));
    if (plainPairs.length !== pairs.length || Math.abs(sum(plainPairs) - sum(pairs)) > 1e-6)
      throw new Error('the two ways of scoring do not agree');
  }
  return {
    claims: [atLeast('scoring a pair, over the plain way from object to object', median(ratios), 8, 'x')],
    figures: { microsecondsAPair: (1000 * median(fast)) / compared },
  };
}

type Asked = <T extends HelperTask>(task: T) => Promise<HelperAnswers[T['do']]>;

/** The thread that a scan has for its help. */
function startThread(): { ask: Asked; end: () => Promise<number> } {
  const thread = new Worker(join(ROOT, '.build/match-helper.js'));
  const ask = (task: HelperTask): Promise<unknown> =>
    new Promise((done, fail) => {
      thread.once('message', (answer) => {
        thread.off('error', fail);
        done(answer);
      });
      thread.once('error', fail);
      thread.postMessage(task);
    });
  return { ask: ask as Asked, end: () => thread.terminate() };
}

/** How much faster two threads compare than one. */
export async function twoThreads(path: string): Promise<{ claims: Claim[]; figures: Record<string, number> }> {
  const people = storeOf(factsIn(path));
  const blocks = buildBlocks(people);
  const threads = [startThread(), startThread()];
  try {
    const learned = await threads[0]?.ask({ do: 'learn', people: people.shared(), learned: null });
    await threads[1]?.ask({ do: 'learn', people: people.shared(), learned: learned ?? null });
    const timed = async (some: typeof threads): Promise<number> => {
      const turns = new Int32Array(new SharedArrayBuffer(8));
      const startedMs = performance.now();
      await Promise.all(some.map(({ ask }) => ask({ do: 'compare', blocks, given: {}, turns })));
      return performance.now() - startedMs;
    };
    const [one, two, ratios]: [number[], number[], number[]] = [[], [], []];
    // Once unmeasured, so that both have been at it.
    await timed(threads);
    for (let turn = 0; turn < TURNS; turn++) {
      one.push(await timed(threads.slice(0, 1)));
      two.push(await timed(threads));
      ratios.push((one.at(-1) ?? 0) / (two.at(-1) ?? 1));
    }
    return {
      claims: [
        atLeast(`two threads compare ${people.length.toLocaleString('en')} people, over one`, median(ratios), 1.6, 'x'),
      ],
      figures: { compareSecondsOneThread: median(one) / 1000, compareSecondsTwoThreads: median(two) / 1000 },
    };
  } finally {
    await Promise.all(threads.map(({ end }) => end()));
  }
}
