import { object } from 'yup';
import {
  heldListAnswer,
  heldRowsSchema,
  id,
  letInAnswer,
  letInAsEntriesSchema,
  letInManyAnswer,
  letInTwoAnswer,
  listOf,
  mendAlikeSchema,
  mendMeantSchema,
  mendPreviewAnswer,
  mendSchema,
  mendTwoSchema,
} from '@gray-loom/wire';
import { json, nothing, route, type Route } from '../../../http/declare';
import { dropHeld, letIn, letInTwo, listHeld, previewHeld } from './held-rows';
import { letInAsEntries, mendAlike, mendMeant } from './held-together';

const runSchema = object({ run: id() });
const rowSchema = object({ run: id(), row: id() });
const CELLS = { cells: ['Maya', 'Okafor', 'maya@quillhaven.example'] };
/** A row may be long. */
const ROW_BYTES = 4 * 1024 * 1024;

/** Held rows: mended, let in, dropped. */
export function heldRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/held',
      summary: 'Held rows of all imports, or of one.',
      may: 'viewer',
      query: heldRowsSchema,
      answer: json(heldListAnswer),
      example: { query: { run: 1 } },
      handle: ({ query, database }) => listHeld(database, query.run ?? null, query.limit),
    }),
    route({
      method: 'post',
      path: '/held/:run/:row/preview',
      summary: 'What a mended row would become.',
      may: 'editor',
      params: rowSchema,
      limitBytes: ROW_BYTES,
      body: mendSchema,
      answer: json(listOf(mendPreviewAnswer)),
      example: { params: { run: 1, row: 1 }, body: CELLS },
      handle: ({ params, body, database }) => previewHeld(database, params.run, params.row, body.cells),
    }),
    route({
      method: 'post',
      path: '/held/:run/:row/let-in',
      summary: 'Lets a mended row in.',
      may: 'editor',
      params: rowSchema,
      limitBytes: ROW_BYTES,
      body: mendSchema,
      answer: json(letInAnswer),
      example: { params: { run: 1, row: 1 }, body: CELLS },
      handle: ({ params, body: { cells, as, asked }, database }) =>
        letIn(database, params.run, params.row, cells, as, asked),
    }),
    route({
      method: 'post',
      path: '/held/:run/:row/let-in-two',
      summary: 'Lets a row in as the two people it names.',
      may: 'editor',
      params: rowSchema,
      limitBytes: ROW_BYTES,
      body: mendTwoSchema,
      answer: json(letInTwoAnswer),
      example: { params: { run: 1, row: 1 }, body: { people: [['Maya'], ['Sam']] } },
      handle: ({ params, body, database }) => letInTwo(database, params.run, params.row, body.people),
    }),
    route({
      method: 'post',
      path: '/held/:run/alike',
      summary: 'One value for another in every held row that has it.',
      may: 'editor',
      params: runSchema,
      body: mendAlikeSchema,
      answer: json(letInManyAnswer),
      example: { params: { run: 1 }, body: { column: 0, from: '31/02/1990', to: '28/02/1990' } },
      handle: ({ params, body, database }) => mendAlike(database, params.run, body),
    }),
    route({
      method: 'post',
      path: '/held/:run/meant',
      summary: 'Lets rows in as they are most likely meant.',
      may: 'editor',
      params: runSchema,
      body: mendMeantSchema,
      answer: json(letInManyAnswer),
      example: { params: { run: 1 }, body: { rows: [1] } },
      handle: ({ params, body, database }) => mendMeant(database, params.run, body.rows),
    }),
    route({
      method: 'post',
      path: '/held/:run/entries',
      summary: 'Lets rows in that say more of people who came in with other rows, as entries of their activity.',
      may: 'editor',
      params: runSchema,
      body: letInAsEntriesSchema,
      answer: json(letInManyAnswer),
      example: { params: { run: 1 }, body: { kind: 'gift' } },
      handle: ({ params, body, database }) => letInAsEntries(database, params.run, body.kind),
    }),
    route({
      method: 'post',
      path: '/held/:run/:row/drop',
      summary: 'Drops a held row.',
      may: 'editor',
      params: rowSchema,
      answer: nothing,
      example: { params: { run: 1, row: 1 } },
      handle: ({ params, database }) => dropHeld(database, params.run, params.row),
    }),
  ];
}
