import { isKnownGivenName, PARTICLES } from '../../fields';
import { isNicknameSlip, isShortForm } from '../people/given-forms';
import { isFamilyReading, isPinyin, originOf } from '../people/han-names';
import { TURNS, type LevelName, type MatchContext, type NameCard, type Turn } from './levels';
import { commonConsonants, leniently, skeleton } from '../people/romanised';
import { editDistance, isClose, isSlip } from './text-distance';

function oneGiven(a: string, b: string, context: MatchContext): LevelName<'given'> {
  if (a === b) return 'same';
  if (a.length === 1 || b.length === 1) return a[0] === b[0] ? 'initial' : 'different';
  // Louis and Louise, Nicola and Nicole: a letter apart, but each a name of its own.
  const slip = isSlip(a, b);
  const nicknames = context.areNicknames(a, b);
  if (slip && context.areTwoNames(a, b) && (!nicknames || (context.areFormal(a, b) && editDistance(a, b, 1) <= 1)))
    return 'similar';
  if (nicknames) return 'nickname';
  const [short, long] = a.length < b.length || (a.length === b.length && a < b) ? [a, b] : [b, a];
  if (slip) return isHerForm(short, long) ? 'similar' : 'slip';
  if (short.length >= 3 && long.startsWith(short)) return context.areTwoNames(a, b) ? 'similar' : 'nickname';
  if (context.areTwoNames(a, b)) return 'different';
  if (isShortForm(short, long)) return 'nickname';
  if (isClose(a, b) || isNicknameSlip(a, b) || isNicknameSlip(b, a) || haveOneSkeleton(a, b) || soundAlike(a, b))
    return 'close';
  // Each a slip, of one name or of two forms of one.
  const [x, y] = [context.nearestGiven(a), context.nearestGiven(b)];
  return (x !== a || y !== b) && (x === y || context.areNicknames(x, y)) ? 'close' : 'different';
}

/** Whether one name is how the other is called of a woman: Martin and Martina. */
const isHerForm = (his: string, hers: string) => hers === `${his}a` && /[^aeiouy]$/.test(his) && his.length > 2;

/** Whether two words are ways of writing the same sounds: Zhou and Jou, Ivanov and Ivanoff. */
function soundAlike(a: string, b: string): boolean {
  const sounds = leniently(a);
  return sounds.length > 2 && sounds === leniently(b);
}

/** Whether two words differ in their vowels alone. */
function haveOneSkeleton(a: string, b: string): boolean {
  if (a[0] !== b[0]) return false;
  const bones = skeleton(a);
  return bones.length > 2 && bones === skeleton(b);
}

/** How much a level of names says, in rough bits; only to choose between two ways of reading a pair. */
const NAME_WORTH: Record<string, number> = {
  same: 6,
  nickname: 4,
  slip: 4,
  close: 2,
  part: 3,
  initial: 1,
  similar: 0,
  inferredSame: 2,
  absent: 0,
  inferredDifferent: -3,
  different: -5,
};
/** The same of a level by its name; 0 for one it does not name. */
export const worth = (level: string) => NAME_WORTH[level] ?? 0;

export function compareGiven(a: NameCard, b: NameCard, context: MatchContext): LevelName<'given'> {
  const x = a.given[0];
  const y = b.given[0];
  if (!x || !y) return 'absent';
  const first = oneGiven(x, y, context);
  if (first === 'same' || first === 'nickname' || first === 'slip') return first;
  if (a.nickname && a.nickname === y) return 'nickname';
  if (b.nickname && b.nickname === x) return 'nickname';
  if (x.length > 1 && y.length > 1) {
    const joinedA = a.givenText;
    const joinedB = b.givenText;
    if (joinedA === joinedB) return 'same';
    if (first === 'different' && isSlip(joinedA, joinedB)) return 'slip';
    if (
      a.given.slice(1).some((word) => word.length > 2 && word === y) ||
      b.given.slice(1).some((word) => word.length > 2 && word === x)
    )
      return 'part';
  }
  return first;
}

