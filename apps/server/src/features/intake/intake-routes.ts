import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { number, object, string } from 'yup';
import {
  id,
  idSchema,
  intakeDetailAnswer,
  intakeSummaryAnswer,
  listOf,
  madeAnswer,
  mappingChangeSchema,
  mappingPreviewAnswer,
  mappingSchema,
  previewSchema,
  rereadSchema,
  rowChoiceSchema,
  runAnswer,
  savedMappingAnswer,
  trialRowAnswer,
  trialRowsSchema,
} from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { file, json, nothing, route, type Route } from '../../http/declare';
import { refuseIssue } from '../../http/refusal';
import type { Surroundings } from '../../http/services';
import { rereadFile } from './files/take-file';
import { takePackedFile } from './files/unpack-file';
import {
  bringAgain,
  dropIntake,
  intakeDetail,
  listIntakes,
  previewMapping,
  saveMapping,
  startImport,
  startTrial,
  trialRows,
} from './intakes';
import { exportRows } from './rows/export-rows';
import { chooseRow } from './rows/row-choices';
import { sampleFile } from './sample-file';
import { forgetSavedMapping, guessAnew, listSavedMappings, changeSavedMapping } from './saved-mappings';

/** A name as a header carries it, percent-encoded; the path is cut off and nothing that a file system minds is left. */
const fileHeaders = object({
  'x-file-name': string()
    .default('file.csv')
    .test('encoded', 'X-File-Name has to be percent-encoded.', (name) => decoded(name) !== null),
  'x-file-size': number().integer().min(0).max(Number.MAX_SAFE_INTEGER),
  'content-length': number().integer().min(0).max(Number.MAX_SAFE_INTEGER),
});

function decoded(name: string): string | null {
  try {
    return decodeURIComponent(name)
      .replace(/[\\/\0]/g, '_')
      .slice(0, 200);
  } catch {
    return null;
  }
}

/** Changes a file in Intake and answers how it stands then. */
async function changed(database: Database, id: number, change: Promise<void>) {
  await change;
  return intakeDetail(database, id);
}

