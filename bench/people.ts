import { contactConditions, readyFilter, BY_FAMILY, recountRemits } from '@gray-loom/server';
import { createReadStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { ContactPage, IntakeDetail, Lists, RunSummary } from '@gray-loom/wire';
import { activityClaims } from './activity-claims';
import { segmentClaims } from './segment-claims';
import { scrollThrough } from './grid-scroll';
import { writePeople } from './make-people';
import { atMost, BENCH_SIGN_IN, median, memoryMb, startApp, type BenchApp, type BenchResult } from './harness';

const PEOPLE = Number(process.env.GRAY_LOOM_BENCH_PEOPLE ?? 1_000_000);
const USERS = 4;
const REQUESTS = 250;
const ROUNDS = 5;
/** Rows that the grid asks for at once. */
const PAGE = 40;

interface Times {
  median: number;
  p95: number;
}

/** Linear congruential numbers (Numerical Recipes): the same questions at every run. */
function dice(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 4294967296) * below);
  };
}

/**
 * Median and p95 in ms of each of several questions, asked by four users at once. The questions take turns, a round of each
 * after the other, so that whatever else the machine does meets them alike. The first round, and the first of each round, are not
 * counted: a server that people work with is warm.
 */
async function timed<K extends string>(
  questions: Record<K, (n: number) => Promise<unknown>>,
): Promise<Record<K, Times>> {
  const names = Object.keys(questions) as K[];
  const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<K, number[]>;
  let n = 0;
  for (let round = -1; round < ROUNDS; round++)
    for (const name of names)
      await Promise.all(
        Array.from({ length: USERS }, async () => {
          for (let i = -5; i < REQUESTS / ROUNDS; i++) {
            const startedMs = performance.now();
            await questions[name](n++);
            if (i >= 0 && round >= 0) times[name].push(performance.now() - startedMs);
          }
        }),
      );
  return Object.fromEntries(
    names.map((name) => {
      const sorted = times[name].sort((a, b) => a - b);
      return [name, { median: median(sorted), p95: sorted[Math.floor(sorted.length * 0.95)] ?? 0 }];
    }),
  ) as Record<K, Times>;
}

/** Brings a million people in as a file, nobody recognised, so that every record is a contact. */
async function fill(app: BenchApp): Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'gray-loom-people-'));
  try {
    await writePeople(folder, PEOPLE, 11);
    // The server ended the idle connection meanwhile; a moment to notice it.
    await new Promise((done) => setTimeout(done, 200));
    const file = join(folder, 'records.csv');
    const taken = await app.request('/intakes', {
      method: 'POST',
      body: Readable.toWeb(createReadStream(file)) as unknown as BodyInit,
      duplex: 'half',
      headers: {
        'X-File-Name': 'people.csv',
        'X-File-Size': String(statSync(file).size),
        'Content-Type': 'application/octet-stream',
      },
    } as RequestInit);
    const { id } = (await taken.json()) as { id: number };
    const { mapping } = (await (await app.request(`/intakes/${id}`)).json()) as IntakeDetail;
    mapping.recognise = [];
    for (const column of mapping.columns) {
      column.onBad = 'drop';
      if (column.header === 'source') column.target = 'source';
    }
    await app.request(`/intakes/${id}/mapping`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(mapping),
    });
    const started = await app.request(`/intakes/${id}/import`, { method: 'POST' });
    const { runId } = (await started.json()) as { runId: number };
    for (;;) {
      const run = (await (await app.request(`/runs/${runId}`)).json()) as RunSummary;
      if (run.state === 'done') return run.counts.new ?? 0;
      if (run.state !== 'running' && run.state !== 'queued') throw new Error(`the import ended as ${run.state}`);
      await new Promise((done) => setTimeout(done, 500));
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Beginnings of names and mailboxes that are there, four letters and more. */
async function findings({ database }: BenchApp): Promise<string[]> {
  const { rows } = await database.pool.query<{ text: string }>(
    `select substr(lower(display_name), 1, 4 + (id % 4)::int) as text from contact tablesample system (0.2) where display_name ~ '^[A-Za-z]{8}' limit 400`,
  );
  return rows.map(({ text }) => text);
}

const PART = { name: 'Paula Part', email: 'part@quillhaven.example' };

/** An editor who sees every tenth of all. */
async function somebodyWithARemit({ database, base }: BenchApp) {
  const { pool } = database;
  const { rowCount } = await pool.query(`update contact set owner = $1 where id % 10 = 0 and kind = 'person'`, [
    PART.name,
  ]);
  await pool.query('vacuum analyze contact');
  const { rows } = await pool.query<{ id: number }>(
    `insert into account (email, name, role, password_hash) select $1, $2, 'editor', password_hash from account limit 1 returning id`,
    [PART.email, PART.name],
  );
  await pool.query(
    `insert into account_remit (account_id, owners, sources, tags, areas) values ($1, array[$2], '{}', '{}', '{}')`,
    [rows[0]?.id, PART.name],
  );
  await recountRemits(pool, null);
  const signedIn = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ ...BENCH_SIGN_IN, email: PART.email }),
  });
  const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? '';
  return {
    people: rowCount ?? 0,
    request: async (path: string) => {
      const answer = await fetch(`${base}/api${path}`, { headers: { Cookie: cookie } });
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
      return answer;
    },
  };
}

