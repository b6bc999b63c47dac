/** What the database says when it cannot write any more (SQLSTATE 53100 and 53200), in words for people; null for any other error. */
export function outOfRoom(error: unknown): string | null {
  const code =
    (error as { code?: unknown; cause?: { code?: unknown } } | null)?.code ??
    (error as { cause?: { code?: unknown } } | null)?.cause?.code;
  if (code === '53100') return 'The disk of the database is full.';
  if (code === '53200') return 'The database has no memory left.';
  return null;
}
