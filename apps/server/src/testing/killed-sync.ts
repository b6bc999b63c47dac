import type { ConflictList, ConnectionDetail, ContactDetail, ContactPage, RunSummary } from '@gray-loom/wire';
import { numbersOf } from '../../../stand-ins/src/faults';
import {
  BookSide,
  DialerSide,
  familyOf,
  MailerSide,
  nameOf,
  type Below,
  type Side,
  type StopChannel,
} from './killed-sides';

/** Tools of a history beside the address book. */
export type OtherTool = 'dialer' | 'mailer';
import { RealApp } from './real-app';
import { KEY } from './run-sync';

interface Connected {
  side: Side;
  id: number;
}

/**
 * A real app and real tools over HTTP, with histories of edits on all sides while answers are lost, requests refused, repeated and used
 * up, and server and worker killed at random.
 */
export class KilledSync {
  private made = 0;
  /** Contacts who said here that they want no calls, or no mail. */
  private readonly stopped: Record<StopChannel, Set<number>> = { call: new Set(), email: new Set() };

  private constructor(
    private readonly app: RealApp,
    private readonly tools: readonly Connected[],
  ) {}

  /** @param others tools beside the address book */
  static async start(others: readonly OtherTool[] = []): Promise<KilledSync> {
    const sides: Side[] = [await BookSide.start()];
    if (others.includes('dialer')) sides.push(await DialerSide.start());
    if (others.includes('mailer')) sides.push(await MailerSide.start());
    const app = await RealApp.start({
      GRAY_LOOM_KEY: KEY,
      GRAY_LOOM_STAND_INS: sides.map(({ offer }) => offer).join(),
    });
    const tools: Connected[] = [];
    for (const side of sides) {
      const made = await app.json<{ id: number }>('/connections', 'POST', side.connection);
      const id = made?.id ?? 0;
      const detail = await app.json<ConnectionDetail>(`/connections/${id}`);
      const changed = await app.json(`/connections/${id}`, 'PATCH', {
        setup: { ...detail?.setup, newThere: true, limits: { removals: 100_000, overwrites: 100_000 } },
      });
      if (!changed) throw new Error(`${side.name} is not set up`);
      tools.push({ side, id });
    }
    const all = new KilledSync(app, tools);
    for (const tool of tools) await all.run(tool, true);
    return all;
  }

  async end(): Promise<void> {
    await this.app.end();
    for (const { side } of this.tools) await side.stop();
  }

  /** Starts a run and waits for its end; one that cannot be started since another runs waits for that. */
  private async run({ id: connectionId }: Connected, trial = false): Promise<RunSummary | null> {
    const started = await this.app.json<{ runId: number }>(`/connections/${connectionId}/run`, 'POST', { trial });
    for (let i = 0; i < 2000; i++) {
      const detail = await this.app.json<ConnectionDetail>(`/connections/${connectionId}`);
      const id = started?.runId ?? detail?.runs[0]?.id ?? 0;
      const run = await this.app.json<RunSummary>(`/runs/${id}`);
      if (run && run.state !== 'running' && run.state !== 'queued') return run;
      await new Promise((done) => setTimeout(done, 20));
    }
    throw new Error('a run does not end');
  }

  /** Everybody who is here, page by page. */
  private async people(): Promise<ContactPage['rows']> {
    const all: ContactPage['rows'] = [];
    for (;;) {
      const page = await this.app.json<ContactPage>(`/contacts?limit=500&at=${all.length}`);
      all.push(...(page?.rows ?? []));
      if (!page?.rows.length || all.length >= page.total) return all;
    }
  }

  /** One history. Gives what of the laws does not hold afterwards, in words. */
  async history(seed: number, steps: number): Promise<string[]> {
    const roll = numbersOf(seed);
    const below = (n: number) => Math.floor(roll() * n);
    for (let i = 0; i < steps; i++) {
      await this.edit(below);
      if (below(3)) continue;
      const tool = this.tools[below(this.tools.length)] as Connected;
      tool.side.setFaults({
        lostAnswer: roll() * 0.4,
        repeated: roll() * 0.3,
        disorder: roll(),
        failing: roll() * 0.2,
        busy: roll() * 0.2,
        retryAfterS: 0,
        tokenLost: below(4) ? 0 : 1,
        expired: below(12) === 0,
      });
      if (below(4) === 0) tool.side.setQuota(1 + below(20));
      const running = this.run(tool).catch(() => null);
      if (below(2)) {
        await new Promise((done) => setTimeout(done, roll() * 400));
        await this.app.kill(below(4) ? 'worker' : 'server');
      }
      await running;
    }
    for (const { side } of this.tools) {
      const none = { lostAnswer: 0, repeated: 0, disorder: 0, failing: 0, busy: 0, tokenLost: 0, expired: false };
      side.setFaults(none);
      side.setQuota(0);
    }
    return this.rest();
  }

  private async edit(below: Below): Promise<void> {
    const n = ++this.made;
    const side = this.tools[below(this.tools.length + 1)]?.side;
    if (side) side.edit(below, n);
    else await this.editHere(below, n);
  }

