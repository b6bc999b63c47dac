import { erasedAnswer, eraseSchema, erasureAnswer, idSchema, runAnswer } from '@gray-loom/wire';
import { json, route, type Route } from '../../http/declare';
import { eraseContact, lookAtErasure } from './erase-contact';
import { liftBlocked, listErased } from './erased-people';

/** Erasing people who ask for it, and who is kept out since. */
export function erasingRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/contacts/:id/erasure',
      summary: 'What erasing a contact for good would take, and what stays.',
      may: 'administrator',
      params: idSchema,
      answer: json(erasureAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => lookAtErasure(database, params.id),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/erase',
      summary: 'Erases a contact for good and keeps it out. It cannot be taken back.',
      may: 'administrator',
      params: idSchema,
      body: eraseSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 }, body: { reason: 'Asked by letter of 12 May 2026' } },
      handle: ({ params, body, database }) => eraseContact(database, params.id, body.reason),
    }),
    route({
      method: 'get',
      path: '/erased',
      summary: 'People who were erased and are kept out.',
      may: 'administrator',
      answer: json(erasedAnswer),
      example: {},
      handle: ({ database }) => listErased(database),
    }),
    route({
      method: 'post',
      path: '/erased/:id/lift',
      summary: 'Lets somebody who was erased come in again.',
      may: 'administrator',
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => liftBlocked(database, params.id),
    }),
  ];
}
