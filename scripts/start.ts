import { connect, migrateDatabase, createLogger, ensureAdministrator, isNew } from '@gray-loom/server';
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { seedConnections } from '../demo/connection';
import { seedDemo } from '../demo/seed';
import { ensureDatabase, stopClusterOf, takeCluster, type Cluster } from './postgres';
import { endProcess, isAlive } from './processes';
import { endLeftovers, RunningNote, type Place } from './running';
import { keepDatabase, keepLogsSmall, keepProgram, type Kept } from './supervise';
import { secretKeyOf, standInAccess, standInOf, standInOrigin, type StandIn } from './surroundings';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
/** Readable by its owner alone. */
const OWN = 0o600;
/** Set for a start in the background, whose words go into a log. */
const BEHIND = 'GRAY_LOOM_BEHIND';
/** A starter that is asked to stop has so long to end what it started. */
const STOP_MS = 30_000;
const say = (text: string) => process.stdout.write(`${text}\n`);

const SIGN_IN = 'sign-in.json';

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

/** Ends what runs on the data: its starter and, where that was killed, what it left behind. Nothing else is touched. */
async function stop(data: string): Promise<void> {
  const note = new RunningNote(data);
  const noted = note.read();
  const ran = noted !== null && isAlive(noted);
  if (noted) await endProcess(noted, STOP_MS);
  // It may have been started again by a starter that was killed while it stopped.
  const left = noted ? await endLeftovers(noted) : [];
  const database = !process.env.DATABASE_URL && existsSync(data) && stopClusterOf(data);
  note.drop();
  say(ran || left.length || database ? 'Gray Loom has stopped.' : 'Gray Loom is not running on this data.');
}

/** Where a server at a place is reached from here; one that listens everywhere listens here too. */
function addressOf({ host, port }: Place): string {
  const here = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
  return `http://${here.includes(':') ? `[${here}]` : here}:${port}`;
}

/** What the server at a place says is down; null where none answers. */
async function downAt(place: Place): Promise<string[] | null> {
  try {
    const answer = await fetch(`${addressOf(place)}/api/health`, { signal: AbortSignal.timeout(5000) });
    return ((await answer.json()) as { down?: string[] }).down ?? [];
  } catch {
    return null;
  }
}

const isHealthy = async (place: Place) => (await downAt(place))?.length === 0;

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

function signInFor(data: string): SignIn {
  const file = join(data, SIGN_IN);
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
    // Whoever opens an empty workspace makes its first account there.
    const first = empty
      ? await isNew(database)
      : await ensureAdministrator(database, { ...signInFor(data), name: 'Ines Carvalho' });
    if (!first) return;
    await seedDemo(database, { withPeople: !empty, databaseUrl: url, say });
    if (standIn && !empty) await seedConnections(database, url, standIn, secretKeyOf(data), say);
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
  const note = new RunningNote(data);
  const before = note.read();
  if (!note.take({ host, port }, !process.env.DATABASE_URL)) {
    const already = note.starter();
    process.stderr.write(
      `Gray Loom already runs on this data${already ? `, at ${addressOf(already)}` : ''}. Stop it with ./start --stop, or give another --data.\n`,
    );
    process.exit(1);
  }
  const kept: Kept[] = [];
  let cluster: Cluster | null = null;
  let ending = false;
  const end = async (code: number) => {
    if (ending) return;
    ending = true;
    // The database goes last, and nobody starts it again.
    await Promise.all(kept.map((one) => one.stop()));
    cluster?.stop();
    note.drop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => void end(0));
  try {
    if (before) {
      const ended = await endLeftovers(before);
      if (ended.length) say(`An earlier start was cut off; what it left running is started anew: ${ended.join(', ')}.`);
    }
    if ((await downAt({ host, port })) !== null)
      throw new Error(`port ${port} is taken by another Gray Loom; choose another with --port`);
    const log = openSync(join(data, 'gray-loom.log'), 'a', OWN);
    let url = process.env.DATABASE_URL;
    if (!url) {
      const watch = await takeCluster(data);
      ({ cluster } = watch);
      ({ url } = cluster);
      kept.push(keepDatabase(watch, say));
    }
    kept.push(keepLogsSmall([join(data, 'gray-loom.log'), ...(cluster ? [cluster.log] : [])], say));
    const standIn = alone ? null : await standInOf(data);
    if (standIn) {
      const given = {
        STAND_INS_DATA: join(data, 'stand-ins'),
        STAND_INS_PORT: String(standIn.port),
        STAND_INS_USER: standIn.user,
        STAND_INS_PASSWORD: standIn.password,
        STAND_INS_DIALER_PORT: String(standIn.dialer.port),
        STAND_INS_DIALER_KEY: standIn.dialer.key,
        STAND_INS_MAILER_PORT: String(standIn.mailer.port),
        STAND_INS_MAILER_ID: standIn.mailer.client,
        STAND_INS_MAILER_SECRET: standIn.mailer.secret,
        ...(empty ? { STAND_INS_EMPTY: '1' } : {}),
      };
      kept.push(keepProgram('stand-ins', { ...process.env, ...given }, log, note));
      await answering(standIn.port);
      await answering(standIn.dialer.port);
      await answering(standIn.mailer.port);
    }
    await prepare(url, data, empty, standIn);
    const env = {
      ...process.env,
      DATABASE_URL: url,
      PORT: String(port),
      GRAY_LOOM_HOST: host,
      GRAY_LOOM_WEB: join(ROOT, 'apps/web/dist'),
      GRAY_LOOM_KEY: process.env.GRAY_LOOM_KEY ?? secretKeyOf(data).toString('base64'),
      GRAY_LOOM_STAND_INS: process.env.GRAY_LOOM_STAND_INS ?? (standIn ? standInAccess(standIn) : ''),
    };
    kept.push(keepProgram('server', env, log, note), keepProgram('worker', env, log, note));
    for (let i = 0; i < 300 && !(await isHealthy({ host, port })); i++)
      await new Promise((done) => setTimeout(done, 100));
    const down = await downAt({ host, port });
    if (down === null) throw new Error(`the server did not answer on port ${port}; see ${join(data, 'gray-loom.log')}`);
    if (down.length) say(`Not everything runs yet: ${down.join(', ')}. See ${join(data, 'gray-loom.log')}.`);
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
  if (existsSync(join(data, SIGN_IN))) {
    const { email, password } = signInFor(data);
    say(`Sign in as ${email} with the password ${password}`);
  } else say('Open it in a browser: whoever comes first makes the first account.');
  if (standIn)
    say(
      `A stand-in for an outside address book is at ${standInOrigin(standIn)} (name ${standIn.user}, password ${standIn.password}), ` +
        `one for a dialer at ${standInOrigin(standIn.dialer)} (key ${standIn.dialer.key}), ` +
        `one for a mailer at ${standInOrigin(standIn.mailer)} (client ${standIn.mailer.client}, secret ${standIn.mailer.secret})`,
    );
}

/** Starts itself again detached, and returns once that one is ready. */
async function runBehind({ host, port, data, 'no-stand-ins': alone }: Chosen): Promise<void> {
  mkdirSync(data, { recursive: true });
  const note = new RunningNote(data);
  const already = note.starter();
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
    if (note.starter()?.pid === child.pid && (await isHealthy({ host, port }))) {
      ready({ host, port }, data, alone ? null : await standInOf(data));
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
