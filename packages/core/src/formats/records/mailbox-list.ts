import { mailboxesIn, nameBeside, parseEmail } from '../../fields';

const linesOf = (text: string) =>
  text
    .replace(/^\uFEFF/, '')
    // A header line of a message may be copied with its recipients, which go on over several lines.
    .replace(/^(?:to|cc|bcc|an|à|para)\s*:\s*/i, '')
    .split(/\r?\n/)
    .map((line) => line.trim().replace(/[,;]+$/, ''))
    .filter(Boolean);

/**
 * Whether the beginning of a file is nothing but mailboxes as a mail program has them, names beside them or several on a
 * line: each is somebody. Mailboxes alone, one on a line, or in columns, are a table as they stand.
 */
export function looksLikeMailboxes(beginning: string): boolean {
  const lines = linesOf(beginning);
  // The last one may be cut off.
  const whole = lines.length > 2 ? lines.slice(0, -1) : lines;
  const pieces = whole.map((line) => mailboxesIn(line));
  const all = pieces.flat();
  if (all.length < 2 || !all.every((piece) => parseEmail(piece).ok)) return false;
  return all.some((piece) => nameBeside(piece)) || (whole.length === 1 && all.length > 1);
}

/** Mailboxes as a table of names and addresses; what is none stands in the second column as it is. The first row is the heading. */
export function tableOfMailboxes(text: string): string[][] {
  const rows = linesOf(text)
    .flatMap((line) => mailboxesIn(line))
    .map((piece) => {
      const parsed = parseEmail(piece);
      return [nameBeside(piece) ?? '', parsed.ok ? parsed.value.norm : piece];
    });
  return [['Name', 'E-mail'], ...rows];
}
