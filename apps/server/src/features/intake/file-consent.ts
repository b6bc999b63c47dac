import { consentWords, type FileConsent } from '@gray-loom/core/mapping';
import type { Tx } from '../../db/connect';
import { appendChange } from '../../feed/append-change';

/**
 * Keeps the consent behind a file with everybody it brought or touched: as evidence that they allow the channels. Whoever
 * has said stop is left as they are, whenever that was: a list never lifts what somebody said themselves. `contactId`
 * is given for a held row that is let in later.
 */
export async function keepConsent(
  tx: Tx,
  runId: number,
  consent: FileConsent | null | undefined,
  contactId: number | null = null,
): Promise<void> {
  if (!consent?.channels.length) return;
  const { rows } = await tx.client.query<{ id: number }>(
    `insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select who.id, ch.channel, 'allowed', $2, $3::timestamptz, $1
     from (select $5::bigint as id where $5::bigint is not null
           union select contact_id from import_row where $5::bigint is null and run_id = $1 and contact_id is not null and outcome <> 'held') who
     cross join unnest($4::text[]) as ch(channel)
     where not exists (
       select 1 from permission_evidence e where e.channel = ch.channel and e.state = 'optedOut'
         and (e.contact_id = who.id or e.contact_id in (select id from contact where merged_into = who.id)))
     returning contact_id as id`,
    [runId, consentWords(consent), consent.statedAt, consent.channels, contactId],
  );
  await appendChange(tx, { kind: 'permission', runId, contacts: [...new Set(rows.map(({ id }) => id))] });
}
