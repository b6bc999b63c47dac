import { ToolTrouble, type Changes } from '@gray-loom/core/syncing';
import type { GuardedAnswer, GuardedRequest, GuardedRequester } from './guarded-request';
import { Pacer } from './pacer';

const TRIES = 5;
/** Longest wait that a pass sits out by itself; for a longer one the run ends and comes back. */
const LONGEST_WAIT_MS = 30_000;

/** Of what a tool takes a day this share is kept for stops. */
const KEPT_FOR_STOPS = 0.1;
const DAY_MS = 86_400_000;

/** The headers by which a tool says how many requests it takes a day, and how many are left. */
export interface QuotaHeaders {
  perDay: string;
  left: string;
}

/** Headers that hold for a while; `anew` once they are not taken any more. */
export type RenewedHeaders = (anew: boolean) => Promise<Record<string, string>>;

interface PacedOptions {
  /** Headers that every request has. */
  credentials: Record<string, string> | RenewedHeaders;
  /** What it says where they are not taken. */
  refused: (host: string) => string;
  /** Left out for a tool that does not count. */
  quota?: QuotaHeaders;
  /** Whether it asks for stops, which may use what is kept for them. */
  forStops?: boolean;
}

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** What every connector asks its tool by: paced, patient with what passes, and aware of the clock over there. */
export class PacedClient {
  private readonly pacer = new Pacer();
  /** Clock over there less ours, as its answers show it. */
  clock: Changes['clock'] = { aheadMs: 0, errorMs: 60_000 };
  /** Requests so far, for the report of a run. */
  requests = 0;
  /** What the tool takes today, and what is left of it; null until it has said so. */
  private quota: { perDay: number; left: number } | null = null;

  constructor(
    private readonly requester: GuardedRequester,
    private readonly options: PacedOptions,
  ) {}

  /**
   * Sends a request, again where that does no harm: one that reads where no answer came, any where it was put off. Errors:
   * ToolTrouble where the tool as a whole does not answer as it should; any other answer is the caller's.
   */
  async send(address: string, request: GuardedRequest, isWrite = false): Promise<GuardedAnswer> {
    const { host } = new URL(address);
    let isRenewed = false;
    for (let tries = 1; ; tries++) {
      let answer: GuardedAnswer;
      this.keepForStops(host);
      await this.pacer.turn();
      this.requests++;
      const headers = { ...(await this.credentials(isRenewed)), ...request.headers };
      try {
        answer = await this.requester.send(address, { ...request, headers });
      } catch (error) {
        // A request that reads can be asked again; of one that writes nobody knows whether it was done.
        const again = error instanceof ToolTrouble && error.kind === 'unreachable' && !isWrite && tries < 3;
        if (!again) throw error;
        await sleep(100 * tries);
        continue;
      }
      this.noteClock(answer);
      this.noteQuota(answer);
      if (answer.status !== 429) this.pacer.took();
      // What was refused for that was not done, so that it can be asked again, once.
      if (answer.status === 401 && !isRenewed && typeof this.options.credentials === 'function') {
        isRenewed = true;
        continue;
      }
      if (answer.status === 401) throw new ToolTrouble('credentials', this.options.refused(host));
      isRenewed = false;
      if (![429, 502, 503, 504].includes(answer.status)) return answer;
      const waitMs = retryAfterMs(answer.headers['retry-after']) ?? 250 * 2 ** tries;
      if (tries >= TRIES || waitMs > LONGEST_WAIT_MS)
        throw new ToolTrouble(
          answer.status === 429 ? 'busy' : 'unreachable',
          answer.status === 429 ? `${host} takes no more requests for now.` : `${host} answers with ${answer.status}.`,
          waitMs,
        );
      if (answer.status === 429) this.pacer.refused(waitMs);
      else await sleep(waitMs);
    }
  }

  private credentials(anew: boolean): Record<string, string> | Promise<Record<string, string>> {
    const { credentials } = this.options;
    return typeof credentials === 'function' ? credentials(anew) : credentials;
  }

  /** Ends what is not for stops before it takes what is kept for them. */
  private keepForStops(host: string): void {
    const { quota, clock } = this;
    if (!quota || this.options.forStops || quota.left > quota.perDay * KEPT_FOR_STOPS) return;
    const there = Date.now() + clock.aheadMs;
    throw new ToolTrouble(
      'busy',
      `${host} takes ${quota.left} more requests today. They are kept for stops.`,
      DAY_MS - (there % DAY_MS),
    );
  }

  private noteQuota({ headers }: GuardedAnswer): void {
    if (!this.options.quota) return;
    const [perDay, left] = [headers[this.options.quota.perDay], headers[this.options.quota.left]].map(Number);
    if (perDay !== undefined && left !== undefined && perDay > 0 && Number.isFinite(left))
      this.quota = { perDay, left };
  }

  private noteClock({ headers, atMs, tookMs }: GuardedAnswer): void {
    const there = Date.parse(headers.date ?? '');
    // The header has whole seconds, and times of change over there as well.
    const errorMs = 1500 + tookMs / 2;
    if (Number.isFinite(there) && errorMs <= this.clock.errorMs)
      this.clock = { aheadMs: Math.round(there + 500 - atMs), errorMs };
  }
}

function retryAfterMs(header: string | undefined): number | null {
  if (!header) return null;
  const seconds = Number(header);
  if (Number.isFinite(seconds)) return Math.max(0, seconds * 1000);
  const at = Date.parse(header);
  return Number.isFinite(at) ? Math.max(0, at - Date.now()) : null;
}