function oneFamily(a: string[], b: string[], textA: string, textB: string, context: MatchContext): LevelName<'family'> {
  if (textA === textB) return 'same';
  if (a.length > 1 || b.length > 1) {
    if (a.some((word) => word.length > 2 && b.includes(word))) return 'part';
    if (a.some((word) => b.some((other) => isSlip(word, other) && !context.areTwoFamilies(word, other)))) return 'part';
  }
  // Schmidt and Schmitt, Hansen and Jansen: a letter apart, but each a name of its own.
  if (isSlip(textA, textB)) return context.areTwoFamilies(textA, textB) ? 'similar' : 'slip';
  if (textA.length === 1 || textB.length === 1) return textA[0] === textB[0] ? 'part' : 'different';
  const [short, long] = textA.length < textB.length ? [textA, textB] : [textB, textA];
  // Cut off by a field that was too short, or with a particle run into it.
  if (short.length >= 4 && (long.startsWith(short) || long.endsWith(short))) return 'close';
  if (context.areTwoFamilies(textA, textB)) return 'different';
  return isClose(textA, textB) ||
    haveOneSkeleton(textA, textB) ||
    soundAlike(textA, textB) ||
    context.nearestFamily(textA) === context.nearestFamily(textB)
    ? 'close'
    : 'different';
}

export function compareFamily(a: NameCard, b: NameCard, context: MatchContext): LevelName<'family'> {
  if (!a.family.length || !b.family.length) return 'absent';
  const found = oneFamily(a.family, b.family, a.familyText, b.familyText, context);
  if (!a.familyInferred && !b.familyInferred) return found;
  if (found === 'different')
    return a.familyText.endsWith(b.familyText) || b.familyText.endsWith(a.familyText)
      ? 'inferredSame'
      : 'inferredDifferent';
  return 'inferredSame';
}

const NEARLY: ReadonlySet<string> = new Set(['absent', 'same', 'slip', 'nickname', 'part']);

/** How a name and the same name from another script agree; null where they do not. */
function inTwoScripts(a: string, b: string, bare: boolean): 'slip' | 'close' | null {
  if (!a || !b) return null;
  if (bare) {
    const common = commonConsonants(a, b);
    if (common > 2) return 'slip';
    if (common > 1 || skeleton(a) === skeleton(b)) return 'close';
    return isSlip(skeleton(a), skeleton(b)) ? 'close' : null;
  }
  const [x, y] = [leniently(a), leniently(b)];
  if (x === y) return x.length > 2 ? 'slip' : 'close';
  return isSlip(x, y) ? 'close' : null;
}

/** One name in two scripts is seldom written back letter for letter: without vowels where one of the scripts has none. */
const isBare = (a: NameCard, b: NameCard) => a.script === 'abjad' || b.script === 'abjad';

/** How given names in two scripts agree that compare straight as said. */
export function givenInScripts(a: NameCard, b: NameCard, straight: LevelName<'given'>): LevelName<'given'> {
  return NEARLY.has(straight) ? straight : (inTwoScripts(a.given[0] ?? '', b.given[0] ?? '', isBare(a, b)) ?? straight);
}

/** The same of family names. */
export function familyInScripts(a: NameCard, b: NameCard, straight: LevelName<'family'>): LevelName<'family'> {
  return NEARLY.has(straight) ? straight : (inTwoScripts(a.familyText, b.familyText, isBare(a, b)) ?? straight);
}

/** Whether a person's given and family name stand in each other's place. */
export const isTurned = (card: NameCard, context: MatchContext) =>
  card.given.length === 1 &&
  card.family.length === 1 &&
  !card.familyInferred &&
  context.isTurned(card.givenText, card.familyText);

const turned = (card: NameCard): NameCard => ({
  nickname: card.nickname,
  unreadable: card.unreadable,
  script: card.script,
  familyInferred: card.familyInferred,
  given: card.family,
  givenText: card.familyText,
  family: card.given,
  familyText: card.givenText,
});

/**
 * A name in Han signs and one in another script. Where the signs as Mandarin reads them do not agree with it, that tells only
 * when it can be no Japanese name, whose reading the signs do not tell.
 */
function inHan(a: NameCard, b: NameCard, context: MatchContext): ComparedNames {
  const [han, read] = a.unreadable ? [a, b] : [b, a];
  const given = givenInScripts(a, b, compareGiven(a, b, context));
  const family = isFamilyReading(han.familyText, read.familyText)
    ? 'same'
    : familyInScripts(a, b, compareFamily(a, b, context));
  const found = crossNames(a, b, given, family, context);
  if (found.turn !== TURNS.none) return found;
  const [x = ''] = read.given;
  if (AGREE.has(family)) {
    // Many who have a Chinese name have taken another given name beside it.
    const isTaken = x.length > 1 && (!isPinyin(x) || isKnownGivenName(x));
    return { given: !AGREE.has(given) && isTaken ? 'absent' : given, family, turn: found.turn };
  }
  const origin = originOf(read.given, read.family);
  if (origin.chinese) return found;
  return {
    given: AGREE.has(given) || origin.given ? given : 'absent',
    family: origin.family ? family : 'absent',
    turn: found.turn,
  };
}

