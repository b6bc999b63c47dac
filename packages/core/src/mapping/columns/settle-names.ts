import { foldText } from '../../fields';
import { ofFamily, readHeader, type HeaderReading } from '../../formats';
import { NONE, wholeNamesAmong, type Opinion } from './column-opinion';
import type { ColumnProfile } from './column-values';

/** Two columns that are one field together, the second behind the first. */
export interface Joined {
  first: number;
  second: number;
  field: string;
}

/** Two family names side by side, as people have them in Spanish, or two columns of titles; null where there are no two. */
export function secondOf(field: string, opinions: readonly Opinion[]): Joined | null {
  const first = opinions.findIndex(({ target }) => target === field);
  const isSecond = first >= 0 && opinions[first + 1]?.target === field;
  // The first is the surer or as sure, so that it stays.
  const isKept = (opinions[first]?.certainty01 ?? 0) >= (opinions[first + 1]?.certainty01 ?? 0);
  return isSecond && isKept ? { first, second: first + 1, field } : null;
}

/** The small words of family names in a column of their own: with the family name behind them they are it. */
export function familyPrefix(opinions: Opinion[]): Joined | null {
  const first = opinions.findIndex(({ target }) => target === 'familyPrefix');
  const second = opinions.findIndex(({ target }) => target === 'familyName');
  if (first < 0) return null;
  opinions[first] = opinions[second] ?? NONE;
  if (second < 0) return null;
  opinions[second] = NONE;
  return { first, second, field: 'familyName' };
}

/** Share of names with a family name below a heading of given names, and the other way round, from which on they are whole ones. */
const LONE_WHOLE01 = 0.6;
const LONE_GIVEN01 = 0.5;

/** Given or family names without the others beside them are whole names where they look so: in some languages one word is both. */
function settleLoneNames(opinions: Opinion[], profiles: readonly ColumnProfile[]): void {
  const names = ['givenName', 'familyName', 'fullName'];
  const found = opinions.flatMap(({ target }, i) => (target !== null && names.includes(target) ? [i] : []));
  const [only = -1] = found;
  const p = profiles[only];
  if (found.length !== 1 || !p) return;
  const { target, certainty01 } = opinions[only] ?? NONE;
  const isWhole = target === 'givenName' ? p.wholeName01 >= LONE_WHOLE01 : p.anyGivenName01 >= LONE_GIVEN01;
  if (target !== 'fullName' && isWhole)
    opinions[only] = { target: 'fullName', certainty01: Math.min(certainty01, 0.85) };
}

