import { Hono } from 'hono';
import {
  apartSchema,
  batchSchema,
  householdSchema,
  matchSetupSchema,
  mergeRulesSchema,
  mergeSchema,
  takeOutSchema,
  type ApartRequest,
  type MatchSetupRequest,
  type MergeRequest,
  type MergeRuleSetup,
} from '@gray-loom/wire';
import type { Schema } from 'yup';
import { inTransaction } from '../../db/connect';
import { endHousehold, keepHousehold, listHouseholds } from './households';
import { listGroups, matchBoard, takeGroup } from './match-board';
import { keepGroupApart, mergeGroup, putOff, takeOut } from './merge-group';
import { duplicateOrigin } from './duplicate-origin';
import { matchSetup, mergeRules, saveMatchSetup, saveMergeRules, tryMergeRules } from './match-setup';
import { adoptLearning, forgetLearning, lookAtLearning } from './match-decisions';
import { startScan } from './match-scan';
import { lookAtBatch, startBatch } from './merge-batch';
import { body, idOf, type AppEnv, type Services } from '../../http/context';

export function duplicateRoutes({ database }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();
  const actor = (c: { get: (key: 'actor') => { accountId: number } }) => c.get('actor').accountId;

  routes.get('/duplicates', async (c) => c.json(await listGroups(database, actor(c))));
  routes.post('/duplicates/scan', async (c) => {
    const runId = await inTransaction(database, (tx) => startScan(tx, actor(c)));
    return c.json({ runId }, 202);
  });
  routes.get('/duplicates/setup', async (c) => c.json(await matchSetup(database)));
  routes.put('/duplicates/setup', async (c) => {
    await saveMatchSetup(database, await body(c, matchSetupSchema as unknown as Schema<MatchSetupRequest>));
    return c.json(await matchSetup(database));
  });
  routes.get('/duplicates/learning', async (c) => c.json(await lookAtLearning(database)));
  routes.post('/duplicates/learning', async (c) => c.json(await adoptLearning(database, actor(c)), 202));
  routes.delete('/duplicates/learning', async (c) => c.json(await forgetLearning(database, actor(c)), 202));
  const rules = mergeRulesSchema as unknown as Schema<MergeRuleSetup>;
  routes.get('/duplicates/rules', async (c) => c.json(await mergeRules(database.db)));
  routes.put('/duplicates/rules', async (c) => {
    await saveMergeRules(database, await body(c, rules));
    return c.json(await mergeRules(database.db));
  });
  routes.post('/duplicates/rules/trial', async (c) => c.json(await tryMergeRules(database, await body(c, rules))));
  routes.get('/duplicates/origin', async (c) => c.json(await duplicateOrigin(database)));
  routes.get('/households', async (c) => c.json(await listHouseholds(database)));
  routes.post('/households', async (c) =>
    c.json(await keepHousehold(database, null, await body(c, householdSchema), actor(c)), 201),
  );
  routes.put('/households/:id', async (c) =>
    c.json(await keepHousehold(database, idOf(c, 'id'), await body(c, householdSchema), actor(c))),
  );
  routes.delete('/households/:id', async (c) => c.json(await endHousehold(database, idOf(c, 'id'), actor(c))));
  routes.get('/duplicates/batch', async (c) => c.json(await lookAtBatch(database)));
  routes.post('/duplicates/batch', async (c) =>
    c.json(await startBatch(database, (await body(c, batchSchema)).except, actor(c)), 202),
  );
  routes.get('/duplicates/:id', async (c) => c.json(await matchBoard(database, idOf(c, 'id'))));
  routes.post('/duplicates/:id/look', async (c) => c.json(await takeGroup(database, idOf(c, 'id'), actor(c))));
  routes.post('/duplicates/:id/merge', async (c) => {
    const request = await body(c, mergeSchema as unknown as Schema<MergeRequest>);
    return c.json(await mergeGroup(database, idOf(c, 'id'), request, actor(c)));
  });
  routes.post('/duplicates/:id/apart', async (c) =>
    c.json(
      await keepGroupApart(
        database,
        idOf(c, 'id'),
        await body(c, apartSchema as unknown as Schema<ApartRequest>),
        actor(c),
      ),
    ),
  );
  routes.post('/duplicates/:id/take-out', async (c) =>
    c.json(await takeOut(database, idOf(c, 'id'), (await body(c, takeOutSchema)).memberId, actor(c))),
  );
  routes.post('/duplicates/:id/later', async (c) => {
    await putOff(database, idOf(c, 'id'));
    return c.body(null, 204);
  });
  return routes;
}
