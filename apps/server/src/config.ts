import type { StandInOffer } from '@gray-loom/wire';
import { isIP } from 'node:net';
import { resolve } from 'node:path';

/** Everything the server takes from its surroundings, read once. */
export interface Config {
  databaseUrl: string;
  port: number;
  /** Address that the server listens at. */
  host: string;
  /** Addresses of proxies whose X-Forwarded headers are believed. */
  trustedProxies: string[];
  /** Built web client, served beside the interface; null when there is none. */
  webDir: string | null;
  version: string;
  /** Largest file that can be brought in, in bytes. */
  fileLimitBytes: number;
  sessionDays: number;
  /** Country that national phone numbers are read in unless a file says otherwise. */
  country: string;
  /** How long a worker may give no sign of life before its run is taken over. */
  leaseMs: number;
  /** Key that credentials of outside tools are encrypted with, 32 bytes; null where none was given. */
  secretKey: Buffer | null;
  /** Origins inside that may be asked: those of stand-ins. */
  standIns: string[];
  /** How the stand-ins that run are signed in to, to be offered where a tool is connected. */
  standInAccess: StandInOffer[];
  logLevel: string;
}

function numberFrom(name: string, value: string | undefined, fallback: number, least: number, most: number): number {
  if (value === undefined || value === '') return fallback;
  const number = Number(value);
  if (!Number.isInteger(number) || number < least || number > most) {
    throw new Error(`${name} is '${value}'; it must be a whole number from ${least} to ${most}`);
  }
  return number;
}

function addressFrom(name: string, value: string): string {
  if (!isIP(value)) throw new Error(`${name} is '${value}'; it must be an IP address, such as 127.0.0.1 or ::1`);
  return value;
}

function keyFrom(text: string | undefined): Buffer | null {
  if (!text) return null;
  const key = Buffer.from(text, 'base64');
  if (key.length !== 32) throw new Error(`GRAY_LOOM_KEY has ${key.length} bytes; it must be 32, written in base64`);
  return key;
}

/**
 * How a stand-in is signed in to, by its address: with a name and a password an address book, with a key alone a dialer; a mailer says
 * that it is one behind the mark of a part (#mailer).
 */
function offerOf({ origin, pathname, username, password, hash }: URL): StandInOffer[] {
  const secret = decodeURIComponent(password);
  if (hash === '#mailer')
    return [{ kind: 'mailer', settings: { address: `${origin}/`, client: decodeURIComponent(username), secret } }];
  if (username)
    return [
      {
        kind: 'addressBook',
        settings: { address: `${origin}/`, user: decodeURIComponent(username), password: secret },
      },
    ];
  return secret ? [{ kind: 'dialer', settings: { address: `${origin}${pathname}`, key: secret } }] : [];
}

/** The key that secrets are kept with, for what asks without a configuration at hand. */
export const secretKeyOfProcess = (): Buffer | null => keyFrom(process.env.GRAY_LOOM_KEY);

/** Reads the configuration from environment variables. Throws with the name, the value and the bound that it breaks. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const databaseUrl = env.DATABASE_URL;
  if (!databaseUrl)
    throw new Error('DATABASE_URL is not set; ./start sets it, or give the address of a PostgreSQL database');
  const standIns = (env.GRAY_LOOM_STAND_INS ?? '')
    .split(',')
    .filter(Boolean)
    .map((one) => new URL(one));
  return {
    databaseUrl,
    port: numberFrom('PORT', env.PORT, 4310, 0, 65_535),
    host: addressFrom('GRAY_LOOM_HOST', env.GRAY_LOOM_HOST || '127.0.0.1'),
    trustedProxies: (env.GRAY_LOOM_TRUSTED_PROXIES ?? '')
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)
      .map((one) => addressFrom('GRAY_LOOM_TRUSTED_PROXIES', one)),
    webDir: env.GRAY_LOOM_WEB ? resolve(env.GRAY_LOOM_WEB) : null,
    version: env.GRAY_LOOM_VERSION ?? '0.1.0',
    fileLimitBytes: numberFrom(
      'GRAY_LOOM_FILE_LIMIT',
      env.GRAY_LOOM_FILE_LIMIT,
      200 * 1024 * 1024,
      1024,
      2_000_000_000,
    ),
    sessionDays: numberFrom('GRAY_LOOM_SESSION_DAYS', env.GRAY_LOOM_SESSION_DAYS, 14, 1, 365),
    country: env.GRAY_LOOM_COUNTRY ?? 'GB',
    leaseMs: numberFrom('GRAY_LOOM_LEASE_MS', env.GRAY_LOOM_LEASE_MS, 15_000, 500, 600_000),
    secretKey: keyFrom(env.GRAY_LOOM_KEY),
    standIns: standIns.map(({ origin }) => origin),
    standInAccess: standIns.flatMap(offerOf),
    logLevel: env.GRAY_LOOM_LOG ?? 'info',
  };
}
