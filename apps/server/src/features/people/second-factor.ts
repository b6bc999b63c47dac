import { createHash, randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import type { Database, Tx } from '../../db/connect';
import { seal, unseal } from '../../secrets';
import { keepStep, takeRecoveryHash } from './statements/second-factor';

/** Time steps (RFC 6238: 30 s) that a clock may be off, either way. */
const STEPS_OFF = 1;
const PERIOD_S = 30;
const CODES = 10;

const totpOf = (secret: string, label = '') =>
  new TOTP({ issuer: 'Gray Loom', label, secret: Secret.fromBase32(secret), period: PERIOD_S });

/** A new secret, and the address by which an authenticator takes it. */
export function newSecret(email: string): { secret: string; address: string } {
  const secret = new Secret({ size: 20 }).base32;
  return { secret, address: totpOf(secret, email).toString() };
}

/** The time step that a code is of; null where it is of none that counts now. */
export function stepOf(secret: string, code: string, nowMs: number): number | null {
  const plain = code.replace(/\s/g, '');
  if (!/^\d{6}$/.test(plain)) return null;
  const off = totpOf(secret).validate({ token: plain, timestamp: nowMs, window: STEPS_OFF });
  return off === null ? null : Math.floor(nowMs / 1000 / PERIOD_S) + off;
}

const recoveryHash = (code: string) =>
  createHash('sha256')
    .update(code.replace(/[^A-Za-z0-9]/g, '').toLowerCase())
    .digest('hex');

/** Codes for whoever has lost the authenticator, each good once, and what is kept of them. */
export function newRecoveryCodes(): { codes: string[]; hashes: string[] } {
  // Sixty bits each, in letters and digits that are not mistaken for one another.
  const ALPHABET = 'abcdefghjkmnpqrstuvwxyz23456789';
  const letter = () => ALPHABET[(randomBytes(2).readUInt16BE() % ALPHABET.length) as number] ?? 'a';
  const codes = Array.from({ length: CODES }, () => {
    const text = Array.from({ length: 12 }, letter).join('');
    return `${text.slice(0, 4)}-${text.slice(4, 8)}-${text.slice(8)}`;
  });
  return { codes, hashes: codes.map(recoveryHash) };
}

export const sealSecret = (secret: string, key: Buffer | null): string => seal(secret, key);

interface Factor {
  id: number;
  totpSecret: string | null;
}

/**
 * Whether a code is that of an account now, or one of its recovery codes. A code that counted counts no more, also for whoever sends it
 * at the same moment.
 */
export async function takeCode(
  { pool }: Pick<Database, 'pool'> | { pool: Tx['client'] },
  { id, totpSecret }: Factor,
  code: string,
  key: Buffer | null,
  nowMs = Date.now(),
): Promise<boolean> {
  if (!totpSecret) return true;
  const step = stepOf(unseal(totpSecret, key), code, nowMs);
  if (step !== null) return (await keepStep(pool, id, step)).rowCount === 1;
  return (await takeRecoveryHash(pool, id, recoveryHash(code))).rowCount === 1;
}
