import { faultOfTouchSettings, type Rhythm, type TouchSettings } from '@gray-loom/core/activity';
import { testsIn } from '@gray-loom/core/segments';
import type { ToHearFrom, TouchRhythms, TouchSettingsRequest, TouchState } from '@gray-loom/wire';
import { askForReview } from '../../book/statements/renamed-picks';
import { setSetting } from '../../book/statements/settings';
import { touchesOf } from '../../book/statements/touch';
import { TOUCH, touchSettings } from '../../book/touch-settings';
import { inTransaction, type Database } from '../../db/connect';
import { tell } from '../../feed/events';
import { today, wholeCondition } from '../contacts';
import { refuse } from './refusals';
import { stageNamed } from './statements/activities';
import { countRhythm, reviewTouchSegments, segmentsNamed, toHearFrom } from './statements/keeping-in-touch';

/** What counts as being in touch, and how often that is expected of whom; how many that is, and how many are overdue. */
export async function touchRhythms({ pool }: Database): Promise<TouchRhythms> {
  const { kinds, rhythms } = await touchSettings(pool);
  const counted: TouchRhythms['rhythms'] = [];
  for (const one of rhythms) counted.push({ ...one, ...(await countRhythm(pool, { kinds, rhythms: [one] }, today())) });
  return { kinds, rhythms: counted };
}

/** A rhythm as it came from outside: of a stage or of a segment, not of both. */
function rhythmFrom({ everyDays, stage, segmentId }: TouchSettingsRequest['rhythms'][number]): Rhythm {
  if (stage && !segmentId) return { everyDays, stage };
  if (segmentId && !stage) return { everyDays, segmentId };
  throw refuse.rhythmOfNobody({ field: 'rhythms' });
}

export async function saveTouchSettings(database: Database, asked: TouchSettingsRequest): Promise<void> {
  const settings: TouchSettings = { kinds: [...new Set(asked.kinds)], rhythms: asked.rhythms.map(rhythmFrom) };
  const fault = faultOfTouchSettings(settings);
  if (fault) throw refuse.touchSettings({ field: 'rhythms', fault });
  await inTransaction(database, async (tx) => {
    const { client } = tx;
    for (const one of settings.rhythms) {
      if ('stage' in one) {
        if (!(await stageNamed(client, one.stage)).rows.length)
          throw refuse.noSuchStage({ field: 'stage', stage: one.stage });
        continue;
      }
      const [segment] = (await segmentsNamed(client, one.segmentId)).rows;
      if (!segment) throw refuse.noSuchSegment({ field: 'rhythms' });
      const whole = await wholeCondition(client, segment.condition, [one.segmentId]);
      if (testsIn(whole).some(({ field }) => field === '@overdue'))
        throw refuse.rhythmOfOverdue({ field: 'rhythms', name: segment.name });
    }
    await setSetting(client, TOUCH, settings);
    await reviewTouchSegments(client);
    await askForReview(client);
    await tell(client, { topic: 'setup' });
  });
}

/** How one contact stands with keeping in touch. */
export async function touchOf({ pool }: Database, contactId: number): Promise<TouchState> {
  const [found] = (await touchesOf(pool, [contactId], await touchSettings(pool), today())).rows;
  return { last: found?.day ?? '', by: found?.who ?? '', overdue: found?.overdue ?? null };
}

/** Who is to be heard from by today: of one owner's people, or of everybody's. */
export async function peopleToHearFrom(
  { pool }: Database,
  owner: string | null,
  limit: number,
): Promise<{ list: ToHearFrom[]; total: number }> {
  const found = await toHearFrom(pool, { settings: await touchSettings(pool), today: today(), owner, limit });
  const list = found.rows.map(({ id, name, owner: of, last, by, overdue }) => ({
    contact: { id, name },
    owner: of,
    last: last ?? '',
    by: by ?? '',
    overdue,
  }));
  return { list, total: found.total };
}
