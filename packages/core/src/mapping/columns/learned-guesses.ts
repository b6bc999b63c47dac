import { foldText, type FieldDefinition, type FieldType } from '../../fields';
import type { ColumnGuess } from './guess-columns';
import type { SavedLayout } from '../files/saved-mapping';

/** A mapping that somebody here brought a file in by. */
export interface EarlierFile extends SavedLayout {
  name: string;
}

/** What is known here beside the file itself. */
export interface KnownHere {
  /** Fields that people here made. */
  own: readonly FieldDefinition[];
  /** Files that were brought in, the latest first. */
  earlier: readonly EarlierFile[];
  /** Types of all meanings there are, by their keys. */
  typeOf: ReadonlyMap<string, FieldType>;
}

/** A heading that is the name of a field of one's own means that field. */
const NAMED01 = 0.95;
/** What somebody said of a heading in a file of another layout. */
const CHOSEN01 = 0.8;
/** A guess that is as sure as this stands against what was said of another layout. */
const SURE01 = 0.75;

interface Choice {
  target: string;
  label: string | null;
  from: string;
}

/** What was last said of each heading; one that stands twice in its file, or shared its column with others, tells nothing. */
function choicesOf({ earlier, typeOf }: KnownHere): Map<string, Choice> {
  const choices = new Map<string, Choice>();
  for (const { name, headers, mapping } of earlier) {
    const folded = headers.map((header) => foldText(header ?? ''));
    for (const [column, heading] of folded.entries()) {
      if (!heading || choices.has(heading) || folded.indexOf(heading) !== folded.lastIndexOf(heading)) continue;
      const meanings = mapping.columns.filter((one) => one.column === column && one.target);
      const [only] = meanings;
      if (meanings.length === 1 && only?.target && typeOf.has(only.target))
        choices.set(heading, { target: only.target, label: only.label, from: name });
    }
  }
  return choices;
}

/**
 * Guesses sharpened by what is known here: headings that are names of fields of one's own, and what people said of the same
 * heading in files of other layouts, where the guess itself is not sure. Guesses that nothing is known of stay as they are.
 */
export function learnedGuesses(guesses: readonly ColumnGuess[], known: KnownHere): ColumnGuess[] {
  const named = new Map(known.own.map((field) => [foldText(field.name), field.key]));
  const choices = choicesOf(known);
  const headings = guesses.map(({ header }) => foldText(header ?? ''));
  return guesses.map((guess, i) => {
    const heading = headings[i] ?? '';
    if (!heading || headings.indexOf(heading) !== headings.lastIndexOf(heading)) return guess;
    const { also: _of, ...plain } = guess;
    const as = (field: string, certainty01: number) => ({
      ...plain,
      field,
      certainty01,
      type: known.typeOf.get(field) ?? guess.type,
      choices: [],
    });
    const own = named.get(heading);
    if (own && known.typeOf.has(own)) return as(own, NAMED01);
    const choice = choices.get(heading);
    if (!choice || (guess.field !== null && guess.certainty01 >= SURE01)) return guess;
    return { ...as(choice.target, CHOSEN01), label: choice.label, learnedFrom: choice.from };
  });
}
