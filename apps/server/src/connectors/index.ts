import type { ConnectorKind } from '@gray-loom/wire';
import { findAddressBook } from './address-book/find-book';
import { AddressBookTool } from './address-book/tool';
import { findDialer } from './dialer/find-dialer';
import { readDialerCall } from './dialer/hook';
import { DialerTool } from './dialer/tool';
import { findMailer } from './mailer/find-mailer';
import { MailerTool } from './mailer/tool';
import type { Connector, Settings } from './connector';
import { GuardedRequester } from './guarded-request';

const signIn = ({ user = '', password = '' }: Settings) => ({ user, password });

const clientOf = ({ client = '', secret = '' }: Settings) => ({ id: client, secret });

/** The connectors there are, with the origins inside that they may ask: those of stand-ins. */
export function connectorsFor(inside: readonly string[]): Record<ConnectorKind, Connector> {
  const requester = new GuardedRequester(inside);
  return {
    addressBook: {
      kind: 'addressBook',
      name: 'Address book (CardDAV)',
      intro: 'Any address book that speaks CardDAV.',
      settings: [
        { key: 'address', label: 'Address of its server', kind: 'address', placeholder: 'https://' },
        { key: 'user', label: 'Name you sign in with there', kind: 'text', placeholder: '' },
        { key: 'password', label: 'Password or key', kind: 'secret', placeholder: '' },
      ],
      find: (settings) => findAddressBook(requester, settings.address ?? '', signIn(settings)),
      open: (place, settings) => new AddressBookTool(requester, place, signIn(settings)),
    },
    dialer: {
      kind: 'dialer',
      name: 'Dialer',
      intro:
        'A dialer that speaks JSON over HTTP: people, their phones and who wants no calls; calling lists as labels.',
      settings: [
        { key: 'address', label: 'Address of its interface', kind: 'address', placeholder: 'https://' },
        { key: 'key', label: 'Key', kind: 'secret', placeholder: '' },
      ],
      find: ({ address = '', key = '' }) => findDialer(requester, address, key),
      open: (place, { key = '' }, options) => new DialerTool(requester, place, key, options),
      readCall: readDialerCall,
    },
    mailer: {
      kind: 'mailer',
      name: 'Mailer',
      intro:
        'A mailer that speaks JSON over HTTP: one entry for each address, lists with strands, and what became of mailings.',
      settings: [
        { key: 'address', label: 'Address of its interface', kind: 'address', placeholder: 'https://' },
        { key: 'client', label: 'Name of the client', kind: 'text', placeholder: '' },
        { key: 'secret', label: 'Secret of the client', kind: 'secret', placeholder: '' },
      ],
      find: (settings) => findMailer(requester, settings.address ?? '', clientOf(settings)),
      open: (place, settings, options) => new MailerTool(requester, place, clientOf(settings), options),
    },
  };
}
