import type { Issue } from '@gray-loom/core/model';
import { wordIssue } from '@gray-loom/core/model';

export type ProblemStatus = 400 | 401 | 403 | 404 | 408 | 409 | 410 | 413 | 415 | 422 | 429;

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
