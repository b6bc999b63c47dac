import { NO_RHYTHMS, type TouchSettings } from '@gray-loom/core/activity';
import type { Queryable } from '../db/connect';
import { settingOf } from './statements/settings';

/** Where it is kept what counts as being in touch, and how often that is expected. */
export const TOUCH = 'touch';

/** What counts as being in touch, and how often that is expected of whom. */
export async function touchSettings(client: Queryable): Promise<TouchSettings> {
  return (await settingOf<TouchSettings>(client, TOUCH)) ?? NO_RHYTHMS;
}
