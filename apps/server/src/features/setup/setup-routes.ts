import { object, string } from 'yup';
import {
  addressCompletionAnswer,
  addressCompletionSchema,
  areaDefinitionAnswer,
  areasSchema,
  conversionSchema,
  conversionTrialAnswer,
  countedChoiceAnswer,
  fieldChangeSchema,
  feedReaderAnswer,
  fieldClashesAnswer,
  fieldMadeAnswer,
  listOf,
  listsAnswer,
  manyChangeAnswer,
  newFieldSchema,
  newPickSchema,
  pickChangeSchema,
  pickKind,
  givingAnswer,
  givingSchema,
  pickMergeSchema,
  pickOrderSchema,
  runAnswer,
  healthAnswer,
  weightsAnswer,
  weightsSchema,
  weightsTrialAnswer,
} from '@gray-loom/wire';
import { loadCatalogue } from '../../book/picks';
import { readGiving, saveGiving } from './giving';
import { listClashes } from '../../book/unique-values';
import { json, nothing, route, type Route } from '../../http/declare';
import { refuse } from './refusals';
import type { Surroundings } from '../../http/services';
import { completeAddress, listAreas, saveAreas } from './areas';
import { saveWeights, tryWeights, weightsInForce } from './completeness';
import { health } from './health';
import { feedReaders, retryReader } from './upkeep';
import { changeField, convertField, countedChoices, createField, tryConversion } from './field-setup';
import { loadLists } from './lists';
import { changePick, createPick, dropPick, mergePicks, orderPicks } from './pick-setup';

const keySchema = object({ key: string().max(60).required() });
const kindSchema = object({ kind: pickKind() });
const pickSchema = object({ kind: pickKind(), label: string().max(80).required() });

/** Fields, pick-lists and areas: what drives entry, grid, import, merge and export. */
export function setupRoutes({ config, consumers }: Surroundings): Route[] {
  return [
    route({
      method: 'get',
      path: '/health',
      summary: 'What of Gray Loom runs and what is down.',
      may: 'anyone',
      answer: json(healthAnswer),
      example: {},
      handle: ({ database }) => health(database, config),
    }),
    route({
      method: 'get',
      path: '/lists',
      summary: 'Fields, tags, sources, stages, owners and areas, with how many contacts have each.',
      may: 'viewer',
      answer: json(listsAnswer),
      example: {},
      handle: ({ database }) => loadLists(database, config.country),
    }),
    route({
      method: 'get',
      path: '/feed/readers',
      summary: 'Who is told of changes, how far they are and what stands in their way.',
      may: 'viewer',
      answer: json(listOf(feedReaderAnswer)),
      example: {},
      handle: ({ database }) => feedReaders(database, consumers),
    }),
    route({
      method: 'post',
      path: '/feed/readers/:name/retry',
      summary: 'Lets somebody who failed to hear of changes try again at once.',
      may: 'administrator',
      params: object({ name: string().max(60).required() }),
      answer: nothing,
      example: { params: { name: 'searchTexts' } },
      handle: ({ params, database }) => retryReader(database, params.name),
    }),
    route({
      method: 'get',
      path: '/completeness',
      summary: 'What each field adds to completeness, and how complete people are.',
      may: 'viewer',
      answer: json(weightsAnswer),
      example: {},
      handle: ({ database }) => weightsInForce(database),
    }),
    route({
      method: 'post',
      path: '/completeness/trial',
      summary: 'How complete people would be by other weights; nothing is written.',
      may: 'administrator',
      body: weightsSchema,
      answer: json(weightsTrialAnswer),
      example: { body: { weights: { email: 3, tel: 2, familyName: 1 } } },
      handle: ({ body, database }) => tryWeights(database, body.weights),
    }),
    route({
      method: 'put',
      path: '/completeness',
      summary: 'Changes what each field adds to completeness; everybody is worked out anew.',
      may: 'administrator',
      body: weightsSchema,
      answer: json(runAnswer),
      example: { body: { weights: { email: 3, tel: 2, familyName: 1 } } },
      handle: ({ body, database }) => saveWeights(database, body.weights),
    }),
    ...fieldRoutes(),
    ...pickRoutes(),
    ...givingRoutes(),
    route({
      method: 'get',
      path: '/areas',
      summary: 'Areas by country, region and postal prefix.',
      may: 'viewer',
      answer: json(listOf(areaDefinitionAnswer)),
      example: {},
      handle: ({ database }) => listAreas(database),
    }),
    route({
      method: 'put',
      path: '/areas',
      summary: 'Sets the areas; every contact is put into its area anew.',
      may: 'administrator',
      body: areasSchema,
      answer: json(runAnswer),
      example: { body: { areas: [{ name: 'South-west', rules: [{ country: 'GB', region: 'Cornwall' }] }] } },
      handle: ({ body, database }) => saveAreas(database, body.areas),
    }),
    route({
      method: 'get',
      path: '/addresses',
      summary: 'Places that complete an address, from those that are here.',
      may: 'editor',
      query: addressCompletionSchema,
      answer: json(listOf(addressCompletionAnswer)),
      example: { query: { postalCode: 'TR1' } },
      handle: ({ query, database }) => completeAddress(database, query),
    }),
  ];
}

