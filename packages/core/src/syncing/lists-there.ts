import type { OutsidePage } from './results';

/** A list over there: people by name of the list, in and out without touching their records. */
export interface OutsideList {
  id: string;
  name: string;
  /** How many are in it, where the tool says so. */
  members?: number;
}

/** Who goes into a list, and who out of it, by the ids of their records. */
export interface ListMoves {
  in: readonly string[];
  out: readonly string[];
}

/** The lists of a tool. Errors: `notFound` where a list is gone. */
export interface OutsideLists {
  all(): Promise<OutsideList[]>;
  /** Makes a list; gives the one that is there where the name is taken. */
  make(name: string): Promise<OutsideList>;
  /** Ids of the records in a list, a page at a time; null begins. */
  members(list: string, cursor: string | null): Promise<OutsidePage<string>>;
  /** Moves records; one that is there already, or gone, is passed over. Gives the ids that could not be moved, with the reason. */
  move(list: string, moves: ListMoves): Promise<{ id: string; text: string }[]>;
}
