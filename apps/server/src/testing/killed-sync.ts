import type { ConflictList, ConnectionDetail, ContactDetail, ContactPage, RunSummary } from '@gray-loom/wire';
import { numbersOf } from '../../../stand-ins/src/faults';
import { startAddressBook, type AddressBook } from '../../../stand-ins/src/address-book/server';
import { readContent } from '../connectors/address-book/card-fields';
import { RealApp } from './real-app';
import { cardOf, KEY } from './run-sync';

const NAMES = 'Ana Tom Ines Jory Piran Wenna Kerra Loveday Merryn Tamsin Elowen Jago Cador Morwenna Petroc'.split(' ');
const FAMILIES = 'Reis Okoro Lund Penrose Trelawny Bosvean Carlyon Angove Nance Polkinghorne'.split(' ');

/**
 * A real app and a real address book over HTTP, with histories of edits on both sides while answers are lost, requests
 * refused and repeated, and server and worker killed at random.
 */
export class KilledSync {
  private made = 0;

  private constructor(
    private readonly app: RealApp,
    private readonly book: AddressBook,
    private readonly connectionId: number,
  ) {}

  static async start(): Promise<KilledSync> {
    const book = await startAddressBook({ port: 0, file: null, user: 'office', password: 'secret' });
    const app = await RealApp.start({
      GRAY_LOOM_KEY: KEY,
      GRAY_LOOM_STAND_INS: `http://127.0.0.1:${book.port}`,
    });
    const made = await app.json<{ id: number }>('/connections', 'POST', {
      name: 'Office address book',
      settings: { address: book.url, user: 'office', password: 'secret' },
    });
    const all = new KilledSync(app, book, made?.id ?? 0);
    const detail = await app.json<ConnectionDetail>(`/connections/${all.connectionId}`);
    await app.json(`/connections/${all.connectionId}`, 'PATCH', {
      setup: { ...detail?.setup, newThere: true, limits: { removals: 100_000, overwrites: 100_000 } },
    });
    await all.run(true);
    return all;
  }

  async end(): Promise<void> {
    await this.app.end();
    await this.book.stop();
  }

  /** Starts a run and waits for its end; one that cannot be started since another runs waits for that. */
  private async run(trial = false): Promise<RunSummary | null> {
    const started = await this.app.json<{ runId: number }>(`/connections/${this.connectionId}/run`, 'POST', { trial });
    for (let i = 0; i < 2000; i++) {
      const detail = await this.app.json<ConnectionDetail>(`/connections/${this.connectionId}`);
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
      this.book.setFaults({
        lostAnswer: roll() * 0.4,
        repeated: roll() * 0.3,
        disorder: roll(),
        failing: roll() * 0.2,
        busy: roll() * 0.2,
        retryAfterS: 0,
        tokenLost: below(4) ? 0 : 1,
        expired: below(12) === 0,
      });
      const running = this.run().catch(() => null);
      if (below(2)) {
        await new Promise((done) => setTimeout(done, roll() * 400));
        await this.app.kill(below(4) ? 'worker' : 'server');
      }
      await running;
    }
    this.book.setFaults({
      lostAnswer: 0,
      repeated: 0,
      disorder: 0,
      failing: 0,
      busy: 0,
      tokenLost: 0,
      expired: false,
    });
    return this.rest();
  }

