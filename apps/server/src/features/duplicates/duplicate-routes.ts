import {
  apartSchema,
  batchLookAnswer,
  batchSchema,
  boardKeptAnswer,
  duplicateOriginAnswer,
  groupListAnswer,
  groupLookAnswer,
  householdMadeAnswer,
  householdSchema,
  householdsAnswer,
  idSchema,
  learningLookAnswer,
  matchBoardAnswer,
  matchSetupAnswer,
  matchSetupSchema,
  mergeRulesAnswer,
  mergeRulesSchema,
  mergeRuleTrialAnswer,
  mergeSchema,
  runAnswer,
  scanAnswer,
  takenOutAnswer,
  takeOutSchema,
  type MergeRequest,
  type MergeRuleSetup,
} from '@gray-loom/wire';
import { inTransaction } from '../../db/connect';
import { json, nothing, route, type Route } from '../../http/declare';
import { duplicateOrigin } from './duplicate-origin';
import { endHousehold, keepHousehold, listHouseholds } from './households';
import { listGroups, matchBoard, proposeMerge, takeGroup } from './match-board';
import { adoptLearning, forgetLearning, lookAtLearning } from './match-decisions';
import { startScan } from './match-scan';
import { matchSetup, mergeRules, saveMatchSetup, saveMergeRules, tryMergeRules } from './match-setup';
import { lookAtBatch, startBatch } from './merge-batch';
import { keepGroupApart, mergeGroup, putOff, takeOut } from './merge-group';

const RULES = { otherwise: 'newest', byField: {}, trusted: [] };
const THRESHOLDS = { certain: 0.995, likely: 0.9, possible: 0.5 };

/** Groups of likely duplicates, how they are found and merged, households. */
export function duplicateRoutes(): Route[] {
  return [...groupRoutes(), ...setupRoutes(), ...householdRoutes()];
}

function groupRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/duplicates',
      summary: 'Groups of likely duplicates, surest first.',
      may: 'viewer',
      answer: json(groupListAnswer),
      example: {},
      handle: ({ database }) => listGroups(database),
    }),
    route({
      method: 'post',
      path: '/duplicates/scan',
      summary: 'Looks everybody through for duplicates.',
      may: 'editor',
      wholeBook: true,
      answer: json(runAnswer, 202),
      example: {},
      handle: async ({ database }) => ({ runId: await inTransaction(database, startScan) }),
    }),
    route({
      method: 'get',
      path: '/duplicates/origin',
      summary: 'How duplicates got in, by week and by thread.',
      may: 'viewer',
      wholeBook: true,
      answer: json(duplicateOriginAnswer),
      example: {},
      handle: ({ database }) => duplicateOrigin(database),
    }),
    route({
      method: 'get',
      path: '/duplicates/batch',
      summary: 'What merging all certain groups would do, with a few to check.',
      may: 'viewer',
      wholeBook: true,
      answer: json(batchLookAnswer),
      example: {},
      handle: ({ database }) => lookAtBatch(database),
    }),
    route({
      method: 'post',
      path: '/duplicates/batch',
      summary: 'Merges all certain groups but those named.',
      may: 'editor',
      wholeBook: true,
      body: batchSchema,
      answer: json(runAnswer, 202),
      example: { body: { except: [] } },
      handle: ({ body, database }) => startBatch(database, body.except),
    }),
    ...boardRoutes(),
  ];
}

function boardRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/duplicates/:id',
      summary: 'The records of a group field by field.',
      may: 'viewer',
      params: idSchema,
      answer: json(matchBoardAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => matchBoard(database, params.id),
    }),
    route({
      method: 'post',
      path: '/duplicates/:id/look',
      summary: 'Gives a group to whoever looks at it, for two minutes.',
      may: 'editor',
      params: idSchema,
      answer: json(groupLookAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => takeGroup(database, params.id),
    }),
    route({
      method: 'post',
      path: '/duplicates/:id/merge',
      summary: 'Merges records of a group into one.',
      may: 'editor',
      params: idSchema,
      body: mergeSchema,
      answer: json(boardKeptAnswer),
      example: { params: { id: 1 }, body: { memberIds: [1, 2], keepId: null, choices: {}, versions: {} } },
      handle: ({ params, body, database }) => mergeGroup(database, params.id, body as MergeRequest),
    }),
    route({
      method: 'post',
      path: '/duplicates/:id/propose',
      summary: 'Says that records of a group are one, to whoever may merge them.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => proposeMerge(database, params.id),
    }),
    route({
      method: 'post',
      path: '/duplicates/:id/apart',
      summary: 'Keeps records of a group apart, as different people.',
      may: 'editor',
      params: idSchema,
      body: apartSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 }, body: { memberIds: [1, 2], sharedLines: [] } },
      handle: ({ params, body, database }) => keepGroupApart(database, params.id, body),
    }),
    route({
      method: 'post',
      path: '/duplicates/:id/take-out',
      summary: 'Takes one record out of a group, as somebody else.',
      may: 'editor',
      params: idSchema,
      body: takeOutSchema,
      answer: json(takenOutAnswer),
      example: { params: { id: 1 }, body: { memberId: 2 } },
      handle: ({ params, body, database }) => takeOut(database, params.id, body.memberId),
    }),
    route({
      method: 'post',
      path: '/duplicates/:id/later',
      summary: 'Puts a group off.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => putOff(database, params.id),
    }),
  ];
}

function setupRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/duplicates/setup',
      summary: 'From which probability a group is certain, likely, possible, and which fields count.',
      may: 'viewer',
      answer: json(matchSetupAnswer),
      example: {},
      handle: ({ database }) => matchSetup(database),
    }),
    route({
      method: 'put',
      path: '/duplicates/setup',
      summary: 'Sets thresholds and fields of matching.',
      may: 'administrator',
      body: matchSetupSchema,
      answer: json(matchSetupAnswer),
      example: { body: { thresholds: THRESHOLDS, ignored: [] } },
      handle: async ({ body, database }) => {
        await saveMatchSetup(database, body);
        return matchSetup(database);
      },
    }),
    route({
      method: 'get',
      path: '/duplicates/learning',
      summary: 'What decisions teach, and what would move by it.',
      may: 'viewer',
      wholeBook: true,
      answer: json(learningLookAnswer),
      example: {},
      handle: ({ database }) => lookAtLearning(database),
    }),
    route({
      method: 'post',
      path: '/duplicates/learning',
      summary: 'Lets decisions count in matching.',
      may: 'administrator',
      answer: json(scanAnswer, 202),
      example: {},
      handle: ({ database }) => adoptLearning(database),
    }),
    route({
      method: 'delete',
      path: '/duplicates/learning',
      summary: 'Forgets what decisions taught.',
      may: 'administrator',
      answer: json(scanAnswer, 202),
      example: {},
      handle: ({ database }) => forgetLearning(database),
    }),
    route({
      method: 'get',
      path: '/duplicates/rules',
      summary: 'Which value stays in a merge.',
      may: 'viewer',
      answer: json(mergeRulesAnswer),
      example: {},
      handle: ({ database }) => mergeRules(database.db),
    }),
    route({
      method: 'put',
      path: '/duplicates/rules',
      summary: 'Sets which value stays in a merge.',
      may: 'administrator',
      body: mergeRulesSchema,
      answer: json(mergeRulesAnswer),
      example: { body: RULES },
      handle: async ({ body, database }) => {
        await saveMergeRules(database, body as MergeRuleSetup);
        return mergeRules(database.db);
      },
    }),
    route({
      method: 'post',
      path: '/duplicates/rules/trial',
      summary: 'What other rules would change in the groups that wait.',
      may: 'viewer',
      wholeBook: true,
      body: mergeRulesSchema,
      answer: json(mergeRuleTrialAnswer),
      example: { body: RULES },
      handle: ({ body, database }) => tryMergeRules(database, body as MergeRuleSetup),
    }),
  ];
}

function householdRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/households',
      summary: 'Households, proposed and kept.',
      may: 'viewer',
      answer: json(householdsAnswer),
      example: {},
      handle: ({ database }) => listHouseholds(database),
    }),
    route({
      method: 'post',
      path: '/households',
      summary: 'Keeps a household.',
      may: 'editor',
      body: householdSchema,
      answer: json(householdMadeAnswer, 201),
      example: { body: { memberIds: [1, 2], name: '' } },
      handle: ({ body, database }) => keepHousehold(database, null, body),
    }),
    route({
      method: 'put',
      path: '/households/:id',
      summary: 'Changes a household.',
      may: 'editor',
      params: idSchema,
      body: householdSchema,
      answer: json(householdMadeAnswer),
      example: { params: { id: 1 }, body: { memberIds: [1, 2], name: 'The boat house' } },
      handle: ({ params, body, database }) => keepHousehold(database, params.id, body),
    }),
    route({
      method: 'delete',
      path: '/households/:id',
      summary: 'Refuses a proposed household, or ends a kept one.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => endHousehold(database, params.id),
    }),
  ];
}
