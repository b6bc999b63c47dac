import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';
import { conflict, declareRefusals } from './http/refusal';

const refuse = declareRefusals({
  noSecretKey: conflict(
    'Secrets cannot be kept: GRAY_LOOM_KEY is not set. ./start sets it; elsewhere give 32 random bytes in base64.',
  ),
  otherKey: conflict('This was encrypted with another key. Type it again, or set the key that was used.'),
});

const NONCE = 12;
const TAG = 16;

function requireKey(key: Buffer | null): Buffer {
  if (!key) throw refuse.noSecretKey();
  return key;
}

/** Encrypts a text with AES-256-GCM (NIST SP 800-38D); the key is outside the database. */
export function seal(text: string, key: Buffer | null): string {
  const nonce = randomBytes(NONCE);
  const cipher = createCipheriv('aes-256-gcm', requireKey(key), nonce);
  const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
}

/** The text again. Errors: a refusal where the key is another one than it was sealed with. */
export function unseal(sealed: string, key: Buffer | null): string {
  const bytes = Buffer.from(sealed, 'base64');
  const decipher = createDecipheriv('aes-256-gcm', requireKey(key), bytes.subarray(0, NONCE));
  decipher.setAuthTag(bytes.subarray(NONCE, NONCE + TAG));
  try {
    return Buffer.concat([decipher.update(bytes.subarray(NONCE + TAG)), decipher.final()]).toString('utf8');
  } catch {
    throw refuse.otherKey();
  }
}

/** A hash of a text that only whoever has the key can make again (HMAC-SHA-256, RFC 2104). */
export const keyedHash = (text: string, key: Buffer | null): Buffer =>
  createHmac('sha256', requireKey(key)).update(text, 'utf8').digest();

/** What the calls of a tool to one address are signed with. It follows from the address, so that it is kept nowhere. */
export const secretOfHook = (hook: string, key: Buffer | null): string =>
  keyedHash(`signed calls to ${hook}`, key).toString('base64url');
