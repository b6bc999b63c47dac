import {
  workRun,
  inTransaction,
  type Database,
  type Tx,
  permissionEvidence,
  run,
  type ThreadKind,
  selectRecords,
  saveAreas,
  createField,
  loadCatalogue,
  startRun,
  threadFor,
  applyChanges,
  insertContacts,
} from '@gray-loom/server';
import { sql } from 'drizzle-orm';
import { foldText } from '@gray-loom/core/fields';
import { firstText, firstValue, KIND, type ContactRecord } from '@gray-loom/core/model';
import { planWrite, recordFrom, type Candidate } from '@gray-loom/core/writing';
import { Dice } from './people';
import { COURSES, FIRMS } from './quillhaven';

const COLOURS: Record<string, number> = { regatta: 6, bursary: 9, clinker: 1, sailmaking: 7, volunteer: 8, press: 4 };
const DAY = 86_400_000;
/** When all this came in; the ledger reads in order. */
const DAYS_BACK = 9;
const FEES = [
  { fee: '5% of the course' },
  { owed: { amount: 40, currency: 'GBP' }, fee: 'on enrolment' },
  { owed: { amount: 85, currency: 'GBP' } },
];

interface Row {
  id: number;
  record: ContactRecord;
}

/** A run of the scenario, as many days back as everything here. */
async function pastRun(
  tx: Tx,
  kind: 'import' | 'form' | 'permission',
  thread: [ThreadKind, string],
  title: string,
): Promise<number> {
  const runId = await startRun(tx, {
    kind,
    state: 'done',
    threadId: await threadFor(tx, ...thread),
    title,
  });
  const at = sql`now() - make_interval(days => ${DAYS_BACK})`;
  await tx.db
    .update(run)
    .set({ createdAt: at, finishedAt: at })
    .where(sql`${run.id} = ${runId}`);
  return runId;
}

/** What goes beyond names and lines: own fields, organizations, relationships, permissions, areas, colours. */
export async function seedWholeRecord(database: Database, own: Database, databaseUrl: string): Promise<void> {
  await colourTags(database);
  const fields = await ownFields(own);
  await organizations(database);
  await boatSurvey(database, fields);
  await couples(database);
  await permissions(database);
  const { runId } = await saveAreas(own, [
    { name: 'South-west coast', rules: [rule('GB', 'Cornwall'), rule('GB', 'Devon')] },
    { name: 'East coast', rules: [rule('GB', 'North Yorkshire'), rule('GB', 'Essex'), rule('GB', 'Suffolk')] },
    { name: 'Scotland and Wales', rules: [rule('GB', 'Argyll'), rule('GB', 'Gwynedd')] },
    { name: 'North America', rules: [rule('US', null), rule('CA', null)] },
  ]);
  await workRun(database, runId, { databaseUrl });
  await database.pool.query(
    'update run set created_at = now() - make_interval(days => $2), finished_at = now() - make_interval(days => $2) where id = $1',
    [runId, DAYS_BACK],
  );
}

const rule = (country: string, region: string | null) => ({ country, region, postalPrefix: null });

async function colourTags({ pool }: Database): Promise<void> {
  for (const [label, colour] of Object.entries(COLOURS))
    await pool.query(`update pick set colour = $2 where kind = 'tag' and label = $1`, [label, colour]);
  // Made by somebody in a hurry; much like one that is there.
  await pool.query(
    `insert into pick (kind, label, fold_key) values ('tag', 'Regattas', $1), ('source', 'Boat fare', $2)`,
    [foldText('Regattas'), foldText('Boat fare')],
  );
}

async function ownFields(database: Database): Promise<Record<'length' | 'course' | 'own' | 'pledge', string>> {
  const make = async (
    name: string,
    type: 'range' | 'choices' | 'yesNo' | 'money',
    heading: string,
    choices: string[] = [],
  ) =>
    (
      await createField(database, {
        name,
        type,
        heading,
        choices,
        currency: type === 'money' ? 'GBP' : null,
        despite: false,
      })
    ).key;
  return {
    length: await make('Boat length, feet', 'range', 'Looks for'),
    course: await make('Courses of interest', 'choices', 'Looks for', COURSES),
    own: await make('Has a boat', 'yesNo', 'Looks for'),
    pledge: await make('Bursary pledge', 'money', 'Giving'),
  };
}

async function organizations(database: Database): Promise<void> {
  const catalogue = await loadCatalogue(database.db);
  const dice = new Dice(91);
  await inTransaction(database, async (tx) => {
    const title = 'suppliers-and-schools.csv';
    const runId = await pastRun(tx, 'import', ['file', title], title);
    const at = new Date(Date.now() - DAYS_BACK * DAY);
    const contacts = FIRMS.map((name, i) => {
      const domain = `${foldText(name).split(' ')[0]}.example`;
      const candidate: Candidate = {
        [KIND]: [{ v: 'organization' }],
        organization: [{ v: name }],
        webDomain: [{ v: domain }],
        email: [{ v: `office@${domain}`, label: 'work' }],
        tel: [{ v: `01632 9607${String(10 + i)}`, norm: `+4416329607${String(10 + i)}`, label: 'work' }],
        adr: [
          {
            v: {
              street: `${dice.below(40) + 1} Quay Road`,
              locality: 'Falmouth',
              region: 'Cornwall',
              postalCode: `TR11 3${'ABDEFGHJLNPQ'[i] ?? 'A'}X`,
              country: 'GB',
            },
          },
        ],
        stage: [{ v: name.includes('School') ? 'Partner school' : 'Supplier' }],
      };
      return { record: recordFrom(candidate, catalogue, { run: runId, row: i + 1 }), sourceRow: i + 1, at };
    });
    await insertContacts(tx, runId, contacts);
  });
}