export async function benchPeople(): Promise<BenchResult> {
  const app = await startApp();
  try {
    const startedMs = performance.now();
    const people = await fill(app);
    const filledS = (performance.now() - startedMs) / 1000;
    await app.database.pool.query('vacuum analyze');
    const get = (path: string) => app.request(path).then((answer) => answer.text());
    const check = (body: object) =>
      app.request('/contacts/check', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
    const pool = app.database.pool;
    const roll = dice(5);
    const texts = await findings(app);
    const { rows: known } = await pool.query<{ given: string; family: string; email: string }>(
      `select record->'f'->'givenName'->0->>'v' as given, record->'f'->'familyName'->0->>'v' as family, email from contact tablesample system (0.3)
       where email <> '' and record->'f'->'givenName' is not null and record->'f'->'familyName' is not null limit 500`,
    );
    const filter = {
      find: '',
      where: '',
      kind: 'person',
      deleted: false,
    } as const;
    const bareFind = async (text: string) => {
      const { where, values } = contactConditions(await readyFilter(pool, { ...filter, find: text }));
      return pool.query(
        `select c.id, c.display_name, c.email, c.tel, c.stage from contact c where ${where} order by ${BY_FAMILY.column}, c.id limit ${PAGE}`,
        values,
      );
    };
    if (process.env.GRAY_LOOM_BENCH_PART === 'activity') return { name: 'people', ...(await activityClaims(app)) };
    const part = await somebodyWithARemit(app);
    if (process.env.GRAY_LOOM_BENCH_PART === 'segments')
      return { name: 'people', ...(await segmentClaims(app, PART.name)) };
    const getPart = (path: string) => part.request(path).then((answer) => answer.text());
    // Place marks are made at the first deep page; that is told apart.
    const marksMs = performance.now();
    await get(`/contacts?sort=family&at=${people >> 1}&limit=${PAGE}`);
    const firstDeepMs = performance.now() - marksMs;
    await getPart(`/contacts?sort=family&at=${part.people >> 1}&limit=${PAGE}`);

    const pick = (n: number) => texts[n % texts.length] ?? 'anna';
    const times = await timed({
      trivial: () => get('/session'),
      first: () => get(`/contacts?sort=family&at=0&limit=${PAGE}`),
      bareFirst: () =>
        pool.query(
          `select c.id, c.display_name, c.email, c.tel, c.stage
             from contact c where state = 'live' and kind = 'person' order by c.sort_family, c.id limit ${PAGE}`,
        ),
      deep: () => get(`/contacts?sort=family&at=${roll(people - PAGE)}&limit=${PAGE}`),
      find: (n) => get(`/contacts?find=${encodeURIComponent(pick(n))}&limit=${PAGE}`),
      bareFind: (n) => bareFind(pick(n)),
      entry: (n) => {
        const { given, family, email } = known[n % known.length] ?? { given: 'Ana', family: 'Reis', email: '' };
        const values = [
          { field: 'givenName', text: given },
          { field: 'familyName', text: family },
          ...(n % 2 ? [{ field: 'email', text: email }] : []),
        ];
        return check({ values }).then((answer) => answer.text());
      },
      partFirst: () => getPart(`/contacts?sort=family&at=0&limit=${PAGE}`),
      partDeep: () => getPart(`/contacts?sort=family&at=${roll(part.people - PAGE)}&limit=${PAGE}`),
      partFind: (n) => getPart(`/contacts?find=${encodeURIComponent(pick(n))}&limit=${PAGE}`),
      partCounts: () => getPart('/lists'),
      counts: () => get('/lists'),
      bareCounts: () => pool.query('select kind, label, sum(n)::int as n from tally group by 1, 2 having sum(n) <> 0'),
    });
    const base = times.trivial.median;
    const countedMs = performance.now();
    await pool.query(`select stage, count(*) from contact where state = 'live' group by 1`);
    const countedAnewMs = performance.now() - countedMs;
    const partCountedMs = performance.now();
    await pool.query(
      `select stage, source, owner, count(*) from contact where state = 'live' and owner = '${PART.name}' group by 1, 2, 3`,
    );
    const partCountedAnewMs = performance.now() - partCountedMs;
    const partPage = JSON.parse(await getPart(`/contacts?sort=family&at=0&limit=${PAGE}`)) as ContactPage;
    if (partPage.total !== part.people || partPage.rows.some(({ owner }) => owner !== PART.name))
      throw new Error(`within the remit are ${part.people} people, and the page says ${partPage.total}`);
    // Before the parts that bring in people of their own.
    const page = JSON.parse(await get(`/contacts?sort=family&at=${people >> 1}&limit=${PAGE}`)) as ContactPage;
    const lists = JSON.parse(await get('/lists')) as Lists;
    if (page.rows.length !== PAGE || page.total !== people || lists.people !== people)
      throw new Error(`of ${people} people the page says ${page.total} and the kept count ${lists.people}`);
    const scroll = await scrollThrough(app.base, people);
    const segments = await segmentClaims(app, PART.name);
    const activity = await activityClaims(app);

    return {
      name: 'people',
      claims: [
        atMost('first page, to a trivial request', times.first.median / base, 4, 'x'),
        atMost('page at any depth, to a trivial request', times.deep.median / base, 4, 'x'),
        atMost('find by 4 letters and more, p95, to its bare SQL', times.find.p95 / times.bareFind.p95, 3, 'x'),
        atMost('entry check, to a trivial request', times.entry.median / base, 4, 'x'),
        atMost('kept counts, to a trivial request', times.counts.median / base, 2, 'x'),
        atMost(
          'first page within a remit of a tenth, to one without',
          times.partFirst.median / times.first.median,
          1.5,
          'x',
        ),
        atMost('page at any depth within it, to one without', times.partDeep.median / times.deep.median, 1.3, 'x'),
        atMost('find within it, p95, to one without', times.partFind.p95 / times.find.p95, 1.3, 'x'),
        atMost('counts within it, to the bare SQL of one count', times.partCounts.median / partCountedAnewMs, 1.5, 'x'),
        atMost('frames of 34 ms and more while scrolling', scroll.slowShare01 * 100, 5, 'of 100'),
        ...segments.claims,
        ...activity.claims,
        atMost('memory after the second scroll, to that after the first', scroll.memoryGrowth, 1.15, 'x'),
      ],
      figures: {
        ...segments.figures,
        ...activity.figures,
        people,
        'filled in s': filledS,
        'first deep page (place marks made) ms': firstDeepMs,
        'stages counted anew, bare SQL ms': countedAnewMs,
        'people within the remit': part.people,
        'within the remit counted anew, bare SQL ms': partCountedAnewMs,
        ...Object.fromEntries(
          Object.entries(times).flatMap(([name, { median, p95 }]) => [
            [`${name} median ms`, median],
            [`${name} p95 ms`, p95],
          ]),
        ),
        'median frame ms': scroll.medianFrameMs,
        'p95 frame ms': scroll.p95FrameMs,
        'memory of the page MB': scroll.memoryMb,
        'server MB': memoryMb(app.server.pid),
      },
    };
  } finally {
    await app.end();
  }
}
