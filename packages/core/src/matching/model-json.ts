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
    nameShare: [...model.nameShare],
    sharedLines: [...model.sharedLines],
    givenNames: [...model.givenNames],
  };
}

export function modelFromJson(json: MatchModelJson): MatchModel {
  return {
    ...json,
    givenShare: new Map(json.givenShare),
    familyShare: new Map(json.familyShare),
    nameShare: new Map(json.nameShare),
    sharedLines: new Set(json.sharedLines),
    givenNames: new Set(json.givenNames),
  };
}