  private async edit(below: (n: number) => number): Promise<void> {
    const n = ++this.made;
    const cards = this.book.book.list();
    const people = await this.people();
    const name = () => NAMES[below(NAMES.length)] ?? '';
    const family = () => `${FAMILIES[below(FAMILIES.length)] ?? ''}${'abcdefghijklmnopqrstuvwxyz'[n % 26]}`;
    switch (below(6)) {
      case 0: {
        const [given, last] = [name(), family()];
        this.book.book.put(
          `there-${n}.vcf`,
          cardOf({ UID: `u${n}`, FN: `${given} ${last}`, N: `${last};${given};;;`, EMAIL: `t${n}@example.org` }),
          Date.now(),
        );
        return;
      }
      case 1:
        await this.app.json('/contacts', 'POST', {
          values: [
            { field: 'givenName', text: name() },
            { field: 'familyName', text: family() },
            { field: 'email', text: `h${n}@example.org` },
          ],
        });
        return;
      case 2:
      case 3: {
        const card = cards[below(Math.max(1, cards.length))];
        if (!card) return;
        const line = below(2) ? `NOTE:Said ${n}` : `TEL;TYPE=work:+44 1632 96${String(n % 10_000).padStart(4, '0')}`;
        const property = line.slice(0, line.search(/[;:]/));
        const rest = card.text
          .replace(/\r\n[ \t]/g, '')
          .split('\r\n')
          .filter((one) => !new RegExp(`^${property}[;:]`).test(one));
        this.book.book.put(card.name, [...rest.slice(0, -2), line, ...rest.slice(-2)].join('\r\n'), Date.now());
        return;
      }
      default: {
        const person = people[below(Math.max(1, people.length))];
        if (!person) return;
        const detail = await this.app.json<ContactDetail>(`/contacts/${person.id}`);
        if (!detail) return;
        const field = below(2) ? 'organization' : 'email';
        const before = detail.record.f[field]?.[0] ?? null;
        const text = field === 'organization' ? `Joinery ${n}` : `e${n}@example.org`;
        await this.app.json(`/contacts/${person.id}`, 'PATCH', {
          edits: [{ field, slot: before?.slot ?? 0, before, text }],
        });
      }
    }
  }

  /** Passes until one does nothing, then looks at every pair. */
  private async rest(): Promise<string[]> {
    const faults: string[] = [];
    let quiet = false;
    for (let i = 0; i < 8 && !quiet; i++) {
      const before = { ...this.book.counts };
      const run = await this.run();
      const wrote = (this.book.counts.written ?? 0) - (before.written ?? 0);
      const reads = (this.book.counts.REPORT ?? 0) - (before.REPORT ?? 0);
      const { madeHere = 0, changedHere = 0, changedThere = 0, madeThere = 0 } = run?.counts ?? {};
      quiet = run?.state === 'done' && wrote + madeHere + changedHere + changedThere + madeThere === 0 && reads <= 2;
    }
    if (!quiet) faults.push('no pass came to rest');
    const open = new Set(
      (await this.app.json<ConflictList>('/conflicts'))?.entries.map(({ contactId, field }) => `${contactId}:${field}`),
    );
    const people = await this.people();
    const byMail = new Map<string, number>();
    const cards = new Map<string, ReturnType<typeof readContent>>();
    for (const { name, text } of this.book.book.list()) {
      const read = readContent(text);
      cards.set(name, read);
      if (!read.ok) faults.push(`${name} is no card any more: ${read.error}`);
      else
        for (const { v } of read.content.fields.email ?? []) {
          if (byMail.has(String(v))) faults.push(`${String(v)} is there twice`);
          byMail.set(String(v), 1);
        }
    }
    const here = new Set<string>();
    for (const { id } of people) {
      const detail = await this.app.json<ContactDetail>(`/contacts/${id}`);
      const of = (field: string) => (detail?.record.f[field] ?? []).map(({ v, norm }) => String(norm ?? v));
      for (const mail of of('email')) {
        if (here.has(mail)) faults.push(`${mail} is here twice`);
        here.add(mail);
      }
      const card = [...cards.values()].find(
        (one) => one.ok && (one.content.fields.email ?? []).some(({ v }) => of('email').includes(String(v))),
      );
      if (!card?.ok) {
        if (!open.has(`${id}:E-mail`)) faults.push(`contact ${id} is not there`);
        continue;
      }
      const there = (key: string) =>
        (card.content.fields[key] ?? []).map(({ v }) => String(v).replace(/^(\+44) (\d{4}) /, '$1$2'));
      const pairs: [string, string, string][] = [
        ['givenName', 'given', 'Given name'],
        ['familyName', 'family', 'Family name'],
        ['email', 'email', 'E-mail'],
        ['tel', 'tel', 'Phone'],
        ['organization', 'org', 'Organization'],
        ['note', 'note', 'Note'],
      ];
      for (const [field, key, name] of pairs) {
        const [a, b] = [of(field), there(key)].map((list) =>
          list
            .map((one) => one.replace(/ /g, ''))
            .sort()
            .join(),
        );
        if (a !== b && !open.has(`${id}:${name}`)) faults.push(`${name} of ${id} is ${a} here and ${b} there`);
      }
    }
    if (people.length !== cards.size) faults.push(`${people.length} here and ${cards.size} there`);
    return faults;
  }
}
