import type { Context } from 'hono';
import type { ProblemDetails } from '@gray-loom/wire';
import { outOfRoom } from '../db/out-of-room';
import type { Logger } from '../log';
import { isPassing, passingWords } from '../runs/retry';
import { Refusal } from './refusal';
import { refuse } from './refusals';

/** Where the name of the route that is served stands; an address itself may hold a person's values. */
export const ROUTE = 'route';
/** Where an answer keeps its own policy of what a browser may do with it. */
export const POLICY = 'policy';

/** Seen by nobody but a log of requests. */
const CLIENT_GONE = 499;

const PROBLEM_JSON = { 'Content-Type': 'application/problem+json' };

/** A refusal as problem details (RFC 9457): what was found, where, what to do. */
function detailsOf(refusal: Refusal): ProblemDetails {
  const { errors, ...facts } = refusal.facts as { errors?: ProblemDetails['errors'] };
  return {
    type: `urn:gray-loom:problem:${refusal.code}`,
    title: refusal.code,
    status: refusal.status,
    detail: refusal.words,
    code: refusal.code,
    facts,
    ...(errors ? { errors } : {}),
  };
}

const FAULT: ProblemDetails = {
  type: 'urn:gray-loom:problem:internal',
  title: 'internal',
  status: 500,
  code: 'internal',
  detail: 'Something went wrong inside Gray Loom. Nothing was changed; try again, and look into the log if it stays.',
};

/** Every error as problem details: a refusal as it was declared, everything else as a fault of ours that the log names. */
export function answerError(error: unknown, c: Context, log: Logger): Response {
  if (error instanceof Refusal) return c.json(detailsOf(error), error.status, PROBLEM_JSON);
  // Whoever asked is gone; what was begun for them was let go.
  if (c.req.raw.signal.aborted) return c.body(null, CLIENT_GONE as never);
  log.error({ err: error, route: c.get(ROUTE) as unknown }, 'a request failed');
  const what = outOfRoom(error);
  if (what) {
    const full = refuse.outOfRoom({ what });
    return c.json(detailsOf(full), full.status, PROBLEM_JSON);
  }
  if (isPassing(error)) {
    const passing = refuse.notNow({ why: passingWords(error) });
    return c.json(detailsOf(passing), passing.status, PROBLEM_JSON);
  }
  return c.json(FAULT, 500, PROBLEM_JSON);
}
