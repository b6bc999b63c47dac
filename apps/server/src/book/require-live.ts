import { lifecycleOf } from '@gray-loom/core/model';
import { type Tx } from '../db/connect';
import { refuseContact } from './refusals';
import { lockContacts } from './write-contacts';

export async function requireLive(tx: Tx, contactId: number) {
  const contact = (await lockContacts(tx, [contactId])).get(contactId);
  if (!contact) throw refuseContact.noSuchContact();
  const lifecycle = lifecycleOf(contact.record);
  if (lifecycle?.state === 'merged') throw refuseContact.alreadyMerged({ into: lifecycle.into ?? null });
  if (lifecycle?.state === 'deleted') throw refuseContact.deleted();
  return contact;
}
