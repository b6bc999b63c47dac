import { foldText, type FieldDefinition, type FieldType } from '../../fields';
import type { ColumnGuess } from './guess-columns';
import { isOpportunityTarget } from '../rows/opportunity-cells';
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

/** Share of the other columns of the earlier file that have to be here as well: a heading means what it means beside others. */
const COMPANY01 = 1 / 3;

interface Choice {
  target: string;
  label: string | null;
  from: string;
}

/** Whether enough of what stood beside a heading then stands beside it now; for an opportunity, others of its columns. */
function hasCompany(
  { headers, mapping }: EarlierFile,
  heading: string,
  target: string,
  now: ReadonlySet<string>,
): boolean {
  const meant = mapping.columns.filter(
    ({ target: other }) => other && (!isOpportunityTarget(target) || isOpportunityTarget(other)),
  );
  const others = new Set(
    meant.map(({ column }) => foldText(headers[column] ?? '')).filter((one) => one && one !== heading),
  );
  const here = [...others].filter((one) => now.has(one)).length;
  return others.size === 0 ? !isOpportunityTarget(target) : here > 0 && here >= COMPANY01 * others.size;
}

/** What was last said of each heading; one that stands twice in its file, or shared its column with others, tells nothing. */
function choicesOf({ earlier, typeOf }: KnownHere, now: ReadonlySet<string>): Map<string, Choice> {
  const choices = new Map<string, Choice>();
  for (const file of earlier) {
    const { name, headers, mapping } = file;
    const folded = headers.map((header) => foldText(header ?? ''));
    for (const [column, heading] of folded.entries()) {
      if (!heading || choices.has(heading) || folded.indexOf(heading) !== folded.lastIndexOf(heading)) continue;
      const meanings = mapping.columns.filter((one) => one.column === column && one.target);
      const [only] = meanings;
      if (meanings.length !== 1 || !only?.target || !typeOf.has(only.target)) continue;
      if (hasCompany(file, heading, only.target, now))
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
  const headings = guesses.map(({ header }) => foldText(header ?? ''));
  const choices = choicesOf(known, new Set(headings));
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
