import { connect, migrateDatabase, createLogger, ensureAdministrator } from '@gray-loom/server';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { seedConnection } from '../demo/connection';
import { seedDemo } from '../demo/seed';
import { NODE_FLAGS, WORKER_FLAGS } from './node-flags';
import { ensureDatabase, startCluster, type Cluster } from './postgres';
import { knownStandIn, secretKeyOf, standInOf, standInOrigin, type StandIn } from './surroundings';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
/** Readable by its owner alone. */
const OWN = 0o600;
/** Set for a start in the background, whose words go into a log. */
const BEHIND = 'GRAY_LOOM_BEHIND';
const say = (text: string) => process.stdout.write(`${text}\n`);

interface Place {
  host: string;
  port: number;
}

interface Running extends Place {
  pid: number;
  /** When the process began, as the system says it: another one may have its number by now. */
  began: string;
}

interface SignIn {
  email: string;
  password: string;
}

const USAGE =
  'usage: ./start [--port N] [--host ADDRESS] [--empty] [--data DIR] [--background | --stop] [--no-stand-ins]';

function options() {
  try {
    const { values } = parseArgs({
      options: {
        port: { type: 'string', default: '4310' },
        host: { type: 'string', default: process.env.GRAY_LOOM_HOST ?? '127.0.0.1' },
        empty: { type: 'boolean', default: false },
        data: { type: 'string', default: join(ROOT, '.data') },
        background: { type: 'boolean', default: false },
        stop: { type: 'boolean', default: false },
        'no-stand-ins': { type: 'boolean', default: false },
      },
    });
    const port = Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65_535)
      throw new Error(`--port is '${values.port}'; it must be a whole number from 1 to 65535`);
    if (!isIP(values.host))
      throw new Error(`--host is '${values.host}'; it must be an IP address, such as 0.0.0.0 for every network`);
    return { ...values, port, data: resolve(values.data) };
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n${USAGE}\n`);
    process.exit(2);
  }
}

/** When a process began, in words of the system; null where there is none of that number. */
function beganAt(pid: number): string | null {
  try {
    // The name of the program, in brackets, may hold anything; the 22nd field is the start (proc(5)).
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)?.split(' ');
    return fields?.[0] === 'Z' ? null : (fields?.[19] ?? null);
  } catch {
    const told = spawnSync('ps', ['-o', 'lstart=', '-p', String(pid)], { encoding: 'utf8' });
    return told.stdout?.trim() || null;
  }
}

/** The starter that runs on this data; null where its process has ended, though another may have its number. */
function runningAt(data: string): Running | null {
  const file = join(data, 'running.json');
  if (!existsSync(file)) return null;
  const running = JSON.parse(readFileSync(file, 'utf8')) as Running;
  return isAlive(running) ? running : null;
}

const isAlive = ({ pid, began }: Running): boolean => beganAt(pid) === began;

async function stop(data: string): Promise<void> {
  const running = runningAt(data);
  if (!running) {
    say('Gray Loom is not running on this data.');
    return;
  }
  process.kill(running.pid, 'SIGTERM');
  for (let i = 0; i < 300 && isAlive(running); i++) await new Promise((done) => setTimeout(done, 100));
  say('Gray Loom has stopped.');
}

/** Where a server at a place is reached from here; one that listens everywhere listens here too. */
function addressOf({ host, port }: Place): string {
  const here = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
  return `http://${here.includes(':') ? `[${here}]` : here}:${port}`;
}

async function healthy(place: Place): Promise<boolean> {
  return fetch(`${addressOf(place)}/api/health`)
    .then((answer) => answer.ok)
    .catch(() => false);
}

