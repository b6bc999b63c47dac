import { displayNameOf } from '@gray-loom/core/fields';
import { candidateFacts, indexKeys, keyHash, organizationWords, preparePerson } from '@gray-loom/core/matching';
import { firstText, type ContactRecord } from '@gray-loom/core/model';
import { recordFrom, type Candidate } from '@gray-loom/core/writing';
import type { EntryRequest, LikelyMatch } from '@gray-loom/wire';
import { organizationRecordKey } from '../../book/contact-rows';
import { loadCatalogue } from '../../book/picks';
import type { Tx } from '../../db/connect';
import { likelyMatches } from './likely-matches';
import { refuse } from './refusals';
import { liveOrganization, newestModel } from './statements/already-here';

/** The look-up keys of all that somebody could be recognised by. */
export function keysToRecognise(candidate: Candidate, kind: EntryRequest['kind']): number[] {
  if (kind === 'organization') {
    const name = String(candidate.organization?.[0]?.v ?? '');
    return [keyHash(organizationRecordKey(organizationWords(name).join('')))];
  }
  return indexKeys(preparePerson(candidateFacts(candidate))).map((key) => keyHash(key));
}

/**
 * Refuses somebody who is certainly or likely here already and of whom whoever enters them was not told (`seen`). The transaction
 * has `keysToRecognise` under lock, so that of several who enter one person at one moment the first is taken and the others
 * are told.
 */
export async function refuseAlreadyHere(
  tx: Tx,
  candidate: Candidate,
  { kind, seen }: Pick<EntryRequest, 'kind' | 'seen'>,
): Promise<void> {
  const draft = recordFrom(candidate, await loadCatalogue(tx.db), { run: 0 });
  if (kind === 'organization') {
    const [key = 0] = keysToRecognise(candidate, kind);
    const { rows } = await liveOrganization(tx.client, String(key));
    const found = rows.filter(({ id }) => !seen.includes(id));
    if (found[0]) throw refuse.alreadyHere({ name: found[0].name, contactIds: found.map(({ id }) => id) });
    return;
  }
  const { rows } = await newestModel(tx.client);
  const matches = await likelyMatches({ pool: tx.client, db: tx.db }, rows[0]?.version ?? null, candidate);
  const found = matches.filter(
    (match) => !seen.includes(match.contactId) && (match.band !== 'possible' || saysTheSame(match, draft)),
  );
  if (found[0]) throw refuse.alreadyHere({ name: found[0].name, contactIds: found.map((one) => one.contactId) });
}

/** Whether all that is shown of somebody is what was typed. */
function saysTheSame({ name, email, tel }: LikelyMatch, draft: ContactRecord): boolean {
  return name === displayNameOf(draft) && email === firstText(draft, 'email') && tel === firstText(draft, 'tel');
}
