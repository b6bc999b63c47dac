import { castPeople, THREADS } from './cast';
import { Dice } from './people';

/** What of a mailer is filled. */
export interface MailRoom {
  addColumn(column: { key: string; name: string; type: 'text'; options: string[] }): void;
  addList(name: string): { id: number };
  addStrand(list: { id: number }, name: string): { id: number };
  put(
    address: string,
    parts: {
      given: string;
      family: string;
      columns: Record<string, string>;
      lists: { list: number; strands: number[]; state: 'reachable' | 'off'; saidAt: string }[];
    },
    nowIso: string,
  ): unknown;
  send(subject: string, list: number, nowIso: string): { id: number };
  happen(event: {
    mailing: number;
    address: string;
    event: 'opened' | 'clicked' | 'undeliverable' | 'off';
    link: string;
    at: string;
  }): unknown;
  readonly events: readonly { mailing: number; address: string; event: string }[];
}

const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;
/** Letters of the last months: the subject, how many days back, and the page that it leads to. */
const LETTERS = [
  ['Spring on the water', 230, 'https://quillhaven.example/spring'],
  ['Open yard in June', 170, 'https://quillhaven.example/open-yard'],
  ['Regatta crews wanted', 120, 'https://quillhaven.example/regatta'],
  ['Autumn courses', 75, 'https://quillhaven.example/autumn'],
  ['Bursary fund: thank you', 30, 'https://quillhaven.example/bursary'],
  ['Winter work in the shed', 6, 'https://quillhaven.example/winter'],
] as const;
const BOATS = ['gig', 'skiff', 'dinghy', 'pilot cutter'];

/** The mailer of the newsletter: whom it writes to, in lists with strands, and what became of the letters of the last months. */
export function fillMailRoom(store: MailRoom, nowMs = Date.now()): void {
  const dice = new Dice(733);
  const { entries } = castPeople();
  const known = entries.filter(({ thread }) => THREADS[thread]?.kind === 'mailer').map(({ person }) => person);
  store.addColumn({ key: 'town', name: 'Town', type: 'text', options: [] });
  const letters = store.addList('Newsletter');
  const strands = ['Courses', 'Regatta'].map((name) => store.addStrand(letters, name).id);
  const friends = store.addList('Friends of the yard');
  const people = new Map(known.map((person) => [person.email.toLowerCase(), person]));
  for (const person of people.values()) {
    const saidAt = new Date(nowMs - (20 + dice.below(300)) * DAY_MS).toISOString();
    const state = dice.chance(0.03) ? 'off' : 'reachable';
    store.put(
      person.email,
      {
        given: person.given,
        family: person.family,
        columns: {
          town: person.town,
          ...(dice.chance(0.3) ? { boat: dice.pick(BOATS) } : {}),
        },
        lists: [
          { list: letters.id, strands: strands.filter(() => dice.chance(0.4)), state, saidAt },
          ...(dice.chance(0.2) ? [{ list: friends.id, strands: [], state: 'reachable' as const, saidAt }] : []),
        ],
      },
      saidAt,
    );
  }
  for (const [subject, daysBack, link] of LETTERS) {
    const sentMs = Math.floor(nowMs / DAY_MS) * DAY_MS - daysBack * DAY_MS + 8 * HOUR_MS;
    const mailing = store.send(subject, letters.id, new Date(sentMs).toISOString()).id;
    const sent = store.events.filter((one) => one.mailing === mailing && one.event === 'sent');
    for (const { address } of sent) {
      const later = (hours: number) => new Date(sentMs + (dice.below(hours * 60) + 3) * 60_000).toISOString();
      if (dice.chance(0.006)) store.happen({ mailing, address, event: 'undeliverable', link: '', at: later(1) });
      else if (dice.chance(0.38)) {
        store.happen({ mailing, address, event: 'opened', link: '', at: later(40) });
        if (dice.chance(0.22)) store.happen({ mailing, address, event: 'clicked', link, at: later(60) });
        if (dice.chance(0.012)) store.happen({ mailing, address, event: 'off', link: '', at: later(70) });
      }
    }
  }
}