function fieldRoutes(): Route[] {
  return [
    route({
      method: 'post',
      path: '/fields',
      summary: 'Makes a field.',
      may: 'administrator',
      body: newFieldSchema,
      answer: json(fieldMadeAnswer, 201),
      example: { body: { name: 'Boat length', type: 'number' } },
      handle: ({ body, database }) => createField(database, body),
    }),
    route({
      method: 'patch',
      path: '/fields/:key',
      summary: 'Renames, orders or retires a field, or changes what is asked of it.',
      may: 'administrator',
      params: keySchema,
      body: fieldChangeSchema,
      answer: nothing,
      example: { params: { key: 'nickname' }, body: { required: false } },
      handle: ({ params, body, database }) => changeField(database, params.key, body),
    }),
    route({
      method: 'get',
      path: '/fields/:key/choices',
      summary: 'Choices of a field, with how many contacts have each.',
      may: 'viewer',
      params: keySchema,
      answer: json(listOf(countedChoiceAnswer)),
      example: { params: { key: 'custom.1' } },
      handle: ({ params, database }) => countedChoices(database, params.key),
    }),
    route({
      method: 'get',
      path: '/fields/:key/clashes',
      summary: 'Contacts that share a value of a field.',
      may: 'viewer',
      params: keySchema,
      answer: json(fieldClashesAnswer),
      example: { params: { key: 'email' } },
      handle: async ({ params, database }) => {
        const field = (await loadCatalogue(database.db)).find(params.key);
        if (!field) throw refuse.noSuchField();
        return listClashes(database, field);
      },
    }),
    route({
      method: 'post',
      path: '/fields/:key/try-type',
      summary: 'What another type would do to the values of a field.',
      may: 'administrator',
      params: keySchema,
      body: conversionSchema,
      answer: json(conversionTrialAnswer),
      example: { params: { key: 'custom.1' }, body: { type: 'text' } },
      handle: ({ params, body, database }) => tryConversion(database, params.key, body),
    }),
    route({
      method: 'post',
      path: '/fields/:key/type',
      summary: 'Gives a field another type and converts its values.',
      may: 'administrator',
      params: keySchema,
      body: conversionSchema,
      answer: json(manyChangeAnswer),
      example: { params: { key: 'custom.1' }, body: { type: 'text' } },
      handle: ({ params, body, database }) => convertField(database, params.key, body),
    }),
  ];
}

function givingRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/giving',
      summary: 'Among whom people are given out.',
      may: 'viewer',
      answer: json(givingAnswer),
      example: {},
      handle: ({ database }) => readGiving(database),
    }),
    route({
      method: 'put',
      path: '/giving',
      summary: 'Says among whom people are given out.',
      may: 'administrator',
      body: givingSchema,
      answer: nothing,
      example: { body: { inTurn: [1], byArea: [] } },
      handle: ({ body, database }) => saveGiving(database, body),
    }),
  ];
}

function pickRoutes(): Route[] {
  return [
    route({
      method: 'post',
      path: '/picks',
      summary: 'Adds a value to a pick-list.',
      may: 'editor',
      body: newPickSchema,
      answer: nothing,
      example: { body: { kind: 'tag', label: 'Open yard' } },
      handle: ({ body, database }) => createPick(database, body),
    }),
    route({
      method: 'patch',
      path: '/picks/:kind/:label',
      summary: 'Changes meaning or colour of a value of a pick-list.',
      may: 'administrator',
      params: pickSchema,
      body: pickChangeSchema,
      answer: nothing,
      example: { params: { kind: 'tag', label: 'Open yard' }, body: { colour: 2 } },
      handle: ({ params, body, database }) => changePick(database, params.kind, params.label, body),
    }),
    route({
      method: 'delete',
      path: '/picks/:kind/:label',
      summary: 'Drops a value that nobody has.',
      may: 'administrator',
      params: pickSchema,
      answer: nothing,
      example: { params: { kind: 'tag', label: 'Open yard' } },
      handle: ({ params, database }) => dropPick(database, params.kind, params.label),
    }),
    route({
      method: 'put',
      path: '/picks/:kind',
      summary: 'Puts a pick-list in order.',
      may: 'administrator',
      params: kindSchema,
      body: pickOrderSchema,
      answer: nothing,
      example: { params: { kind: 'stage' }, body: { labels: ['Enquiry', 'Donor'] } },
      handle: ({ params, body, database }) => orderPicks(database, params.kind, body.labels),
    }),
    route({
      method: 'post',
      path: '/picks/merge',
      summary: 'Makes one value of a pick-list another, for every contact that has it.',
      may: 'administrator',
      body: pickMergeSchema,
      answer: json(manyChangeAnswer),
      example: { body: { list: 'tag', from: 'Regattas', into: 'Regatta' } },
      handle: ({ body, database }) => mergePicks(database, body),
    }),
  ];
}
