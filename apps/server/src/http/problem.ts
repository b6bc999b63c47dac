import type { Issue } from '@gray-loom/core/model';
import { wordIssue } from '@gray-loom/core/model';

export type ProblemStatus = 400 | 401 | 403 | 404 | 408 | 409 | 410 | 413 | 415 | 422 | 429 | 507;

/** An expected refusal, answered as problem details (RFC 9457): what was found, where, what to do. */
export class Problem extends Error {
  constructor(
    readonly status: ProblemStatus,
    readonly code: string,
    message: string,
    readonly facts: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

export function issueProblem(status: ProblemStatus, issue: Issue): Problem {
  return new Problem(status, issue.code, wordIssue(issue), { issue });
}

/** What the database says when it cannot write any more (SQLSTATE 53100 and 53200), in words for people; null for any other error. */
export function outOfRoom(error: unknown): string | null {
  const code =
    (error as { code?: unknown; cause?: { code?: unknown } } | null)?.code ??
    (error as { cause?: { code?: unknown } } | null)?.cause?.code;
  if (code === '53100') return 'The disk of the database is full.';
  if (code === '53200') return 'The database has no memory left.';
  return null;
}