/** Where no heading says who somebody is, what they are called stands in for it, or the column that looks like names. */
export function settleNames(
  readings: readonly HeaderReading[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): void {
  const has = (...targets: string[]) => opinions.some(({ target }) => target !== null && targets.includes(target));
  settleLoneNames(opinions, profiles);
  if (has('fullName', 'givenName')) return;
  const called = opinions.findIndex(({ target }) => target === 'nickname');
  if (called >= 0 && has('familyName')) opinions[called] = { target: 'givenName', certainty01: 0.75 };
  if (has('familyName')) return;
  // Of somebody who looks after people, few stand there again and again; after firms it may be another each time.
  const owner = opinions.findIndex(({ target }) => target === 'owner');
  const ofOwner = profiles[owner];
  if (ofOwner && !has('organization') && ofOwner.filled > 2 && ofOwner.distinct >= 0.8 * ofOwner.filled)
    opinions[owner] = { target: 'fullName', certainty01: 0.6 };
  if (has('fullName')) return;
  const isFree = (i: number) => !opinions[i]?.target && !readings[i]?.ofOthers && !readings[i]?.isAbout;
  const whole = wholeNamesAmong(profiles, isFree);
  if (whole >= 0) opinions[whole] = { target: 'fullName', certainty01: 0.6 };
}

const NAMES: ReadonlySet<string | null> = new Set(['fullName', 'givenName', 'familyName']);

/**
 * Headings as those of the person: where no name is the person's own, those of the first of a family who has a mailbox are
 * taken, or of the first who has a name where the mailbox stands alone. In a list of children that is the parent, who can be
 * written to.
 */
export function asOwn(headers: readonly (string | null)[]): (string | null)[] {
  const read = headers.map((header) => {
    const other = header ? ofFamily(header) : null;
    return { header, other, target: other ? readHeader(other.rest).target : readHeader(header ?? '').target };
  });
  if (read.some(({ other, target }) => !other && NAMES.has(target))) return [...headers];
  const first = (isIt: (target: string | null) => boolean) =>
    read.find(({ other, target }) => other && isIt(target))?.other?.who;
  const ofMailbox = read.some(({ other, target }) => !other && target === 'email')
    ? undefined
    : first((target) => target === 'email');
  const own = ofMailbox ?? first((target) => NAMES.has(target));
  return read.map(({ header, other }) => (own !== undefined && other?.who === own ? other.rest : header));
}

/** Share of rows in which a name holds the family name that stands beside it, from which on it is a whole one. */
const WHOLE_FROM01 = 0.3;

/** Whether a name holds a family name; where names are written without blanks it stands in front. */
function holdsName(name: string, family: string): boolean {
  if (/^\s*[\p{Script=Han}\p{Script=Hangul}]/u.test(family)) return name.trim().startsWith(family.trim());
  return foldText(name).includes(foldText(family));
}

/** The column of a "name" that is the given name, since the family name stands in a column of its own ("Name, Surname"). */
export function givenBesideFamily(opinions: readonly Opinion[], rows: readonly (readonly string[])[]): number | null {
  if (opinions.some(({ target }) => target === 'givenName')) return null;
  const name = opinions.findIndex(({ target }) => target === 'fullName');
  const family = opinions.findIndex(({ target }) => target === 'familyName');
  if (name < 0 || family < 0) return null;
  const both = rows.filter((cells) => cells[name]?.trim() && cells[family]?.trim());
  const whole = both.filter((cells) => holdsName(cells[name] ?? '', cells[family] ?? ''));
  return both.length && whole.length < WHOLE_FROM01 * both.length ? name : null;
}

/** What each of several people of a row may have; an address in two lines is one. */
const EACH_HAS: ReadonlySet<string | null> = new Set(
  'fullName givenName familyName prefix suffix nickname email tel bday title url'.split(' '),
);
const SECOND_WHOLE01 = 0.5;

/**
 * Whether a column is about a second person of the row ("Name 2", "Email 2"): one who is numbered and has a whole name of his own.
 * A second family name or a second line of a firm's name is none.
 */
export function ofSecondPeople(
  readings: readonly HeaderReading[],
  profiles: readonly ColumnProfile[],
): (column: number) => boolean {
  const numbersOf = (field: string) =>
    new Set(readings.flatMap(({ target, ordinal }) => (target === field && (ordinal ?? 0) > 1 ? [ordinal] : [])));
  const families = numbersOf('familyName');
  const people = new Set([...numbersOf('givenName')].filter((ordinal) => families.has(ordinal)));
  readings.forEach(({ target, ordinal }, i) => {
    if (target === 'fullName' && (ordinal ?? 0) > 1 && (profiles[i]?.wholeName01 ?? 0) >= SECOND_WHOLE01)
      people.add(ordinal);
  });
  return (column) => {
    const { target, ordinal } = readings[column] ?? { target: null, ordinal: null };
    return ordinal !== null && people.has(ordinal) && EACH_HAS.has(target);
  };
}

/** Parts that people play in a row that has several: who bought and who comes, who sent and who got. */
const ROLES = new RegExp(
  String.raw`^(?:buyer|purchaser|payer|payor|booker|attendee|guest|participant|passenger|recipient|receiver` +
    String.raw`|sender|billing|invoice|shipping|delivery|registrant|applicant|donor|honou?ree|student|pupil|teacher` +
    String.raw`|coach|tenant|landlord|patient|employee|manager|supervisor|requester|submitter)$`,
);
/** Of those, who looks after others and stands in many rows: never the person beside whom it is about. */
const STAFF: ReadonlySet<string> = new Set(['teacher', 'coach', 'manager', 'supervisor']);
const GIVEN_OR_WHOLE: ReadonlySet<string | null> = new Set(['givenName', 'fullName']);

/** A heading that begins with somebody's part, and what it is without it. */
function ofRole(header: string): { who: string; rest: string } | null {
  const spaced = header
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/_/g, ' ')
    .trim();
  const [first = '', ...rest] = spaced.split(/[\s:./-]+/);
  const who = foldText(first).replace(/s$/, '');
  return rest.length && ROLES.test(who) ? { who, rest: rest.join(' ') } : null;
}

/**
 * Headings of a table whose rows have several people in different parts ("Buyer first name", "Attendee first name"): whose is no
 * one else's becomes the person's, the first who has a mailbox or else the first; the others' are null. As they are where there is
 * at most one such, or where somebody has a name without a part.
 */
export function byRole(headers: readonly (string | null)[]): (string | null)[] {
  const read = headers.map((header) => {
    const role = header ? ofRole(header) : null;
    return { header, role, target: readHeader(role ? role.rest : (header ?? '')).target };
  });
  const named = read.filter(({ role, target }) => role && GIVEN_OR_WHOLE.has(target));
  const people = new Set(named.map(({ role }) => role?.who));
  if (people.size < 2 || read.some(({ role, target }) => !role && NAMES.has(target))) return [...headers];
  const isOwn = (who: string) => people.has(who) && !STAFF.has(who);
  const withMailbox = read.find(({ role, target }) => role && isOwn(role.who) && target === 'email');
  const own = (withMailbox ?? named.find(({ role }) => role && isOwn(role.who)) ?? named[0])?.role?.who;
  return read.map(({ header, role }) =>
    !role || !people.has(role.who) ? header : role.who === own ? role.rest : null,
  );
}
