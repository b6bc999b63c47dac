import { type ComparedField } from '../comparing/levels';
import { comparePeople } from '../comparing/compare';
import type { MatchModel } from './model';
import type { MatchPerson } from '../people/person';
import { rulingOf, scoreComparison, weighEvidence, type Ruling } from './score';
import { contextOf } from '../people/names';

/** One reason for or against two records being one person, in words, with its weight. */
export interface Reason {
  field: ComparedField | 'prior' | 'rule';
  text: string;
  bits: number;
}

const both = (a: string, b: string) => (a === b ? a : `${a} / ${b}`);
const title = (text: string) => text.replace(/\b\p{L}/gu, (letter) => letter.toUpperCase());

/** What two lists have in common, behind a comma; nothing where that is not the very same. */
function shared(a: readonly string[], b: readonly string[]): string {
  const one = a.find((text) => b.includes(text));
  return one === undefined ? '' : `, ${one}`;
}

/** The same for mailboxes, as it is written: what it is known by has no dots. */
function sharedMailbox(a: MatchPerson, b: MatchPerson): string {
  const one = a.emails.find(({ key }) => b.emails.some((other) => other.key === key));
  return one ? `, ${one.local}@${one.domain}` : '';
}

/** Whether two words differ by two letters beside each other that changed places. */
function isSwap(a: string, b: string): boolean {
  if (a.length !== b.length || a === b) return false;
  const at = [...a].findIndex((letter, i) => letter !== b[i]);
  return a.slice(at, at + 2) === [...b.slice(at, at + 2)].reverse().join('') && a.slice(at + 2) === b.slice(at + 2);
}

/** A level of a field in words. */
export function wordsFor(
  field: ComparedField,
  level: string,
  a: MatchPerson,
  b: MatchPerson,
  swapped: boolean,
  bits: number,
): string {
  const given = both(title(a.given[0] ?? ''), title(b.given[0] ?? ''));
  const family = both(title(a.family.join(' ')), title(b.family.join(' ')));
  const rare = bits >= 9 ? ', rare' : '';
  switch (`${field}:${level}`) {
    case 'given:same':
      return swapped ? 'Given and family name stand in each other’s place' : `Same given name, ${given}${rare}`;
    case 'given:nickname':
      return `${given}: one is short for the other`;
    case 'given:initial':
      return `Given name agrees in its initial, ${given}`;
    case 'given:slip':
      return `Given names a slip apart, ${given}`;
    case 'given:similar':
      return isSwap(a.given[0] ?? '', b.given[0] ?? '')
        ? `Given names with two letters swapped, both in use here, ${given}`
        : `Given names look alike but are two names, ${given}`;
    case 'given:close':
      return `Given names that may be one written badly, ${given}`;
    case 'given:part':
      return `One given name among several agrees, ${given}`;
    case 'given:different':
      return `Different given names, ${given}`;
    case 'family:same':
      return swapped ? 'Family name agrees with the given name over there' : `Same family name, ${family}${rare}`;
    case 'family:slip':
      return `Family names a slip apart, ${family}`;
    case 'family:similar':
      return isSwap(a.familyText, b.familyText)
        ? `Family names with two letters swapped, both in use here, ${family}`
        : `Family names look alike but are two names, ${family}`;
    case 'family:close':
      return `Family names that may be one written badly, ${family}`;
    case 'family:part':
      return `Part of the family name agrees, ${family}`;
    case 'family:different':
      return `Different family names, ${family}`;
    case 'family:inferredSame':
      return `Family name fits what the e-mail tells, ${family}`;
    case 'family:inferredDifferent':
      return `Family name does not fit what the e-mail tells, ${family}`;
    case 'email:same':
      return `Same e-mail${sharedMailbox(a, b)}`;
    case 'email:sameShared':
      return 'Same e-mail, but several people use it';
    case 'email:near':
      return 'E-mails a slip apart';
    case 'email:close':
      return 'E-mails much alike';
    case 'email:sameLocal':
      return 'Same e-mail name at another provider';
    case 'email:different':
      return 'Different e-mails';
    case 'phone:same':
      return `Same phone${shared(a.phones, b.phones)}`;
    case 'phone:sameShared':
      return 'Same phone, but several people use it';
    case 'phone:slip':
      return 'Phones one digit apart';
    case 'phone:different':
      return 'Different phones';
    case 'bday:same':
      return 'Same birthday';
    case 'bday:swapped':
      return 'Birthdays with day and month swapped';
    case 'bday:slip':
      return 'Birthdays one digit apart';
    case 'bday:different':
      return 'Different birthdays';
    case 'place:same':
      return 'Same street address';
    case 'place:sameStreet':
      return 'Same street, town not given';
    case 'place:samePostal':
      return 'Same postal code';
    case 'place:sameTown':
      return a.street && b.street ? 'Same town, different street' : 'Same town; the street of one is not known';
    case 'place:different':
      return 'Different places';
    case 'organization:same':
      return 'Same organization';
    case 'organization:close':
      return 'Organization written differently';
    case 'organization:different':
      return 'Different organizations';
    case 'generation:same':
      return 'Same suffix, such as Jr';
    case 'generation:onlyOne':
      return 'Only one has a suffix such as Jr';
    case 'generation:different':
      return 'Different suffixes, such as Jr and Sr';
    default:
      throw new Error(`every level has its words: ${field} ${level}`);
  }
}

const RULES: Record<Ruling, string> = {
  otherGeneration: 'Jr and Sr are two people, whatever else agrees',
  otherBirthday: 'Two birthdays are two people, whatever else agrees',
  nameAlone: 'A name alone is never certain',
};

/** What agrees and yet speaks for nothing, since so many here have it, is said to; and what differs and yet speaks for a match. */
export function weighed(level: string, text: string, bits: number): string {
  if (level === 'different' && bits >= 0.2) return `${text}, as records of one person here often have`;
  return level.startsWith('same') && bits <= 0.2 ? `${text}; so many here have it that it says nothing` : text;
}

/** Why two people are, or are not, taken for one: the reasons by weight, then how unlikely a match is to begin with. */
export function explainPair(model: MatchModel, a: MatchPerson, b: MatchPerson): Reason[] {
  const comparison = comparePeople(a, b, contextOf(model));
  const reasons = weighEvidence(model, comparison).map((evidence): Reason => {
    const bits = Math.round(evidence.bits * 10) / 10;
    if (evidence.field === 'prior')
      return { field: 'prior', text: 'Starting odds, given how many here could be mistaken for each other', bits };
    return {
      field: evidence.field,
      text: weighed(evidence.level, wordsFor(evidence.field, evidence.level, a, b, comparison.swapped, bits), bits),
      bits,
    };
  });
  const told = reasons.reduce((sum, reason) => sum + reason.bits, 0);
  const ruled = rulingOf(model, comparison);
  const over = Math.round((scoreComparison(model, comparison) - told) * 10) / 10;
  if (ruled && over <= -0.2) reasons.push({ field: 'rule', text: RULES[ruled.ruling], bits: over });
  const last = ({ field }: Reason) => Number(field === 'prior') + 2 * Number(field === 'rule');
  return reasons.sort((x, y) => last(x) - last(y) || Math.abs(y.bits) - Math.abs(x.bits));
}
