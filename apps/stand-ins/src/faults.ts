/** What the stand-in does wrong, on purpose. Shares are of requests, from 0 to 1. */
export interface Faults {
  latencyMs: number;
  /** The answer is lost after the write was done. */
  lostAnswer: number;
  /** A write is done twice, as by a proxy that tries again. */
  repeated: number;
  /** Lists come in another order. */
  disorder: number;
  /** 429 with Retry-After. */
  busy: number;
  retryAfterS: number;
  /** 503. */
  failing: number;
  /** The credentials are not taken any more. */
  expired: boolean;
  /** Sync tokens are forgotten. */
  tokenLost: number;
  /** Answers come in drips. */
  drip: boolean;
  /** An answer that never ends. */
  endless: boolean;
  /** Answers that are no cards. */
  garbage: boolean;
  /** How far its clock is ahead, in ms. */
  clockMs: number;
  /** How many cards it takes; 0 is no limit. */
  mostCards: number;
  /** Requests it takes in a second; 0 is no limit. */
  perSecond: number;
  /** Requests it takes in a day, by its own clock; 0 is no limit. */
  perDay: number;
  /** Seconds that a token of access holds; 0 as usual. */
  tokenS: number;
  /** Tokens of access that end in the middle. */
  tokenEnds: number;
  /** How long a job takes, and jobs that never answer, answer twice, or for somebody else as well. */
  jobMs: number;
  jobNever: number;
  jobTwice: number;
  jobStray: number;
}

export const NO_FAULTS: Faults = {
  latencyMs: 0,
  lostAnswer: 0,
  repeated: 0,
  disorder: 0,
  busy: 0,
  retryAfterS: 1,
  failing: 0,
  expired: false,
  tokenLost: 0,
  drip: false,
  endless: false,
  garbage: false,
  clockMs: 0,
  mostCards: 0,
  perSecond: 0,
  perDay: 0,
  tokenS: 0,
  tokenEnds: 0,
  jobMs: 0,
  jobNever: 0,
  jobTwice: 0,
  jobStray: 0,
};

/** Numbers from 0 to 1, the same for one seed (mulberry32). */
export function numbersOf(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Takes what of a request is known as faults; the rest stays. */
export function mergeFaults(now: Faults, asked: Record<string, unknown>): Faults {
  const next = { ...now };
  for (const [key, value] of Object.entries(asked)) {
    if (!Object.hasOwn(NO_FAULTS, key)) continue;
    const name = key as keyof Faults;
    if (typeof NO_FAULTS[name] === 'boolean')
      (next[name] as boolean) = value === true || value === 'true' || value === 'on';
    else if (Number.isFinite(Number(value))) (next[name] as number) = Number(value);
  }
  return next;
}
