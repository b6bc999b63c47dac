import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { appendFileSync, chmodSync, existsSync, mkdtempSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { casesWithin, LAW_TIMEOUT_MS } from '../packages/core/src/testing/law-budget';
import { freePort, removeData } from './postgres';
import { isAlive, isGoneWithin, processOf, type KnownProcess } from './processes';
import { PROGRAMS, RunningNote, type Running } from './running';
import { rotate } from './supervise';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
const PARTS = ['starter', 'server', 'worker', 'database', 'stand-ins'] as const;
type Part = (typeof PARTS)[number];

let data: string;
let port: number;
beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), 'gray-loom-started-'));
  // The unprivileged user that the database runs as has to get in.
  chmodSync(data, 0o711);
  port = await freePort();
});
afterAll(() => {
  start('--stop');
  removeData(data);
});

/** Runs ./start without its build; gives what it said. */
function start(...args: string[]): { code: number | null; said: string } {
  const done = spawnSync(
    process.execPath,
    [join(ROOT, '.build/start.js'), '--data', data, '--port', String(port), ...args],
    {
      cwd: ROOT,
      encoding: 'utf8',
      env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: '', GRAY_LOOM_ROOT: ROOT },
      timeout: 200_000,
    },
  );
  return { code: done.status, said: done.stdout + done.stderr };
}
const startBehind = () => start('--background', '--empty');

const noted = (): Running => {
  const note = new RunningNote(data).read();
  if (!note) throw new Error('nothing is noted');
  return note;
};

function postmaster(): KnownProcess {
  const pid = Number(readFileSync(join(data, 'postgres/postmaster.pid'), 'utf8').split('\n')[0]);
  const known = processOf(pid);
  if (!known) throw new Error('the database does not run');
  return known;
}

function partOf(part: Part): KnownProcess {
  if (part === 'starter') return noted();
  if (part === 'database') return postmaster();
  const known = noted().programs[part];
  if (!known) throw new Error(`${part} is not noted`);
  return known;
}

async function down(): Promise<string[]> {
  try {
    const answer = await fetch(`http://127.0.0.1:${port}/api/health`, { signal: AbortSignal.timeout(5000) });
    return ((await answer.json()) as { down: string[] }).down;
  } catch {
    return ['server'];
  }
}

/** Waits until what is down is what is wanted. */
async function until(wanted: (parts: string[]) => boolean): Promise<string[]> {
  let now = await down();
  for (const endMs = Date.now() + 90_000; !wanted(now) && Date.now() < endMs; now = await down()) await pause(100);
  return now;
}
/** Waits until everything runs; what is down if it does not come to that. */
async function healthy(): Promise<string[]> {
  for (const endMs = Date.now() + 90_000; Date.now() < endMs; await pause(100)) {
    const { programs } = noted();
    if (PROGRAMS.every((name) => programs[name] && isAlive(programs[name]))) break;
  }
  return until((parts) => parts.length === 0);
}

const childrenOf = (pid: number): number[] =>
  spawnSync('ps', ['-o', 'pid=', '--ppid', String(pid)], { encoding: 'utf8' })
    .stdout.split('\n')
    .flatMap((line) => Number(line) || []);

/** Kills parts at once, without warning. */
async function kill(parts: readonly Part[]): Promise<KnownProcess[]> {
  const victims = parts.map(partOf);
  for (const { pid } of victims)
    try {
      process.kill(pid, 'SIGKILL');
    } catch (error) {
      // One that ended with the one before it is gone as well.
      if ((error as { code?: string }).code !== 'ESRCH') throw error;
    }
  for (const victim of victims) expect(await isGoneWithin(victim, 10_000)).toBe(true);
  return victims;
}

const pairs = PARTS.flatMap((a, i) => PARTS.slice(i + 1).map((b) => [a, b] as const));

