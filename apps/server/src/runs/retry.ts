import { codeOf } from '../db/error-code';

/** SQLSTATE classes of what passes: connections, resources, operator intervention, serialization. */
const PASSING_CLASSES = new Set(['08', '53', '57', '40']);
const PASSING_CODES = new Set([
  'ECONNRESET',
  'ECONNREFUSED',
  'EPIPE',
  'ETIMEDOUT',
  'EHOSTUNREACH',
  'ENETUNREACH',
  '55P03',
  '57014',
]);
/** The disk is full: trying again does not help. */
const LASTING_CODES = new Set(['53100']);

/** Whether what failed may work another time without anybody doing anything. */
export function isPassing(error: unknown): boolean {
  const { retryable, message } = error as { retryable?: unknown; message?: unknown };
  if (typeof retryable === 'boolean') return retryable;
  const code = codeOf(error);
  if (code !== undefined)
    return !LASTING_CODES.has(code) && (PASSING_CODES.has(code) || PASSING_CLASSES.has(code.slice(0, 2)));
  return typeof message === 'string' && /Connection terminated|timeout exceeded when trying to connect/.test(message);
}

/** Why something failed that may work another time, in words. */
export function passingWords(error: unknown): string {
  const of = codeOf(error) ?? '';
  if (of === '57014' || of === 'ETIMEDOUT') return 'something took too long';
  if (of.startsWith('40') || of === '55P03') return 'somebody else held what it needed';
  if (of.startsWith('53')) return 'the database had no room for it';
  return 'a connection was lost';
}

const FIRST_PAUSE_MS = 2000;
const LONGEST_PAUSE_MS = 5 * 60_000;

/** How long to wait before a try, the first being number 1. */
export function pauseBefore(attempt: number): number {
  return Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (attempt - 1));
}
