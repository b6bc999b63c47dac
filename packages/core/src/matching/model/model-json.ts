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
