import { Readable } from 'node:stream';
import { object, string } from 'yup';
import {
  conflictListAnswer,
  conflictsSchema,
  connectionChangeSchema,
  connectionDetailAnswer,
  connectionSchema,
  connectionSummaryAnswer,
  connectionTestResultAnswer,
  connectionTestSchema,
  contactSyncAnswer,
  goesOnAnswer,
  id,
  idSchema,
  listDifferenceAnswer,
  listOf,
  listStandingAnswer,
  madeAnswer,
  outsideFieldAnswer,
  outsideFieldSchema,
  pairLookAnswer,
  pairSchema,
  runAnswer,
  settledAnswer,
  settleSchema,
  sharedPlacesAnswer,
  sharerSchema,
  standInAnswer,
  connectorAnswer,
  syncChangesAnswer,
  syncChangesSchema,
  syncChoiceSchema,
  syncRunSchema,
  whoBandSchema,
  whoSampleAnswer,
  whoSettledAnswer,
  whoTogetherSchema,
  type ConnectionChange,
  type OutsideFieldRequest,
  type PairRequest,
  type SyncChoiceRequest,
} from '@gray-loom/wire';
import { connectorsFor } from '../../connectors';
import type { Database } from '../../db/connect';
import { file, json, route, type Route } from '../../http/declare';
import type { Surroundings } from '../../http/services';
import { goOn } from '../../runs/runs';
import { makeOutsideField } from './make-field';
import { changeConnection, chooseContact, makeConnection, refreshCapabilities, testConnection } from './connections';
import { connectionDetail, listConnections } from './connection-list';
import { releaseBrake, runConnection } from './start-sync';
import { listDifferences, listStandings } from './lists';
import { chooseSharer, sharedPlaces } from './shared-places';
import { listConflicts } from './sync-conflicts';
import { contactSyncs, lookAtPair, syncChanges, syncReport } from './sync-report';
import { settleQuestion } from './sync-settle';
import { troubled } from './trouble';
import { settleWhoTogether, whoSample } from './who-together';

const ADDRESS_BOOK = {
  kind: 'addressBook',
  settings: { address: 'http://127.0.0.1:5232/', user: 'office', password: 'a good password' },
};
/** A conflict by its id, or somebody over there by connection and id. */
const QUESTION_KEY = /^\d{1,9}(?::.+)?$/s;
const pairOfIds = object({ id: id(), connection: id() });

