import { eq } from 'drizzle-orm';
import { DEFAULT_THRESHOLDS } from '@gray-loom/core/matching';
import type { MatchSetupRequest } from '@gray-loom/wire';
import type { Db } from '../db/connect';
import { setting } from '../db/schema';

export type MatchSettings = MatchSetupRequest;

/** Where the settings of matching are kept. */
export const MATCHING = 'matching';
export const AS_SHIPPED: MatchSettings = { thresholds: DEFAULT_THRESHOLDS, ignored: [] };

/** A setting of the workspace; null where nobody set it. */
export async function readSetting<T>(db: Db, key: string): Promise<T | null> {
  const [row] = await db.select({ value: setting.value }).from(setting).where(eq(setting.key, key));
  return (row?.value as T | undefined) ?? null;
}

/** Thresholds and fields in force. */
export async function matchSettings(db: Db): Promise<MatchSettings> {
  return (await readSetting<MatchSettings>(db, MATCHING)) ?? AS_SHIPPED;
}
