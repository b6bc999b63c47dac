import { Piscina } from 'piscina';
import type { GroupList } from '@gray-loom/wire';
import { takeLease } from '../runs/lease';
import { scanDuplicates } from '../features/duplicates/scan-duplicates';
import { built, type TestApp } from './start-test-app';

/** A full scan as a worker makes it, and the groups there are after it. */
export async function runScan(app: TestApp): Promise<GroupList> {
  const { runId } = await app.json<{ runId: number }>('/duplicates/scan', 'POST');
  await workScan(app, runId);
  return app.json<GroupList>('/duplicates');
}

/** Does what a worker would do with a scan that waits. */
export async function workScan(app: TestApp, runId: number): Promise<void> {
  const lease = await takeLease(app.database, runId, 'test', 60_000);
  const threads = new Piscina({ filename: built('match-thread'), maxThreads: 1 });
  try {
    if (lease) await scanDuplicates(app.database, threads, app.url, lease, 60_000);
  } finally {
    await threads.destroy();
  }
}
