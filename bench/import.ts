import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom } from 'pg-copy-streams';
import type { RunSummary } from '@gray-loom/wire';
import { inTransaction } from '../apps/server/src/face';
import { atMost, median, memoryMb, placed, startApp, type BenchApp, type BenchResult } from './harness';
import { peopleFile } from './people-file';

const ROWS = 100_000;
/** The large file; 0 leaves it out. */
const MANY = Number(process.env.GRAY_LOOM_BENCH_IMPORT ?? 1_000_000);
const PASSES = 5;
const FEWER_PASSES = 3;
/** People of the file who are here already, and have to be recognised. */
const KNOWN = 2000;

/** The floor: the same bytes into one flat table without an index. */
async function plainCopyMs({ database }: BenchApp, file: Buffer): Promise<number> {
  const client = await database.pool.connect();
  try {
    await client.query(
      `drop table if exists flat; create table flat (${Array.from({ length: 12 }, (_, i) => `c${i} text`).join(', ')})`,
    );
    const startedMs = performance.now();
    await pipeline(
      Readable.from([file]),
      client.query(copyFrom('copy flat from stdin with (format csv, header true)')),
    );
    return performance.now() - startedMs;
  } finally {
    await client.query('drop table if exists flat');
    client.release();
  }
}

async function bringIn(app: BenchApp, file: Buffer): Promise<{ ms: number; uploadedMs: number; run: RunSummary }> {
  const startedMs = performance.now();
  const headers = {
    'X-File-Name': 'people.csv',
    'X-File-Size': String(file.length),
    'Content-Type': 'application/octet-stream',
  };
  const taken = await app.request('/intakes', { method: 'POST', body: file as unknown as BodyInit, headers });
  const { id } = (await taken.json()) as { id: number };
  const uploadedMs = performance.now() - startedMs;
  const started = await app.request(`/intakes/${id}/import`, { method: 'POST' });
  const { runId } = (await started.json()) as { runId: number };
  for (;;) {
    const run = (await (await app.request(`/runs/${runId}`)).json()) as RunSummary;
    if (run.state === 'done') return { ms: performance.now() - startedMs, uploadedMs, run };
    if (run.state !== 'running' && run.state !== 'queued')
      throw new Error(`the import ended as ${run.state}: ${run.error}`);
    await new Promise((done) => setTimeout(done, 40));
  }
}

const TABLES = 'contact, contact_key, contact_search, contact_search_fresh, operation, import_row, intake, tally';

/** A book of these people alone, with figures of it as they are after an hour. */
async function book(app: BenchApp, people: Buffer): Promise<void> {
  // Whoever reads the feed meanwhile may hold one of the tables and want another.
  await inTransaction(app.database, (tx) => tx.client.query(`truncate ${TABLES} cascade`), { tries: 10 });
  await bringIn(app, people);
  await rested(app);
}

async function rested(app: BenchApp): Promise<void> {
  await placed(app);
  await app.database.pool.query('vacuum analyze contact, contact_key, contact_search, contact_search_fresh, operation');
}

interface Measured {
  /** Times of a plain COPY of the same file, taken just before and after. */
  usable: number;
  /** The same until the search index holds everybody; they are found all along, this is when finding is as fast as ever. */
  indexed: number;
  ms: number;
  copyMs: number;
  uploadedMs: number;
  run: RunSummary;
}

/** One import against plain copies of its file. */
async function measure(app: BenchApp, file: Buffer): Promise<Measured> {
  // Before and after, since other machines share this one and its speed moves.
  const copies = [await plainCopyMs(app, file), await plainCopyMs(app, file), await plainCopyMs(app, file)];
  const { ms, uploadedMs, run } = await bringIn(app, file);
  const startedMs = performance.now();
  await placed(app);
  const indexedMs = ms + performance.now() - startedMs;
  for (let i = 0; i < 3; i++) copies.push(await plainCopyMs(app, file));
  const copyMs = median(copies);
  return { usable: ms / copyMs, indexed: indexedMs / copyMs, ms, copyMs, uploadedMs, run };
}

function expectCounts({ run }: Measured, expected: Record<string, number>): void {
  for (const [outcome, count] of Object.entries(expected))
    if (run.counts[outcome] !== count)
      throw new Error(`${count} rows should be ${outcome}: ${JSON.stringify(run.counts)}`);
}

const percentile95 = (times: readonly number[]) =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)] ?? 0;
/** How often a person would look, at most. */
const PAUSE_MS = 50;