/** Files on their way in: mapping, trial, import. */
export function intakeRoutes({ config }: Surroundings): Route[] {
  return [
    route({
      method: 'get',
      path: '/intakes',
      summary: 'Files that came in, newest first.',
      may: 'viewer',
      answer: json(listOf(intakeSummaryAnswer)),
      example: {},
      handle: ({ database }) => listIntakes(database),
    }),
    route({
      method: 'post',
      path: '/intakes',
      summary: 'Takes a file in, packed or not; nothing is imported yet.',
      may: 'editor',
      headers: fileHeaders,
      body: 'file',
      limitBytes: config.fileLimitBytes,
      answer: json(madeAnswer, 201),
      example: { headers: { 'x-file-name': 'regatta.csv' } },
      handle: async ({ headers, stream, signal, database }) => {
        if (!stream) throw refuseIssue({ code: 'emptyFile', path: {} });
        const made = await takePackedFile(database, {
          name: decoded(headers['x-file-name']) ?? 'file.csv',
          body: Readable.fromWeb(stream as unknown as NodeStream),
          declaredBytes: headers['x-file-size'] ?? headers['content-length'] ?? null,
          limitBytes: config.fileLimitBytes,
          country: config.country,
          signal,
        });
        return { id: made };
      },
    }),
    route({
      method: 'get',
      path: '/intakes/:id',
      summary: 'A file with how it reads and what its columns mean.',
      may: 'viewer',
      params: idSchema,
      answer: json(intakeDetailAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => intakeDetail(database, params.id),
    }),
    route({
      method: 'delete',
      path: '/intakes/:id',
      summary: 'Drops a file that was not imported.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => dropIntake(database, params.id),
    }),
    route({
      method: 'put',
      path: '/intakes/:id/mapping',
      summary: 'Sets what the columns of a file mean.',
      may: 'editor',
      params: idSchema,
      limitBytes: 4 * 1024 * 1024,
      body: mappingSchema,
      answer: json(intakeDetailAnswer),
      example: {
        params: { id: 1 },
        body: {
          columns: [],
          wholeFile: { tags: [], source: null, stage: null, owner: null, consent: null },
          allowNew: true,
          allowChange: true,
          writeRule: 'fill',
          recognise: ['email'],
          country: 'GB',
        },
      },
      handle: ({ params, body, database }) => changed(database, params.id, saveMapping(database, params.id, body)),
    }),
    route({
      method: 'post',
      path: '/intakes/:id/guess',
      summary: 'Guesses anew what the columns mean.',
      may: 'editor',
      params: idSchema,
      answer: json(intakeDetailAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => changed(database, params.id, guessAnew(database, params.id, config.country)),
    }),
    route({
      method: 'post',
      path: '/intakes/:id/reread',
      summary: 'Reads a file in another encoding, with another delimiter or headings elsewhere.',
      may: 'editor',
      params: idSchema,
      body: rereadSchema,
      answer: json(intakeDetailAnswer),
      example: { params: { id: 1 }, body: { headerRow: 1 } },
      handle: ({ params, body, database }) =>
        changed(database, params.id, rereadFile(database, params.id, body, config.country)),
    }),
    route({
      method: 'get',
      path: '/intakes/:id/preview',
      summary: 'Rows of a file as its mapping reads them.',
      may: 'viewer',
      params: idSchema,
      query: previewSchema,
      answer: json(mappingPreviewAnswer),
      example: { params: { id: 1 }, query: { from: 0, count: 20 } },
      handle: ({ params, query: { from, count, failing }, database }) =>
        previewMapping(database, params.id, from, count, failing ?? null),
    }),
    route({
      method: 'post',
      path: '/intakes/:id/trial',
      summary: 'Works out what an import would do, without writing.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer, 202),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => startTrial(database, params.id),
    }),
    route({
      method: 'get',
      path: '/intakes/:id/trial',
      summary: 'Rows of a trial by outcome.',
      may: 'viewer',
      params: idSchema,
      query: trialRowsSchema,
      answer: json(listOf(trialRowAnswer)),
      example: { params: { id: 1 }, query: { outcome: 'new' } },
      handle: ({ params, query: { outcome, limit }, database }) => trialRows(database, params.id, outcome, limit),
    }),
    route({
      method: 'post',
      path: '/intakes/:id/again',
      summary: 'Puts a file into Intake once more.',
      may: 'editor',
      params: idSchema,
      answer: json(madeAnswer, 201),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => bringAgain(database, params.id),
    }),
    route({
      method: 'put',
      path: '/intakes/:id/rows/:row/choice',
      summary: 'Says by hand what is to become of a row.',
      may: 'editor',
      params: object({ id: id(), row: id() }),
      body: rowChoiceSchema,
      answer: nothing,
      example: { params: { id: 1, row: 1 }, body: { choice: 'new' } },
      handle: ({ params, body, database }) => chooseRow(database, params.id, params.row, body.choice),
    }),
    route({
      method: 'post',
      path: '/intakes/:id/import',
      summary: 'Brings a file in.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer, 202),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => startImport(database, params.id),
    }),
    ...(['held', 'rows'] as const).map((which) =>
      route({
        method: 'get',
        path: `/runs/:id/${which}.csv`,
        summary:
          which === 'held'
            ? 'Held rows of an import with their reasons.'
            : 'All rows of an import with their outcomes.',
        may: 'viewer',
        params: idSchema,
        answer: file('text/csv'),
        example: { params: { id: 1 } },
        handle: async ({ params, database }) => {
          const { name, body } = await exportRows(database, params.id, which === 'held');
          return { name: `${name}-${which}.csv`, body };
        },
      }),
    ),
    ...savedMappingRoutes(),
  ];
}

function savedMappingRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/saved-mappings',
      summary: 'Saved mappings.',
      may: 'viewer',
      answer: json(listOf(savedMappingAnswer)),
      example: {},
      handle: ({ database }) => listSavedMappings(database),
    }),
    route({
      method: 'get',
      path: '/saved-mappings/:id/sample.csv',
      summary: 'A file to start from, as a saved mapping reads it.',
      may: 'viewer',
      params: idSchema,
      answer: file('text/csv'),
      example: { params: { id: 1 } },
      handle: async ({ params, database }) => {
        const { name, text } = await sampleFile(database, params.id);
        return { name: `${name}-sample.csv`, body: text };
      },
    }),
    route({
      method: 'patch',
      path: '/saved-mappings/:id',
      summary: 'Renames a saved mapping, or takes out what every row of the next file would get.',
      may: 'editor',
      params: idSchema,
      body: mappingChangeSchema,
      answer: nothing,
      example: { params: { id: 1 }, body: { name: 'Regatta entries' } },
      handle: ({ params, body, database }) => changeSavedMapping(database, params.id, body),
    }),
    route({
      method: 'delete',
      path: '/saved-mappings/:id',
      summary: 'Forgets a saved mapping.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => forgetSavedMapping(database, params.id),
    }),
  ];
}
