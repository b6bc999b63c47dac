import { awaitedLater } from '../model';
import { brakeReasons, type BrakeReason, type PassTotals } from './brake';
import { collect } from './pass-collect';
import { ItemShelf } from './item-shelf';
import { LABELS, WHOLE_NAME, type SyncLine } from './lines';
import type { Capabilities } from './outside';
import { AT_ONCE, NONE, type PassEnd, type SyncSetup } from './pass-item';
import type { PassOptions, PassPlan } from './pass-options';
import { PassPlanner } from './pass-plan';
import { PassTally } from './pass-tally';
import { writeHere, writeThere, type Again, type Outward } from './pass-write';
import { ItemPlanner } from './plan-item';
import type { Changes, SyncStore, Tool } from './ports';

const ROUNDS = 4;
/** Batches that are written over there at a time. */
const IN_FLIGHT = 2;
/** Most that one job is told: what is about to be written is kept until it is. */
const MOST_IN_JOB = 1000;
const NO_CLOCK: Changes['clock'] = { aheadMs: 0, errorMs: 0 };

/** Lines whose field is gone over there. What they kept in step was not cleared by anybody: nothing is taken in and nothing written. */
const goneLines = ({ lines }: SyncSetup, { fields, canMakeFields }: Capabilities): SyncLine[] =>
  canMakeFields ? [] : lines.filter(({ outside }) => outside !== LABELS && !fields.some(({ key }) => key === outside));

/**
 * One pass of a connection, made of its steps: collect what changed on both sides, identify who is who, plan, brake, write,
 * and settle: look again at what did not come to rest, then move the cursors on. Its work follows the number of changes and
 * not the size of the book. Nothing is written twice: what is about to be written over there is noted before, and where no
 * answer came the record is read before anything else is done with it.
 */
export class SyncPass {
  private readonly tally = new PassTally();
  private planner: PassPlanner | null = null;

  constructor(
    private readonly store: SyncStore,
    private readonly tool: Tool,
    private readonly setup: SyncSetup,
    private readonly options: PassOptions,
  ) {}

  /** Looks at everything that changed and says what would be done, and what speaks for waiting; writes nothing. */
  async plan(): Promise<PassPlan> {
    const capabilities = this.options.capabilities ?? (await this.tool.capabilities());
    this.tally.begin();
    const gone = goneLines(this.setup, capabilities);
    const setup = gone.length
      ? { ...this.setup, lines: this.setup.lines.filter((line) => !gone.includes(line)) }
      : this.setup;
    const plannerWith = (clock: Changes['clock'], reasked: ReadonlySet<string>): PassPlanner => {
      const { store, tool, options, tally } = this;
      const items = new ItemPlanner({ setup, options, capabilities, clock, tally });
      return (this.planner = new PassPlanner({ store, tool, setup, options, tally, items, reasked }));
    };
    const { only, onlyThere, codec } = this.options;
    const items = new ItemShelf(codec);
    if (only) {
      const { theirs, ours } = await this.store.cursors();
      const planner = plannerWith(NO_CLOCK, NONE);
      await planner.planTheirs(onlyThere ?? [], null, items);
      await planner.planOurs(only, items);
      const reasons = brakeReasons(this.tally.totals, this.setup.limits);
      return { items, totals: this.tally.totals, reasons, cursors: { theirs, ours: ours ?? '' } };
    }
    const { ours, theirs, unfinished, reasked } = await collect(this.store, this.tool);
    const planner = plannerWith(theirs.clock, reasked);
    // What changed comes first: something unfinished may be found at a new place by it.
    const lookedAt = new Set([
      ...theirs.changed.map(({ id }) => id),
      ...unfinished,
      ...reasked,
      ...(this.options.pushed ?? []),
    ]);
    await planner.planTheirs([...lookedAt], theirs, items);
    await planner.planGone(theirs.gone, items);
    await planner.planOurs(ours.ids, items);
    if (this.tool.placeOf) await planner.planGone(await this.store.freeToTake(), items);
    return {
      items,
      totals: this.tally.totals,
      reasons: [
        ...gone.map((line) => this.sayGone(line)),
        ...this.tally.reasons(capabilities),
        ...brakeReasons(this.tally.totals, this.setup.limits),
      ],
      cursors: { theirs: theirs.cursor, ours: ours.cursor },
    };
  }

