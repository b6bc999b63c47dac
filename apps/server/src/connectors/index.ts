import { findAddressBook } from './address-book/find-book';
import { AddressBookTool } from './address-book/tool';
import type { Connector } from './connector';
import { GuardedRequester } from './guarded-request';

/** The connectors there are, with the origins inside that they may ask: those of stand-ins. */
export function connectorsFor(inside: readonly string[]): Record<Connector['kind'], Connector> {
  const requester = new GuardedRequester(inside);
  return {
    addressBook: {
      kind: 'addressBook',
      name: 'Address book (CardDAV)',
      find: (address, credentials) => findAddressBook(requester, address, credentials),
      open: (address, credentials) => new AddressBookTool(requester, address, credentials),
    },
  };
}
