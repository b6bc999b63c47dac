import { castPeople, THREADS } from './cast';
import { Dice, type DemoPerson } from './people';

/** What of a dialer is filled. */
export interface PhoneBank {
  addList(name: string): { id: number };
  put(
    id: null,
    parts: {
      name: string;
      phones: { number: string; doNotCall: boolean }[];
      email?: string;
      doNotCall: boolean;
      fields: Record<string, string>;
      lists: number[];
    },
    nowIso: string,
  ): { id: number };
  addCall(call: {
    personId: number | null;
    direction: 'in' | 'out';
    number: string;
    dialled: string;
    outcome: (typeof OUTCOMES)[number];
    minutes: number;
    at: string;
    caller: string;
  }): unknown;
}

const DAY_MS = 86_400_000;
/** Days of calls that the phone bank remembers. */
const DAYS = 45;
const CALLERS = ['Ines Carvalho', 'Callum', 'Morwenna'];
const OUTCOMES = ['reached', 'reached', 'noAnswer', 'noAnswer', 'voicemail', 'busy', 'callBack', 'refused'] as const;
/** Numbers that the school publishes, one for each way to hear of it. */
export const PUBLISHED = ['+44 1632 960100', '+44 1632 960101'] as const;
const LISTS = ['Autumn calls', 'Bursary appeal'];
const STRANGERS = 6;

/** The dialer of the phone bank: whom it called for years, in capitals, with calls of the last weeks and who wants no more of them. */
export function fillPhoneBank(store: PhoneBank, nowMs = Date.now()): void {
  const dice = new Dice(417);
  const { entries } = castPeople();
  const known = entries.filter(({ thread }) => THREADS[thread]?.kind === 'dialer').map(({ person }) => person);
  const lists = LISTS.map((name) => store.addList(name).id);
  const people = known.map((person) => ({ person, id: put(store, person, lists, dice, nowMs) }));
  for (let day = DAYS; day > 0; day--) {
    // Nobody calls on a Sunday.
    const startMs = Math.floor(nowMs / DAY_MS) * DAY_MS - day * DAY_MS;
    if (new Date(startMs).getUTCDay() === 0) continue;
    for (let n = 4 + dice.below(9); n > 0; n--) {
      const { person, id } = dice.pick(people);
      const outcome = dice.pick(OUTCOMES);
      const talked = outcome === 'reached' || outcome === 'callBack' || outcome === 'refused';
      const incoming = talked && dice.chance(0.15);
      store.addCall({
        personId: id,
        direction: incoming ? 'in' : 'out',
        number: numberOf(person),
        dialled: incoming ? dice.pick(PUBLISHED) : '',
        outcome,
        minutes: talked ? 1 + dice.below(14) : 0,
        at: new Date(startMs + (9 * 60 + dice.below(480)) * 60_000).toISOString(),
        caller: dice.pick(CALLERS),
      });
    }
  }
  for (let i = 0; i < STRANGERS; i++)
    store.addCall({
      personId: null,
      direction: 'in',
      number: `+44 1632 9605${String(10 + i)}`,
      dialled: PUBLISHED[i % PUBLISHED.length] ?? PUBLISHED[0],
      outcome: 'reached',
      minutes: 2 + i,
      at: new Date(nowMs - (i * 3 + 1) * DAY_MS).toISOString(),
      caller: CALLERS[i % CALLERS.length] ?? '',
    });
}

const numberOf = ({ mobile }: DemoPerson): string => (mobile.startsWith('0') ? `+44 ${mobile.slice(1)}` : mobile);

function put(store: PhoneBank, person: DemoPerson, lists: readonly number[], dice: Dice, nowMs: number): number {
  const said = dice.below(100);
  return store.put(
    null,
    {
      name: `${person.given} ${person.family}`,
      phones: [{ number: numberOf(person), doNotCall: said >= 4 && said < 6 }],
      ...(dice.chance(0.7) ? { email: person.email } : {}),
      doNotCall: said < 4,
      fields: { town: person.town },
      lists: dice.chance(0.5) ? [dice.pick(lists)] : [],
    },
    new Date(nowMs - (30 + dice.below(300)) * DAY_MS).toISOString(),
  ).id;
}
