import {
  goesOnAnswer,
  idSchema,
  leftAnswer,
  listOf,
  pausingAnswer,
  runContactAnswer,
  runKindAnswer,
  runContactsSchema,
  runPageAnswer,
  runPageSchema,
  runSummaryAnswer,
  stoppingAnswer,
  tapeStateAnswer,
  undoAnswer,
  undoLookSchema,
  undoPreviewAnswer,
  undoSchema,
} from '@gray-loom/wire';
import { json, route, type Route } from '../../http/declare';
import type { Surroundings } from '../../http/services';
import { goOn, requestPause, requestStop } from '../../runs/runs';
import { listRuns, requireOwnRun, runContacts, runSummary, tapeState } from './ledger';
import { leftAsIs } from './left';
import { previewUndo, undoRun } from './undo-run';

/** Runs: the ledger, the tape, undo. */
export function runRoutes({ kinds }: Surroundings): Route[] {
  return [
    route({
      method: 'get',
      path: '/runs',
      summary: 'The ledger, newest first.',
      may: 'viewer',
      query: runPageSchema,
      answer: json(runPageAnswer),
      example: { query: { limit: 20 } },
      handle: ({ query: { before, kind, limit }, database }) => listRuns(database, kinds, before ?? null, kind, limit),
    }),
    route({
      method: 'get',
      path: '/run-kinds',
      summary: 'The kinds of run that the ledger can be narrowed to.',
      may: 'viewer',
      answer: json(listOf(runKindAnswer)),
      example: {},
      handle: () => kinds.all.map(({ kind, name }) => ({ kind, name })),
    }),
    route({
      method: 'get',
      path: '/tape',
      summary: 'Work in progress and the latest finished run.',
      may: 'viewer',
      answer: json(tapeStateAnswer),
      example: {},
      handle: ({ database }) => tapeState(database, kinds),
    }),
    route({
      method: 'get',
      path: '/runs/:id',
      summary: 'One run.',
      may: 'viewer',
      params: idSchema,
      answer: json(runSummaryAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => runSummary(database, kinds, params.id),
    }),
    route({
      method: 'get',
      path: '/runs/:id/contacts',
      summary: 'The contacts that a run touched.',
      may: 'viewer',
      params: idSchema,
      query: runContactsSchema,
      answer: json(listOf(runContactAnswer)),
      example: { params: { id: 1 }, query: { limit: 20 } },
      handle: ({ params, query: { after, limit }, database }) => runContacts(database, params.id, after, limit),
    }),
    route({
      method: 'get',
      path: '/runs/:id/left',
      summary: 'What a run left as it was, and why.',
      may: 'viewer',
      params: idSchema,
      answer: json(listOf(leftAnswer)),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => leftAsIs(database, params.id),
    }),
    route({
      method: 'get',
      path: '/runs/:id/undo',
      summary: 'What undoing a run would and would not bring back.',
      may: 'viewer',
      params: idSchema,
      query: undoLookSchema,
      answer: json(undoPreviewAnswer),
      example: { params: { id: 1 }, query: { after: 0 } },
      handle: ({ params, query, database }) => previewUndo(database, params.id, query.after),
    }),
    route({
      method: 'post',
      path: '/runs/:id/undo',
      summary: 'Takes a run back where what it wrote still stands.',
      may: 'editor',
      params: idSchema,
      body: undoSchema,
      answer: json(undoAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, body, database }) => undoRun(database, kinds, params.id, body.edits),
    }),
    route({
      method: 'post',
      path: '/runs/:id/stop',
      summary: 'Stops a run; what it wrote stands.',
      may: 'editor',
      params: idSchema,
      answer: json(stoppingAnswer),
      example: { params: { id: 1 } },
      handle: async ({ params, database }) => {
        await requireOwnRun(database, params.id);
        return { stopping: await requestStop(database, kinds, params.id) };
      },
    }),
    route({
      method: 'post',
      path: '/runs/:id/pause',
      summary: 'Lets a run wait at its marker.',
      may: 'editor',
      params: idSchema,
      answer: json(pausingAnswer),
      example: { params: { id: 1 } },
      handle: async ({ params, database }) => {
        await requireOwnRun(database, params.id);
        return { pausing: await requestPause(database, kinds, params.id) };
      },
    }),
    route({
      method: 'post',
      path: '/runs/:id/go-on',
      summary: 'Lets a run that waits go on.',
      may: 'editor',
      params: idSchema,
      answer: json(goesOnAnswer),
      example: { params: { id: 1 } },
      handle: async ({ params, database }) => {
        await requireOwnRun(database, params.id);
        return { goesOn: await goOn(database, params.id) };
      },
    }),
  ];
}
