import { lifecycleOf } from '@gray-loom/core/model';
import { type Tx } from '../db/connect';
import { refuseContact } from './refusals';
import { lockContacts } from './write-contacts';

/** A contact under lock, whether it is live or not. */
export async function requireContact(tx: Tx, contactId: number) {
  const contact = (await lockContacts(tx, [contactId])).get(contactId);
  if (!contact) throw refuseContact.noSuchContact();
  return contact;
}

export async function requireLive(tx: Tx, contactId: number) {
  const contact = await requireContact(tx, contactId);
  const lifecycle = lifecycleOf(contact.record);
  if (lifecycle?.state === 'merged') throw refuseContact.alreadyMerged({ into: lifecycle.into ?? null });
  if (lifecycle?.state === 'erased') throw refuseContact.erased();
  if (lifecycle?.state === 'deleted') throw refuseContact.deleted();
  return contact;
}
