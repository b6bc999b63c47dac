import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom } from 'pg-copy-streams';
import type { RunSummary } from '@gray-loom/wire';
import { atMost, median, memoryMb, startApp, type BenchApp, type BenchResult } from './harness';
import { peopleFile } from './people-file';

const ROWS = 100_000;
const PASSES = 5;
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

/** The import into a book in which some of the people are already. */
async function importMs(app: BenchApp, file: Buffer): Promise<{ ms: number; uploadedMs: number; run: RunSummary }> {
  await app.database.pool.query('truncate contact, contact_key, contact_search, operation, import_row, intake cascade');
  await bringIn(app, peopleFile(KNOWN));
  await app.database.pool.query('vacuum analyze contact, contact_key, contact_search');
  return bringIn(app, file);
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
  await app.database.pool.query('truncate contact, contact_key, contact_search, operation, import_row, intake cascade');
  await bringIn(app, peopleFile(KNOWN * 10));
  await app.database.pool.query('vacuum analyze contact, contact_key, contact_search');
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

/** 100,000 rows of 12 columns, from upload to committed: normal forms, recognition, operations, all indexes. */
export async function benchImport(): Promise<BenchResult> {
  const file = peopleFile(ROWS);
  const app = await startApp();
  try {
    const ratios: number[] = [];
    const importTimes: number[] = [];
    const copyTimes: number[] = [];
    const uploadTimes: number[] = [];
    for (let pass = 0; pass < PASSES; pass++) {
      // Before and after, since other machines share this one and its speed moves.
      const copies = [await plainCopyMs(app, file), await plainCopyMs(app, file), await plainCopyMs(app, file)];
      const { ms, uploadedMs, run } = await importMs(app, file);
      for (let i = 0; i < 3; i++) copies.push(await plainCopyMs(app, file));
      const copy = median(copies);
      if (run.counts.new !== ROWS - KNOWN || run.counts.same !== KNOWN)
        throw new Error(`the import made of ${ROWS} rows: ${JSON.stringify(run.counts)}`);
      ratios.push(ms / copy);
      importTimes.push(ms);
      copyTimes.push(copy);
      uploadTimes.push(uploadedMs);
    }
    const { list, find } = await usable(app, file);
    const serverMb = memoryMb(app.server.pid);
    const workerMb = memoryMb(app.worker.pid);
    return {
      name: 'import',
      claims: [
        atMost('100,000 rows from upload to committed, over a plain COPY of the same file', median(ratios), 16, 'x'),
        atMost('p95 of the list while an import runs, over that at rest', list, 5, 'x'),
        atMost('p95 of a find while an import runs, over that at rest', find, 5, 'x'),
        atMost('peak memory of the server', serverMb, 600, 'MB'),
        atMost('peak memory of the worker', workerMb, 600, 'MB'),
      ],
      figures: {
        uploadSeconds: median(uploadTimes) / 1000,
        importSeconds: median(importTimes) / 1000,
        plainCopySeconds: median(copyTimes) / 1000,
        rowsPerSecond: Math.round(ROWS / (median(importTimes) / 1000)),
      },
    };
  } finally {
    await app.end();
  }
}
