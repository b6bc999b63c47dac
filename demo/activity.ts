import { activityOf, type Activity } from '@gray-loom/core/activity';
import {
  addActivities,
  firstAdministrator,
  handThread,
  inTransaction,
  startRun,
  threadFor,
  type Database,
  type NewActivity,
  type ThreadKind,
  type Tx,
} from '@gray-loom/server';
import { Dice } from './people';

const DAY_MS = 86_400_000;

const NOTES = [
  'Prefers to be rung after six.',
  'Has a shed on the Penryn side, room for an 18 foot hull.',
  'Sails with her sister; ask for both when a crew is short.',
  'Wants larch, not oak. Asked twice about the price.',
  'Came to the open yard with two children who want to build a pram dinghy.',
  'Moved house in spring, the letter came back once.',
];
const TALKS: [what: string, outcome: string][] = [
  ['Bursary fund', 'will think about it'],
  ['Bursary fund', 'gives again this year'],
  ['Clinker course in autumn', 'wants a place'],
  ['Regatta crew', 'joins for the Saturday'],
  ['Regatta crew', 'cannot come this year'],
  ['Mooring for the winter', 'asks again in August'],
];
const ENQUIRIES: [what: string, from: string][] = [
  ['Is there a place on the sailmaking week?', 'Website'],
  ['Do you repair a cracked rib on a gig?', 'Open-yard day'],
  ['Can a beginner join the oar making weekend?', 'Boat fair'],
  ['How long is the waiting list for a berth?', 'Phone bank'],
];
const TASKS = [
  'Ring back',
  'Send the course list',
  'Ask for a photograph of the hull',
  'Write to say thanks',
  'Quote for the mast',
];
const VISITS: [what: string, place: string][] = [
  ['Look at the keel', 'Slip 2'],
  ['Yard visit', 'Yard office'],
  ['Sail fitting', 'Sail loft'],
  ['Bursary committee', 'Net store'],
];
const GOODS: [what: string, pounds: number][] = [
  ['Rigging knife', 24],
  ['Marlinspike and fid', 31],
  ['Larch planks, 12 feet', 180],
  ['Tarred marline', 9],
];
const COURSES = ['Clinker dinghy, two weeks', 'Sailmaking week', 'Oar making weekend', 'Rigging course'];
const FUNDS = ['Bursary fund', 'Tiller fund', 'New slipway'];

interface Person {
  id: number;
  stage: string;
}

/** A year of what happens at a boat school: letters answered, calls, gifts, things bought, and what is due next. */
export async function seedActivity(database: Database, own: Database): Promise<void> {
  const administrator = await firstAdministrator(database);
  const me = administrator?.kind === 'person' ? administrator.accountId : null;
  const people = await inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<Person>(
      `select id, stage from contact where state = 'live' and kind = 'person' and completeness >= 45 order by id limit 620`,
    );
    return rows;
  });
  const dice = new Dice(53);
  const byHand: NewActivity[] = [];
  const shop: NewActivity[] = [];
  const at = (daysBack: number, hour = 9) => {
    const day = new Date(Date.now() - daysBack * DAY_MS).toISOString().slice(0, 10);
    return `${day}T${String(hour).padStart(2, '0')}:${dice.below(2) ? '00' : '30'}:00.000Z`;
  };
  const of = <T>(list: readonly T[]): T => list[dice.below(list.length)] as T;
  const put = (list: NewActivity[], { id }: Person, activity: Activity) => list.push({ contactId: id, activity });
  for (const person of people) {
    if (dice.below(3) === 0) put(byHand, person, activityOf('note', { at: at(dice.below(360)), text: of(NOTES) }));
    for (let n = dice.below(3); n > 0; n--) {
      const [what, outcome] = of(TALKS);
      const way = dice.below(4) ? 'call' : 'meeting';
      put(
        byHand,
        person,
        activityOf('talk', {
          at: at(2 + dice.below(360), 10 + dice.below(8)),
          who: me,
          what,
          outcome,
          way,
          minutes: 3 + dice.below(25),
        }),
      );
    }
    // Most donors were thanked by phone; whoever was not is to be heard from.
    if (person.stage === 'Donor' && dice.below(5))
      put(
        byHand,
        person,
        activityOf('talk', {
          at: at(5 + dice.below(290), 11),
          who: me,
          what: 'Bursary fund',
          outcome: 'thanked',
          way: 'call',
        }),
      );
    if (person.stage === 'Donor')
      for (let n = 1 + dice.below(3); n > 0; n--)
        put(
          shop,
          person,
          activityOf('gift', {
            at: at(dice.below(360)).slice(0, 10),
            what: of(FUNDS),
            amount: { amount: 10 * (1 + dice.below(20)), currency: 'GBP' },
          }),
        );
    if (dice.below(6) === 0) {
      const [what, pounds] = of(GOODS);
      const quantity = 1 + dice.below(3);
      put(
        shop,
        person,
        activityOf('purchase', {
          at: at(dice.below(360)).slice(0, 10),
          what,
          quantity,
          amount: { amount: pounds * quantity, currency: 'GBP' },
        }),
      );
    }
    if (person.stage === 'Student' || person.stage === 'Alumnus')
      put(shop, person, activityOf('enrolment', { at: at(dice.below(700)).slice(0, 10), what: of(COURSES) }));
    if (person.stage === 'Enquiry' && dice.below(3) === 0) {
      const [what, from] = of(ENQUIRIES);
      const daysBack = dice.below(120);
      const isOpen = daysBack < 25;
      put(
        byHand,
        person,
        activityOf('enquiry', { at: at(daysBack), what, from, who: isOpen && dice.below(2) ? null : me, isOpen }),
      );
    }
  }
  // What is due about now.
  for (const [i, person] of people.filter((_, n) => n % 41 === 7).entries()) {
    const isVisit = i % 3 === 0;
    const [what, place] = of(VISITS);
    const start = at(-1 - dice.below(12), 9 + dice.below(7));
    const end = new Date(Date.parse(start) + 3_600_000).toISOString();
    put(
      byHand,
      person,
      isVisit
        ? activityOf('appointment', { at: start, end, what, place, who: me })
        : activityOf('task', {
            at: at(4 - dice.below(14)).slice(0, 10),
            what: of(TASKS),
            who: dice.below(5) ? me : null,
          }),
    );
  }
  await inTransaction(own, (tx) => write(tx, handThread(tx), 'Written down over the year', byHand));
  await inTransaction(database, (tx) =>
    write(tx, threadFor(tx, 'file' as ThreadKind, 'shop-and-gifts.csv'), 'shop-and-gifts.csv', shop),
  );
}

async function write(tx: Tx, thread: Promise<number>, title: string, list: readonly NewActivity[]): Promise<void> {
  const runId = await startRun(tx, { kind: 'activity', state: 'done', threadId: await thread, title });
  await addActivities(tx, runId, list);
}