const AGREE: ReadonlySet<string> = new Set(['same', 'slip', 'close', 'part', 'inferredSame']);

/** How the names of two people compare, and which with which. */
interface ComparedNames {
  given: LevelName<'given'>;
  family: LevelName<'family'>;
  turn: Turn;
}

/**
 * Names are also tried in each other's place, and taken so when that agrees clearly better than the straight reading.
 */
export function compareNames(a: NameCard, b: NameCard, context: MatchContext): ComparedNames {
  if (a.unreadable !== b.unreadable) return inHan(a, b, context);
  // Two records with both names turned agree in their family names, and that is not a given name.
  const bothTurned = isTurned(a, context) && isTurned(b, context);
  if (bothTurned)
    return {
      given: compareGiven(turned(a), turned(b), context),
      family: compareFamily(turned(a), turned(b), context),
      turn: TURNS.both,
    };
  let given = compareGiven(a, b, context);
  let family = compareFamily(a, b, context);
  if (a.script !== b.script) {
    given = givenInScripts(a, b, given);
    family = familyInScripts(a, b, family);
  }
  return crossNames(a, b, given, family, context);
}

/** Names of two people as they compare straight, or in each other's place where that agrees clearly better. */
export function crossNames(
  a: NameCard,
  b: NameCard,
  given: LevelName<'given'>,
  family: LevelName<'family'>,
  context: MatchContext,
): ComparedNames {
  const straight = worth(given) + worth(family);
  if (straight > 0 || !a.given.length || !b.given.length) return { given, family, turn: TURNS.none };
  // One of the two has to agree well, which is told fast; most pairs of strangers end here.
  if (!mayCross(a, b) && !mayCross(b, a)) return { given, family, turn: TURNS.none };
  const crossA = a.family.length && !a.familyInferred ? crossed(a.family, b.given, context) : 'absent';
  const crossB = b.family.length && !b.familyInferred ? crossed(b.family, a.given, context) : 'absent';
  const across = worth(crossA) + worth(crossB);
  if (across < 3 || across < straight + 4) return { given, family, turn: TURNS.none };
  const difference = worth(crossA) - worth(crossB);
  // Of two that agree alike, the one whose names come first stands for the given name, whichever record is asked first.
  const isFirst = difference !== 0 ? difference > 0 : crossText(a, b) <= crossText(b, a);
  return isFirst
    ? { given: crossA, family: crossB, turn: TURNS.first }
    : { given: crossB, family: crossA, turn: TURNS.second };
}

/** One's family name and the other's given name, in an order that does not depend on who is who. */
const crossText = (a: NameCard, b: NameCard) => [a.familyText, b.given[0] ?? ''].sort().join(' ');

/** Whether one's family name could stand among the other's given names. */
export function mayCross({ family, familyText }: NameCard, { given, givenText }: NameCard): boolean {
  if (familyText === givenText || isSlip(familyText, givenText)) return true;
  for (const word of family)
    for (const other of given)
      if (word === other || isSlip(word, other) || (other.length === 1 && word[0] === other)) return true;
  return false;
}

/** How a family name and the other's given names agree. */
function crossed(family: string[], given: string[], context: MatchContext): Crossed {
  const x = family.join('');
  const y = given.filter((word) => !PARTICLES.has(word)).join('');
  if (x === y || (given[0] === x && x.length > 1)) return 'same';
  if (isSlip(x, y)) return 'slip';
  if (family.length > 1 && family.some((word) => word === y || isSlip(word, y))) return 'part';
  if (given.length > 1 && given.some((word) => word === x || isSlip(word, x))) return 'part';
  if (x.length === 1 || given[0]?.length === 1) return x[0] === y[0] ? 'part' : 'different';
  const first = oneGiven(family.length === 1 ? x : (family[family.length - 1] ?? ''), given[0] ?? '', context);
  if (first === 'nickname' || first === 'close') return 'close';
  return isClose(x, y) ? 'close' : 'different';
}

/** Levels that both a given and a family name can have. */
type Crossed = 'absent' | 'same' | 'slip' | 'part' | 'close' | 'different';
