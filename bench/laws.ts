import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { atMost, type BenchResult } from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();

/** Laws that have a time budget in `./test`, by the kind of test and the names of their files. */
const LAWS: readonly (readonly [kind: 'unit' | 'server', pattern: string])[] = [
  ['unit', 'syncing/(laws|settle)'],
  ['server', 'feed/feed.test'],
  ['server', 'merge-histories'],
  ['server', 'side-by-side'],
  ['server', 'syncs-killed'],
  ['server', 'scripts/start'],
];

/** Laws with ten times the cases that they have in `./test` at most. Those of syncs over HTTP with many kills are the bench `histories`. */
export async function benchLaws(): Promise<BenchResult> {
  const figures: Record<string, number> = {};
  let broken = 0;
  for (const [kind, pattern] of LAWS) {
    const startedMs = performance.now();
    const tests = spawn(join(ROOT, 'test'), [kind, pattern], {
      cwd: ROOT,
      env: { ...process.env, GRAY_LOOM_LAWS: 'whole' },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    const [code] = (await once(tests, 'exit')) as [number | null];
    if (code !== 0) broken++;
    figures[`${pattern}, s`] = (performance.now() - startedMs) / 1000;
  }
  return {
    name: 'laws',
    claims: [atMost('laws that break with all their cases', broken, 0, `of ${LAWS.length}`)],
    figures,
  };
}
