import { setTimeout as pause } from 'node:timers/promises';
import type { RunSummary } from '@gray-loom/wire';
import { atMost, startApp, type BenchApp, type BenchResult } from './harness';

const PEOPLE = 6000;
const GIVEN =
  'Ana Tom Ines Jory Piran Wenna Kerra Loveday Merryn Tamsin Elowen Jago Cador Morwenna Petroc Sigrid'.split(' ');
const FAMILY = 'Reis Okoro Lund Penrose Trelawny Bosvean Carlyon Angove Nance Polkinghorne Amundsen Bowen Quist'.split(
  ' ',
);
const SYLLABLES = 'ba de fi go ku la me ni po ru sa te vi wo za'.split(' ');
const word = (n: number) => {
  const spelt = [n % 15, Math.floor(n / 15) % 15, Math.floor(n / 225) % 15, Math.floor(n / 3375) % 15];
  const text = spelt.map((i) => SYLLABLES[i]).join('');
  return text.charAt(0).toUpperCase() + text.slice(1);
};

const HEADINGS = 'First name,Last name,E-mail,Street,Town';
/** People of whom no two have anything in common. */
const strangers = (from: number, n: number) =>
  Array.from({ length: n }, (_, i) => {
    const at = from + i;
    return `${word(at * 7)},${word(at * 11 + 3)}${word(at)},s${at}@x${at}.example,${at} ${word(at * 5)} Road,${word(at * 13)}`;
  });
/** As many who share 208 names and a town. */
const namesakes = Array.from({ length: PEOPLE }, (_, i) => {
  const [given, family] = [GIVEN[i % GIVEN.length], FAMILY[Math.floor(i / GIVEN.length) % FAMILY.length]];
  return `${given},${family},n${i}@y${i % 977}.example,${i} Quay Street,Quillhaven`;
});

async function until<T>(look: () => Promise<T | null>): Promise<T> {
  for (;;) {
    const found = await look();
    if (found !== null) return found;
    await pause(50);
  }
}

async function bringIn(app: BenchApp, lines: readonly string[]): Promise<void> {
  const file = Buffer.from([HEADINGS, ...lines].join('\n'));
  const headers = { 'X-File-Name': 'people.csv', 'Content-Type': 'application/octet-stream' };
  const taken = await app.request('/intakes', { method: 'POST', body: new Uint8Array(file), headers });
  const { id } = (await taken.json()) as { id: number };
  const { runId } = (await (await app.request(`/intakes/${id}/import`, { method: 'POST' })).json()) as {
    runId: number;
  };
  await ended(app, runId);
}

function ended(app: BenchApp, runId: number): Promise<RunSummary> {
  return until(async () => {
    const run = (await (await app.request(`/runs/${runId}`)).json()) as RunSummary;
    if (run.state === 'failed') throw new Error(`run ${runId} failed: ${run.error}`);
    return run.state === 'done' ? run : null;
  });
}

/** Seconds from the end of an import to the end of the check that follows it. */
async function checkOf(app: BenchApp, lines: readonly string[]): Promise<number> {
  await bringIn(app, lines);
  const startedMs = performance.now();
  await until(async () => {
    const { rows } = await app.database.pool.query<{ n: number }>(
      `select count(*)::int as n from run where kind = 'check' and state = 'done' and created_at > now() - interval '1 hour'`,
    );
    const due = await app.database.pool.query('select 1 from match_due limit 1');
    return (rows[0]?.n ?? 0) > checks && !due.rowCount ? true : null;
  });
  checks++;
  return (performance.now() - startedMs) / 1000;
}
let checks = 0;

/** What it costs to look who of many that came in is here twice. */
export async function benchChecks(): Promise<BenchResult> {
  const app = await startApp();
  try {
    await bringIn(app, strangers(100_000, 2000));
    const { runId } = (await (await app.request('/duplicates/scan', { method: 'POST' })).json()) as { runId: number };
    await ended(app, runId);
    const apart = await checkOf(app, strangers(0, PEOPLE));
    const alike = await checkOf(app, namesakes);
    return {
      name: 'checks',
      claims: [
        atMost(
          'check of 6,000 who share 208 names and a town, over one of 6,000 strangers',
          Math.round((alike / apart) * 100) / 100,
          8,
          'x',
        ),
      ],
      figures: { strangersSeconds: apart, namesakesSeconds: alike },
    };
  } finally {
    await app.end();
  }
}
