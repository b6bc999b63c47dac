import { allOf, isOneOf } from '@gray-loom/core/segments';
import {
  idSchema,
  madeAnswer,
  segmentChangeSchema,
  segmentChoicesAnswer,
  segmentEventsAnswer,
  segmentEventsSchema,
  segmentListAnswer,
  segmentLookAnswer,
  segmentLookSchema,
  segmentSchema,
  segmentSummaryAnswer,
} from '@gray-loom/wire';
import { json, nothing, route, type Route } from '../../http/declare';
import { lookAtCondition } from './look';
import {
  changeSegment,
  dropSegment,
  listSegments,
  makeSegment,
  segmentChoices,
  segmentDetail,
  segmentEvents,
} from './segments';

const EXAMPLE = allOf(isOneOf('tags', 'Regatta'), { field: 'email', op: 'present' });

/** Segments: conditions that were given a name, who is in them, who enters and leaves. */
export function segmentRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/segments',
      summary: 'Segments with how many are in them and how that went.',
      may: 'viewer',
      answer: json(segmentListAnswer),
      example: {},
      handle: async ({ database }) => ({ segments: await listSegments(database) }),
    }),
    route({
      method: 'get',
      path: '/segments/choices',
      summary: 'What conditions refer to by number: segments, connections, threads, imports.',
      may: 'viewer',
      answer: json(segmentChoicesAnswer),
      example: {},
      handle: ({ database }) => segmentChoices(database),
    }),
    route({
      method: 'post',
      path: '/segments',
      summary: 'Keeps a condition as a segment.',
      may: 'editor',
      body: segmentSchema,
      answer: json(madeAnswer, 201),
      example: { body: { name: 'Regatta by mail', condition: EXAMPLE } },
      handle: async ({ body, database }) => ({ id: await makeSegment(database, body) }),
    }),
    route({
      method: 'post',
      path: '/segments/look',
      summary: 'What a condition finds, without keeping it.',
      may: 'viewer',
      body: segmentLookSchema,
      answer: json(segmentLookAnswer),
      example: { body: { condition: EXAMPLE } },
      handle: ({ body, database }) => lookAtCondition(database, body),
    }),
    route({
      method: 'get',
      path: '/segments/:id',
      summary: 'A segment.',
      may: 'viewer',
      params: idSchema,
      answer: json(segmentSummaryAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => segmentDetail(database, params.id),
    }),
    route({
      method: 'patch',
      path: '/segments/:id',
      summary: 'Changes a segment.',
      may: 'editor',
      params: idSchema,
      body: segmentChangeSchema,
      answer: json(segmentSummaryAnswer),
      example: { params: { id: 1 }, body: { description: 'Everybody who may be written to' } },
      handle: async ({ params, body, database }) => {
        await changeSegment(database, params.id, body);
        return segmentDetail(database, params.id);
      },
    }),
    route({
      method: 'delete',
      path: '/segments/:id',
      summary: 'Drops a segment; its people stay as they are.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => dropSegment(database, params.id),
    }),
    route({
      method: 'get',
      path: '/segments/:id/events',
      summary: 'Who entered a segment and who left it, newest first.',
      may: 'viewer',
      params: idSchema,
      query: segmentEventsSchema,
      answer: json(segmentEventsAnswer),
      example: { params: { id: 1 }, query: { limit: 20 } },
      handle: ({ params, query, database }) => segmentEvents(database, params.id, query),
    }),
  ];
}
