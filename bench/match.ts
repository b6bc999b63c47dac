import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { to as copyTo } from 'pg-copy-streams';
import type { RunSummary } from '@gray-loom/wire';
import { writePeople } from './make-people';
import { reach } from './match-reach';
import { scoreGroups } from './score-groups';
import { scoring, twoThreads } from './match-speed';
import {
  atLeast,
  atMost,
  median,
  memoryMb,
  placed,
  startApp,
  type BenchApp,
  type BenchResult,
  type Claim,
} from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
/** The first size is what the others are held against, record for record. */
const SIZES = (process.env.GRAY_LOOM_BENCH_MATCH ?? '20000,100000').split(',').map(Number);
/** Further people with known duplicates and a scorer, used where they are at hand. */
const CORPUS = process.env.GRAY_LOOM_CORPUS ?? join(ROOT, '../shared/corpus');
/** People of our own whom the quality is measured on. */
const OWN_RECORDS = 20_000;
const READS = 5;
/** Of smaller books nothing is claimed: there the start of the thread counts most. */
const CLAIMED_FROM = 100_000;
const SCAN_LIMIT = 120;
const CHECKS = 200;

interface Score {
  withoutUndecidable: { pairwise: { precision: number; recall: number; f1: number }; bcubed: { f1: number } };
  hardNegatives: Record<string, { records: number; falseMerges: number }>;
}

/** Groups that the command finds among people, in a file. */
function matched(
  folder: string,
  records: string,
  band: 'all' | 'certain',
): { groups: string; figures: Record<string, number> } {
  const groups = join(folder, `${band}.csv`);
  const answer = execFileSync(
    process.execPath,
    [
      join(ROOT, '.build/loom.js'),
      ...['match', records, '--out', groups, '--json'],
      ...(band === 'certain' ? ['--band', 'certain'] : []),
    ],
    { encoding: 'utf8' },
  );
  return { groups, figures: JSON.parse(answer) as Record<string, number> };
}

/** What the command finds in the corpus, by its own scorer. */
function scored(folder: string, band: 'all' | 'certain'): { score: Score; figures: Record<string, number> } {
  const dev = join(CORPUS, 'people/dev');
  const { groups, figures } = matched(folder, join(dev, 'records.csv'), band);
  const score = execFileSync(
    process.execPath,
    [join(CORPUS, 'people/score.mjs'), '--truth', join(dev, 'truth.csv'), '--groups', groups, '--json'],
    { encoding: 'utf8' },
  );
  return { score: JSON.parse(score) as Score, figures };
}

/** The same among people of our own, whom every clone can make. */
function ownQuality(folder: string, own: string): Claim[] {
  const truth = join(own, 'truth.csv');
  const records = join(own, 'records.csv');
  const all = scoreGroups(truth, matched(folder, records, 'all').groups);
  const certain = scoreGroups(truth, matched(folder, records, 'certain').groups);
  return [
    atLeast('F1 of pairs, people of our own', all.f1, 0.99, ''),
    atLeast('precision of the certain band, people of our own', certain.precision, 0.998, ''),
    atLeast('pairs that the certain band covers, people of our own', certain.recall, 0.8, ''),
    atMost('false pairs of the certain band per 1,000 who are easily confused', certain.falsePerThousandHard, 1, ''),
  ];
}

function quality(folder: string): { claims: Claim[]; figures: Record<string, number> } {
  const all = scored(folder, 'all');
  const certain = scored(folder, 'certain');
  const pairs = all.score.withoutUndecidable.pairwise;
  const sure = certain.score.withoutUndecidable.pairwise;
  const careful = Object.values(certain.score.hardNegatives);
  const records = careful.reduce((sum, kind) => sum + kind.records, 0);
  const wrong = careful.reduce((sum, kind) => sum + kind.falseMerges, 0);
  return {
    claims: [
      atLeast('F1 of decidable pairs, corpus dev', pairs.f1, 0.985, ''),
      atLeast('B-cubed F1 without undecidable, corpus dev', all.score.withoutUndecidable.bcubed.f1, 0.994, ''),
      atLeast('precision of the certain band, corpus dev', sure.precision, 0.998, ''),
      atLeast('decidable pairs that the certain band covers', sure.recall, 0.7, ''),
      atMost('false merges of the certain band per 1,000 hard negatives', (1000 * wrong) / records, 1, ''),
    ],
    figures: {
      devPrecision: pairs.precision,
      devRecall: pairs.recall,
      pairsPerRecord: (all.figures.comparedPairs ?? 0) / (all.figures.records ?? 1),
    },
  };
}

async function bring(app: BenchApp, path: string): Promise<void> {
  const file = readFileSync(path);
  const taken = await app.request('/intakes', {
    method: 'POST',
    body: file as unknown as BodyInit,
    headers: {
      'X-File-Name': 'people.csv',
      'X-File-Size': String(file.length),
      'Content-Type': 'application/octet-stream',
    },
  });
  const { id } = (await taken.json()) as { id: number };
  // Nobody is recognised: the scan is to find the duplicates that the file has.
  const { mapping } = (await (await app.request(`/intakes/${id}`)).json()) as { mapping: Record<string, unknown> };
  await app.request(`/intakes/${id}/mapping`, {
    method: 'PUT',
    body: JSON.stringify({ ...mapping, recognise: ['externalId'] }),
    headers: { 'Content-Type': 'application/json' },
  });
  const { runId } = (await (await app.request(`/intakes/${id}/import`, { method: 'POST' })).json()) as {
    runId: number;
  };
  await ended(app, runId);
  // What is done behind an import is no part of a scan.
  await placed(app);
}

