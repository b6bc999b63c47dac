import { nicknamesOf } from '../../fields';
import type { LevelName, MatchContext } from './levels';
import type { MatchPerson } from '../people/person';
import type { MailboxFacts } from '../people/person-facts';
import { editDistance, isSlip } from './text-distance';

/** The ways a mailbox is made of a name, without separators and digits. */
function isMadeOf(stem: string, given: string, family: string): boolean {
  const g = given[0] ?? '';
  const f = family[0] ?? '';
  return (
    stem === given + family ||
    stem === family + given ||
    stem === g + family ||
    stem === family + g ||
    stem === given + f ||
    stem === f + given
  );
}

/** Whether a mailbox is made of a name, so that a namesake could well have the like elsewhere: it holds the name, or a part of it. */
export function isOfName(box: MailboxFacts, person: MatchPerson, context: MatchContext): boolean {
  if (person.script !== '') return true;
  const { givenText, familyWhole: family, familyText } = person;
  if (isMadeOf(box.stem, givenText, family)) return true;
  const first = person.given[0] ?? '';
  const holds = (part: string) => part.length >= 3 && box.stem.includes(part);
  return (
    holds(familyText) ||
    holds(first) ||
    // A name has several ways of writing.
    holds(first.slice(0, 4)) ||
    holds(familyText.slice(0, 4)) ||
    (box.stem[0] === first[0] && context.isFamilyName(box.stem.slice(1))) ||
    nicknamesOf(first).some(holds) ||
    (family !== '' && (isSlip(first + family, box.stem) || isSlip((first[0] ?? '') + family, box.stem)))
  );
}

/** What of a mailbox is left once the given name or its initial is taken off. */
function familyOf(stem: string, { givenText }: MatchPerson): string {
  if (givenText.length > 1 && stem.startsWith(givenText)) return stem.slice(givenText.length);
  if (givenText.length > 1 && stem.endsWith(givenText)) return stem.slice(0, -givenText.length);
  return stem[0] === givenText[0] ? stem.slice(1) : '';
}

/** Two mailboxes that are each made of their own person's name, and the names differ: no slip, two addresses. */
function isEachTheirOwn(
  a: MailboxFacts,
  b: MailboxFacts,
  x: MatchPerson,
  y: MatchPerson,
  context: MatchContext,
): boolean {
  if (context.areTwoFamilies(familyOf(a.stem, x), familyOf(b.stem, y))) return true;
  return (
    a.stem !== b.stem &&
    !x.familyInferred &&
    !y.familyInferred &&
    (isMadeOf(a.stem, x.givenText, x.familyWhole) || isMadeOf(a.stem, x.given[0] ?? '', x.familyWhole)) &&
    (isMadeOf(b.stem, y.givenText, y.familyWhole) || isMadeOf(b.stem, y.given[0] ?? '', y.familyWhole))
  );
}

/** Whether two addresses differ in their first or last letter alone. */
function hasOtherEnd(a: string, b: string): boolean {
  return a.length === b.length && (a.slice(1) === b.slice(1) || a.slice(0, -1) === b.slice(0, -1));
}

/** How two mailboxes agree. */
function oneEmail(
  a: MailboxFacts,
  b: MailboxFacts,
  x: MatchPerson,
  y: MatchPerson,
  context: MatchContext,
): LevelName<'email'> {
  if (a.key === b.key) return a.role || context.isShared(a.key) ? 'sameShared' : 'same';
  return twoEmails(a, b, x, y, context, () => isOfName(a, x, context) || isOfName(b, y, context));
}

/** How two mailboxes agree that are not one. `isEitherOfName` tells whether one of them is made of a name. */
export function twoEmails(
  a: MailboxFacts,
  b: MailboxFacts,
  x: MatchPerson,
  y: MatchPerson,
  context: MatchContext,
  isEitherOfName: () => boolean,
): LevelName<'email'> {
  // Mailboxes of one name differ in their digits, so a slip counts only where those agree.
  if (a.role || b.role || a.digits !== b.digits) return 'different';
  const localA = a.plain;
  const localB = b.plain;
  if (localA === localB && localA.length >= 4) {
    if (doHostsAgree(a.domain, b.domain)) return 'near';
    // A namesake may well have the same name at another provider: that is no evidence either way.
    if (!isEitherOfName()) return 'sameLocal';
    return a.digits.length >= 3 ? 'sameLocal' : a.digits === '' ? 'absent' : 'close';
  }
  const shorter = Math.min(localA.length, localB.length);
  if (shorter < 6) return 'different';
  // What most pairs of strangers differ in comes first.
  const limit = shorter >= 8 ? 2 : 1;
  const distance = editDistance(localA, localB, limit);
  if (distance > limit || !doHostsAgree(a.domain, b.domain) || isEachTheirOwn(a, b, x, y, context)) return 'different';
  // Where initials stand in addresses made of names, another letter is another name.
  if (hasOtherEnd(a.stem, b.stem) && isEitherOfName()) return 'different';
  return distance === 1 && a.domain === b.domain ? 'near' : 'close';
}

/** Whether two domains could be one. */
export function doHostsAgree(a: string, b: string): boolean {
  return a === b || hostOf(a) === hostOf(b) || editDistance(a, b, 2) <= 2;
}

function hostOf(domain: string): string {
  return domain.slice(0, domain.lastIndexOf('.'));
}

/** Which of several agreements counts. */
export const EMAIL_RANK: Record<string, number> = {
  same: 7,
  near: 6,
  sameLocal: 5,
  close: 4,
  sameShared: 3,
  absent: 2,
  different: 1,
};

export function compareEmail(a: MatchPerson, b: MatchPerson, context: MatchContext): LevelName<'email'> {
  if (!a.emails.length || !b.emails.length) return 'absent';
  let best: LevelName<'email'> = 'different';
  for (const x of a.emails) {
    for (const y of b.emails) {
      const found = oneEmail(x, y, a, b, context);
      if (found === 'different') continue;
      if ((EMAIL_RANK[found] ?? 0) > (EMAIL_RANK[best] ?? 0)) best = found;
    }
  }
  return best;
}
