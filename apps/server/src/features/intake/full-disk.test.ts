import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import type { ContactPage, RunSummary } from '@gray-loom/wire';
import { connect, type Database } from '../../db/connect';
import { createLogger } from '../../log';
import { untruths } from '../../testing/import-truth';
import { RealApp } from '../../testing/real-app';

const ROWS = 3000;
const people = (from = 0, tag = 'crew') =>
  ['First name,Last name,Email,Tags']
    .concat(Array.from({ length: ROWS }, (_, i) => `Kerra${from + i},Nance${from + i},k${from + i}@example.org,${tag}`))
    .join('\n');

const zipOf = (name: string, text: string) => Buffer.from(zipSync({ [name]: strToU8(text) }));

const send = (app: RealApp, name: string, bytes: Buffer) =>
  app.raw('/intakes', {
    method: 'POST',
    headers: { 'X-File-Name': name, 'Content-Type': 'application/octet-stream' },
    body: new Uint8Array(bytes),
  });

describe('a full disk of the database', () => {
  let app: RealApp;
  let database: Database;
  let files = 0;
  beforeAll(async () => {
    app = await RealApp.start();
    database = connect(app.url, createLogger('test', 'silent'), 3);
  });
  afterAll(async () => {
    await database.pool.end();
    await app.end();
  });

  /** From the so-manieth row on, a table takes no more. */
  async function fill(table: string, afterRows: number): Promise<() => Promise<unknown>> {
    await database.pool.query(
      `create sequence room start 1;
       create function no_room() returns trigger language plpgsql as $$
         begin
           if nextval('room') > ${afterRows} then raise exception 'no space left on device' using errcode = '53100'; end if;
           return new;
         end $$;
       create trigger no_room before insert or update on ${table} for each row execute function no_room()`,
    );
    return () => database.pool.query(`drop trigger no_room on ${table}; drop function no_room(); drop sequence room`);
  }
  const total = async () => (await app.json<ContactPage>('/contacts'))?.total ?? 0;
  const ended = async (runId: number): Promise<RunSummary> => {
    for (;;) {
      const run = await app.json<RunSummary>(`/runs/${runId}`);
      if (run && run.state !== 'queued' && run.state !== 'running') return run;
      await pause(50);
    }
  };

  test.each([
    ['as it is', Buffer.from(people()), 'people.csv'],
    ['as gzip', gzipSync(people()), 'people.csv.gz'],
    ['in a zip archive', zipOf('people.csv', people()), 'people.zip'],
  ])('takes no file in that comes %s, and says why', async (_how, bytes, name) => {
    const free = await fill('file_chunk', 0);
    const answer = await send(app, name, bytes).finally(free);
    expect(answer).toMatchObject({ status: 507, text: expect.stringContaining('disk of the database is full') });
    expect(await app.json('/intakes')).toEqual([]);
  });

  test.each([
    ['contact', 700],
    ['contact_key', 3000],
    ['contact_search_fresh', 700],
    ['operation', 700],
    ['import_row', 700],
    ['change', 0],
    ['pick', 0],
    ['tally', 0],
  ])(
    'in an import, when %s takes no more: it says so, what is written is true, and goes back by one undo',
    async (table, afterRows) => {
      const before = await total();
      const from = ++files * ROWS;
      const intakeId = await app.upload('people.csv', people(from, `crew of ${from}`));
      const free = await fill(table, afterRows);
      const started = await app.json<{ runId: number }>(`/intakes/${intakeId}/import`, 'POST');
      const run = await ended(started?.runId ?? 0).finally(free);
      expect([run.state, run.error]).toEqual(['failed', expect.stringContaining('disk of the database is full')]);
      expect(run.progress.done).toBe(afterRows ? 500 : 0);
      const { rows } = await database.pool.query<{ n: number }>(
        'select count(*)::int as n from import_row where run_id = $1',
        [run.id],
      );
      expect(rows[0]?.n).toBe(run.progress.done);
      const wrong = await untruths({ database }, [run.id]);
      expect(
        wrong.filter((one) => !one.startsWith(`run ${run.id} is`) && !one.startsWith(`run ${run.id} has`)),
      ).toEqual([]);
      expect(await total()).toBe(before + (run.counts.new ?? 0));
      const undone = await app.json<{ undoRunId: number }>(`/runs/${run.id}/undo`, 'POST');
      expect(await ended(undone?.undoRunId ?? 0)).toMatchObject({ state: 'done' });
      expect(await total()).toBe(before);
    },
    60_000,
  );
});

test('a full disk for files on their way: it says so, nothing is taken in and nothing is left', async () => {
  const root = process.env.GRAY_LOOM_ROOT ?? process.cwd();
  const app = await RealApp.start({
    NODE_OPTIONS: `--require ${join(root, 'apps/server/src/testing/full-disk.cjs')}`,
  });
  try {
    const answer = await send(app, 'people.zip', zipOf('people.csv', people()));
    expect(answer).toMatchObject({
      status: 507,
      text: expect.stringContaining('The disk for files on their way is full'),
    });
    expect(await app.json('/intakes')).toEqual([]);
  } finally {
    await app.end();
  }
});