  private async editHere(below: Below, n: number): Promise<void> {
    const people = await this.people();
    const person = people[below(Math.max(1, people.length))];
    const detail = person && below(3) ? await this.app.json<ContactDetail>(`/contacts/${person.id}`) : null;
    if (!person || !detail) {
      // Now and then so many that a tool is told of them by a job.
      const many = this.tools.length > 2 && below(3) === 0 ? 6 : 1;
      for (let i = 0; i < many; i++) await this.enterSomebody(below, i ? ++this.made : n);
      return;
    }
    if (this.tools.length > 1 && below(5) === 0) {
      const channel = this.tools.length > 2 && below(2) ? 'email' : 'call';
      const said = { channel, state: 'optedOut', how: 'by letter', statedAt: '2026-05-01T00:00:00Z' };
      if (await this.app.json(`/contacts/${person.id}/permissions`, 'POST', said)) this.stopped[channel].add(person.id);
      return;
    }
    const field = below(2) ? 'organization' : 'email';
    const before = detail.record.f[field]?.[0] ?? null;
    const text = field === 'organization' ? `Joinery ${n}` : `e${n}@example.org`;
    await this.app.json(`/contacts/${person.id}`, 'PATCH', {
      edits: [{ field, slot: before?.slot ?? 0, before, text }],
    });
  }

  private async enterSomebody(below: Below, n: number): Promise<void> {
    await this.app.json('/contacts', 'POST', {
      values: [
        { field: 'givenName', text: nameOf(below) },
        { field: 'familyName', text: familyOf(below, n) },
        { field: 'email', text: `h${n}@example.org` },
      ],
    });
  }

  /** Passes until one of each tool does nothing, then looks at every pair. */
  private async rest(): Promise<string[]> {
    let quiet = false;
    for (let i = 0; i < 8 + 4 * (this.tools.length - 1) && !quiet; i++) {
      quiet = true;
      for (const tool of this.tools) {
        const [counts, written] = [tool.side.counts(), tool.side.written()];
        const run = await this.run(tool);
        const { madeHere = 0, changedHere = 0, changedThere = 0, madeThere = 0 } = run?.counts ?? {};
        const did = tool.side.written() - written + madeHere + changedHere + changedThere + madeThere;
        quiet &&= run?.state === 'done' && did === 0 && tool.side.isQuietSince(counts);
      }
    }
    return [...(quiet ? [] : ['no pass came to rest']), ...(await this.differences())];
  }

  /** What is not the same on all sides, or here or there twice, and no open question. */
  private async differences(): Promise<string[]> {
    const faults: string[] = [];
    const questions = (await this.app.json<ConflictList>('/conflicts'))?.entries ?? [];
    const open = new Set(questions.map(({ contactId, field }) => `${contactId}:${field}`));
    // Two people who are alike: who it is over there is asked, and nobody is made on either side meanwhile.
    const who = questions.filter(({ kind }) => kind === 'who');
    const here: { id: number; detail: ContactDetail }[] = [];
    const mails = new Set<string>();
    for (const { id } of await this.people()) {
      const detail = await this.app.json<ContactDetail>(`/contacts/${id}`);
      if (!detail) throw new Error(`contact ${id} cannot be read`);
      here.push({ id, detail });
      for (const { v } of detail.record.f.email ?? []) {
        if (mails.has(String(v))) faults.push(`${String(v)} is here twice`);
        mails.add(String(v));
      }
    }
    for (const { side, id: connectionId } of this.tools) {
      const asked = who.filter((one) => one.connectionId === connectionId);
      const mayBe = new Set(asked.flatMap(({ candidates }) => candidates.map(({ id }) => id)));
      const told = side.people();
      faults.push(...told.faults);
      const { theirs } = told;
      const all = theirs.flatMap((one) => one.mails);
      for (const mail of new Set(all.filter((one, i) => all.indexOf(one) !== i)))
        faults.push(`${side.name}: ${mail} is there twice`);
      for (const { id, detail } of here) {
        const ours = (field: string) => (detail.record.f[field] ?? []).map(({ v, norm }) => String(norm ?? v));
        const one = theirs.find(({ mails: known }) => known.some((mail) => ours('email').includes(mail)));
        if (!one) {
          if (!open.has(`${id}:E-mail`) && !mayBe.has(id)) faults.push(`${side.name}: contact ${id} is not there`);
          continue;
        }
        for (const { field, here: a, there: b } of one.differs(ours))
          if (!open.has(`${id}:${field}`)) faults.push(`${side.name}: ${field} of ${id} is ${a} here and ${b} there`);
        for (const channel of ['call', 'email'] as const) {
          const said = detail.permissions.channels.find((one) => one.channel === channel);
          const isStopped = said?.state === 'optedOut';
          if (this.stopped[channel].has(id) && !isStopped) faults.push(`${id} said stop, and ${channel} is open`);
          if (one.stopped[channel] !== undefined && one.stopped[channel] !== isStopped)
            faults.push(
              `${side.name}: ${channel} to ${id} is ${isStopped ? '' : 'not '}stopped here, and the other way there`,
            );
        }
      }
      if (here.length !== theirs.length && !asked.length)
        faults.push(`${side.name}: ${here.length} here and ${theirs.length} there`);
    }
    return faults;
  }
}
