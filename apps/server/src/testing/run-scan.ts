import type { GroupList } from '@gray-loom/wire';
import type { TestApp } from './start-test-app';

/** A full scan as a worker makes it, and the groups there are after it. */
export async function runScan(app: TestApp): Promise<GroupList> {
  const { runId } = await app.json<{ runId: number }>('/duplicates/scan', 'POST');
  await app.work(runId);
  return app.json<GroupList>('/duplicates');
}
