import {
  idSchema,
  listOf,
  movedAnswer,
  opportunityAnswer,
  opportunityMadeAnswer,
  opportunityPageAnswer,
  opportunityQuerySchema,
  opportunityRunAnswer,
  opportunitySchema,
  pipelineAnswer,
  pipelinesSchema,
  runAnswer,
  stageMoveSchema,
} from '@gray-loom/wire';
import { json, route, type Route } from '../../http/declare';
import { setDeleted } from '../contacts';
import { changeOpportunity, makeOpportunity, moveOpportunity, opportunitiesOf, opportunityPage } from './opportunities';
import { listPipelines, savePipelines } from './pipelines';

const OPPORTUNITY = { contactId: 1, name: 'Clinker dinghy', pipeline: 'Opportunities', stage: 'Open' };

/** Opportunities in pipelines, each linked to a contact. */
export function opportunityRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/pipelines',
      summary: 'Pipelines with their stages.',
      may: 'viewer',
      answer: json(listOf(pipelineAnswer)),
      example: {},
      handle: ({ database }) => listPipelines(database),
    }),
    route({
      method: 'put',
      path: '/pipelines',
      summary: 'Sets pipelines and stages; what is renamed takes its opportunities along.',
      may: 'administrator',
      body: pipelinesSchema,
      answer: json(movedAnswer),
      example: { body: { pipelines: [{ name: 'Yard work', stages: [{ label: 'Asked', outcome: 'open' }] }] } },
      handle: ({ body, database }) => savePipelines(database, body),
    }),
    route({
      method: 'get',
      path: '/opportunities',
      summary: 'Opportunities of a pipeline with their sums.',
      may: 'viewer',
      query: opportunityQuerySchema,
      answer: json(opportunityPageAnswer),
      example: { query: { find: 'dinghy' } },
      handle: ({ query, database }) => opportunityPage(database, query),
    }),
    route({
      method: 'get',
      path: '/contacts/:id/opportunities',
      summary: 'Opportunities of a contact.',
      may: 'viewer',
      params: idSchema,
      answer: json(listOf(opportunityAnswer)),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => opportunitiesOf(database, params.id),
    }),
    route({
      method: 'post',
      path: '/opportunities',
      summary: 'Makes an opportunity.',
      may: 'editor',
      body: opportunitySchema,
      answer: json(opportunityMadeAnswer, 201),
      example: { body: OPPORTUNITY },
      handle: ({ body, database }) => makeOpportunity(database, body),
    }),
    route({
      method: 'put',
      path: '/opportunities/:id',
      summary: 'Changes an opportunity.',
      may: 'editor',
      params: idSchema,
      body: opportunitySchema,
      answer: json(opportunityRunAnswer),
      example: { params: { id: 1 }, body: { ...OPPORTUNITY, version: 1 } },
      handle: ({ params, body, database }) => changeOpportunity(database, params.id, body),
    }),
    route({
      method: 'post',
      path: '/opportunities/:id/stage',
      summary: 'Moves an opportunity to another stage.',
      may: 'editor',
      params: idSchema,
      body: stageMoveSchema,
      answer: json(opportunityRunAnswer),
      example: { params: { id: 1 }, body: { stage: 'Open', version: 1 } },
      handle: ({ params, body, database }) => moveOpportunity(database, params.id, body),
    }),
    route({
      method: 'delete',
      path: '/opportunities/:id',
      summary: 'Deletes an opportunity; undo brings it back.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => setDeleted(database, params.id, true),
    }),
  ];
}
