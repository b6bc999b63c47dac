import { object, string } from 'yup';
import {
  callsAnswer,
  hookOriginSchema,
  heardAnswer,
  id,
  idSchema,
  resultsAnswer,
  resultsChangeSchema,
  runAnswer,
  settledAnswer,
  settleResultSchema,
  type ResultsChange,
} from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { json, nothing, route, type Route } from '../../http/declare';
import type { Surroundings } from '../../http/services';
import { callNext } from './call-next';
import { hearCall } from './hooks/hear-call';
import { tellToCall } from './hooks/hook-state';
import { lookAtCalls } from './hooks/look-at-calls';
import { changeResults, lookAtResults, settleResult } from './results/look-at-results';
import { takeResultsNow } from './results/start-results';
import { codeOf } from '../../db/error-code';
import { troubled } from './trouble';

/** Largest call that is heard; what it says is a kind and some ids. */
const CALL_BYTES = 256 * 1024;

/** What comes back from tools: results, and calls that say that something changed. */
export function resultRoutes({ config, log }: Surroundings): Route[] {
  const servicesFor = (database: Database) => ({
    database,
    secretKey: config.secretKey,
    standIns: config.standIns,
  });
  return [
    route({
      method: 'get',
      path: '/connections/:id/results',
      summary: 'What came back from a tool, and what of it a person settles.',
      may: 'viewer',
      wholeBook: true,
      params: idSchema,
      answer: json(resultsAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => lookAtResults(database, params.id),
    }),
    route({
      method: 'patch',
      path: '/connections/:id/results',
      summary: 'Says how often results are asked for, and which source a published number stands for.',
      may: 'administrator',
      params: idSchema,
      body: resultsChangeSchema,
      answer: json(resultsAnswer),
      example: { params: { id: 1 }, body: { everyMinutes: 5 } },
      handle: async ({ params, body, database }) => {
        await changeResults(database, params.id, body as ResultsChange);
        return lookAtResults(database, params.id);
      },
    }),
    route({
      method: 'post',
      path: '/connections/:id/results/run',
      summary: 'Asks for results now.',
      may: 'editor',
      wholeBook: true,
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => takeResultsNow(database, params.id),
    }),
    route({
      method: 'post',
      path: '/connections/:id/results/settle',
      summary: 'Says whose a result is.',
      may: 'editor',
      wholeBook: true,
      params: idSchema,
      body: settleResultSchema,
      answer: json(settledAnswer),
      example: { params: { id: 1 }, body: { id: '1', take: 'drop' } },
      handle: async ({ params, body, database }) => {
        await settleResult(database, params.id, body, config.country);
        return { settled: true };
      },
    }),
    route({
      method: 'get',
      path: '/connections/:id/calls',
      summary: 'Calls of a tool that said that something changed.',
      may: 'administrator',
      params: idSchema,
      answer: json(callsAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => lookAtCalls(database, params.id),
    }),
    route({
      method: 'put',
      path: '/connections/:id/hook',
      summary: 'Tells a tool to call when something changes, or no more.',
      may: 'administrator',
      params: idSchema,
      body: hookOriginSchema,
      answer: json(callsAnswer),
      example: { params: { id: 1 }, body: { origin: null } },
      handle: async ({ params, body, database }) => {
        await troubled(tellToCall(servicesFor(database), params.id, body.origin));
        return lookAtCalls(database, params.id);
      },
    }),
    route({
      method: 'post',
      path: '/contacts/:id/syncs/:connection/next',
      summary: 'Puts a contact at the head of those whom a tool calls.',
      may: 'editor',
      params: object({ id: id(), connection: id() }),
      answer: nothing,
      example: { params: { id: 1, connection: 1 } },
      handle: ({ params, database }) => troubled(callNext(servicesFor(database), params.connection, params.id)),
    }),
    // The other side calls with an address that nobody else knows, and learns nothing by it.
    route({
      method: 'post',
      path: '/hooks/:hook',
      summary: 'Hears that something changed in an outside tool.',
      may: 'anyone',
      limitBytes: CALL_BYTES,
      params: object({ hook: string().max(200).required() }),
      answer: json(heardAnswer),
      example: { params: { hook: '0' } },
      handle: async ({ params, database, context }) => {
        const body = await context.req.text();
        const call = { body, header: (name: string) => context.req.header(name) };
        await hearCall(servicesFor(database), params.hook, call, (error) =>
          log.warn({ code: codeOf(error) }, 'a call was kept, and the run for it was not begun'),
        );
        return { heard: true };
      },
    }),
  ];
}
