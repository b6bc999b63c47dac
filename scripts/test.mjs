// Runs checks and Jest projects one after the other and adds up what passed and failed.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
process.chdir(root);
const [part = 'all', pattern] = process.argv.slice(2);
const PARTS = ['check', 'unit', 'server', 'browser'];
if (part !== 'all' && !PARTS.includes(part)) {
  process.stderr.write(`There is no part '${part}'; there are ${PARTS.join(', ')}.\n`);
  process.exit(2);
}
/**
 * Random cases are the same in every run of a commit, so that what passed once passes again; `./loom bench laws` takes new
 * ones each time, and ten times as many.
 */
if (process.env.GRAY_LOOM_LAWS !== 'whole') process.env.GRAY_LOOM_SEED ||= '1';
let passed = 0;
let failed = 0;

function run(name, command, args, env = {}) {
  const started = Date.now();
  const result = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  const ok = result.status === 0;
  process.stdout.write(`${ok ? 'ok    ' : 'FAILED'} ${name} (${((Date.now() - started) / 1000).toFixed(0)} s)\n`);
  return ok;
}

const CHECKS = [
  ['format', ['prettier', '--check', '--log-level', 'warn', '.']],
  ['lint', ['eslint', '.', '--max-warnings', '0']],
  ['types', ['tsc', '--noEmit', '-p', 'tsconfig.json']],
  ['types of the client', ['tsc', '--noEmit', '-p', 'apps/web/tsconfig.json']],
  [
    'dependency direction',
    [
      'depcruise',
      '--config',
      '.dependency-cruiser.cjs',
      '--output-type',
      'err',
      'packages',
      'apps',
      'demo',
      'e2e',
      'bench',
      'scripts',
    ],
  ],
  ['unused exports', ['knip']],
];

/** Runs a check; what it says comes out when it ends, so that two at work do not speak at once. */
function check([name, args]) {
  const started = Date.now();
  const pieces = [];
  return new Promise((done) => {
    const child = spawn('npx', ['--no-install', ...args], { env: { ...process.env, npm_config_loglevel: 'error' } });
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece) => pieces.push(piece));
    child.on('close', (code) => {
      process.stdout.write(Buffer.concat(pieces));
      process.stdout.write(
        `${code === 0 ? 'ok    ' : 'FAILED'} ${name} (${((Date.now() - started) / 1000).toFixed(0)} s)\n`,
      );
      if (code === 0) passed++;
      else failed++;
      done();
    });
  });
}

/** All checks, two at a time: each is one thread's work. */
async function checkAll() {
  const waiting = [...CHECKS];
  const next = async () => {
    for (let one = waiting.shift(); one; one = waiting.shift()) await check(one);
  };
  await Promise.all([next(), next()]);
}

/** Jest's projects of a part, where it has several. */
const PROJECTS = { unit: ['unit', 'page'] };
/** How a part runs, where not one file after the other. Each server and browser test has a database of its own, and waits much. */
const WORKERS = {
  unit: ['--maxWorkers=2', '--testTimeout=240000'],
  server: ['--maxWorkers=2', '--testTimeout=480000'],
  browser: ['--maxWorkers=2', '--testTimeout=480000'],
};

function jest(project) {
  mkdirSync('.build', { recursive: true });
  const out = join(root, '.build', `jest-${project}.json`);
  rmSync(out, { force: true });
  const ok = run(
    project,
    'npx',
    [
      '--no-install',
      'jest',
      '--selectProjects',
      ...(PROJECTS[project] ?? [project]),
      ...(WORKERS[project] ?? ['--runInBand', '--testTimeout=120000']),
      '--json',
      `--outputFile=${out}`,
      ...(pattern ? [pattern] : []),
    ],
    { NODE_OPTIONS: '--experimental-vm-modules --no-warnings', npm_config_loglevel: 'error' },
  );
  try {
    const result = JSON.parse(readFileSync(out, 'utf8'));
    passed += result.numPassedTests;
    failed += result.numFailedTests + result.numRuntimeErrorTestSuites;
    if (!ok && result.numFailedTests + result.numRuntimeErrorTestSuites === 0) failed++;
  } catch {
    failed++;
  }
}

for (const one of part === 'all' ? PARTS : [part]) {
  if (one === 'check') {
    await checkAll();
    continue;
  }
  if (one !== 'unit') spawnSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
  jest(one);
}
process.stdout.write(`${passed} passed, ${failed} failed\n`);
process.exit(failed ? 1 : 0);
