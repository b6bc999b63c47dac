import { lifecycleOf } from '@gray-loom/core/model';
import { type Tx } from '../db/connect';
import { Problem } from '../http/problem';
import { lockContacts } from './write-contacts';

export async function requireLive(tx: Tx, contactId: number) {
  const contact = (await lockContacts(tx, [contactId])).get(contactId);
  if (!contact) throw new Problem(404, 'noSuchContact', 'There is no such contact.');
  const lifecycle = lifecycleOf(contact.record);
  if (lifecycle?.state === 'merged')
    throw new Problem(
      409,
      'alreadyMerged',
      'This contact was merged into another one meanwhile. Open that one and make the change there.',
      { into: lifecycle.into },
    );
  if (lifecycle?.state === 'deleted')
    throw new Problem(
      409,
      'deleted',
      'This contact was deleted meanwhile. Bring it back first; what you typed is still in the field.',
    );
  return contact;
}
