import { parentPort } from 'node:worker_threads';
import pg from 'pg';
import { memoryOfAnswer, ScanHelper, type HelperTask, type SharedPeople } from '@gray-loom/core/matching';
import { readPeople, type IdRange } from './read-people';

/** People for the other thread to read; a number other than 0 in `stop` ends it. */
export interface ReadTask {
  do: 'read';
  databaseUrl: string;
  range: IdRange;
  stop: Int32Array;
}

export interface ReadAnswer {
  ids: number[];
  people: SharedPeople;
}

async function read({ databaseUrl, range, stop }: ReadTask): Promise<ReadAnswer> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { ids, people } = await readPeople(client, range, () => Atomics.load(stop, 0) === 0);
    return { ids, people: people.shared() };
  } finally {
    await client.end();
  }
}

/** A second thread of a scan: answers what the first one asks, question by question. A failure ends it, and the scan with it. */
const helper = new ScanHelper();

parentPort?.on('message', (task: HelperTask | ReadTask) => {
  if (task.do === 'read') {
    read(task).then(
      (answer) => parentPort?.postMessage(answer),
      (error: unknown) =>
        // Out of the promise, so that the thread fails and whoever waits is told.
        setImmediate(() => {
          throw error;
        }),
    );
    return;
  }
  const answer = helper.answer(task);
  parentPort?.postMessage(answer, memoryOfAnswer(answer));
});
