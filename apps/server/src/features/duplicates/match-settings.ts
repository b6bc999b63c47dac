import { eq } from 'drizzle-orm';
import { DEFAULT_THRESHOLDS, type Corrections } from '@gray-loom/core/matching';
import type { MatchSetupRequest } from '@gray-loom/wire';
import type { Db } from '../../db/connect';
import { setting } from '../../db/schema';

export interface MatchSettings extends MatchSetupRequest {
  /** What people's decisions add to the weights; null where nothing was adopted. */
  corrections: Corrections | null;
}

/** Where the settings of matching are kept. */
export const MATCHING = 'matching';
export const AS_SHIPPED: MatchSetupRequest = { thresholds: DEFAULT_THRESHOLDS, ignored: [] };
/** Where what was learned from decisions is kept, once it was adopted. */
export const LEARNED = 'matchingLearned';

export interface Learned {
  corrections: Corrections;
  same: number;
  apart: number;
  at: string;
}

/** A setting of the workspace; null where nobody set it. */
export async function readSetting<T>(db: Db, key: string): Promise<T | null> {
  const [row] = await db.select({ value: setting.value }).from(setting).where(eq(setting.key, key));
  return (row?.value as T | undefined) ?? null;
}

/** Thresholds, fields and what was learned from decisions, as they are in force. */
export async function matchSettings(db: Db): Promise<MatchSettings> {
  const set = (await readSetting<MatchSetupRequest>(db, MATCHING)) ?? AS_SHIPPED;
  const learned = await readSetting<Learned>(db, LEARNED);
  return { thresholds: set.thresholds, ignored: set.ignored, corrections: learned?.corrections ?? null };
}
