import { expect, test } from '@jest/globals';
import { writeOver } from './bulk';
import type { BulkAnswers, BulkWriter, OutsideWrite, OutsideWritten } from './ports';

const create = (id: string): OutsideWrite => ({ kind: 'create', id, fields: {}, labels: [], stopped: [] });
const yes: OutsideWritten = { ok: true, record: null };
const no: OutsideWritten = { ok: false, why: 'refused', text: 'No.' };
const THREE = ['a', 'b', 'c'].map(create);

/** A tool whose job answers like this, look by look; the last answer stays. */
function toolOf(looks: BulkAnswers[], job: string | null = 'job 1') {
  const waited: number[] = [];
  const oneByOne: string[] = [];
  let at = 0;
  const bulk: BulkWriter = {
    from: 2,
    start: () => Promise.resolve(job),
    look: () => Promise.resolve(looks[Math.min(at++, looks.length - 1)] ?? { done: false, answers: [] }),
  };
  return {
    waited,
    oneByOne,
    looked: () => at,
    write: (writes: readonly OutsideWrite[]) =>
      writeOver(
        {
          bulk,
          write: (some) => {
            oneByOne.push(...some.map(({ id }) => id));
            return Promise.resolve(some.map(() => yes));
          },
        },
        writes,
        (ms) => Promise.resolve(void waited.push(ms)),
      ),
  };
}
const outcomes = (written: readonly OutsideWritten[]) => written.map((one) => (one.ok ? 'ok' : one.why));

test('answers come in the order of the writes, whatever the order of the job', async () => {
  const tool = toolOf([
    { done: false, answers: [] },
    { done: false, answers: [{ id: 'c', written: yes }] },
    {
      done: true,
      answers: [
        { id: 'b', written: no },
        { id: 'a', written: yes },
      ],
    },
  ]);
  expect(outcomes(await tool.write(THREE))).toEqual(['ok', 'refused', 'ok']);
  expect(tool.waited).toEqual([200, 400]);
  expect(tool.oneByOne).toEqual([]);
});

test('a job that answers for others, or twice, says nothing new by it', async () => {
  const answers = [
    { id: 'a', written: yes },
    { id: 'a', written: no },
    { id: 'somebody else', written: yes },
  ];
  expect(outcomes(await toolOf([{ done: true, answers }]).write(THREE))).toEqual(['ok', 'unknown', 'unknown']);
});

test('a job that never answers is given up after a quarter of an hour, and nobody knows what it wrote', async () => {
  const tool = toolOf([{ done: false, answers: [] }]);
  expect(outcomes(await tool.write(THREE))).toEqual(['unknown', 'unknown', 'unknown']);
  const minutes = tool.waited.reduce((sum, ms) => sum + ms, 0) / 60_000;
  expect(minutes).toBeGreaterThanOrEqual(15);
  expect(minutes).toBeLessThan(16);
});

test('one whose beginning was not answered is not asked after', async () => {
  const tool = toolOf([{ done: true, answers: [] }], null);
  expect(outcomes(await tool.write(THREE))).toEqual(['unknown', 'unknown', 'unknown']);
  expect(tool.looked()).toBe(0);
});

test('too few for a job are written one by one', async () => {
  const tool = toolOf([{ done: true, answers: [] }]);
  expect(outcomes(await tool.write(THREE.slice(0, 1)))).toEqual(['ok']);
  expect(tool.oneByOne).toEqual(['a']);
});
