import { consentWords, type FileConsent } from '@gray-loom/core/mapping';
import type { Tx } from '../../db/connect';
import { appendChange } from '../../feed/append-change';
import { insertConsent } from './statements/file-consent';

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
  const { rows } = await insertConsent(
    tx.client,
    runId,
    consentWords(consent),
    consent.statedAt,
    consent.channels,
    contactId,
  );
  await appendChange(tx, { kind: 'permission', runId, contacts: [...new Set(rows.map(({ id }) => id))] });
}