describe('whatever is killed', () => {
  test('starts, and is healthy', async () => {
    expect(startBehind()).toMatchObject({ code: 0 });
    expect(await down()).toEqual([]);
    expect(start('--background').said).toContain('already runs');
    expect(start().said).toContain('already runs');
  });

  test.each(PARTS.slice(1).map((part) => [part]))(
    'the %s alone comes back by itself',
    async (part) => {
      const [killed] = await kill([part]);
      expect(await healthy()).toEqual([]);
      expect(killed && isAlive(killed)).toBe(false);
      expect(isAlive(noted())).toBe(true);
    },
    240_000,
  );

  test.each([['worker'], ['database'], ['stand-ins']] as const)(
    'health says that the %s is down, and that it is back',
    async (part) => {
      // One that does not move any more is as good as dead, and is not started again before anybody looks.
      const { pid } = partOf(part);
      process.kill(pid, 'SIGSTOP');
      const backends = part === 'database' ? childrenOf(pid) : [];
      for (const backend of backends) process.kill(backend, 'SIGSTOP');
      try {
        expect(await until((parts) => parts.includes(part))).toContain(part);
      } finally {
        for (const one of [pid, ...backends]) process.kill(one, 'SIGCONT');
      }
      expect(await healthy()).toEqual([]);
    },
    240_000,
  );

  test(
    'two of them come back at once, with the next start where the starter is one',
    async () => {
      // As many pairs as fit; ./loom bench laws kills them all.
      const order = [...pairs].sort(() => Math.random() - 0.5);
      for (const i of casesWithin(12, pairs.length)) {
        const [one, other] = order[i % order.length] ?? (['server', 'worker'] as const);
        await kill([one, other]);
        if (one === 'starter') expect({ one, other, ...startBehind() }).toMatchObject({ code: 0 });
        expect({ one, other, down: await healthy() }).toEqual({ one, other, down: [] });
      }
    },
    LAW_TIMEOUT_MS,
  );

  test('all at once come back with the next start, and nothing is left of what was there', async () => {
    const victims = await kill(PARTS);
    expect(startBehind()).toMatchObject({ code: 0 });
    expect(await healthy()).toEqual([]);
    expect(victims.some(isAlive)).toBe(false);
  });

  test('a starter that is killed leaves nothing behind that the next stop does not end', async () => {
    const parts = PARTS.map(partOf);
    await kill(['starter']);
    expect(start('--stop').said).toContain('has stopped');
    for (const part of parts) expect(await isGoneWithin(part, 20_000)).toBe(true);
    expect(start('--stop').said).toContain('is not running');
  });
});

describe('what is not ours', () => {
  let stranger: ChildProcess;
  beforeAll(() => {
    stranger = spawn('sleep', ['600'], { stdio: 'ignore' });
  });
  afterAll(() => void stranger.kill('SIGKILL'));

  test('is not ended, though it has the number of something that was ours', () => {
    const pid = stranger.pid ?? 0;
    const now = processOf(pid);
    const earlier = { pid, began: '1' };
    for (const programs of [
      { server: earlier, worker: earlier, 'stand-ins': earlier },
      // Of the same start, even: its command is none of ours.
      { server: now, worker: now, 'stand-ins': now },
    ]) {
      const note = { ...earlier, host: '127.0.0.1', port, programs, ownsDatabase: true };
      writeFileSync(join(data, 'running.json'), JSON.stringify(note));
      start('--stop');
      expect(now && isAlive(now)).toBe(true);
      expect(existsSync(join(data, 'running.json'))).toBe(false);
    }
  });

  test('a note that was cut off while it was written is none', () => {
    writeFileSync(join(data, 'running.json'), '{"pid": 12');
    expect(new RunningNote(data).read()).toBeNull();
    expect(start('--stop').said).toContain('is not running');
  });
});

test('a log that has grown is begun anew, and four are kept; whoever appends to it goes on', () => {
  const file = join(data, 'some.log');
  for (let i = 0; i < 7; i++) {
    appendFileSync(file, `${i}`.repeat(2000));
    rotate(file, 1000);
  }
  expect(statSync(file).size).toBe(0);
  expect([1, 2, 3, 4, 5].map((n) => existsSync(`${file}.${n}`))).toEqual([true, true, true, true, false]);
  expect(readFileSync(`${file}.1`, 'utf8')).toBe('6'.repeat(2000));
  rotate(join(data, 'none.log'));
});
