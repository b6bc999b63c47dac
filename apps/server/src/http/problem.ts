import { outOfRoom } from '../db/out-of-room';
import type { Context } from 'hono';
import type { ProblemDetails } from '@gray-loom/wire';
import type { Logger } from '../log';
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

const PROBLEM_JSON = { 'Content-Type': 'application/problem+json' };

function detailsOf(problem: Problem): ProblemDetails {
  const { errors, ...facts } = problem.facts as { errors?: ProblemDetails['errors'] };
  return {
    type: `urn:gray-loom:problem:${problem.code}`,
    title: problem.code,
    status: problem.status,
    detail: problem.message,
    code: problem.code,
    facts,
    ...(errors ? { errors } : {}),
  };
}

/** Every error as problem details: what was expected in its own words, everything else as a fault of ours that the log names. */
export function answerError(error: unknown, c: Context, log: Logger): Response {
  if (error instanceof Problem) return c.json(detailsOf(error), error.status, PROBLEM_JSON);
  log.error({ err: error, path: c.req.path }, 'a request failed');
  const noRoom = outOfRoom(error);
  if (noRoom) {
    const full = new Problem(507, 'outOfRoom', `${noRoom} Nothing was changed. Make room, then try again.`);
    return c.json(detailsOf(full), 507, PROBLEM_JSON);
  }
  return c.json<ProblemDetails>(
    {
      type: 'urn:gray-loom:problem:internal',
      title: 'internal',
      status: 500,
      code: 'internal',
      detail:
        'Something went wrong inside Gray Loom. Nothing was changed; try again, and look into the log if it stays.',
    },
    500,
    PROBLEM_JSON,
  );
}