async function someOf({ pool }: Database, where: string, limit: number): Promise<Row[]> {
  return selectRecords<Row>(
    pool,
    `select id, record from contact where state = 'live' and kind = 'person' and ${where} order by id limit ${limit}`,
    [],
  );
}

/** Answers of a form about boats, given by some hundred people. */
async function boatSurvey(database: Database, fields: Awaited<ReturnType<typeof ownFields>>): Promise<void> {
  const catalogue = await loadCatalogue(database.db);
  const dice = new Dice(17);
  const rows = await someOf(database, `stage in ('Enquiry', 'Student', 'Alumnus', 'Donor')`, 240);
  await inTransaction(database, async (tx) => {
    const runId = await pastRun(tx, 'form', ['form', 'Boat survey'], 'Boat survey');
    const changes = rows.map(({ id, record }) => {
      const from = 10 + dice.below(12);
      const candidate: Candidate = {
        [fields.length]: [{ v: { from, to: dice.chance(0.2) ? null : from + 2 + dice.below(6) } }],
        [fields.own]: [{ v: dice.chance(0.4) }],
      };
      if (dice.chance(0.7)) candidate[fields.course] = [{ v: COURSES.filter(() => dice.chance(0.45)) }];
      if (firstText(record, 'stage') === 'Donor')
        candidate[fields.pledge] = [{ v: { amount: 50 * (1 + dice.below(12)), currency: 'GBP' } }];
      const said = Object.fromEntries(
        Object.entries(candidate).filter(([, values]) => !(Array.isArray(values[0]?.v) && !values[0].v.length)),
      );
      return {
        contactId: id,
        operations: planWrite(id, record, said, () => 'fill', catalogue, { run: runId }).operations,
      };
    });
    await applyChanges(tx, runId, changes, { at: new Date(Date.now() - DAYS_BACK * DAY) });
  });
}

/** Couples in one home, assistants, and who sent whom. */
async function couples(database: Database): Promise<void> {
  const catalogue = await loadCatalogue(database.db);
  const dice = new Dice(53);
  const rows = await someOf(database, `record->'f'->'adr' is not null`, 180);
  await inTransaction(database, async (tx) => {
    const runId = await pastRun(tx, 'import', ['addressBook', 'Office address book'], 'Office address book');
    const changes = [];
    for (let i = 0; i + 1 < rows.length; i += 2) {
      const [one, other] = [rows[i], rows[i + 1]];
      if (!one || !other) continue;
      const kind = ['spouse', 'partner', 'referred by', 'assistant', 'colleague'][dice.below(5)] ?? 'colleague';
      const home = firstValue(other.record, 'adr');
      const candidate: Candidate = {
        related: [
          {
            v: { relation: kind, to: other.id, ...(kind === 'referred by' ? dice.pick(FEES) : {}) },
          },
        ],
        ...(home && (kind === 'spouse' || kind === 'partner') ? { adr: [{ v: home.v, label: 'home' }] } : {}),
      };
      const record = candidate.adr ? { ...one.record, f: { ...one.record.f, adr: [] } } : one.record;
      const { operations } = planWrite(one.id, record, candidate, () => 'fill', catalogue, { run: runId });
      const moved = candidate.adr
        ? (one.record.f.adr ?? []).map((value) => ({
            target: one.id,
            field: 'adr',
            slot: value.slot,
            before: value,
            after: null,
          }))
        : [];
      changes.push({ contactId: one.id, operations: [...moved, ...operations] });
    }
    await applyChanges(tx, runId, changes, { at: new Date(Date.now() - DAYS_BACK * DAY) });
  });
}

const WORDS: [how: string, state: 'allowed' | 'optedOut', channels: ('email' | 'call' | 'text' | 'post')[]][] = [
  ['ticked the box of the course enquiry form', 'allowed', ['email']],
  ['said on the phone to the bursary callers', 'optedOut', ['call', 'text']],
  ['link at the foot of the newsletter', 'optedOut', ['email']],
  ['card in the box at the open-yard day', 'allowed', ['email', 'post']],
  ['letter to the office', 'optedOut', ['post']],
];

async function permissions(database: Database): Promise<void> {
  const dice = new Dice(29);
  const rows = await someOf(database, `email <> ''`, 420);
  await inTransaction(database, async (tx) => {
    for (const [i, [how, state, channels]] of WORDS.entries()) {
      const daysBack = 200 - i * 38;
      const runId = await pastRun(tx, 'permission', ['form', 'Permissions'], `Permissions: ${how}`);
      const said = rows.filter(() => dice.chance(0.16));
      await tx.db.insert(permissionEvidence).values(
        said.flatMap(({ id }) =>
          channels.map((channel) => ({
            contactId: id,
            channel,
            state,
            how,
            statedAt: new Date(Date.now() - daysBack * DAY),
            runId,
          })),
        ),
      );
    }
  });
}
