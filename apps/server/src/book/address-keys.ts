import { parsePhone } from '@gray-loom/core/fields';
import { keyHash, phoneBlock, preparePerson } from '@gray-loom/core/matching';
import type { Channel } from '@gray-loom/core/writing';

const BY_MAIL: readonly Channel[] = ['email'];
const BY_PHONE: readonly Channel[] = ['text', 'call', 'voicemail'];

/** What evidence about an address is kept under, and the channels that it is written to or called by. */
export interface AddressKey {
  key: number;
  channels: readonly Channel[];
}

export function mailboxKeyOf(mailbox: string): AddressKey | null {
  const box = preparePerson({ emails: [mailbox] }).emails[0];
  return box ? { key: keyHash(`e:${box.key}`), channels: BY_MAIL } : null;
}

/** @param norm the number in its normal form (core: parsePhone), or as it is written with its country */
export function numberKeyOf(norm: string): AddressKey | null {
  const phone = preparePerson({ phones: [norm] }).phones[0];
  return phone ? { key: keyHash(`p:${phoneBlock(phone)}`), channels: BY_PHONE } : null;
}

/** A number in its normal form without an extension, which says nothing of whose line it is; '' where it cannot be read. */
export const lineOf = (norm: string | null | undefined): string => (norm ?? '').replace(/(;ext=| ext).*$/, '');

/** What somebody typed: a mailbox or a number; null where it is neither. `country` is the one that national numbers are read in. */
export function typedAddress(text: string, country: string): AddressKey | null {
  if (text.includes('@')) return mailboxKeyOf(text);
  const { norm, valid } = parsePhone(text, country);
  return norm && valid ? numberKeyOf(lineOf(norm)) : null;
}
