import { parentPort } from 'node:worker_threads';
import { memoryOfAnswer, ScanHelper, type HelperTask } from '@gray-loom/core/matching';

/** A second thread of a scan: answers what the first one asks, question by question. */
const helper = new ScanHelper();

parentPort?.on('message', (task: HelperTask) => {
  const answer = helper.answer(task);
  parentPort?.postMessage(answer, memoryOfAnswer(answer));
});