/** Connections to outside tools, their runs, what waits for a decision. */
export function syncRoutes({ config }: Surroundings): Route[] {
  const servicesFor = (database: Database) => ({
    database,
    secretKey: config.secretKey,
    standIns: config.standIns,
    country: config.country,
  });
  return [
    route({
      method: 'get',
      path: '/connections',
      summary: 'Connections and how they stand.',
      may: 'viewer',
      answer: json(listOf(connectionSummaryAnswer)),
      example: {},
      handle: ({ database }) => listConnections(database),
    }),
    route({
      method: 'get',
      path: '/connectors',
      summary: 'Kinds of outside tools that can be connected, and what each takes.',
      may: 'administrator',
      answer: json(listOf(connectorAnswer)),
      example: {},
      handle: () =>
        Object.values(connectorsFor(config.standIns)).map(({ kind, name, intro, settings }) => ({
          kind,
          name,
          intro,
          settings,
        })),
    }),
    route({
      method: 'get',
      path: '/stand-ins',
      summary: 'Stand-ins for outside tools that run beside the app, to be connected.',
      may: 'administrator',
      answer: json(listOf(standInAnswer)),
      example: {},
      handle: () => config.standInAccess,
    }),
    route({
      method: 'post',
      path: '/connections/test',
      summary: 'Tries what an outside tool takes to be reached, step by step.',
      may: 'administrator',
      body: connectionTestSchema,
      answer: json(connectionTestResultAnswer),
      example: { body: ADDRESS_BOOK },
      handle: ({ body, database }) => troubled(testConnection(servicesFor(database), body)),
    }),
    route({
      method: 'post',
      path: '/connections',
      summary: 'Connects an outside tool; nothing is synced yet.',
      may: 'administrator',
      body: connectionSchema,
      answer: json(madeAnswer, 201),
      example: { body: { name: 'Office address book', ...ADDRESS_BOOK } },
      handle: ({ body, database }) => troubled(makeConnection(servicesFor(database), body)),
    }),
    route({
      method: 'get',
      path: '/connections/:id',
      summary: 'A connection with its set-up.',
      may: 'viewer',
      params: idSchema,
      answer: json(connectionDetailAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => connectionDetail(database, params.id),
    }),
    route({
      method: 'patch',
      path: '/connections/:id',
      summary: 'Changes a connection.',
      may: 'administrator',
      params: idSchema,
      body: connectionChangeSchema,
      answer: json(connectionDetailAnswer),
      example: { params: { id: 1 }, body: { name: 'Yard address book' } },
      handle: async ({ params, body, database }) => {
        await troubled(changeConnection(servicesFor(database), params.id, body as ConnectionChange));
        return connectionDetail(database, params.id);
      },
    }),
    route({
      method: 'post',
      path: '/connections/:id/refresh',
      summary: 'Fetches the fields of the other side again.',
      may: 'administrator',
      params: idSchema,
      answer: json(connectionDetailAnswer),
      example: { params: { id: 1 } },
      handle: async ({ params, database }) => {
        await troubled(refreshCapabilities(servicesFor(database), params.id));
        return connectionDetail(database, params.id);
      },
    }),
    route({
      method: 'post',
      path: '/connections/:id/fields',
      summary: 'Makes a field over there that is missing.',
      may: 'administrator',
      params: idSchema,
      body: outsideFieldSchema,
      answer: json(outsideFieldAnswer),
      example: { params: { id: 1 }, body: { name: 'Boat', type: 'text' } },
      handle: ({ params, body, database }) =>
        troubled(makeOutsideField(servicesFor(database), params.id, body as OutsideFieldRequest)),
    }),
    route({
      method: 'post',
      path: '/connections/:id/run',
      summary: 'Runs a connection, or tries what a run would do.',
      may: 'editor',
      wholeBook: true,
      params: idSchema,
      body: syncRunSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 }, body: { trial: true } },
      handle: ({ params, body, database }) => runConnection(database, params.id, body),
    }),
    route({
      method: 'post',
      path: '/connections/:id/pair',
      summary: 'A real pair of records seen through a set-up.',
      may: 'viewer',
      wholeBook: true,
      params: idSchema,
      body: pairSchema,
      answer: json(pairLookAnswer.nullable()),
      example: { params: { id: 1 }, body: { lines: [], nth: 0 } },
      handle: ({ params, body, database }) =>
        troubled(lookAtPair(servicesFor(database), params.id, body as PairRequest)),
    }),
    route({
      method: 'get',
      path: '/connections/:id/lists',
      summary: 'How its lists stand to the segments and tags here.',
      may: 'viewer',
      wholeBook: true,
      params: idSchema,
      answer: json(listOf(listStandingAnswer)),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => listStandings(database, params.id),
    }),
    route({
      method: 'get',
      path: '/connections/:id/lists/:list',
      summary: 'Who is on one side of a list only.',
      may: 'viewer',
      wholeBook: true,
      params: object({ id: id(), list: string().min(1).max(40).required() }),
      answer: json(listOf(listDifferenceAnswer)),
      example: { params: { id: 1, list: 'list-1' } },
      handle: ({ params, database }) => listDifferences(database, params.id, params.list),
    }),
    route({
      method: 'get',
      path: '/connections/:id/shared',
      summary: 'Addresses over there that several people share, and whose the record of each is.',
      may: 'viewer',
      wholeBook: true,
      params: idSchema,
      answer: json(sharedPlacesAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => sharedPlaces(database, params.id),
    }),
    route({
      method: 'post',
      path: '/connections/:id/shared',
      summary: 'Says whose the record of a shared address is.',
      may: 'editor',
      wholeBook: true,
      params: idSchema,
      body: sharerSchema,
      answer: json(settledAnswer),
      example: { params: { id: 1 }, body: { place: 'crew@quillhaven.example', contactId: 1 } },
      handle: async ({ params, body, database }) => {
        await troubled(chooseSharer(servicesFor(database), params.id, body));
        return { settled: true };
      },
    }),
    ...runRoutes(),
    route({
      method: 'get',
      path: '/conflicts',
      summary: 'What syncs wait for a person to decide.',
      may: 'viewer',
      query: conflictsSchema,
      answer: json(conflictListAnswer),
      example: { query: { limit: 20 } },
      handle: ({ database, query }) => listConflicts(database, query.limit),
    }),
    route({
      method: 'get',
      path: '/connections/:id/who',
      summary: 'Questions who somebody is that can be answered together, with a sample of them.',
      may: 'viewer',
      wholeBook: true,
      params: idSchema,
      query: whoBandSchema,
      answer: json(whoSampleAnswer),
      example: { params: { id: 1 }, query: { band: 'certain' } },
      handle: ({ params, query, database }) => whoSample(database, params.id, query.band),
    }),
    route({
      method: 'post',
      path: '/connections/:id/who',
      summary: 'Takes everybody of whom a person is asked for the likeliest contact here.',
      may: 'editor',
      wholeBook: true,
      params: idSchema,
      body: whoTogetherSchema,
      answer: json(whoSettledAnswer),
      example: { params: { id: 1 }, body: { band: 'certain', saw: 1 } },
      handle: ({ params, body, database }) => settleWhoTogether(servicesFor(database), params.id, body),
    }),
    route({
      method: 'post',
      path: '/conflicts/:key/settle',
      summary: 'Decides a conflict or a question.',
      may: 'editor',
      params: object({ key: string().matches(QUESTION_KEY).max(600).required() }),
      body: settleSchema,
      answer: json(settledAnswer),
      example: { params: { key: '1' }, body: { take: 'ours' } },
      handle: async ({ params, body, database }) => {
        await troubled(settleQuestion(servicesFor(database), params.key, body));
        return { settled: true };
      },
    }),
    route({
      method: 'get',
      path: '/contacts/:id/syncs',
      summary: 'In which connections a contact takes part, why, and what happened.',
      may: 'viewer',
      params: idSchema,
      answer: json(listOf(contactSyncAnswer)),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => contactSyncs(database, params.id, config.country),
    }),
    route({
      method: 'put',
      path: '/contacts/:id/syncs/:connection',
      summary: 'Says that a contact is sent by hand, never, or by the rules.',
      may: 'editor',
      params: pairOfIds,
      body: syncChoiceSchema,
      answer: json(listOf(contactSyncAnswer)),
      example: { params: { id: 1, connection: 1 }, body: { choice: 'send' } },
      handle: async ({ params, body, database }) => {
        await chooseContact(database, params.connection, params.id, (body as SyncChoiceRequest).choice);
        return contactSyncs(database, params.id, config.country);
      },
    }),
    route({
      method: 'post',
      path: '/contacts/:id/syncs/:connection/send',
      summary: 'Sends one contact now.',
      may: 'editor',
      params: pairOfIds,
      answer: json(runAnswer),
      example: { params: { id: 1, connection: 1 } },
      handle: async ({ params, database }) => {
        await chooseContact(database, params.connection, params.id, 'send');
        return runConnection(database, params.connection, { trial: false, only: [params.id] });
      },
    }),
  ];
}

function runRoutes(): Route[] {
  return [
    route({
      method: 'post',
      path: '/sync-runs/:id/release',
      summary: 'Lets a run go on that the brake holds.',
      may: 'editor',
      wholeBook: true,
      params: idSchema,
      answer: json(goesOnAnswer),
      example: { params: { id: 1 } },
      handle: async ({ params, database }) => {
        await releaseBrake(database, params.id);
        return { goesOn: await goOn(database, params.id) };
      },
    }),
    route({
      method: 'get',
      path: '/sync-runs/:id/changes',
      summary: 'What a run did, or would do.',
      may: 'viewer',
      params: idSchema,
      query: syncChangesSchema,
      answer: json(syncChangesAnswer),
      example: { params: { id: 1 }, query: { limit: 20 } },
      handle: ({ params, query, database }) => syncChanges(database, params.id, query),
    }),
    route({
      method: 'get',
      path: '/sync-runs/:id/report',
      summary: 'The report of a run as a table.',
      may: 'viewer',
      params: idSchema,
      answer: file('text/csv'),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => ({
        name: `sync-run-${params.id}.csv`,
        body: Readable.toWeb(Readable.from(syncReport(database, params.id), { objectMode: false })) as ReadableStream,
      }),
    }),
  ];
}
