import { codeOf } from './error-code';

/** Files on their way are written to a disk that may be another than that of the database. */
const NO_ROOM_FOR_FILES = new Set(['ENOSPC', 'EDQUOT']);

/**
 * What is said when something cannot be written any more: by the database (SQLSTATE 53100 and 53200) or by the system, for files on
 * their way. In words for people; null for any other error.
 */
export function outOfRoom(error: unknown): string | null {
  const code = codeOf(error);
  if (code === '53100') return 'The disk of the database is full.';
  if (code === '53200') return 'The database has no memory left.';
  if (code !== undefined && NO_ROOM_FOR_FILES.has(code)) return 'The disk for files on their way is full.';
  return null;
}
