const WINDOW_MS = 1000;
/** After this long without a refusal the pace is tried a little faster. */
const CALM_MS = 30_000;
/** A little slower than what went through, since clocks and lines waver. */
const MARGIN = 1.03;

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/**
 * Keeps requests below what the other side takes, once it has said that it was too much: the pace is what went through in
 * the second before. Without a refusal nothing waits.
 */
export class Pacer {
  private readonly taken: number[] = [];
  private gapMs = 0;
  private nextMs = 0;
  private closedUntilMs = 0;
  private refusedMs = 0;

  constructor(
    private readonly now: () => number = () => performance.now(),
    private readonly wait: (ms: number) => Promise<void> = sleep,
  ) {}

  /** Waits for the turn of the next request. */
  async turn(): Promise<void> {
    for (;;) {
      const now = this.now();
      if (this.gapMs && now - this.refusedMs > CALM_MS) {
        this.gapMs *= 0.95;
        this.refusedMs = now;
      }
      const at = Math.max(this.closedUntilMs, this.gapMs ? this.nextMs : 0);
      if (at <= now) {
        this.nextMs = Math.max(this.nextMs, now - 2 * this.gapMs) + this.gapMs;
        return;
      }
      await this.wait(Math.max(1, at - now));
    }
  }

  /** The other side took a request. */
  took(): void {
    const now = this.now();
    this.taken.push(now);
    while (this.taken[0] !== undefined && this.taken[0] < now - WINDOW_MS) this.taken.shift();
  }

  /** The other side refused a request and says how long to wait. */
  refused(waitMs: number): void {
    const now = this.now();
    // Several that were on their way are refused together; they tell one thing.
    if (now < this.closedUntilMs) return;
    const through = Math.max(1, this.taken.filter((at) => at > now - WINDOW_MS).length);
    this.gapMs = Math.max(this.gapMs, (WINDOW_MS / through) * MARGIN);
    this.closedUntilMs = now + waitMs;
    this.refusedMs = now;
    this.nextMs = 0;
  }
}
