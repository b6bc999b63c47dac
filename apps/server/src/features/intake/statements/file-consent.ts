import type { Channel } from '@gray-loom/core/writing';
import type { Queryable } from '../../../db/connect';

export const insertConsent = (
  client: Queryable,
  runId: number,
  consentWords: string,
  statedAt: string,
  channels: readonly Channel[],
  contactId: number | null,
) =>
  client.query<{ id: number }>(
    `insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select who.id, ch.channel, 'allowed', $2, $3::timestamptz, $1
     from (select $5::bigint as id where $5::bigint is not null
           union select contact_id from import_row where $5::bigint is null and run_id = $1 and contact_id is not null and outcome <> 'held') who
     cross join unnest($4::text[]) as ch(channel)
     where not exists (
       select 1 from permission_evidence e where e.channel = ch.channel and e.state = 'optedOut'
         and (e.contact_id = who.id or e.contact_id in (select id from contact where merged_into = who.id)))
     returning contact_id as id`,
    [runId, consentWords, statedAt, channels, contactId],
  );