  private sayGone({ field, fixed }: SyncLine): BrakeReason {
    const { catalogue } = this.options.context;
    const label = fixed !== undefined ? `"${fixed}"` : field === WHOLE_NAME ? 'the name' : catalogue.nameOf(field);
    return { code: 'fieldGone', count: 1, limit: 0, label };
  }

  /** Writes what was planned, and plans and writes again until nothing is left, or a few rounds are over. */
  async apply(first: PassPlan): Promise<PassEnd> {
    const totals: PassTotals = { ...first.totals };
    const end: PassEnd = { totals, left: 0, stopped: false, full: false };
    let { items } = first;
    for (let round = 0; items.length && round < ROUNDS; round++) {
      const again: Again = { outside: new Set(), contacts: new Set() };
      if (!(await this.write(items, again, end, { round, total: first.items.length })))
        return { ...end, stopped: true };
      end.left = again.outside.size + again.contacts.size;
      if (!end.left) break;
      items = await this.planAgain(again);
      if (!items.length) end.left = 0;
    }
    if (!end.left && !end.full && !this.options.only) await this.store.finish(first.cursors);
    return end;
  }

  private async planAgain({ outside, contacts }: Again): Promise<ItemShelf> {
    const { planner } = this;
    if (!planner) throw new Error('a pass is planned before it is applied');
    this.tally.begin();
    const items = new ItemShelf(this.options.codec);
    await planner.planTheirs([...outside], null, items);
    await planner.planOurs([...contacts], items);
    return items;
  }

  /** Writes items in batches; gives false where it was told to end. */
  private async write(
    items: ItemShelf,
    again: Again,
    end: PassEnd,
    { round, total }: { round: number; total: number },
  ): Promise<boolean> {
    const sending: Promise<void>[] = [];
    const send = async (outward: readonly Outward[]): Promise<void> => {
      const { full, ...counts } = await writeThere(this.store, this.tool, outward, again, this.options.pause);
      // What was not taken was counted as planned.
      for (const [name, n] of Object.entries(counts) as [keyof typeof counts, number][]) {
        end.totals[name] = Math.max(0, end.totals[name] - n);
        end.totals.failed += n;
      }
      end.full ||= full;
    };
    // One job takes more than a page: each costs requests, however many it is told.
    const most = this.tool.bulk ? Math.max(AT_ONCE, Math.min(this.tool.bulk.most ?? AT_ONCE, MOST_IN_JOB)) : AT_ONCE;
    let waiting: Outward[] = [];
    const sendOn = async (): Promise<void> => {
      const outward = waiting;
      waiting = [];
      if (sending.length >= IN_FLIGHT) await sending.shift();
      sending.push(awaitedLater(send(outward)));
    };
    let done = round === 0 ? 0 : total;
    for (const batch of items.pages()) {
      const kept = end.full ? batch.filter(({ action }) => action !== 'makeThere') : batch;
      end.totals.madeThere -= batch.length - kept.length;
      // While batches are written over there, the next is written here.
      const outward = await writeHere(this.store, kept, again).catch(async (error: unknown) => {
        await Promise.allSettled(sending);
        throw error;
      });
      waiting.push(...outward);
      if (waiting.length > most - AT_ONCE) await sendOn();
      if (round === 0) done += batch.length;
      if (this.options.goOn && !(await this.options.goOn(done, total, end.totals))) {
        await sendOn();
        await Promise.all(sending);
        return false;
      }
    }
    if (waiting.length) await sendOn();
    await Promise.all(sending);
    return true;
  }
}
