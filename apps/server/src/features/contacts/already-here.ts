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
import { liveOrganization, lockKeys, newestModel } from './statements/already-here';

/**
 * Refuses somebody who is certainly or likely here already and of whom whoever enters them was not told (`seen`). It is looked for
 * under a lock on all that they could be recognised by, so that of several who enter one person at one moment the first is
 * taken and the others are told.
 */
export async function refuseAlreadyHere(
  tx: Tx,
  candidate: Candidate,
  { kind, seen }: Pick<EntryRequest, 'kind' | 'seen'>,
): Promise<void> {
  const draft = recordFrom(candidate, await loadCatalogue(tx.db), { run: 0 });
  if (kind === 'organization') {
    const name = firstText(draft, 'organization');
    const key = String(keyHash(organizationRecordKey(organizationWords(name).join(''))));
    await lockKeys(tx.client, [key]);
    const { rows } = await liveOrganization(tx.client, key);
    const found = rows.filter(({ id }) => !seen.includes(id));
    if (found[0]) throw refuse.alreadyHere({ name: found[0].name, contactIds: found.map(({ id }) => id) });
    return;
  }
  await lockKeys(
    tx.client,
    indexKeys(preparePerson(candidateFacts(candidate))).map((key) => String(keyHash(key))),
  );
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
