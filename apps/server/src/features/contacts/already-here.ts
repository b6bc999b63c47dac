import { displayNameOf } from '@gray-loom/core/fields';
import { candidateFacts, indexKeys, keyHash, organizationWords, preparePerson } from '@gray-loom/core/matching';
import { firstText, type ContactRecord } from '@gray-loom/core/model';
import { recordFrom, type Candidate } from '@gray-loom/core/writing';
import type { EntryRequest, LikelyMatch } from '@gray-loom/wire';
import { organizationRecordKey } from '../../book/contact-rows';
import { loadCatalogue } from '../../book/picks';
import { partedBySight } from '../../book/seen';
import { everybodyIn, wholeBook, type Tx } from '../../db/connect';
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
    const { rows } = await liveOrganization(everybodyIn(tx).pool, String(key));
    return refuseFound(
      tx,
      rows.filter(({ id }) => !seen.includes(id)),
    );
  }
  const { rows } = await newestModel(tx.client);
  const matches = await likelyMatches(everybodyIn(tx), rows[0]?.version ?? null, candidate);
  const found = matches.filter(
    (match) => !seen.includes(match.contactId) && (match.band !== 'possible' || saysTheSame(match, draft)),
  );
  await refuseFound(
    tx,
    found.map(({ contactId, name }) => ({ id: contactId, name })),
  );
}

/** Says who is here already; of those outside a remit, that there are some. */
async function refuseFound(tx: Tx, found: readonly { id: number; name: string }[]): Promise<void> {
  const { seen, others } = await partedBySight(wholeBook(tx), found, ({ id }) => id);
  if (seen[0]) throw refuse.alreadyHere({ name: seen[0].name, contactIds: seen.map(({ id }) => id) });
  if (others.length) throw refuse.alreadyElsewhere({ count: others.length });
}

/** Whether all that is shown of somebody is what was typed. */
function saysTheSame({ name, email, tel }: LikelyMatch, draft: ContactRecord): boolean {
  return name === displayNameOf(draft) && email === firstText(draft, 'email') && tel === firstText(draft, 'tel');
}