/** Times of a page of the list and of a find, one after the other, until `ended` says so. */
async function lookMs(app: BenchApp, ended: () => boolean): Promise<{ list: number[]; find: number[] }> {
  const times = { list: [] as number[], find: [] as number[] };
  const timed = async (into: number[], path: string) => {
    const startedMs = performance.now();
    await (await app.request(path)).arrayBuffer();
    into.push(performance.now() - startedMs);
  };
  for (let i = 0; !ended(); i++) {
    await timed(times.list, '/contacts?limit=40&sort=family');
    await timed(
      times.find,
      `/contacts?limit=40&sort=family&find=${encodeURIComponent(['ann', 'quay', 'example.org', '7700'][i % 4] ?? '')}`,
    );
    await new Promise((done) => setTimeout(done, PAUSE_MS));
  }
  return times;
}

/** How much slower list and find are while an import runs, in a book of so many people; p95 over p95. */
async function usable(app: BenchApp, file: Buffer): Promise<{ list: number; find: number }> {
  await book(app, peopleFile(KNOWN * 10));
  let looks = 0;
  const idle = await lookMs(app, () => ++looks > 120);
  let ended = false;
  const busy = lookMs(app, () => ended);
  await bringIn(app, file).finally(() => {
    ended = true;
  });
  const during = await busy;
  return {
    list: percentile95(during.list) / percentile95(idle.list),
    find: percentile95(during.find) / percentile95(idle.find),
  };
}

/** People from upload to committed: normal forms, recognition, operations, all indexes; and what it costs those who look meanwhile. */
export async function benchImport(): Promise<BenchResult> {
  const file = peopleFile(ROWS);
  const rows = ROWS.toLocaleString('en');
  const app = await startApp();
  try {
    const fresh: Measured[] = [];
    for (let pass = 0; pass < PASSES; pass++) {
      await book(app, peopleFile(KNOWN));
      const one = await measure(app, file);
      expectCounts(one, { new: ROWS - KNOWN, same: KNOWN });
      fresh.push(one);
    }
    const half: Measured[] = [];
    for (let pass = 0; pass < FEWER_PASSES; pass++) {
      await book(app, peopleFile(ROWS / 2, { sparse: true }));
      const one = await measure(app, file);
      expectCounts(one, { new: ROWS / 2, fill: ROWS / 2 });
      half.push(one);
    }
    const { list, find } = await usable(app, file);
    const of = (list: readonly Measured[], figure: (one: Measured) => number) => median(list.map(figure));
    const claims = [
      atMost(
        `${rows} people in and found, over a plain COPY of the same file`,
        of(fresh, (one) => one.usable),
        38,
        'x',
      ),
      atMost(
        `the same until the search index holds them all`,
        of(fresh, (one) => one.indexed),
        60,
        'x',
      ),
      atMost(
        `the same file when half are here and get values`,
        of(half, (one) => one.usable),
        70,
        'x',
      ),
      atMost('p95 of the list while an import runs, over that at rest', list, 5, 'x'),
      atMost('p95 of a find while an import runs, over that at rest', find, 5, 'x'),
    ];
    const figures: Record<string, number> = {
      uploadSeconds: of(fresh, (one) => one.uploadedMs) / 1000,
      importSeconds: of(fresh, (one) => one.ms) / 1000,
      plainCopySeconds: of(fresh, (one) => one.copyMs) / 1000,
      halfHereSeconds: of(half, (one) => one.ms) / 1000,
    };
    if (MANY > 0) {
      const all = MANY.toLocaleString('en');
      await book(app, peopleFile(KNOWN));
      const many = await measure(app, peopleFile(MANY));
      await rested(app);
      const into: Measured[] = [];
      for (let pass = 0; pass < FEWER_PASSES; pass++) {
        into.push(await measure(app, peopleFile(ROWS, { from: MANY + pass * ROWS })));
        await rested(app);
      }
      claims.push(
        atMost(
          `${rows} people into a book of ${all}`,
          of(into, (one) => one.usable),
          75,
          'x',
        ),
        // Against the plain COPY, since the machine's speed moves over the minutes between the two.
        atMost(`cost of a row of ${all}, over that of ${rows}`, many.usable / of(fresh, (one) => one.usable), 1.3, 'x'),
      );
      figures.manySeconds = many.ms / 1000;
      figures.manyUsable = many.usable;
      figures.intoManySeconds = of(into, (one) => one.ms) / 1000;
    }
    claims.push(
      atMost('peak memory of the server', memoryMb(app.server.pid), 600, 'MB'),
      // Runs work in a thread of their own, which is one more than when a worker did it itself.
      atMost('peak memory of the worker', memoryMb(app.worker.pid), 700, 'MB'),
    );
    return { name: 'import', claims, figures };
  } finally {
    await app.end();
  }
}