async function ended(app: BenchApp, runId: number): Promise<RunSummary> {
  for (;;) {
    const run = (await (await app.request(`/runs/${runId}`)).json()) as RunSummary;
    if (run.state === 'done') return run;
    if (run.state !== 'running' && run.state !== 'queued')
      throw new Error(`run ${runId} ended as ${run.state}: ${run.error}`);
    await new Promise((done) => setTimeout(done, 50));
  }
}

/** The floor: everybody read out of the database once. */
async function readMs({ database }: BenchApp): Promise<number> {
  const client = await database.pool.connect();
  try {
    const startedMs = performance.now();
    const stream = client.query(
      copyTo(`copy (select id, record from contact where state = 'live' and kind = 'person') to stdout`),
    );
    for await (const piece of stream) void piece;
    return performance.now() - startedMs;
  } finally {
    client.release();
  }
}

/** p95 of a check of somebody being typed, over that of a request that does nothing, in turns. */
async function checkRatio(app: BenchApp): Promise<number> {
  const { rows } = await app.database.pool.query<{ given: string; family: string; email: string }>(
    `select split_part(list_name, ', ', 2) as given, split_part(list_name, ', ', 1) as family, email from contact
     where email <> '' and list_name like '%, %' order by id limit $1`,
    [CHECKS],
  );
  const times = { check: [] as number[], trivial: [] as number[] };
  const timed = async (into: number[], work: () => Promise<unknown>) => {
    const startedMs = performance.now();
    await work();
    into.push(performance.now() - startedMs);
  };
  for (const { given, family, email } of rows) {
    await timed(times.check, async () => {
      const answer = await app.request('/contacts/check', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          values: [
            { field: 'givenName', text: given },
            { field: 'familyName', text: family },
            { field: 'email', text: email },
          ],
        }),
      });
      await answer.json();
    });
    await timed(times.trivial, async () => (await app.request('/session')).json());
  }
  const p95 = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? 0;
  return p95(times.check) / p95(times.trivial);
}

/** A full scan of people in the database against reading them once, and what the matching finds in the corpus. */
export async function benchMatch(): Promise<BenchResult> {
  const folder = mkdtempSync(join(tmpdir(), 'gray-loom-match-'));
  const own = join(folder, 'own');
  await writePeople(own, OWN_RECORDS, 7);
  const claims = ownQuality(folder, own);
  const figures: Record<string, number> = {};
  const hasCorpus = existsSync(join(CORPUS, 'people/dev/records.csv'));
  if (hasCorpus) {
    const found = quality(folder);
    claims.push(...found.claims);
    Object.assign(figures, found.figures);
  }
  const known = hasCorpus ? join(CORPUS, 'people/dev') : own;
  const reached = reach(known);
  claims.push(...reached.claims);
  Object.assign(figures, reached.figures);
  const speed = scoring(join(known, 'records.csv'));
  claims.push(...speed.claims);
  Object.assign(figures, speed.figures);
  const perRecord: number[] = [];
  try {
    for (const size of SIZES) {
      const made = join(folder, String(size));
      await writePeople(made, size, 11);
      if (size === SIZES.find((one) => one >= 100_000) || SIZES.length === 1) {
        const threads = await twoThreads(join(made, 'records.csv'));
        claims.push(...threads.claims);
        Object.assign(figures, threads.figures);
      }
      const app = await startApp();
      try {
        await bring(app, join(made, 'records.csv'));
        await app.database.pool.query('vacuum analyze contact, contact_key');
        const reads: number[] = [];
        for (let i = 0; i < READS; i++) reads.push(await readMs(app));
        const startedMs = performance.now();
        const { runId } = (await (await app.request('/duplicates/scan', { method: 'POST' })).json()) as {
          runId: number;
        };
        const run = await ended(app, runId);
        const scanMs = performance.now() - startedMs;
        for (let i = 0; i < READS; i++) reads.push(await readMs(app));
        const people = run.counts.people ?? size;
        perRecord.push(scanMs / people);
        const name = people.toLocaleString('en');
        if (size >= CLAIMED_FROM)
          claims.push(atMost(`scan of ${name} people over reading them once`, scanMs / median(reads), SCAN_LIMIT, 'x'));
        figures[`scanOverRead${size}`] = scanMs / median(reads);
        claims.push(atMost(`peak memory of the worker, ${name} people`, memoryMb(app.worker.pid), 2048, 'MB'));
        figures[`scanSeconds${size}`] = scanMs / 1000;
        figures[`readSeconds${size}`] = median(reads) / 1000;
        figures[`pairsPerRecord${size}`] = (run.counts.pairs ?? 0) / people;
        if (size === SIZES.at(-1))
          claims.push(
            atMost(`p95 of a single check among ${name}, over a trivial request`, await checkRatio(app), 5, 'x'),
          );
      } finally {
        await app.end();
      }
    }
    if (perRecord.length > 1)
      claims.push(
        atMost(
          'time a record at the largest size, over that at the smallest',
          (perRecord.at(-1) ?? 0) / (perRecord[0] ?? 1),
          1.5,
          'x',
        ),
      );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  return { name: 'match', claims, figures };
}
