const WINDOW_MS = 1000;
/** After this long without a refusal the pace is tried a little faster. */
const CALM_MS = 5000;

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/**
 * Keeps requests below what the other side takes, once it has said that it was too much: the pace is what went through in
 * the second before. Without a refusal nothing waits.
 */
export class Pacer {
  private readonly sent: number[] = [];
  private gapMs = 0;
  private nextMs = 0;
  private closedUntilMs = 0;
  private refusedMs = 0;

  constructor(private readonly now: () => number = () => performance.now()) {}

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
        this.nextMs = Math.max(this.nextMs, now - 4 * this.gapMs) + this.gapMs;
        this.sent.push(now);
        while (this.sent[0] !== undefined && this.sent[0] < now - WINDOW_MS) this.sent.shift();
        return;
      }
      await sleep(Math.max(1, at - now));
    }
  }

  /** The other side refused a request and says how long to wait. */
  refused(waitMs: number): void {
    const now = this.now();
    // Several that were on their way are refused together; they tell one thing.
    if (now < this.closedUntilMs) return;
    const through = Math.max(1, this.sent.filter((at) => at > now - WINDOW_MS).length - 1);
    this.gapMs = Math.max(this.gapMs, (WINDOW_MS / through) * 1.08);
    this.closedUntilMs = now + waitMs;
    this.refusedMs = now;
    this.nextMs = 0;
  }
}
