import { worklistAnswer } from '@gray-loom/wire';
import { json, route, type Route } from '../../http/declare';
import { worklist } from './worklist';

/** The opening screen. */
export function worklistRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/worklist',
      summary: 'What needs a decision today, and how the whole stands.',
      may: 'viewer',
      answer: json(worklistAnswer),
      example: {},
      handle: ({ database }) => worklist(database),
    }),
  ];
}
