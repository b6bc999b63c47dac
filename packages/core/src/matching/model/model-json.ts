import { COMPARED, LEVELS } from '../comparing/levels';
import type { MatchModel } from './model';

type Plain<T> = {
  [K in keyof T]: T[K] extends Map<string, number> ? [string, number][] : T[K] extends Set<string> ? string[] : T[K];
};

/** A model as JSON-safe data, so that it can be frozen under its version and used again unchanged. */
export type MatchModelJson = Plain<MatchModel>;

export function modelToJson(model: MatchModel): MatchModelJson {
  return {
    ...model,
    givenShare: [...model.givenShare],
    familyShare: [...model.familyShare],
    letterShare: [...model.letterShare],
    nameShare: [...model.nameShare],
    sharedLines: [...model.sharedLines],
    givenNames: [...model.givenNames],
    familyNames: [...model.familyNames],
    nicknames: [...model.nicknames],
  };
}

export function modelFromJson(json: MatchModelJson): MatchModel {
  return {
    ...json,
    givenShare: new Map(json.givenShare),
    familyShare: new Map(json.familyShare),
    letterShare: new Map(json.letterShare),
    nameShare: new Map(json.nameShare),
    sharedLines: new Set(json.sharedLines),
    givenNames: new Map(json.givenNames),
    familyNames: new Map(json.familyNames),
    nicknames: new Set(json.nicknames),
    ignored: json.ignored ?? [],
    corrections: json.corrections ?? null,
  };
}

/** Whether a frozen model has a weight for every level that is compared now; one made before knows too little. */
export function isUsable({ tables }: MatchModelJson): boolean {
  return COMPARED.every((field) => tables.match[field].length === LEVELS[field].length);
}

/**
 * A frozen model without what stands in it for somebody who was erased: names that nobody else has, so that it weighs everybody
 * who stays as before, and lines.
 *
 * @param words - folded words of names that nobody has who stays
 * @param lines - mailboxes and phones as they are compared, of the same kind
 * @returns the model, or null where it knows none of them
 */
export function withoutNames(
  json: MatchModelJson,
  words: ReadonlySet<string>,
  lines: ReadonlySet<string>,
): MatchModelJson | null {
  let dropped = 0;
  const stays = (text: string) => {
    const isTheirs = text.split(' ').some((word) => words.has(word)) || lines.has(text);
    if (isTheirs) dropped++;
    return !isTheirs;
  };
  const staying = (list: readonly [string, number][]) => list.filter(([text]) => stays(text));
  const left: MatchModelJson = {
    ...json,
    givenShare: staying(json.givenShare),
    familyShare: staying(json.familyShare),
    nameShare: staying(json.nameShare),
    givenNames: staying(json.givenNames),
    familyNames: staying(json.familyNames),
    nicknames: json.nicknames.filter(stays),
    sharedLines: json.sharedLines.filter(stays),
  };
  return dropped ? left : null;
}