/** Waits for a stand-in; one that does not come up is told by the test of its connection. */
async function answering(port: number): Promise<void> {
  for (let i = 0; i < 100; i++) {
    const answers = await fetch(`http://127.0.0.1:${port}/counts`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (answers) return;
    await new Promise((done) => setTimeout(done, 50));
  }
}

/** Keeps a program running; starts it again when it dies unasked, more slowly each time. */
function keepRunning(name: string, env: NodeJS.ProcessEnv, log: number): { stop: () => Promise<void> } {
  let child: ChildProcess | null = null;
  let stopping = false;
  let pauseMs = 250;
  const start = () => {
    const startedMs = Date.now();
    child = spawn(
      process.execPath,
      [...NODE_FLAGS, ...(name === 'worker' ? WORKER_FLAGS : []), join(ROOT, '.build', `${name}.js`)],
      {
        env,
        cwd: ROOT,
        stdio: ['ignore', log, log],
      },
    );
    child.once('exit', () => {
      if (stopping) return;
      if (Date.now() - startedMs > 30_000) pauseMs = 250;
      setTimeout(start, pauseMs);
      pauseMs = Math.min(10_000, pauseMs * 2);
    });
  };
  start();
  return {
    stop: async () => {
      stopping = true;
      const own = child;
      if (!own || own.exitCode !== null) return;
      const ended = new Promise((done) => own.once('exit', done));
      own.kill('SIGTERM');
      const hard = setTimeout(() => own.kill('SIGKILL'), 10_000);
      await ended;
      clearTimeout(hard);
    },
  };
}

function signInFor(data: string): SignIn {
  const file = join(data, 'sign-in.json');
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')) as SignIn;
  const made = { email: 'ines@quillhaven.example', password: randomBytes(9).toString('base64url') };
  writeFileSync(file, JSON.stringify(made), { mode: 0o600 });
  return made;
}

async function prepare(url: string, data: string, empty: boolean, standIn: StandIn | null): Promise<void> {
  const log = createLogger('start', 'warn');
  await ensureDatabase(url);
  const database = connect(url, log, 4);
  try {
    await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
    const signIn = signInFor(data);
    const first = await ensureAdministrator(database, { ...signIn, name: 'Ines Carvalho' });
    if (!first) return;
    await seedDemo(database, { withPeople: !empty, databaseUrl: url, say });
    if (standIn && !empty) await seedConnection(database, url, standIn, secretKeyOf(data), say);
  } finally {
    await database.pool.end();
  }
}

interface Chosen extends Place {
  data: string;
  empty: boolean;
  'no-stand-ins': boolean;
}

async function runHere({ host, port, data, empty, 'no-stand-ins': alone }: Chosen): Promise<void> {
  mkdirSync(data, { recursive: true });
  const already = runningAt(data);
  if (already) {
    process.stderr.write(
      `Gray Loom already runs on this data, at ${addressOf(already)}. Stop it with ./start --stop, or give another --data.\n`,
    );
    process.exit(1);
  }
  if (await healthy({ host, port })) {
    process.stderr.write(`Port ${port} is taken by another Gray Loom. Choose another with --port.\n`);
    process.exit(1);
  }
  writeFileSync(
    join(data, 'running.json'),
    JSON.stringify({ pid: process.pid, began: beganAt(process.pid), host, port }),
  );
  let cluster: Cluster | null = null;
  const programs: { stop: () => Promise<void> }[] = [];
  let ending = false;
  const end = async (code: number) => {
    if (ending) return;
    ending = true;
    await Promise.all(programs.map((program) => program.stop()));
    cluster?.stop();
    rmSync(join(data, 'running.json'), { force: true });
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => void end(0));
  try {
    let url = process.env.DATABASE_URL;
    if (!url) {
      cluster = await startCluster(data);
      url = cluster.url;
    }
    const log = openSync(join(data, 'gray-loom.log'), 'a', OWN);
    const standIn = alone ? null : await standInOf(data);
    if (standIn) {
      const given = {
        STAND_INS_DATA: join(data, 'stand-ins'),
        STAND_INS_PORT: String(standIn.port),
        STAND_INS_USER: standIn.user,
        STAND_INS_PASSWORD: standIn.password,
        ...(empty ? { STAND_INS_EMPTY: '1' } : {}),
      };
      programs.push(keepRunning('stand-ins', { ...process.env, ...given }, log));
      await answering(standIn.port);
    }
    await prepare(url, data, empty, standIn);
    const env = {
      ...process.env,
      DATABASE_URL: url,
      PORT: String(port),
      GRAY_LOOM_HOST: host,
      GRAY_LOOM_WEB: join(ROOT, 'apps/web/dist'),
      GRAY_LOOM_KEY: process.env.GRAY_LOOM_KEY ?? secretKeyOf(data).toString('base64'),
      GRAY_LOOM_STAND_INS: process.env.GRAY_LOOM_STAND_INS ?? (standIn ? standInOrigin(standIn) : ''),
    };
    programs.push(keepRunning('server', env, log), keepRunning('worker', env, log));
    for (let i = 0; i < 300 && !(await healthy({ host, port })); i++)
      await new Promise((done) => setTimeout(done, 100));
    if (!(await healthy({ host, port })))
      throw new Error(`the server did not answer on port ${port}; see ${join(data, 'gray-loom.log')}`);
    ready({ host, port }, data, standIn);
  } catch (error) {
    process.stderr.write(`Gray Loom did not start: ${(error as Error).message}\n`);
    await end(1);
  }
}

/** Says where it is and how to sign in. Passwords go to whoever started it, and into no log. */
function ready(place: Place, data: string, standIn: StandIn | null): void {
  say(`Gray Loom is ready at ${addressOf(place)}`);
  if (process.env[BEHIND]) return;
  const { email, password } = signInFor(data);
  say(`Sign in as ${email} with the password ${password}`);
  if (standIn)
    say(
      `A stand-in for an outside address book is at ${standInOrigin(standIn)} (name ${standIn.user}, password ${standIn.password})`,
    );
}

/** Starts itself again detached, and returns once that one is ready. */
async function runBehind({ host, port, data, 'no-stand-ins': alone }: Chosen): Promise<void> {
  mkdirSync(data, { recursive: true });
  const already = runningAt(data);
  if (already) {
    say(`Gray Loom already runs on this data, at ${addressOf(already)}`);
    return;
  }
  const log = openSync(join(data, 'start.log'), 'w', OWN);
  const args = process.argv.slice(2).filter((arg) => arg !== '--background');
  const child = spawn(process.execPath, [...process.execArgv, process.argv[1] ?? '', ...args], {
    cwd: ROOT,
    env: { ...process.env, [BEHIND]: '1' },
    detached: true,
    stdio: ['ignore', log, log],
  });
  child.unref();
  let ended = false;
  child.once('exit', () => (ended = true));
  for (let i = 0; i < 1800; i++) {
    if (ended) {
      process.stderr.write(readFileSync(join(data, 'start.log'), 'utf8'));
      process.exit(1);
    }
    if (runningAt(data)?.pid === child.pid && (await healthy({ host, port }))) {
      ready({ host, port }, data, alone ? null : knownStandIn(data));
      process.exit(0);
    }
    await new Promise((done) => setTimeout(done, 100));
  }
  process.stderr.write(`Gray Loom was not ready after three minutes; see ${join(data, 'start.log')}\n`);
  process.exit(1);
}

const chosen = options();
if (chosen.stop) await stop(chosen.data);
else if (chosen.background) await runBehind(chosen);
else await runHere(chosen);
