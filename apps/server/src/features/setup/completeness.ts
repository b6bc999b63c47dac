import { EQUAL_WEIGHTS, faultOfWeights, type Weights } from '@gray-loom/core/fields';
import type { WeightsInForce, WeightsTrial } from '@gray-loom/wire';
import { loadCatalogue } from '../../book/picks';
import { COMPLETENESS } from '../../book/statements/derivation';
import { setSetting, settingOf } from '../../book/statements/settings';
import { inTransaction, type Database, type Db } from '../../db/connect';
import { tell } from '../../feed/events';
import { startDerivation } from './field-setup';
import { refuse } from './refusals';
import { completenessNow, completenessWith } from './statements/completeness';

/** Bands, by their place, and the mean of everybody in them. */
function told(rows: readonly { band: number; n: number; mean: number }[]): WeightsTrial {
  const total = rows.reduce((sum, { n }) => sum + n, 0);
  return {
    mean: total ? Math.round(rows.reduce((sum, { n, mean }) => sum + n * mean, 0) / total) : 0,
    bands: [0, 1, 2, 3, 4].map((band) => rows.find((row) => row.band === band)?.n ?? 0),
  };
}

/** What each field adds to completeness, and how complete people are by that. */
export async function weightsInForce({ pool }: Database): Promise<WeightsInForce> {
  return {
    weights: (await settingOf<Weights>(pool, COMPLETENESS)) ?? EQUAL_WEIGHTS,
    now: told((await completenessNow(pool)).rows),
  };
}

async function checked(db: Db, weights: Weights): Promise<Weights> {
  const catalogue = await loadCatalogue(db);
  const fault = faultOfWeights(weights, (key) => catalogue.find(key) !== undefined);
  if (fault) throw refuse.weights({ field: 'weights', fault });
  return Object.fromEntries(Object.entries(weights).filter(([, weight]) => weight > 0));
}

/** How complete people would be by other weights; nothing is written. Cost linear in the people. */
export async function tryWeights({ pool, db }: Database, weights: Weights): Promise<WeightsTrial> {
  return told((await completenessWith(pool, await checked(db, weights))).rows);
}

/** Puts weights in force and starts the run that works out everybody's completeness anew. */
export async function saveWeights(database: Database, weights: Weights): Promise<{ runId: number }> {
  const wanted = await checked(database.db, weights);
  return inTransaction(database, async (tx) => {
    await setSetting(tx.client, COMPLETENESS, wanted);
    await tell(tx.client, { topic: 'setup' });
    return { runId: await startDerivation(tx, 'Completeness worked out anew') };
  });
}
