import {
  batchChangeSchema,
  batchStartedAnswer,
  batchTrialAnswer,
  calledNextAnswer,
  callNextSchema,
  type BatchRequest,
} from '@gray-loom/wire';
import { json, route, type Route } from '../../http/declare';
import type { Surroundings } from '../../http/services';
import { startBatch, tryBatch } from './batch';
import { callPickedNext } from './call-next';
import { troubled } from '../syncs';

const EXAMPLE = { what: { ids: [1] }, change: { kind: 'tags', add: ['Crew list'] } };

/** Changes of many contacts at once: tried first, then a run with an undo. */
export function batchRoutes({ config }: Surroundings): Route[] {
  return [
    route({
      method: 'post',
      path: '/batch/trial',
      summary: 'What a change of many contacts would do, without writing.',
      may: 'editor',
      body: batchChangeSchema,
      answer: json(batchTrialAnswer),
      example: { body: EXAMPLE },
      handle: ({ body, database }) => tryBatch(database, body as BatchRequest, config.country),
    }),
    route({
      method: 'post',
      path: '/batch',
      summary: 'Changes many contacts at once; whom it is about is fixed now.',
      may: 'editor',
      body: batchChangeSchema,
      answer: json(batchStartedAnswer),
      example: { body: EXAMPLE },
      handle: ({ body, database }) => startBatch(database, body as BatchRequest, config.country),
    }),
    route({
      method: 'post',
      path: '/batch/next',
      summary: 'Puts a few contacts at the head of those whom a tool calls.',
      may: 'editor',
      body: callNextSchema,
      answer: json(calledNextAnswer),
      example: { body: { what: EXAMPLE.what, connectionId: 1 } },
      handle: ({ body, database }) => {
        const { secretKey, standIns } = config;
        return troubled(callPickedNext({ database, secretKey, standIns }, body));
      },
    }),
  ];
}
