import { floatColumn, intColumn } from '../comparing/columns';
import type { NameScript } from './romanised';

export const SCRIPTS: readonly NameScript[] = ['', 'han', 'abjad', 'other'];
/** Bits of `flags`: the script, and whether the family name was read out of an address. */
export const SCRIPT_BITS = 3;
/** Scripts by their number in `flags`: one whose sounds cannot be told, and those without vowels. */
export const [UNREADABLE, ABJAD] = [SCRIPTS.indexOf('han'), SCRIPTS.indexOf('abjad')];
export const INFERRED = 4;
/** Bits of `mail.about`: whether it is a role's; above them the length of the local part without separators. */
export const ROLE = 1;
export const LENGTH_BIT = 1;
/**
 * Bits of `phone.about`: length of the line, whether it is no plain row of up to fifteen digits, whether the country code is known,
 * and whether that is North America's; above them the length of the whole number.
 */
export const LINE_BITS = 15;
export const ODD = 16;
export const KNOWN = 32;
export const NORTH_AMERICA = 64;
export const WHOLE_BIT = 7;

/** One person's numbers: who share a text share its number. Lists of several (mailboxes, phones) go by where they start. */
export const makeColumns = () => ({
  given: intColumn(),
  family: intColumn(),
  flags: intColumn(),
  generation: intColumn(),
  organization: intColumn(),
  domains: intColumn(),
  street: floatColumn(),
  house: intColumn(),
  postal: intColumn(),
  locality: intColumn(),
  bday: intColumn(),
  /** A full date as the number yyyymmdd; 0 for anything else. */
  day: intColumn(),
  mailFrom: intColumn(),
  phoneFrom: intColumn(),
  mailKey: floatColumn(),
  mailDomain: intColumn(),
  mailPlain: floatColumn(),
  mailDigits: intColumn(),
  mailLetters: intColumn(),
  mailAbout: intColumn(),
  mailStem: intColumn(),
  phoneKey: floatColumn(),
  phoneLow: intColumn(),
  phoneHigh: intColumn(),
  phoneAbout: intColumn(),
});

export type Columns = ReturnType<typeof makeColumns>;
export type Arrays = { readonly [K in keyof Columns]: Columns[K]['items'] };
