import type { OutsideWrite, OutsideWritten, Tool } from './ports';

/** Pauses between two looks, in ms: short at first, for most jobs are. */
const FIRST_PAUSE_MS = 200;
const LONGEST_PAUSE_MS = 10_000;
/** A job that has not ended by then is given up: what it wrote is found by reading. */
const LONGEST_MS = 15 * 60_000;

const NO_ANSWER: OutsideWritten = { ok: false, why: 'unknown', text: 'The job over there has not answered for it.' };

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/**
 * Writes over there, by a job where the tool has such and there are enough for one. Gives an answer for each write, in their order:
 * `unknown` for one that the job did not answer for. An answer that comes twice counts once, one for somebody else not at all.
 */
export async function writeOver(
  tool: Pick<Tool, 'bulk' | 'write'>,
  writes: readonly OutsideWrite[],
  pause: (ms: number) => Promise<void> = sleep,
): Promise<OutsideWritten[]> {
  const { bulk } = tool;
  if (!bulk || writes.length < bulk.from) return tool.write(writes);
  const job = await bulk.start(writes);
  if (job === null) return writes.map(() => NO_ANSWER);
  const asked = new Set(writes.map(({ id }) => id));
  const known = new Map<string, OutsideWritten>();
  let waitMs = FIRST_PAUSE_MS;
  for (let waitedMs = 0; waitedMs < LONGEST_MS; waitedMs += waitMs, waitMs = Math.min(waitMs * 2, LONGEST_PAUSE_MS)) {
    const { done, answers } = await bulk.look(job);
    for (const { id, written } of answers) if (asked.has(id) && !known.has(id)) known.set(id, written);
    if (done || known.size === asked.size) break;
    await pause(waitMs);
  }
  return writes.map(({ id }) => known.get(id) ?? NO_ANSWER);
}
